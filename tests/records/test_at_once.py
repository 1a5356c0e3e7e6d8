"""Several at the same moment, and processes that fork or die: nothing fails, nothing doubles, nothing is half there."""

import io
import os
import signal
import subprocess
import sys
import textwrap
import threading

import pytest
from sqlalchemy import func, select, text
from sqlalchemy.exc import OperationalError

from levelmoor.core.rf.windows import Window
from levelmoor.records import leases, publishing, store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.article_state import windows_row
from levelmoor.records.database import connect, now
from levelmoor.records.intake import remember
from levelmoor.web import waiting

RAW = b"# MHz S RI R 50\n" + b"".join(b"%.3f 0.05 0\n" % (13.9 + i / 400) for i in range(221))
FLOOR = sorted(f"Pad {i}" for i in range(12))


def at_once(count, do):
    """What each of several threads came to, begun together."""
    results, barrier = [], threading.Barrier(count)

    def run(n):
        barrier.wait()
        try:
            results.append(do(n))
        except Exception as problem:
            results.append(problem)

    threads = [threading.Thread(target=run, args=(n,)) for n in range(count)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return results


@pytest.fixture
def browsers(app, member, monkeypatch):
    """Makes browsers of one signed-in person."""
    monkeypatch.setitem(app.config, "WTF_CSRF_ENABLED", False)
    first = app.test_client()
    first.post("/sign-in", data={"email": member.email, "password": member.password})
    cookie = first.get_cookie("levelmoor").value

    def another():
        client = app.test_client()
        client.set_cookie("levelmoor", cookie)
        return client

    return another


def evaluation(maker, member, name="Antenna"):
    with maker.begin() as session:
        row = store.open_evaluation(session, session.get(t.Team, member.team_id), name)
        row.bench_calibration = "at_plane"
        windows = windows_row((Window(14e6, 14.35e6, "20m"),))
        row.claims.append(t.Claim(quantity="swr", limit=2.0, windows=windows))
        session.flush()
        return row.id


def test_the_same_file_at_the_same_moment_in_several_evaluations(browsers, maker, member):
    cases = [evaluation(maker, member, f"Antenna {n}") for n in range(3)]

    def drop(n):
        files = [(io.BytesIO(RAW.replace(b"0.05", b"0.0%d" % (k + 1))), f"a{k}.s1p") for k in range(3)]
        return browsers().post(f"/e/{cases[n % 3]}/sweeps", data={"files": files}).status_code

    assert at_once(9, drop) == [200] * 9
    with maker() as session:
        kept = select(func.count()).where(t.RawFile.team_id == member.team_id)
        assert session.scalar(kept) == 3
        for case in cases:
            there = select(func.count()).where(t.Sweep.evaluation_id == case, t.Sweep.deleted_at.is_(None))
            assert session.scalar(there) == 3


def test_the_same_equipment_list_twice_at_once_is_there_once(browsers, maker, member):
    rows = "\r\n".join(['Name,"Label, dB"', *(f"{name},20" for name in FLOOR)])

    def send(_n):
        return (
            browsers().post("/equipment/pad/import", data={"file": (io.BytesIO(rows.encode()), "pads.csv")}).status_code
        )

    assert at_once(4, send) == [200] * 4
    with maker() as session:
        names = session.scalars(select(t.Owned.name).where(t.Owned.team_id == member.team_id)).all()
    assert sorted(names) == FLOOR


def test_edits_of_one_evaluation_at_once_are_all_kept(browsers, maker, member):
    case = evaluation(maker, member)

    def claim(n):
        return browsers().post(f"/e/{case}/claims", data={"text": f"SWR < {1.5 + n / 10:.1f} 20m"}).status_code

    assert at_once(waiting.MOST, claim) == [200] * waiting.MOST
    with maker() as session:
        assert session.scalar(select(func.count()).where(t.Claim.evaluation_id == case)) == waiting.MOST + 1


def test_of_more_edits_than_may_wait_the_rest_is_told_so_and_nothing_of_it_is_kept(
    browsers, maker, member, monkeypatch
):
    monkeypatch.setattr(waiting, "MOST", 2)
    case = evaluation(maker, member)

    def claim(n):
        answer = browsers().post(f"/e/{case}/claims", data={"text": f"SWR < {1.5 + n / 10:.1f} 20m"})
        return answer.status_code, answer.headers.get("Levelmoor-Busy", "")

    codes = at_once(8, claim)
    assert set(codes) <= {(200, ""), (503, "1")}
    with maker() as session:
        kept = session.scalar(select(func.count()).where(t.Claim.evaluation_id == case)) - 1
    assert kept == codes.count((200, "")) >= 2
    assert claim(9) == (200, "")  # each gives its place back


def test_columns_named_at_once_are_remembered_once(maker, member):
    def name(n):
        with maker.begin() as session:
            remember(session, member.team_id, ("a", "b"), f"0:frequency,{1 + n % 2}:swr", "MHz")
            return "kept"

    assert at_once(6, name) == ["kept"] * 6


def test_what_the_database_asks_to_try_again_is_tried_again(browsers, maker, member, app, monkeypatch):
    """A deadlock in the middle of a view: the person sees none of it, and the file is read from its start."""
    case, failures = evaluation(maker, member), [2]
    usual = sweeps.keep_raw

    def deadlocked(session, team_id, data):
        row = usual(session, team_id, data)
        if failures[0]:
            failures[0] -= 1
            raise OperationalError("INSERT", {}, Exception(1213, "Deadlock found"))
        return row

    monkeypatch.setattr(sweeps, "keep_raw", deadlocked)
    answer = browsers().post(f"/e/{case}/sweeps", data={"files": [(io.BytesIO(RAW), "a.s1p")]})
    assert (answer.status_code, failures[0]) == (200, 0)
    with maker() as session:
        assert session.scalar(select(func.count()).where(t.Sweep.evaluation_id == case)) == 1


# -- Processes -----------------------------------------------------------------------------------------------------


def test_no_connection_outlives_a_fork(database_url):
    """A child that forks off while the parent has connections open speaks over one of its own."""
    maker = connect(database_url)
    with maker() as session:
        mine = session.scalar(text("SELECT CONNECTION_ID()"))
    read, write = os.pipe()
    child = os.fork()
    if child == 0:
        with maker() as session:
            os.write(write, str(session.scalar(text("SELECT CONNECTION_ID()"))).encode())
        os._exit(0)
    os.waitpid(child, 0)
    assert int(os.read(read, 20)) != mine
    with maker() as session:
        assert session.scalar(text("SELECT CONNECTION_ID()")) == mine
    maker.kw["bind"].dispose()


def test_application_hands_no_open_connection_to_what_serves_it(app, database_url):
    from levelmoor.web.app import create_app

    made = create_app(database_url)
    assert made.config["SESSIONS"].kw["bind"].pool.checkedin() == 0


KILLED = """
    import os, signal, sys
    from levelmoor.records import store
    from levelmoor.records import tables as t
    from levelmoor.records.database import connect
    with connect(sys.argv[1]).begin() as session:
        row = store.evaluation(session, int(sys.argv[2]), int(sys.argv[3]))
        session.add(t.Report(team_id=row.team_id, evaluation_id=row.id, slug=f"killed-{row.id}"))
        session.flush()
        os.kill(os.getpid(), signal.SIGKILL)
"""


def test_publication_that_is_killed_leaves_nothing_and_can_be_made_again(maker, member, database_url):
    case = evaluation(maker, member)
    with maker.begin() as session:
        sweeps.add_sweep(session, store.evaluation(session, member.team_id, case), "a.s1p", RAW)
    arguments = [sys.executable, "-c", textwrap.dedent(KILLED), database_url, str(member.team_id), str(case)]
    assert subprocess.run(arguments, check=False).returncode == -signal.SIGKILL
    with maker.begin() as session:
        assert store.report_of(session, case) is None
        row = store.evaluation(session, member.team_id, case)
        assert publishing.publish(session, row, session.get(t.Team, member.team_id), "Somebody", "", True).number == 1


def test_report_that_was_left_without_a_revision_can_be_published_and_shows_nowhere(maker, member, client):
    """As earlier versions left them behind."""
    case = evaluation(maker, member)
    with maker.begin() as session:
        row = store.evaluation(session, member.team_id, case)
        sweeps.add_sweep(session, row, "a.s1p", RAW)
        session.add(t.Report(team_id=member.team_id, evaluation_id=case, slug=f"left-{case}", listed=True))
    assert client.get("/reports").status_code == 200
    assert client.get(f"/r/left-{case}").status_code == 404
    with maker.begin() as session:
        row = store.evaluation(session, member.team_id, case)
        assert publishing.publish(session, row, session.get(t.Team, member.team_id), "Somebody", "", True).number == 1


# -- Leases --------------------------------------------------------------------------------------------------------


def test_an_instrument_belongs_to_one_team_at_a_time(maker):
    address = "127.0.0.1:50001"
    assert leases.take(maker, address, 1) == 0
    assert leases.take(maker, address, 1) == 0
    with pytest.raises(leases.Leased, match="being used by another team"):
        leases.take(maker, address, 2)
    with maker.begin() as session:
        session.get(t.Lease, address).until = now().replace(year=2000)
    leases.take(maker, address, 2)
    with pytest.raises(leases.Leased):
        leases.take(maker, address, 1)


def test_calibrations_from_before_another_team_had_it_stand_for_nothing(maker, member):
    address = "127.0.0.1:50002"
    with maker.begin() as session:
        instrument = t.Instrument(team_id=member.team_id, name="Analyzer")
        session.add(instrument)
        session.flush()
        record = t.Calibration(team_id=member.team_id, instrument_id=instrument.id, low_hz=1e6, high_hz=2e6)
        session.add(record)
        session.flush()
        before = record.id
    for team in (member.team_id, member.team_id + 1000, member.team_id):
        floor = leases.take(maker, address, team)
        with maker.begin() as session:
            session.get(t.Lease, address).until = now().replace(year=2000)
    assert floor >= before


def test_one_of_many_that_ask_at_once_has_it(maker):
    def ask(n):
        leases.take(maker, "127.0.0.1:50003", n + 1)
        return "has it"

    results = at_once(6, ask)
    assert results.count("has it") == 1
    assert sum(isinstance(r, leases.Leased) for r in results) == 5
