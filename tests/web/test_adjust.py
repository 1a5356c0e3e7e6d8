"""Adjust over HTTP: trips open rounds, are kept once, put back, and what they name is not taken away under them."""

import io
import json
import re
import zipfile

import pytest
from sqlalchemy import select

from levelmoor.formats.bundle import verify_bundle
from levelmoor.records import store, sweeps
from levelmoor.records import tables as t


@pytest.fixture
def case(signed_in, member, maker):
    """An evaluation with one part that is moved, and one that is cut."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Yard whip")
        row.elements.append(t.ArticleElement(name="Whip", kind="whip", unit="cm", at=50.0, bands=[]))
        row.elements.append(t.ArticleElement(name="Ends", kind="dipole_ends", unit="cm", at=90.0, bands=[], cut=True))
        session.flush()
        return row.id, [e.id for e in row.elements]


def move(client, case, **amounts):
    fields = {re.sub("^(by|to)_", r"\1-", key): value for key, value in amounts.items()}
    return client.post(f"/e/{case[0]}/adjust/moves", data=fields)


def trips(maker, case):
    with maker() as session:
        query = select(t.Adjustment).where(t.Adjustment.evaluation_id == case[0], t.Adjustment.deleted_at.is_(None))
        return [(a.round, a.moves, a.words, a.who) for a in session.scalars(query.order_by(t.Adjustment.id))]


def test_a_trip_is_kept_in_words_with_who_made_it(signed_in, case, maker, member):
    assert move(signed_in, case, **{f"by_{case[1][0]}": "-2", "down_min": "12"}).status_code == 200
    ((number, moves, words, who),) = trips(maker, case)
    assert (number, words) == (1, "Whip: 2 cm shorter")
    assert moves == [{"element_id": str(case[1][0]), "by": -2.0}] and who


def test_an_entry_that_a_telephone_sends_twice_is_one_trip(signed_in, case, maker):
    for _ in range(2):
        move(signed_in, case, **{f"by_{case[1][0]}": "-2", "entry": "abc"})
    assert len(trips(maker, case)) == 1


def test_what_came_first_of_an_entry_keeps_its_minutes(signed_in, case, maker):
    for minutes in ("12", ""):
        move(signed_in, case, **{f"by_{case[1][0]}": "-2", "entry": "abc", "down_min": minutes})
    with maker() as session:
        query = select(t.Adjustment.down_min).where(t.Adjustment.evaluation_id == case[0])
        assert session.scalars(query).all() == [12.0]


def test_a_trip_is_put_back_in_its_own_state_whatever_is_in_hand(signed_in, case, maker):
    move(signed_in, case, **{f"by_{case[1][0]}": "-2"})
    signed_in.post(f"/e/{case[0]}/add/sample")  # another sample is in hand now
    assert "/back" not in signed_in.get(f"/e/{case[0]}/adjust").text  # and it has no trip of its own
    with maker() as session:
        (trip,) = session.scalars(select(t.Adjustment).where(t.Adjustment.evaluation_id == case[0])).all()
    signed_in.post(f"/e/{case[0]}/adjust/moves/{trip.id}/back")
    with maker() as session:
        query = select(t.Adjustment.sample_id).where(t.Adjustment.evaluation_id == case[0])
        assert set(session.scalars(query)) == {trip.sample_id}


def test_an_entry_that_was_struck_out_can_be_made_again(signed_in, case, maker):
    for _ in range(2):
        move(signed_in, case, **{f"by_{case[1][0]}": "-2", "entry": "abc"})
        (number,) = re.findall(r"/adjust/moves/(\d+)/undone", signed_in.get(f"/e/{case[0]}/adjust").text)
        signed_in.post(f"/e/{case[0]}/adjust/moves/{number}/undone")
    move(signed_in, case, **{f"by_{case[1][0]}": "-2", "entry": "abc"})
    assert len(trips(maker, case)) == 1


def test_a_place_is_a_way_from_where_it_stands(signed_in, case, maker):
    move(signed_in, case, **{f"to_{case[1][0]}": "46,5"})
    assert trips(maker, case)[0][1][0]["by"] == -3.5


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({}, "Enter how far it was moved."),
        ({"by_{0}": "much"}, "an amount, as in 2 or -0.5"),
        ({"by_0": "1"}, "Somebody has removed that part"),
    ],
)
def test_what_is_no_move_is_refused_in_words(signed_in, case, maker, fields, words):
    answer = move(signed_in, case, **{k.format(case[1][0]): v for k, v in fields.items()})
    assert answer.status_code == 422 and words in answer.text
    assert trips(maker, case) == []


def test_what_was_moved_is_put_back_but_not_what_was_cut(signed_in, case, maker):
    move(signed_in, case, **{f"by_{case[1][0]}": "-2"})
    move(signed_in, case, **{f"by_{case[1][1]}": "-1"})
    first, second = re.findall(r"/adjust/moves/(\d+)/back", signed_in.get(f"/e/{case[0]}/adjust").text)
    assert signed_in.post(f"/e/{case[0]}/adjust/moves/{first}/back").status_code == 200
    answer = signed_in.post(f"/e/{case[0]}/adjust/moves/{second}/back")
    assert answer.status_code == 422 and "Ends was cut, which cannot be undone" in answer.text
    assert [words for _, _, words, _ in trips(maker, case)] == [
        "Whip: 2 cm shorter",
        "Ends: take 1 cm off",
        "Whip: 2 cm longer",
    ]


@pytest.mark.parametrize(
    ("typed", "kept", "status"),
    [
        ("7.1; 14.2", [7.1e6, 14.2e6], 200),
        ("7,1; 14,2", [7.1e6, 14.2e6], 200),
        ("7,1", [7.1e6], 200),
        ("7.1,14.2", [7.1e6, 14.2e6], 200),
        ("7.1, mast", [], 422),
        ("", [], 200),
    ],
)
def test_wanted_frequencies_are_read_as_people_write_them(signed_in, case, maker, typed, kept, status):
    answer = signed_in.post(f"/e/{case[0]}/adjust/wanted", data={"value": typed})
    assert answer.status_code == status
    with maker() as session:
        assert session.get(t.Evaluation, case[0]).wanted_hz == kept
    assert status == 200 or 'value="7.1, mast"' in answer.text


@pytest.mark.parametrize(
    ("name", "typed", "words"),
    [("at", "far", "where it was at first"), ("unit", "ells", "is not one of cm"), ("bands", "2x", "2x")],
)
def test_a_part_s_fact_that_is_wrong_says_what_would_be_right(signed_in, case, name, typed, words):
    answer = signed_in.post(f"/e/{case[0]}/adjust/elements/{case[1][0]}/{name}", data={"value": typed})
    assert answer.status_code == 422 and words in answer.text


def test_a_part_that_another_changed_meanwhile_is_not_written_over(signed_in, case, maker):
    seen = re.search(r'id="adjust"[^>]*data-seen="(\d+)"', signed_in.get(f"/e/{case[0]}/adjust").text)[1]
    signed_in.post(f"/e/{case[0]}/adjust/elements/{case[1][0]}/at", data={"value": "48", "seen": seen})
    answer = signed_in.post(f"/e/{case[0]}/adjust/elements/{case[1][0]}/at", data={"value": "47", "seen": seen})
    assert answer.status_code == 422 and "changed this to 48 in the meantime" in answer.text


def test_a_sample_that_was_adjusted_stays(signed_in, case, maker):
    signed_in.post(f"/e/{case[0]}/add/sample")
    move(signed_in, case, **{f"by_{case[1][0]}": "-2"})
    with maker() as session:
        sample = session.scalars(select(t.Adjustment.sample_id)).all()[-1]
    answer = signed_in.post(f"/e/{case[0]}/remove/sample/{sample}")
    assert answer.status_code == 422 and "rests on it, so it cannot be removed" in answer.text


# -- The settings card ---------------------------------------------------------------------------------------------


TABLE = "mark 2; 40m; 2; second ring\nmark 6; 20m; 6,5; sixth ring\nmark 8; 15m"


@pytest.fixture
def marks(signed_in, case):
    signed_in.post(f"/e/{case[0]}/settings", data={"table": TABLE})
    return case[0]


def test_marks_are_pasted_with_number_and_words(marks, maker):
    with maker() as session:
        query = select(t.ArticleSetting).where(t.ArticleSetting.evaluation_id == marks).order_by(t.ArticleSetting.id)
        kept = [(s.name, s.mark, s.mark_words) for s in session.scalars(query)]
    assert kept == [("mark 2", 2.0, "second ring"), ("mark 6", 6.5, "sixth ring"), ("mark 8", None, "")]


def test_the_card_as_csv_is_read_as_it_was_written(signed_in, marks, maker):
    text = signed_in.get(f"/e/{marks}/card/card.csv").text
    assert text.startswith("Setting;Bands;Mark;Mark in words;")
    other = signed_in.post("/evaluations", data={"product": "Another"}).location
    assert signed_in.post(f"{other}/settings", data={"table": text}).status_code == 200
    assert signed_in.get(f"{other}/card/card.csv").text == text


@pytest.mark.parametrize("size", ["a6", "a5", "labels"])
def test_the_card_prints(signed_in, marks, size):
    answer = signed_in.get(f"/e/{marks}/card/card.pdf?size={size}")
    assert answer.data.startswith(b"%PDF") and size in answer.headers["Content-Disposition"]


def test_another_size_is_not_there(signed_in, marks):
    assert signed_in.get(f"/e/{marks}/card/card.pdf?size=a0").status_code == 404


def test_a_return_to_the_mark_is_a_round_in_which_nothing_was_moved(signed_in, marks, maker, case):
    assert signed_in.post(f"/e/{marks}/adjust/returned").status_code == 200
    ((_, moves, words, _),) = trips(maker, case)
    assert (moves, words) == ([], "left the mark and returned to it")


def test_a_wrong_mark_names_its_line(signed_in, case):
    answer = signed_in.post(f"/e/{case[0]}/settings", data={"table": "mark 2; 40m; second; ring"})
    assert answer.status_code == 422 and "line 1" in answer.text and "a mark as a number, as in 6.5" in answer.text


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"kind": "quarter", "wanted": "70.25"}, "A quarter wave for 70.25 MHz is"),
        ({"kind": "coil", "wanted": "14.2", "length": "1.9 m", "coil_at": "90 cm"}, "µH there brings it to 14.2 MHz"),
        ({"kind": "coil", "coil": "12", "length": "1.9 m", "coil_at": "90 cm"}, "With 12 µH it resonates at about"),
        ({"kind": "coil", "coil": "12", "length": "1.9 m", "coil_at": "2 m"}, "between the base and the tip"),
        ({"kind": "half", "length": "long"}, "a length, as in 52 cm"),
    ],
)
def test_starting_lengths_and_coils_are_said(signed_in, case, fields, words):
    assert words in signed_in.get(f"/e/{case[0]}/adjust/length", query_string=fields).text


# -- The notebook of widths ----------------------------------------------------------------------------------------


def keep_widths(client, case, lines, day="2026-05-01"):
    return client.post(f"/e/{case[0]}/adjust/widths", data={"lines": lines, "taken_on": day})


def test_edges_decide_a_bandwidth_up_to_the_published_report(signed_in, case, maker):
    signed_in.post(f"/e/{case[0]}/claims", data={"text": "bandwidth 100 kHz at 2:1 40m", "source": "box"})
    assert keep_widths(signed_in, case, "40m 7.012 to 7.174 at 2:1, best 7.09 1.2").status_code == 200
    assert "By the edges in the notebook of 2026-05-01" in signed_in.get(f"/e/{case[0]}/report").text
    answer = signed_in.post(f"/e/{case[0]}/report", data={"listed": "yes"})
    assert answer.status_code == 302, answer.text
    with maker() as session:
        bundle = store.report_of(session, case[0]).revisions[-1].bundle
    assert verify_bundle(bundle).same
    evaluation = json.loads(zipfile.ZipFile(io.BytesIO(bundle)).read("evaluation.json"))
    assert [w["who"] for w in evaluation["widths"]] == [""]


def test_widths_as_csv_are_taken_in_again(signed_in, case, maker):
    keep_widths(signed_in, case, "40m 7.012 to 7.174 at 2:1\n80m 3.612 to 3.695 at 2:1")
    text = signed_in.get(f"/e/{case[0]}/adjust/widths/widths.csv").text
    assert keep_widths(signed_in, case, text).status_code == 200
    with maker() as session:
        query = select(t.WidthReading.band).where(t.WidthReading.evaluation_id == case[0])
        assert sorted(session.scalars(query)) == ["40m", "40m", "80m", "80m"]


def test_a_line_that_is_no_width_is_named_and_all_that_was_typed_stays(signed_in, case, maker):
    answer = keep_widths(signed_in, case, "40m 7.012 to 7.174 at 2:1\nrather narrow")
    assert answer.status_code == 422 and "line 2" in answer.text and "rather narrow" in answer.text
    with maker() as session:
        assert session.scalar(select(t.WidthReading.id).where(t.WidthReading.evaluation_id == case[0])) is None


def test_a_target_is_changed_in_place_and_the_others_stay(signed_in, case, maker):
    home = f"/e/{case[0]}/adjust/wanted"
    signed_in.post(home, data={"value": "7.1, 145.2"})
    assert signed_in.post(home, data={"wanted": "144.3", "low": "144000000 Hz", "high": "146 MHz"}).status_code == 200
    with maker() as session:
        assert session.get(t.Evaluation, case[0]).wanted_hz == [7.1e6, 144.3e6]
    assert signed_in.post(home, data={"wanted": "x", "low": "144 MHz", "high": "146 MHz"}).status_code == 422


def test_a_dip_is_named_and_not_named_any_more(signed_in, case, maker):
    f = [140e6 + n * 1e5 for n in range(101)]
    rows = "\n".join(f"{hz / 1e6:.3f} {0.05 + abs(hz - 145e6) / 1e7:.4f} 0" for hz in f)
    with maker.begin() as session:
        ident = sweeps.add_sweep(
            session, session.get(t.Evaluation, case[0]), "a.s1p", f"# MHz S RI R 50\n{rows}\n".encode()
        ).id
    for sent, kept in ((145e6, "2m 145"), ("", "")):
        data = {"sweep": str(ident), "band": "2m", "frequency": f"{sent:.0f}" if sent else ""}
        assert signed_in.post(f"/e/{case[0]}/adjust/dips", data=data).status_code == 200
        with maker() as session:
            assert session.get(t.Sweep, ident).dips == kept


def test_the_page_of_a_long_evaluation_shows_each_move_at_once(signed_in, case, monkeypatch):
    monkeypatch.setattr("levelmoor.records.apart.LONG_POINTS", -1)
    for by, stands in (("-2", "48 cm"), ("1", "49 cm")):
        assert signed_in.get(f"/e/{case[0]}/adjust").status_code == 200
        move(signed_in, case, **{f"by_{case[1][0]}": by})
        assert stands in signed_in.get(f"/e/{case[0]}/adjust").text


def test_a_slip_in_a_target_is_said_beside_it_and_stays(signed_in, case, maker):
    """The same field stands among the parts, which are folded away once something was moved."""
    f = [140e6 + n * 1e5 for n in range(101)]
    rows = "\n".join(f"{hz / 1e6:.3f} {0.05 + abs(hz - 145e6) / 1e7:.4f} 0" for hz in f)
    with maker.begin() as session:
        row = session.get(t.Evaluation, case[0])
        sweeps.add_sweep(session, row, "a.s1p", f"# MHz S RI R 50\n{rows}\n".encode())
    signed_in.post(f"/e/{case[0]}/adjust/wanted", data={"value": "145.2"})
    sent = {"wanted": "14x", "low": "144000000 Hz", "high": "146000000 Hz"}
    text = signed_in.post(f"/e/{case[0]}/adjust/wanted", data=sent).text
    caption = text.split("<figcaption>", 1)[1].split("</figcaption>", 1)[0]
    assert 'value="14x"' in caption and "is not a frequency" in caption
    assert text.count("is not a frequency") == 1
