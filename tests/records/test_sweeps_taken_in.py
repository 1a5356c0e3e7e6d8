"""Readings and files on their way into the database: kept once, asked about, remembered, and out again."""

import pytest
from sqlalchemy import select

from levelmoor.core.judge import judge
from levelmoor.core.readings.reading_sheet import FIRST, sheet_lines
from levelmoor.core.readings.readings import ReadingKind
from levelmoor.core.readings.slips import Expected
from levelmoor.formats.exchange_file import read_exchange, write_exchange
from levelmoor.formats.problem import FileProblem
from levelmoor.records import intake, store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.exporting import exported
from levelmoor.records.importing import imported
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.readings import Change, entries_of, join_sheet, keep_changes, sheet_on_bench

LOGGER = b"no;kanal;vsr\n" + b"\n".join(b"%d;%.3f;1.50" % (i, 7 + i / 100) for i in range(25)) + b"\n"


@pytest.fixture
def row(session):
    team = t.Team(name="Taken in")
    session.add(team)
    session.flush()
    return store.open_evaluation(session, team, "Wire")


@pytest.fixture
def sheet(session, row):
    return sheet_on_bench(session, row, ReadingKind.SWR)


def add(ident, mhz, swr, at="2026-09-05T15:00:00"):
    return Change("add", ident, {"frequency": mhz, "swr": swr}, made_at=at)


def lines(sheet):
    return sheet_lines(entries_of(sheet), ReadingKind.SWR, Expected())


def test_the_same_change_twice_is_kept_once(session, sheet):
    changes = [add("a", "7.1", "1.5"), Change("answer", "a", kind="flat", answer="as read")]
    for _ in range(2):
        keep_changes(session, sheet, changes, "one")
    assert [(e.id, dict(e.answers)) for e in entries_of(sheet)] == [("a", {"flat": "as read"})]


def test_a_changed_figure_tells_what_was_typed_first_however_often_it_changes(session, sheet):
    keep_changes(session, sheet, [add("a", "71.0", "1.5")], "one")
    for mhz in ("70.9", "7.10"):
        keep_changes(session, sheet, [Change("change", "a", {"frequency": mhz})], "two")
    (entry,) = entries_of(sheet)
    assert (entry.typed["frequency"], entry.answers[FIRST]) == ("7.10", "typed first: frequency 71.0")


def test_what_was_taken_out_stays_out_when_it_is_sent_again(session, sheet):
    keep_changes(session, sheet, [add("a", "7.1", "1.5"), Change("remove", "a")], "one")
    keep_changes(session, sheet, [add("a", "7.1", "1.5")], "one")
    assert entries_of(sheet) == []


def test_there_is_one_sheet_for_what_is_on_the_bench(session, row, sheet):
    assert sheet_on_bench(session, row, ReadingKind.SWR).id == sheet.id
    assert sheet_on_bench(session, row, ReadingKind.R_X).id != sheet.id


def test_joining_again_takes_the_place_of_the_sweep_before(session, row, sheet):
    keep_changes(session, sheet, [add("a", "7.0", "1.5"), add("b", "7.1", "1.2")], "one")
    first = join_sheet(session, row, sheet, lines(sheet))
    first.name = "Evening"
    keep_changes(session, sheet, [add("c", "7.2", "1.9")], "one")
    second = join_sheet(session, row, sheet, lines(sheet))
    assert [(s.name, s.points) for s in row.sweeps] == [("Evening", 3)]
    assert (sheet.sweep_id, second.format, second.taken_on) == (second.id, "readings", "2026-09-05T15:00")


def test_nothing_is_joined_where_nothing_counts(session, row, sheet):
    keep_changes(session, sheet, [add("a", "7.0", "none")], "one")
    with pytest.raises(ValueError, match="no reading counts"):
        join_sheet(session, row, sheet, lines(sheet))
    assert row.sweeps == []


def test_a_file_that_is_here_already_is_not_taken_twice(session, row):
    data = b"MHz,SWR\n7.0,1.5\n7.1,1.2\n"
    found = intake.Intake()
    for name in ("a.csv", "b.csv"):
        intake.take_in(session, row, found, name, data)
    assert [s.file_name for s in found.added] == ["a.csv"]
    assert [(name, s.file_name) for name, s in found.here_already] == [("b.csv", "a.csv")]


def test_columns_named_once_are_read_so_for_every_file_with_those_headings(session, row):
    found = intake.Intake()
    intake.take_in(session, row, found, "a.csv", LOGGER)
    intake.take_in(session, row, found, "b.csv", LOGGER.replace(b"1.50", b"1.60"))
    assert (found.waiting, row.sweeps) == (["a.csv", "b.csv"], [])
    pending = intake.waiting(session, row.id)[0].row
    done = intake.name_columns(session, row, pending, "1:frequency,2:swr", "")
    assert [s.file_name for s in done.added] == ["a.csv", "b.csv"]
    intake.take_in(session, row, found, "c.csv", LOGGER.replace(b"1.50", b"1.70"))
    assert [(s.file_name, s.columns, s.points) for s in row.sweeps][-1] == ("c.csv", "1:frequency,2:swr", 25)
    assert intake.waiting(session, row.id) == []


def test_an_answer_holds_for_no_file_whose_figures_a_line_above_makes_something_else(session, row):
    found = intake.Intake()
    for name, line in (("a.csv", b"SWR x 10"), ("b.csv", b"SWR x 10\n"), ("c.csv", b"All values in dB")):
        intake.take_in(session, row, found, name, line + b"\nMHz;SWR\n7.0;15\n7.1;16\n7.2;17\n")
    first = intake.waiting(session, row.id)[0].row
    done = intake.name_columns(session, row, first, "0:frequency,1:swr", "")
    assert [s.file_name for s in done.added] == ["a.csv", "b.csv"]
    assert [w.row.file_name for w in intake.waiting(session, row.id)] == ["c.csv"]


def test_the_ends_of_a_span_above_make_no_other_question_of_it(session, row):
    found = intake.Intake()
    for name, end in (("a.csv", b"7.1"), ("b.csv", b"7.3")):
        intake.take_in(session, row, found, name, b"Stop (MHz): " + end + b"\n" + LOGGER)
    intake.name_columns(session, row, intake.waiting(session, row.id)[0].row, "1:frequency,2:swr", "")
    assert intake.waiting(session, row.id) == []


@pytest.mark.parametrize(
    ("columns", "words"),
    [
        ("", "choose the frequency column"),
        ("1:frequency", "choose the columns of SWR"),
        ("9:frequency", "no column 10"),
    ],
)
def test_columns_that_cannot_be_leave_the_file_waiting(session, row, columns, words):
    intake.take_in(session, row, intake.Intake(), "a.csv", LOGGER)
    pending = intake.waiting(session, row.id)[0].row
    with pytest.raises(ValueError, match=words):
        intake.name_columns(session, row, pending, columns, "")
    assert len(intake.waiting(session, row.id)) == 1


def test_readings_mapped_files_and_conditions_move_to_another_team(session, row, sheet):
    row.setups[0].conditions = {"height": "6 m"}
    row.bench_calibration = "at_plane"
    keep_changes(session, sheet, [add(str(i), f"{7 + i / 50:.2f}", "1.5") for i in range(6)], "one")
    join_sheet(session, row, sheet, lines(sheet))
    intake.take_in(session, row, intake.Intake(), "a.csv", LOGGER)
    intake.name_columns(session, row, intake.waiting(session, row.id)[0].row, "1:frequency,2:swr", "")
    core = (came := exported(session, row)).evaluation
    other = t.Team(name="Elsewhere")
    session.add(other)
    session.flush()
    mine = evaluation_of(
        store.evaluation(session, other.id, imported(session, other, read_exchange(write_exchange(came)))[0].id)
    )
    assert [(e.kind, e.columns, e.sweep.points) for e in mine.sweeps] == [
        (e.kind, e.columns, e.sweep.points) for e in core.sweeps
    ]
    assert mine.setups[0].conditions.height == "6 m"
    assert [u.sentence for u in judge(mine).usability] == [u.sentence for u in judge(core).usability]


def test_a_sheet_of_an_evaluation_is_found_by_it_alone(session, row, sheet):
    assert session.scalars(select(t.ReadingSheet).where(t.ReadingSheet.evaluation_id == row.id)).all() == [sheet]


def test_an_evaluation_has_so_many_points_and_no_more(session, row, monkeypatch):
    monkeypatch.setattr(sweeps, "EVALUATION_POINTS", 5)
    sweeps.add_sweep(session, row, "a.csv", b"MHz,SWR\n14,1.5\n14.1,1.4\n14.2,1.4\n")
    with pytest.raises(FileProblem, match="3 points, and the sweeps of this evaluation already have 3"):
        sweeps.add_sweep(session, row, "b.csv", b"MHz,SWR\n14,1.6\n14.1,1.4\n14.2,1.4\n")
    assert [s.file_name for s in row.sweeps] == ["a.csv"]
