"""Several change one evaluation at the same time."""

from concurrent.futures import ThreadPoolExecutor, wait

from levelmoor.records import tables as t


def test_an_answer_shows_what_another_kept_while_it_waited(signed_in, maker):
    at = signed_in.post("/evaluations", data={"product": "Mine"}).location
    with ThreadPoolExecutor(1) as hand:
        with maker.begin() as session:
            row = session.get(t.Evaluation, int(at.rsplit("/", 1)[1]), with_for_update=True)
            row.claims.append(t.Claim(quantity="swr", windows=[], limit=2.0))
            session.flush()
            answer = hand.submit(signed_in.post, f"{at}/cell/evaluation/{row.id}/rule", data={"value": "simple"})
            assert not wait([answer], 0.3).done
            new = f'id="wording-{row.claims[0].id}"'
        assert new in answer.result().text
