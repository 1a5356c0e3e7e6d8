"""What a password must be, how it is kept, and telling whether it is right."""

import re
from bisect import bisect_left
from functools import lru_cache
from hashlib import sha256
from importlib.resources import files
from threading import BoundedSemaphore

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

LEAST_LETTERS = 12
MOST_LETTERS = 500
_DIGEST_BYTES = 6
_hasher = PasswordHasher()
AT_ONCE = 2
"""So many passwords are worked on at once: each takes 64 MiB."""
_room = BoundedSemaphore(AT_ONCE)


@lru_cache
def _nobody() -> str:
    """What is checked when there is no such user, so that the time taken does not tell."""
    return _hasher.hash("nobody")


class WeakPassword(ValueError):
    """What about a password is not as it should be."""


def checked(password: str, *known: str) -> str:
    """The password, if it may be one. `known` are words that whoever guesses would try: the address, the name.

    Raises
    ------
    WeakPassword
        For one that is too short, too long, common, or one of the known words with little else.
    """
    if len(password) < LEAST_LETTERS:
        raise WeakPassword(f"a password needs at least {LEAST_LETTERS} characters; this has {len(password)}")
    if len(password) > MOST_LETTERS:
        raise WeakPassword(f"a password can have at most {MOST_LETTERS} characters; this has {len(password)}")
    bare = password.lower()
    if len(set(bare)) < 5:
        raise WeakPassword("this password has too few different characters; use several words")
    stem = re.sub(r"^[\W\d_]+|[\W\d_]+$", "", bare)
    if any(_common(form) for form in {bare, stem, bare.replace(" ", ""), _half(bare)}):
        raise WeakPassword("many people use this password; use several words that mean something only to you")
    for word in (part for k in known for part in {k.lower(), k.lower().partition("@")[0]}):
        if len(word) >= 4 and len(bare.replace(word, "")) < LEAST_LETTERS - 6:
            raise WeakPassword("this password is little more than your name or address; use several other words")
    return password


def _half(word: str) -> str:
    """A word that was only doubled."""
    middle = len(word) // 2
    return word[:middle] if word[:middle] == word[middle:] else word


def hashed(password: str) -> str:
    """The password as it is kept (Argon2id, RFC 9106)."""
    with _room:
        return _hasher.hash(password)


def digest(token: str) -> str:
    """How the token of a link or a cookie is kept: who reads the database cannot use it."""
    return sha256(token.encode()).hexdigest()


def is_right(kept: str | None, password: str) -> bool:
    """Whether the password is the kept one; takes as long where nothing is kept."""
    nobody = _nobody()
    try:
        with _room:
            _hasher.verify(kept or nobody, password[:MOST_LETTERS])
    except (VerificationError, InvalidHashError):
        return False
    return kept is not None


@lru_cache
def _list() -> bytes:
    """Digests of common passwords, sorted: the first 6 bytes of each one's SHA-256.

    Made from the 20,000 commonest that Django 5.2 ships (django/contrib/auth/common-passwords.txt.gz). As digests,
    since the words themselves are nobody's reading.
    """
    return files("levelmoor.records").joinpath("common_passwords.bin").read_bytes()


def _common(word: str) -> bool:
    wanted, kept = sha256(word.encode()).digest()[:_DIGEST_BYTES], _list()
    count = len(kept) // _DIGEST_BYTES
    at = bisect_left(range(count), wanted, key=lambda i: kept[i * _DIGEST_BYTES : (i + 1) * _DIGEST_BYTES])
    return kept[at * _DIGEST_BYTES : (at + 1) * _DIGEST_BYTES] == wanted
