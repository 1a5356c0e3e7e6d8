"""What is sealed opens with its passphrase and with nothing else, whole or not at all."""

import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from levelmoor.records import sealed_file
from levelmoor.records.sealed_file import NotOpened, SealedReader, SealedWriter, is_sealed

PIECE = 8
HEAD = len(sealed_file.MAGIC) + 16 + 7
SEALED = PIECE + 16


@pytest.fixture(autouse=True, scope="module")
def small():
    """Small pieces and cheap keys; the ways are the same."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(sealed_file, "PIECE", PIECE)
        patch.setattr(sealed_file, "_COST", {"n": 2, "r": 1, "p": 1})
        yield


def sealed(data, passphrase="a good long one"):
    out = io.BytesIO()
    with SealedWriter(out, passphrase) as writer:
        for n in range(0, len(data), 5):
            writer.write(data[n : n + 5])
    return out.getvalue()


def opened(made, passphrase="a good long one"):
    return io.BufferedReader(SealedReader(io.BytesIO(made), passphrase)).read()


@given(st.binary(max_size=5 * PIECE))
def test_what_was_sealed_is_what_is_opened(data):
    made = sealed(data)
    assert opened(made) == data
    assert is_sealed(io.BytesIO(made))


DATA = bytes(range(3 * PIECE + 3))
SPOILED = {
    "another passphrase": (lambda made: made, "another long one", "passphrase is wrong"),
    "cut at a piece": (lambda made: made[: HEAD + 2 * SEALED], None, "cut off"),
    "cut in a piece": (lambda made: made[:-1], None, "cut off"),
    "a byte changed": (lambda made: made[: HEAD + SEALED + 3] + b"\0" + made[HEAD + SEALED + 4 :], None, "changed"),
    "two pieces exchanged": (
        lambda made: made[:HEAD] + made[HEAD + SEALED :][:SEALED] + made[HEAD:][:SEALED] + made[HEAD + 2 * SEALED :],
        None,
        "wrong",
    ),
    "a piece twice": (
        lambda made: made[: HEAD + 2 * SEALED] + made[HEAD + SEALED : HEAD + 2 * SEALED] + made[HEAD + 2 * SEALED :],
        None,
        "changed",
    ),
    "something behind it": (lambda made: made + b"x", None, "changed"),
    "nothing but its head": (lambda made: made[:HEAD], None, "cut off"),
    "another file": (lambda _made: b"what is this", None, "not an encrypted backup"),
}


@pytest.mark.parametrize("how", SPOILED)
def test_what_is_not_whole_is_not_opened(how):
    spoil, passphrase, said = SPOILED[how]
    with pytest.raises(NotOpened, match=said):
        opened(spoil(sealed(DATA)), passphrase or "a good long one")


def test_the_same_is_sealed_differently_each_time():
    assert sealed(DATA) != sealed(DATA)
