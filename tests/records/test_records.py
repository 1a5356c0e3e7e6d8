import numpy as np
import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from argon2 import PasswordHasher
from sqlalchemy import create_engine, select, text
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from levelmoor.core.judge import judge
from levelmoor.core.rf.reflection import gamma_from_impedance
from levelmoor.core.rf.windows import Window
from levelmoor.formats.bundle import verify_bundle
from levelmoor.formats.problem import FileProblem
from levelmoor.formats.sweepfile import read_sweep_file
from levelmoor.records import audit, publishing, store, sweeps
from levelmoor.records import tables as t
from levelmoor.records.accounts import AccountProblem, add_member, check_password
from levelmoor.records.arrays import pack, unpack, unpack_complex
from levelmoor.records.article_state import windows_row
from levelmoor.records.mapping import evaluation_of
from levelmoor.records.roles import MemberRole
from tests.conftest import fresh_schema
from tests.sweeps import rlc

F = np.linspace(13.5e6, 14.9e6, 281)
RAW = (
    "# Hz S RI R 50\n"
    + "\n".join(
        f"{f:.0f} {g.real:.9f} {g.imag:.9f}" for f, g in zip(F, gamma_from_impedance(rlc(F, q=9), 50), strict=True)
    )
).encode()


@pytest.fixture
def case(session, member):
    team = session.get(t.Team, member.team_id)
    row = store.open_evaluation(session, team, "Antenna")
    row.bench_calibration = "at_plane"
    row.claims.append(
        t.Claim(quantity="swr", limit=2.0, windows=windows_row((Window(14e6, 14.35e6, "20m"),)), source="box")
    )
    session.flush()
    return team, row


def test_migration_from_nothing_makes_what_the_mappings_say(mariadb):
    engine = create_engine(fresh_schema(mariadb).owner)
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, t.Base.metadata) == []
    engine.dispose()


@pytest.mark.parametrize(
    "values", [np.array([1.5, -2e300, 5e-324]), np.array([], dtype=float), np.array([1 + 2j, -0.5j])]
)
def test_arrays_come_back_bit_for_bit(values):
    back = unpack_complex(pack(values)) if np.iscomplexobj(values) else unpack(pack(values))
    np.testing.assert_array_equal(back, values)


def test_sweep_comes_back_as_it_was_read(session, case):
    _, row = case
    sweeps.add_sweep(session, row, "a.s1p", RAW)
    session.expire_all()
    kept = evaluation_of(store.evaluation(session, row.team_id, row.id)).sweeps[0]
    read = read_sweep_file("a.s1p", RAW).sweep
    np.testing.assert_array_equal(kept.sweep.gamma, read.gamma)
    np.testing.assert_array_equal(kept.sweep.frequency_hz, read.frequency_hz)
    extremes = session.scalars(select(t.Sweep)).all()[-1]
    assert (extremes.low_hz, extremes.best_hz, extremes.points) == (13.5e6, read.best()[0], 281)


def test_raw_bytes_are_kept_once_and_whole(session, case):
    _, row = case
    for _ in range(2):
        sweeps.add_sweep(session, row, "a.s1p", RAW)
    (raw,) = session.scalars(select(t.RawFile).where(t.RawFile.team_id == row.team_id)).all()
    assert raw.data == RAW


def test_file_that_cannot_be_read_leaves_nothing(session, case):
    _, row = case
    with pytest.raises(FileProblem):
        sweeps.add_sweep(session, row, "a.s1p", b"# MHz\nwords\n")
    assert session.scalars(select(t.RawFile).where(t.RawFile.team_id == row.team_id)).all() == []
    assert row.sweeps == []


def test_rows_are_judged_as_the_core_judges(session, case):
    _, row = case
    sweeps.add_sweep(session, row, "a.s1p", RAW)
    (finding,) = judge(evaluation_of(row)).claims
    assert finding.verdict == "pass"


def published(session, case, reason=""):
    team, row = case
    if not row.sweeps:
        sweeps.add_sweep(session, row, "a.s1p", RAW)
    return publishing.publish(session, row, team, "Somebody", reason, listed=True)


def test_published_bundle_gives_the_same_verdicts(session, case):
    revision = published(session, case)
    assert verify_bundle(revision.bundle).same
    assert revision.headline == "1 Pass"


def test_later_change_makes_a_new_revision_with_its_reason(session, case):
    first = published(session, case)
    held = first.bundle
    case[1].claims[0].limit = 1.05
    with pytest.raises(publishing.NotReady, match="and why"):
        published(session, case)
    second = published(session, case, "The box says 1.05.")
    assert (second.number, second.headline, first.bundle) == (2, "1 Fail", held)


@pytest.mark.parametrize("statement", ["UPDATE report_revision SET reason = 'x'", "DELETE FROM report_revision"])
def test_account_that_serves_may_not_change_what_is_published(session, case, statement):
    published(session, case)
    with pytest.raises(DatabaseError, match="command denied"):
        session.execute(text(statement))


STAYS = [
    ("UPDATE report_revision SET reason = 'x'", "never changed"),
    ("DELETE FROM report_revision", "never changed"),
    ("UPDATE report SET slug = 'x'", "stays"),
    ("DELETE FROM report", "stays"),
    ("UPDATE audit SET who = 'x'", "never rewritten"),
    ("DELETE FROM audit", "never rewritten"),
]


@pytest.mark.parametrize(("statement", "words"), STAYS)
def test_database_refuses_every_account_to_change_what_is_published_or_was_done(
    maker, owner_url, case, statement, words
):
    """Checked as the owner of the schema, in a transaction that is taken back."""
    owner = create_engine(owner_url)
    with Session(owner) as session:
        team = session.merge(case[0])
        row = store.open_evaluation(session, team, "Antenna")
        row.bench_calibration = "at_plane"
        row.claims.append(t.Claim(quantity="swr", limit=2.0, windows=windows_row((Window(14e6, 14.35e6, "20m"),))))
        sweeps.add_sweep(session, row, "a.s1p", RAW)
        publishing.publish(session, row, team, "Somebody", "", listed=True)
        audit.record(session, team.id, audit.OPERATOR, "setting", "for this test")
        session.flush()
        with pytest.raises(DatabaseError, match=words):
            session.execute(text(statement))
        session.rollback()
    owner.dispose()


@pytest.mark.parametrize(
    "statement",
    [
        "DROP TABLE tick",
        "ALTER TABLE tick ADD x INT",
        "DROP TRIGGER report_no_delete",
        "TRUNCATE report_revision",
        "CREATE TABLE x (i INT)",
        "DELETE FROM evaluation",
    ],
)
def test_account_that_serves_may_not_touch_the_schema(session, statement):
    with pytest.raises(DatabaseError, match="denied"):
        session.execute(text(statement))


def test_unconfirmed_guess_cannot_be_published(session, case):
    team, row = case
    sweeps.add_sweep(session, row, "bare.csv", b"\n".join(b"%.2f,1.2" % (14 + i / 100) for i in range(40)))
    with pytest.raises(publishing.NotReady, match="Confirm how bare.csv was read"):
        publishing.publish(session, row, team, "Somebody", "", listed=True)


def test_other_team_sees_nothing(session, case, member):
    _, row = case
    assert store.evaluation(session, row.team_id + 1, row.id) is None


def test_search_by_words_and_verdict(session, case):
    team, row = case
    row.worst_verdict = "pass"
    session.flush()
    assert [e.id for e in store.evaluations(session, team.id, "ant", "pass").rows] == [row.id]
    assert store.evaluations(session, team.id, "loop").rows == []
    assert store.evaluations(session, team.id, "", "fail").rows == []


def test_password_is_hashed_and_checked(session, member):
    user = check_password(session, member.email.upper(), member.password)
    assert user.password_hash.startswith("$argon2id$")
    assert PasswordHasher().memory_cost >= 47_104  # the least of OWASP's Password Storage Cheat Sheet (memory)
    assert check_password(session, member.email, "another one") is None
    assert check_password(session, "nobody@team.example", member.password) is None


def test_another_team_cannot_set_a_password(session, member):
    add_member(session, "Elsewhere", member.email, "Other", "quite another one", role=MemberRole.EDITOR)
    assert check_password(session, member.email, "quite another one") is None
    assert check_password(session, member.email, member.password)


@pytest.mark.parametrize(
    ("email", "password", "words"), [("nowhere", "long enough here", "email"), ("a@b.example", "short", "at least 12")]
)
def test_account_problems(session, email, password, words):
    with pytest.raises(AccountProblem, match=words):
        add_member(session, "Team", email, "Name", password, role=MemberRole.MEMBER)
