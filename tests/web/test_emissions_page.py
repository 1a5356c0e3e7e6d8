"""Emissions over HTTP: the path as it is asked, what is refused, and that nothing is kept of it."""

import io
import json
from dataclasses import asdict

import pytest

from levelmoor.core.model.rule_sets import shipped_rule_sets
from levelmoor.records import store
from levelmoor.records import tables as t

LEVELS = "146 MHz -3; 292 MHz -70; 438 MHz -80; 584 MHz -80; 730 MHz -80"
TYPED = {"carrier": "146 MHz", "power": "5", "duty": "100", "rbw": "30", "offset": "100 MHz 40; 800 MHz 40"}
CURVE = {"frequency_hz": [100e6, 800e6], "value": [40.0, 40.0]}


@pytest.fixture
def case(signed_in, member, maker):
    """The address of an evaluation's emissions, and the ids of two pads: one stands 50 W, one 1 W."""
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), "Handheld")
        pads = [
            t.Owned(
                team_id=member.team_id,
                kind="pad",
                name=name,
                facts={"nominal_db": 40.0, "power_w": w, "measured": CURVE},
            )
            for name, w in (("Large", 50.0), ("Small", 1.0))
        ]
        session.add_all(pads)
        session.flush()
        return f"/e/{row.id}/emissions", [str(p.id) for p in pads]


def kept(maker, address):
    with maker() as session:
        row = session.get(t.Evaluation, int(address.split("/")[2]))
        return len(row.captures), len(row.filters)


@pytest.mark.parametrize(
    ("turns", "words"),
    [((1, 0), "Small is rated for 1 W, but 5 W reaches it"), ((0, 0), "A pad appears twice in the path")],
)
def test_the_pads_stand_in_the_order_they_are_chosen_in(signed_in, case, turns, words):
    address, pads = case
    asked = {**TYPED, "offset": ""}
    assert words in signed_in.post(f"{address}/path", data={**asked, "pad": [pads[i] for i in turns]}).text
    assert words not in signed_in.post(f"{address}/path", data={**asked, "pad": pads}).text


def take_in(signed_in, text):
    data = {"file": (io.BytesIO(text.encode()), "rules.json")}
    return signed_in.post("/team/rules/file", data=data, content_type="multipart/form-data")


def rule_text(**changes):
    return json.dumps({**asdict(shipped_rule_sets()["us-97.307"]), "id": "our-own", **changes})


@pytest.mark.parametrize("name", ["our-own", "règle_2", "правила", "v1.2"])
def test_a_rule_set_is_given_out_as_it_was_taken_in(signed_in, name):
    assert f"{name} is saved" in take_in(signed_in, rule_text(id=name)).text
    assert signed_in.get(f"/team/rules/{name}.json").json == json.loads(rule_text(id=name))


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "line 1, column 2"),
        ("[]", "one JSON object"),
        ("{}", "has no sections"),
        (rule_text(id="a/b"), "is not an id"),
        (rule_text(id="x\ny"), "is not an id"),
        (rule_text(id="n" * 61), "is not an id"),
        (rule_text(id="us-97.307"), "cannot be changed"),
        (rule_text(sections=[]).replace('"sections": []', '"sections": 5'), "is invalid"),
        (rule_text().replace("225000000.0", "Infinity"), "not a number in JSON"),
        (rule_text().replace("225000000.0", '"high"'), "high"),
    ],
)
def test_a_rule_set_that_is_none_is_refused_with_the_reason(signed_in, member, maker, text, words):
    answer = take_in(signed_in, text)
    assert (answer.status_code, words in answer.text) == (422, True)
    with maker() as session:
        assert session.query(t.RuleSet).filter_by(team_id=member.team_id).count() == 0


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({}, "Add the spectrum as CSV"),
        ({"levels": LEVELS, "carrier": ""}, "is not a frequency"),
        ({"levels": LEVELS, "power": "much"}, "watts above 0"),
        ({"levels": LEVELS, "duty": "200"}, "per cent"),
        ({"levels": LEVELS, "offset": "146 MHz"}, "is not a frequency with a figure"),
        ({"levels": LEVELS, "taken_on": "noon"}, "noon"),
        ({"levels": "146 MHz low"}, "is not a frequency with a figure"),
        ({"files": (io.BytesIO(b"Frequency MHz,Level dBm\n146,high\n"), "a.csv")}, "Line 2, column 5"),
        ({"files": (io.BytesIO(b""), "empty.csv")}, "empty.csv"),
        ({"files": (io.BytesIO(b"# MHz S RI R 50\n1 1 0\n"), "sweep.s1p")}, "a Touchstone file"),
        ({"files": (io.BytesIO(bytes(range(256))), "photo.csv")}, "photo.csv"),
    ],
)
def test_a_capture_is_refused_with_the_reason_and_nothing_is_kept(signed_in, case, maker, change, words):
    address, _ = case
    answer = signed_in.post(f"{address}/captures", data={**TYPED, **change}, content_type="multipart/form-data")
    assert (answer.status_code, kept(maker, address)) == (422, (0, 0))
    assert words in " ".join(answer.text[answer.text.index('role="alert"') :].split())


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("filter.s1p", b"# MHz S RI R 50\n1 1 0\n2 1 0\n", "a one-port file"),
        ("filter.csv", b"MHz,dBm\n1,-1\n2,-2\n", "is not a two-port sweep"),
        ("filter.s2p", b"# MHz S RI R 50\n1 1 0\n", "filter.s2p"),
        ("", b"", "Choose the two-port sweep"),
    ],
)
def test_a_filter_that_is_none_is_refused(signed_in, case, maker, name, data, words):
    address, _ = case
    files = {"file": (io.BytesIO(data), name)}
    answer = signed_in.post(f"{address}/filters", data=files, content_type="multipart/form-data")
    assert (answer.status_code, words in answer.text, kept(maker, address)) == (422, True, (0, 0))


@pytest.mark.parametrize(
    ("name", "value", "words"),
    [("carrier_hz", "somewhere", "is not a frequency"), ("rbw_hz", "wide", "bandwidth"), ("taken_on", "noon", "noon")],
)
def test_a_cell_of_a_capture_that_is_wrong_is_said_and_the_capture_stays(signed_in, case, maker, name, value, words):
    address, _ = case
    signed_in.post(f"{address}/captures", data={**TYPED, "levels": LEVELS})
    with maker() as session:
        before = session.query(t.Capture).filter_by(evaluation_id=int(address.split("/")[2])).one()
        capture_id, old = before.id, getattr(before, name)
    answer = signed_in.post(f"{address}/captures/{capture_id}/{name}", data={"value": value})
    assert (answer.status_code, words in answer.text) == (422, True)
    with maker() as session:
        assert getattr(session.get(t.Capture, capture_id), name) == old
