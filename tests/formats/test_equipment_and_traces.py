"""What a team owns as CSV, traces, photographs, and whole evaluations as files."""

import io
import json
import os
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageFile

from levelmoor.core.judge import judge
from levelmoor.core.plan.plan import make_plan
from levelmoor.formats.answers import answers_schema
from levelmoor.formats.equipment_csv import read_equipment, write_equipment
from levelmoor.formats.equipment_starter import STARTER
from levelmoor.formats.exchange import ExchangeProblem, from_document, json_schema, to_document
from levelmoor.formats.exchange_file import Exchange, read_exchange, write_exchange
from levelmoor.formats.owned_kinds import OWNED, kept_from, piece
from levelmoor.formats.picture import read_photograph
from levelmoor.formats.plan_document import plan_document
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.formats.touchstone_out import write_s1p
from levelmoor.formats.trace_file import read_trace_file
from tests.core.bench.test_gates import LINE, line_sweep, through_the_line
from tests.sweeps import rlc_sweep

# -- Equipment -------------------------------------------------------------------------------------------------------

EXAMPLES = [
    ("adapter", "BNC male to N female", {"end_a": "BNC m", "end_b": "N (f)", "high_hz": "1 GHz", "loss_db": "0,1", "count": "2"}),
    ("load", "good load", {"connector": "N male", "return_loss_db": "46", "power_w": "1"}),
    ("kit", "kit", {"connector": "SMA male", "open_c": "50 -300 30 -0.2", "open_delay_ps": "12"}),
    ("pad", "tap", {"nominal_db": "40", "power_w": "25", "measured": "146 MHz 40.9; 292 MHz: 41,3 dB"}),
    ("line", "yard line", {"type": "rg 213", "length_m": "20"}),
    ("radio", "hut radio", {"power_w": "7 MHz 100; 145 MHz 50", "connector": "SO-239"}),
    ("instrument", "analyzer", {"instrument_class": "Antenna or network analyzer", "points": "101", "noise_rbw_hz": "10", "max_input_dbm": "-5"}),
]  # fmt: skip


def kept(kind, texts):
    return {name: OWNED[kind].field(name).read(text) for name, text in texts.items()}


@pytest.mark.parametrize(
    ("typed", "watts"),
    [
        ("5", {7e6: 5, 435e6: 5}),
        ("5 W", {145e6: 5}),
        ("2m 5; 70cm 4", {145e6: 5, 146e6: 5, 435e6: 4}),
        ("2m: 5, 70cm: 4", {145e6: 5, 435e6: 4}),
        ("1.8 to 30 100; 50 to 54 50", {7e6: 100, 51e6: 50}),
    ],
)
def test_the_power_of_a_radio_as_people_write_it(typed, watts):
    field = OWNED["radio"].field("power_w")
    curve = piece("radio", "1", "radio", {"power_w": field.read(field.write(field.read(typed)))}).power_w
    assert {f: float(curve.at(f)) for f in watts} == watts


@pytest.mark.parametrize("typed", ["2m, 70cm", "2m; 70cm", "144 to 148; 420 to 450"])
def test_where_a_radio_transmits_as_people_write_it(typed):
    assert OWNED["radio"].field("ranges").read(typed) == [[144e6, 148e6], [420e6, 450e6]]


@pytest.mark.parametrize(("kind", "name", "texts"), EXAMPLES)
def test_pieces_come_back_from_csv_as_they_went(kind, name, texts):
    values = kept(kind, texts)
    ((again, read),) = read_equipment(kind, "a.csv", write_equipment(kind, [(name, values)]).encode())
    assert again == name
    assert {k: read[k] for k in values} == values
    assert piece(kind, "1", name, read) == piece(kind, "1", name, values)


@pytest.mark.parametrize(("kind", "name", "texts"), EXAMPLES)
def test_kept_values_come_back_from_the_cores_piece(kind, name, texts):
    made = piece(kind, "1", name, kept(kind, texts))
    assert piece(kind, "1", name, kept_from(kind, made)) == made


@pytest.mark.parametrize("starter", STARTER, ids=lambda s: s.name)
def test_starter_set_is_complete_and_marked_as_typical(starter):
    made = piece("instrument", "1", starter.name, starter.values)
    assert "typical" in made.figures_source


@pytest.mark.parametrize(
    ("text", "place", "words"),
    [
        ("Name,One end,Other end\nx,BNC,N male\n", (2, 2), "gender"),
        ("Name,Sausage\nx,1\n", (1, 2), "a column"),
        ("One end,Other end\nN male,N male\n", (1, 1), "no column Name"),
        ("Name,How many\nx,lots\n", (2, 2), "not a number"),
        ("Name,How many\nx,1,2\n", (2, 3), "2, as in the headings"),
        ("Name,How many\n,2\n", (2, 1), "name of the item"),
        ("Name,How many\n", (2, 1), "one row for each item"),
        ("", (1, 1), "file is empty|no headings"),
    ],
)
def test_slip_in_a_csv_is_named_with_its_place(text, place, words):
    with pytest.raises(FileProblem) as said:
        read_equipment("adapter", "a.csv", text.encode())
    assert (said.value.line, said.value.column) == place
    assert any(w in str(said.value) for w in words.split("|"))


def test_cell_that_a_spreadsheet_would_run_is_kept_from_it():
    text = write_equipment("adapter", [("=HYPERLINK(1)", {})])
    assert text.splitlines()[1].startswith("'=")
    assert read_equipment("adapter", "a.csv", text.encode())[0][0] == "=HYPERLINK(1)"


# -- Traces and Touchstone -------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "text",
    [
        "Frequency MHz,Level dBm\n100,-10\n200,-12\n",
        "freq (Hz);amplitude (dBm)\n100000000;-10,0\n200000000;-12,0\n",
        "100 -10\n200 -12\n",
        "dBm,Frequency kHz\n-10,100000\n-12,200000\n",
    ],
)
def test_spectrum_as_people_have_it(text):
    trace, what = read_trace_file("a.csv", text.encode())
    assert what == "level"
    assert trace.frequency_hz.tolist() == [100e6, 200e6]
    assert trace.level_db.tolist() == [-10, -12]


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("a.s2p", "# MHz S RI R 50\n100 0 0 0.01 0 0.01 0 0 0\n200 0 0 0.001 0 0.001 0 0 0\n"),
        ("a.csv", "MHz;S21 dB\n100;-40\n200;-60\n"),
        ("a.csv", "Frequency;S11 dB;|S21|\n100 MHz;-20;0.01\n200 MHz;-20;0.001\n"),
    ],
)
def test_two_port_file_gives_its_through_path(name, text):
    trace, what = read_trace_file(name, text.encode())
    assert what == "s21"
    assert trace.level_db == pytest.approx([-40, -60])


def test_a_table_that_was_taken_as_levels_stays_one():
    for heading in ("S21 mag dB", "Gain dB", "What"):
        trace, what = read_trace_file("a.csv", f"MHz;{heading}\n100;-40\n200;-60\n".encode(), levels=True)
        assert (what, trace.level_db.tolist()) == ("level", [-40, -60])


@pytest.mark.parametrize(
    ("name", "text", "words"),
    [
        ("a.csv", "MHz,SWR\n1,1.2\n2,1.3\n", "a level in dBm"),
        ("a.s1p", "# MHz S RI R 50\n1 0 0\n", "two-port"),
        ("a.csv", "", "empty"),
    ],
)
def test_trace_that_cannot_be_read_is_named(name, text, words):
    with pytest.raises(FileProblem, match=words):
        read_trace_file(name, text.encode())


def test_written_touchstone_is_read_back_to_the_last_digit():
    sweep = rlc_sweep(14e6, 14.35e6, 51)
    again = read_sweep_file("a.s1p", write_s1p(sweep, "two\nlines").encode()).sweep
    assert (again.gamma == sweep.gamma).all()
    assert (again.frequency_hz == sweep.frequency_hz).all()


# -- Photographs -----------------------------------------------------------------------------------------------------


def photograph(kind="JPEG", size=(40, 20), exif=None):
    image = Image.linear_gradient("L").resize(size).convert("RGB")
    out = io.BytesIO()
    image.save(out, kind, **({"exif": exif} if exif else {}))
    return out.getvalue()


def test_position_is_removed_and_the_picture_stands_upright():
    exif = Image.Exif()
    exif[0x0112] = 6  # turn it by a quarter
    exif.get_ifd(0x8825)[2] = (54.0, 30.0, 0.0)  # latitude
    data = photograph(exif=exif)
    assert Image.open(io.BytesIO(data)).getexif().get_ifd(0x8825)
    taken = read_photograph("a.jpg", data)
    assert not Image.open(io.BytesIO(taken.data)).getexif()
    assert (taken.width, taken.height) == (20, 40)


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_large_pictures_are_scaled_whatever_their_name_says(kind):
    taken = read_photograph("wrong.name", photograph(kind, (3000, 900)))
    assert (taken.width, taken.height) == (1600, 480)
    assert taken.media_type == f"image/{kind.lower()}"


@pytest.mark.parametrize(
    "data", [b"", b"<svg/>", b"\xff\xd8\xff" + b"0" * 60, photograph("GIF"), photograph("PNG")[:60]]
)
def test_what_is_no_picture_is_refused(data):
    ImageFile.LOAD_TRUNCATED_IMAGES = True  # as the PDF's library leaves it
    with pytest.raises(FileProblem, match="JPEG, PNG or WebP"):
        read_photograph("a.jpg", data)


# -- Whole evaluations -----------------------------------------------------------------------------------------------


def with_files(case):
    """The case with raw files behind its sweeps and checks, as an installation holds it."""
    from hashlib import sha256

    from levelmoor.core.model.bench_records import RawPart

    files = {}

    def keep(sweep):
        data = write_s1p(sweep).encode()
        files[sha256(data).hexdigest()] = data
        return sha256(data).hexdigest()

    sweeps = tuple(replace(e, sha256=keep(e.sweep), file_name="a.s1p") for e in case.sweeps)
    checks = tuple(replace(c, parts=(RawPart("b.s1p", keep(c.sweep)),)) for c in case.checks)
    return replace(case, sweeps=sweeps, checks=checks), files


def test_exported_evaluation_is_judged_and_planned_as_it_was():
    case, files = with_files(through_the_line(0.2))
    back = read_exchange(write_exchange(Exchange(case, files)))
    again, kept_files = back.evaluation, back.files
    assert kept_files == files
    assert judge(again) == judge(case)
    assert plan_document(make_plan(again)) == plan_document(make_plan(case))


def test_export_without_its_files_is_refused_but_may_be_planned():
    case, _files = with_files(through_the_line(0.2))
    bare = json.dumps(to_document(case)).encode()
    with pytest.raises(ExchangeProblem, match="is missing"):
        read_exchange(bare)
    planned = read_exchange(bare, without_files=True).evaluation
    assert planned.sweeps == ()
    assert make_plan(planned).runs or make_plan(planned).uncovered


def test_joined_and_corrected_evidence_is_made_again_from_its_files():
    from levelmoor.core.model.bench_records import CalibrationRecord, RawPart

    case, files = with_files(through_the_line(0.2))
    f = np.linspace(13e6, 15e6, 101)
    raws = {
        r: write_s1p(replace(line_sweep(f=f), gamma=g)).encode()
        for r, g in zip(
            ("open", "short", "load"),
            (np.ones(101) * 0.9 + 0.05, -np.ones(101) * 0.9 + 0.05, np.full(101, 0.05 + 0j)),
            strict=True,
        )
    }
    from hashlib import sha256

    digests = {r: sha256(d).hexdigest() for r, d in raws.items()}
    files |= {digests[r]: d for r, d in raws.items()}
    record = CalibrationRecord(
        "raw",
        "i",
        13e6,
        15e6,
        "2026-05-31T10:00",
        plane="shack",
        parts=tuple(RawPart(f"{r}.s1p", digests[r], role=r) for r in raws),
    )
    parts = (rlc_sweep(14e6, 14.2e6, 51), rlc_sweep(14.2e6, 14.4e6, 51))
    data = [write_s1p(replace(p, gamma=0.9 * p.gamma + 0.05)).encode() for p in parts]
    files |= {sha256(d).hexdigest(): d for d in data}
    first = replace(
        case.sweeps[0],
        id="x",
        sha256=sha256(data[0]).hexdigest(),
        raw=True,
        calibration_id="raw",
        segments=(RawPart("c.s1p", sha256(data[1]).hexdigest()),),
    )
    whole = replace(case, calibrations=(*case.calibrations, record), sweeps=(first,))
    again = from_document(json.dumps(to_document(whole)), files)
    truth = rlc_sweep(14e6, 14.4e6, 101)
    assert again.sweeps[0].sweep.gamma == pytest.approx(truth.gamma, abs=1e-9)


def test_feed_line_keeps_its_figures_in_the_exchange_form():
    case, files = with_files(through_the_line(0.2))
    assert from_document(json.dumps(to_document(case)), files).equipment.lines == (LINE,)


@pytest.mark.parametrize(("name", "schema"), [("evaluation", json_schema), ("answers", answers_schema)])
def test_schema_in_the_documents_is_the_models(name, schema):
    """Where a field came on purpose: LEVELMOOR_SCHEMAS=write .venv/bin/pytest tests/formats"""
    kept, made = (
        Path(__file__).parents[2] / f"docs/{name}.schema.json",
        json.dumps(schema(), indent=1, ensure_ascii=False),
    )
    if os.environ.get("LEVELMOOR_SCHEMAS") == "write":
        kept.write_text(f"{made}\n", "utf-8")
    assert json.loads(kept.read_text("utf-8")) == json.loads(made)


@settings(max_examples=40)
@given(st.binary(max_size=60))
def test_what_is_no_export_is_refused(data):
    with pytest.raises(ExchangeProblem):
        read_exchange(data)
    with pytest.raises(ExchangeProblem):
        read_exchange(b"PK" + data)


def test_example_of_the_documents_is_planned():
    text = (Path(__file__).parents[2] / "docs/formats.md").read_text("utf-8")
    example = text.split("```json\n")[1].split("```")[0]
    plan = make_plan(read_exchange(example.encode()).evaluation)
    assert [r.choice.chain.words for r in plan.runs] == ["Lead", "Lead"]
    assert not plan.uncovered
