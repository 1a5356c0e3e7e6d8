"""Files are read in processes of their own: what takes too much is ended, and the next file is read."""

import operator
import os
import pickle
import threading
import time
from contextlib import suppress
from dataclasses import replace
from types import SimpleNamespace

import pytest

from levelmoor.core.judge import judge
from levelmoor.formats.column_units import ColumnsProblem
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.records import apart
from levelmoor.records import workers as at_work
from levelmoor.records.apart import judge_apart, read_apart
from levelmoor.records.worker_line import Line, TooMuch
from levelmoor.records.workers import Workers
from levelmoor.services import findings
from tests.formats.test_bundle import CASE

SOUND = b"MHz,SWR\n14,1.5\n14.1,1.4\n"


def line_to_one(folder, seconds):
    found = Workers(folder / "line", 1, seconds)
    yield Line(folder / "line", seconds)
    found.end()


@pytest.fixture(scope="module")
def workers(tmp_path_factory):
    yield from line_to_one(tmp_path_factory.mktemp("workers"), 2.0)


@pytest.fixture(scope="module")
def patient(tmp_path_factory):
    """Where what is done is nobody's to hurry."""
    yield from line_to_one(tmp_path_factory.mktemp("patient"), 60.0)


def test_a_sweep_comes_back_as_it_is(patient):
    assert patient.do(read_sweep_file, "a.csv", SOUND).sweep.low_hz == 14e6


def test_problems_come_back_whole(workers):
    with pytest.raises(FileProblem, match="line 2, column 4") as found:
        workers.do(read_sweep_file, "a.csv", b"MHz,SWR\n14,x\n")
    assert found.value.line == 2
    with pytest.raises(ColumnsProblem) as asked:
        workers.do(read_sweep_file, "a.csv", b"MHz,SWR before,SWR after\n14,1.5,1.4\n14.1,1.4,1.3\n")
    assert asked.value.headings == ("MHz", "SWR before", "SWR after")


@pytest.mark.parametrize(("hostile", "said"), [((time.sleep, 600), "time"), ((bytes, 3 * 10**9), "memory")])
def test_what_takes_too_much_is_refused_and_the_next_file_is_read(workers, hostile, said):
    with pytest.raises(TooMuch, match=said):
        workers.do(*hostile)
    assert workers.do(read_sweep_file, "a.csv", SOUND).sweep.low_hz == 14e6


def test_without_workers_a_file_is_read_here():
    assert read_apart(len, SOUND) == len(SOUND)


def test_who_comes_where_many_wait_is_sent_away_at_once(workers):
    ended = threading.Event()

    def crowd():
        while not ended.is_set():
            with suppress(TooMuch):
                workers.do(time.sleep, 0.2)

    waiting = [threading.Thread(target=crowd) for _ in range(3 * at_work.MOST_WAITING)]
    for one in waiting:
        one.start()
    with pytest.raises(TooMuch, match="work"):
        for _ in range(100):  # a place may just be free
            workers.do(len, b"")
    ended.set()
    for one in waiting:
        one.join()
    assert workers.do(len, b"") == 0


def test_an_evaluation_is_judged_apart_as_it_is_here(patient, monkeypatch):
    monkeypatch.setattr(apart, "_judges", patient)
    assert judge_apart(CASE) == judge(CASE)


def test_what_took_too_much_is_not_judged_again_at_once(monkeypatch):
    asked = []

    def too_much(evaluation):
        asked.append(evaluation)
        raise TooMuch("time")

    monkeypatch.setattr(findings, "judge_apart", too_much)
    case = replace(CASE, title="judged for ever")
    for _ in range(2):
        with pytest.raises(TooMuch, match="time"):
            findings.findings_of(case)
    assert asked == [case]


def test_who_looks_at_a_long_evaluation_does_not_wait_for_its_findings_and_has_them_later(monkeypatch):
    may_end = threading.Event()

    def slow(evaluation):
        may_end.wait(60)
        return judge(evaluation)

    monkeypatch.setattr(findings, "judge_apart", slow)
    monkeypatch.setattr(apart, "LONG_POINTS", 1)
    case = replace(CASE, age_limit_h=7.1)  # as no other test has it
    findings.wait_for(0.05)
    try:
        with pytest.raises(findings.BeingJudged):
            findings.findings_of(case)
        may_end.set()
        findings.wait_for(60.0)
        assert findings.findings_of(case) == judge(case)
    finally:
        findings.wait_for(None)


@pytest.mark.parametrize(("judges", "waits"), [(True, False), (False, True)])
def test_where_judges_are_busy_nobody_waits_for_any_evaluation(monkeypatch, judges, waits):
    may_end = threading.Event()

    def slow(evaluation):
        may_end.wait(60)
        return judge(evaluation)

    monkeypatch.setattr(findings, "judge_apart", slow if judges else judge)
    monkeypatch.setattr(apart, "_judges", object() if judges else None)
    findings.wait_for(0.05)
    try:
        case = replace(CASE, age_limit_h=7.2 + judges)
        if waits:
            assert findings.findings_of(case) == judge(case)
        else:
            with pytest.raises(findings.BeingJudged):
                findings.findings_of(case)
    finally:
        may_end.set()
        findings.wait_for(None)


HELD = []


def hold(many):
    HELD.append(b"x" * many)


def test_a_worker_that_holds_much_is_replaced_and_one_that_lets_it_go_is_not(patient):
    before = patient.do(os.getpid)
    assert len(patient.do(operator.mul, b"x", at_work.LARGE_BYTES)) == at_work.LARGE_BYTES
    assert patient.do(os.getpid) == before
    patient.do(hold, at_work.LARGE_BYTES)
    assert patient.do(os.getpid) != before


def test_all_that_a_page_has_made_apart_is_waited_for_together(monkeypatch):
    clock, waited = iter((0.0, 0.5, 1.75, 9.0)), []
    monkeypatch.setattr(findings, "time", SimpleNamespace(monotonic=lambda: next(clock)))
    monkeypatch.setattr(findings, "_soon", lambda kept, key, make, seconds: waited.append(seconds))
    monkeypatch.setattr(findings, "is_long", lambda evaluation: True)
    monkeypatch.setattr(findings, "zlib", SimpleNamespace(decompress=pickle.dumps))
    findings.wait_for(2.0)
    try:
        findings.findings_of(CASE)
        for asked in ("a figure", "another"):
            findings.long_work(CASE, asked, judge, CASE)
    finally:
        findings._until.set(None)
    assert waited == [1.5, 0.25, 0.0]
