"""The bench's forms: what is kept, what is refused and why, and that nothing is half kept."""

import io

import pytest

from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.records import tables as t
from tests.sweeps import flat

RECORD = {"low": "13 MHz", "high": "15 MHz", "done_at": "2026-05-31T10:00", "plane": "connector"}
LEVELS = "Frequency MHz,Level dBm\n100,{0}\n800,{0}\n"


@pytest.fixture
def case(signed_in, maker, member):
    """An evaluation with an instrument, a line and a pad: its bench's address, and the ids."""
    signed_in.post("/evaluations", data={"product": "Yard dipole"})
    address = "/e/" + signed_in.get("/").data.decode().split('href="/e/')[1].split('"')[0] + "/bench"
    with maker.begin() as session:
        pieces = {
            "line": t.Owned(
                team_id=member.team_id, kind="line", name="Line", facts={"type": "RG-213", "length_m": 20.0}
            ),
            "pad": t.Owned(team_id=member.team_id, kind="pad", name="Tap", facts={"nominal_db": 40.0}),
        }
        session.add_all(pieces.values())
        session.flush()
        ids = {name: str(row.id) for name, row in pieces.items()}
        ids["instrument"] = str(session.query(t.Instrument).filter_by(team_id=member.team_id).one().id)
    return address, ids


def upload(*texts, name="a.csv"):
    return [(io.BytesIO(x.encode()), f"{n}-{name}") for n, x in enumerate(texts)]


def kept(maker, member):
    with maker() as session:
        count = [session.query(k).filter_by(team_id=member.team_id).count() for k in (t.Calibration, t.BenchCheck)]
    return tuple(count)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"low": ""}, "Enter the lower end"),
        ({"low": "seven"}, "is not a frequency"),
        ({"high": "12 MHz"}, "must be above its lower end"),
        ({"points": "many"}, "is not a number"),
        ({"done_at": ""}, "Enter when it was done"),
        ({"plane": "moon"}, "Choose the plane"),
        ({"instrument_id": "0"}, "Choose the instrument"),
        ({"kit_id": "999999"}, "Choose a kit"),
        ({"open": (io.BytesIO(b"# MHz S RI R 50\n13 1 0\n15 1 0\n"), "o.s1p")}, "open, short and load, or none"),
        ({"open": (io.BytesIO(b"MHz,SWR\n13,1.1\n15,1.2\n"), "o.csv")}, "SWR alone"),
    ],
)
def test_calibration_is_refused_with_the_reason_and_nothing_is_kept(signed_in, case, maker, member, change, words):
    address, ids = case
    answer = signed_in.post(f"{address}/calibrations", data={**RECORD, "instrument_id": ids["instrument"], **change})
    assert answer.status_code == 422
    assert words in answer.data.decode()
    assert kept(maker, member) == (0, 0)


def test_record_then_checks_of_every_kind(signed_in, case, maker, member):
    address, ids = case
    assert (
        signed_in.post(f"{address}/calibrations", data={**RECORD, "instrument_id": ids["instrument"]}).status_code
        == 200
    )
    with maker() as session:
        record = str(session.query(t.Calibration).filter_by(team_id=member.team_id).one().id)
    load, done = write_s1p(flat(0.01, 13e6, 15e6)), {"done_at": "2026-05-31T10:05"}
    noise = "MHz,dBm\n" + "\n".join(f"{f},-100" for f in range(100, 120))
    posts = [
        ({"kind": "load", "calibration_id": record, "files": upload(load, name="l.s1p")}, "The load matches 50 Ω"),
        ({"kind": "full", "calibration_id": record, "files": upload(write_s1p(flat(0.99, 13e6, 15e6)), name="s.s1p")}, "reflects fully"),
        ({"kind": "pad", "item_id": ids["pad"], "fundamental": "146", "files": upload(LEVELS.format(-10), LEVELS.format(-51))}, "41.00 dB at 146 MHz"),
        ({"kind": "meter", "instrument_id": ids["instrument"], "pairs": "1,1 1,2; 2/2.3\n3 3.4"}, "Over 3 loads"),
        ({"kind": "noise", "instrument_id": ids["instrument"], "rbw_khz": "10", "files": upload(noise)}, "Noise −100 dBm in 10 kHz"),
    ]  # fmt: skip
    for data, words in posts:
        answer = signed_in.post(f"{address}/checks", data={**done, **data})
        assert answer.status_code == 200, answer.data.decode()
        assert words in answer.data.decode()
    assert kept(maker, member) == (1, 5)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ({"kind": "load"}, "record it first"),
        ({"kind": "cable", "item_id": ""}, "Choose the feed line"),
        ({"kind": "cable", "item_id": "line"}, "Add the file"),
        ({"kind": "cable", "item_id": "line", "files": upload("words\n")}, "not a row of figures"),
        ({"kind": "cable", "item_id": "pad"}, "Choose the feed line"),
        ({"kind": "pad", "item_id": "pad", "files": upload(LEVELS.format(-10))}, "first without it and then with it"),
        ({"kind": "pad", "item_id": "pad", "levels": "146 MHz -10"}, "is not a frequency and two levels"),
        ({"kind": "meter", "instrument_id": "instrument", "pairs": "1.1"}, "is not a pair"),
        ({"kind": "meter", "instrument_id": "instrument", "pairs": "0.5 1.1"}, "out of range"),
        ({"kind": "noise", "instrument_id": "instrument", "rbw_khz": "0"}, "out of range"),
        ({"kind": "noise", "instrument_id": "instrument"}, "Enter the resolution bandwidth"),
    ],
)
def test_check_is_refused_with_the_reason_and_nothing_is_kept(signed_in, case, maker, member, data, words):
    address, ids = case
    data = {k: ids.get(v, v) if isinstance(v, str) and k.endswith("_id") else v for k, v in data.items()}
    answer = signed_in.post(f"{address}/checks", data={"done_at": "2026-05-31T10:05", **data})
    assert answer.status_code == 422
    assert words in answer.data.decode()
    assert kept(maker, member) == (0, 0)


def test_cable_that_cannot_be_told_says_what_it_lacks(signed_in, case):
    """A sweep of a few points is kept as it came, and the card says why it shows nothing."""
    address, ids = case
    sweep = write_s1p(flat(0.9, 1e6, 100e6, points=5))
    data = {"kind": "cable", "item_id": ids["line"], "done_at": "2026-05-31", "files": upload(sweep, name="c.s1p")}
    assert (
        "Incomplete: a cable check needs at least 21 points"
        in signed_in.post(f"{address}/checks", data=data).data.decode()
    )


def test_taking_out_leaves_the_rest(signed_in, case, maker, member):
    address, ids = case
    signed_in.post(f"{address}/calibrations", data={**RECORD, "instrument_id": ids["instrument"]})
    with maker() as session:
        record = session.query(t.Calibration).filter_by(team_id=member.team_id).one()
    answer = signed_in.post(f"{address}/calibrations/{record.id}/remove")
    assert "None yet." in answer.data.decode()
    with maker() as session:
        hand = session.query(t.InHand).join(t.Evaluation, t.Evaluation.id == t.InHand.evaluation_id)
        hand = hand.filter(t.Evaluation.team_id == member.team_id).one()
        assert (hand.calibration, hand.calibration_id) == ("unstated", None)
        assert session.get(t.Calibration, record.id).deleted_at is not None
