"""The whole database in a file, and from it in another: every row, every rule of the schema, and nothing half done."""

import gzip
import os

import pytest
from sqlalchemy import create_engine, select, text
from sqlalchemy.exc import DBAPIError

from levelmoor.records import backup, backup_folder, store
from levelmoor.records import tables as t
from levelmoor.records.backup import BackupProblem, back_up, restore
from levelmoor.records.database import VARIABLE, connect
from levelmoor.records.raw_files import keep_raw
from tests.conftest import fresh_schema

AWKWARD = b"\x00\xff'\\\"\n-- x\n" + bytes(range(256))


@pytest.fixture(scope="module")
def source(mariadb):
    """A database of its own with a team, an evaluation and a raw file of awkward bytes."""
    found = fresh_schema(mariadb)
    maker = connect(found.serving)
    with maker.begin() as session:
        team = t.Team(name="Keepers, “Ωé” '; DROP TABLE team")
        session.add(team)
        session.flush()
        store.open_evaluation(session, team, "Whip")
        keep_raw(session, team.id, AWKWARD)
    maker.kw["bind"].dispose()
    return found


@pytest.fixture(scope="module")
def kept(source, tmp_path_factory):
    """A backup of it."""
    path = tmp_path_factory.mktemp("backup") / "all.gz"
    assert back_up(source.owner, path) == path.stat().st_size
    return path


@pytest.fixture
def empty(mariadb):
    """A schema with its tables and nothing in them."""
    return fresh_schema(mariadb)


def sums(url):
    """The checksum of every table."""
    engine = create_engine(url)
    with engine.connect() as connection:
        names = connection.scalars(text("SHOW FULL TABLES WHERE Table_type = 'BASE TABLE'")).all()
        names = set(names) - set(backup.MADE_AGAIN)
        found = {name: connection.execute(text(f"CHECKSUM TABLE `{name}`")).one()[1] for name in names}
    engine.dispose()
    return found


def test_what_is_restored_is_what_was_kept(kept, source, empty):
    before = sums(source.owner)
    about = restore(empty.owner, empty.serving, kept)
    assert about["schema"] >= "0023"
    assert sums(empty.owner) == before
    maker = connect(empty.serving)
    with maker() as session:
        assert AWKWARD in session.scalars(select(t.RawFile.data)).all()
    maker.kw["bind"].dispose()


def test_rules_and_rights_are_restored_too(kept, empty):
    restore(empty.owner, empty.serving, kept)
    for url, said in ((empty.owner, "never changed"), (empty.serving, "denied")):
        engine = create_engine(url)
        with engine.connect() as connection, pytest.raises(DBAPIError, match=said):
            connection.execute(text("UPDATE raw_file SET data = 'x'"))
        engine.dispose()


def test_a_database_that_holds_something_is_not_replaced_unasked(kept, empty):
    restore(empty.owner, empty.serving, kept)
    before = sums(empty.owner)
    with pytest.raises(BackupProblem, match="not empty"):
        restore(empty.owner, empty.serving, kept)
    assert sums(empty.owner) == before
    restore(empty.owner, empty.serving, kept, replace=True)
    assert sums(empty.owner) == before


def test_tables_of_another_program_are_not_dropped_unasked(kept, empty):
    engine = create_engine(empty.owner)
    with engine.begin() as connection:
        connection.execute(text("SET foreign_key_checks = 0"))
        for name in sums(empty.owner):
            connection.execute(text(f"DROP TABLE `{name}`"))
        for name in backup.MADE_AGAIN:
            connection.execute(text(f"DROP TABLE `{name}`"))
        connection.execute(text("CREATE TABLE theirs (x INT)"))
    engine.dispose()
    with pytest.raises(BackupProblem, match="not empty"):
        restore(empty.owner, empty.serving, kept)
    assert set(sums(empty.owner)) == {"theirs"}


def test_a_database_that_does_not_answer_is_said(tmp_path):
    with pytest.raises(BackupProblem, match="does not answer"):
        back_up("mysql+mysqldb://x:y@127.0.0.1:1/levelmoor", tmp_path / "b.gz")


PASSPHRASE = "twelve letters and more"


def test_a_sealed_backup_is_restored_with_its_passphrase_alone(source, empty, tmp_path):
    path = tmp_path / "sealed.gz"
    back_up(source.owner, path, PASSPHRASE)
    assert b"levelmoor backup" not in path.read_bytes()
    for wrong, said in (("", "is encrypted"), ("twelve letters or more", "passphrase is wrong")):
        with pytest.raises(BackupProblem, match=said):
            restore(empty.owner, empty.serving, path, replace=True, passphrase=wrong)
    restore(empty.owner, empty.serving, path, passphrase=PASSPHRASE)
    assert sums(empty.owner) == sums(source.owner)


@pytest.mark.parametrize(("typed", "said"), [(b"short", "at least 12"), (bytes([255] * 20), "cannot be read")])
def test_a_passphrase_that_is_of_no_use_is_refused(tmp_path, typed, said):
    path = tmp_path / "passphrase"
    path.write_bytes(typed)
    with pytest.raises(BackupProblem, match=said):
        backup_folder.read_passphrase(path)


def spoiled(kept, path, how):
    whole = kept.read_bytes()
    made = {
        "cut off": whole[: len(whole) // 2],
        "bytes lost": whole[:500] + whole[600:],
        "another file": b"what is this",
        "another program's": gzip.compress(b"CREATE TABLE x (y INT);\n"),
        "without its end": gzip.compress(gzip.decompress(whole).removesuffix(backup.LAST)),
        "of a newer program": gzip.compress(gzip.decompress(whole).replace(b'"schema": "0', b'"schema": "9', 1)),
        "empty": b"",
    }[how]
    path.write_bytes(made)
    return path


@pytest.mark.parametrize(
    "how",
    ["cut off", "bytes lost", "another file", "another program's", "without its end", "of a newer program", "empty"],
)
def test_a_file_that_is_no_whole_backup_changes_nothing(kept, empty, tmp_path, how):
    before = sums(empty.owner)
    with pytest.raises(BackupProblem, match="cut off|newer"):
        restore(empty.owner, empty.serving, spoiled(kept, tmp_path / "b.gz", how), replace=True)
    assert sums(empty.owner) == before


def test_an_earlier_backup_stays_where_the_next_one_fails(kept, tmp_path, source, monkeypatch):
    path = tmp_path / "b.gz"
    path.write_bytes(b"the one before")
    monkeypatch.setattr(backup, "_secret", lambda _url: {"MYSQL_PWD": "wrong"})
    with pytest.raises(BackupProblem, match="was not written"):
        back_up(source.owner, path)
    assert path.read_bytes() == b"the one before"
    assert list(tmp_path.iterdir()) == [path]


def test_a_place_that_cannot_be_written_is_said(source, tmp_path):
    with pytest.raises(BackupProblem, match="cannot be written"):
        back_up(source.owner, tmp_path / "nowhere" / "b.gz")


def test_a_folder_keeps_the_newest_and_says_when_the_next_is_due(source, tmp_path, monkeypatch):
    monkeypatch.setenv(VARIABLE, source.serving)
    folder = tmp_path / "backups"
    assert backup_folder.is_due(folder)
    for n in range(3):
        old = folder / f"levelmoor-2020010{n + 1}-000000.gz"
        folder.mkdir(exist_ok=True)
        old.write_bytes(b"")
        os.utime(old, (0, 0))
    (folder / "levelmoor-notes.gz").write_text("not ours")
    new = backup_folder.add_backup(source.owner, folder, keep=2)
    assert [p.name for p in backup_folder.backups_in(folder)] == ["levelmoor-20200103-000000.gz", new.name]
    assert (folder / "levelmoor-notes.gz").exists()
    assert not backup_folder.is_due(folder)
    assert backup_folder.is_due(folder, at=new.stat().st_mtime + backup_folder.EVERY.total_seconds() + 1)


def test_a_backup_that_fails_removes_none_of_the_others(source, tmp_path, monkeypatch):
    old = tmp_path / "levelmoor-20200101-000000.gz"
    old.write_bytes(b"")
    monkeypatch.setattr(backup, "LAST", None)
    with pytest.raises(TypeError):
        backup_folder.add_backup(source.owner, tmp_path, keep=1)
    assert backup_folder.backups_in(tmp_path) == [old]
