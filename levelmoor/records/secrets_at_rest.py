"""Secrets that the database has to keep, sealed with a key that is not in it: a copy of the database alone signs nobody
in. The key is drawn by HKDF [1]_ from the first line of a file; without such a file secrets are kept in clear.

References
----------
.. [1] RFC 5869, HMAC-based Extract-and-Expand Key Derivation Function (HKDF).
.. [2] NIST SP 800-38D, Recommendation for Block Cipher Modes of Operation: Galois/Counter Mode.
"""

import os
import secrets
from base64 import urlsafe_b64decode, urlsafe_b64encode
from hashlib import sha256
from pathlib import Path

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF
from sqlalchemy.orm import Session, sessionmaker

from levelmoor.records.secret_files import secret_in
from levelmoor.records.store import setting

VARIABLE = "LEVELMOOR_KEY_FILE"
SHORTEST = 32
_NONCE = 12
_MARK = "sealed:"


def key_of_installation() -> bytes:
    """The key that secrets are sealed with; empty without one.

    Raises
    ------
    ValueError
        Where the file cannot be read or holds too little.
    """
    named = os.environ.get(VARIABLE, "")
    if not named:
        return b""
    try:
        line = secret_in(Path(named), SHORTEST)
    except ValueError as problem:
        raise ValueError(f"{VARIABLE}: {problem}") from None
    return HKDF(SHA256(), 32, salt=None, info=b"levelmoor secrets").derive(line.encode())


def signing_key(maker: sessionmaker[Session]) -> str:
    """What signs the cookies of this installation: another one where it has another key."""
    key = key_of_installation()
    name = f"secret_key {sha256(b'name of ' + key).hexdigest()[:16]}" if key else "secret_key"
    return opened(setting(maker, name, sealed(secrets.token_urlsafe(48), name)), name)


def sealed(text: str, of: str) -> str:
    """A secret as the database keeps it, sealed [2]_ to what it is `of`, so that it opens nothing elsewhere."""
    key = key_of_installation()
    if not key:
        return text
    nonce = os.urandom(_NONCE)
    kept = AESGCM(key).encrypt(nonce, text.encode(), of.encode())
    return _MARK + urlsafe_b64encode(nonce + kept).decode()


def opened(kept: str, of: str) -> str:
    """The secret again; empty where it was sealed with another key, or for something else. What was kept in clear,
    before there was a key, is given as it is."""
    if not kept.startswith(_MARK):
        return kept
    key, bytes_ = key_of_installation(), urlsafe_b64decode(kept.removeprefix(_MARK))
    try:
        return AESGCM(key).decrypt(bytes_[:_NONCE], bytes_[_NONCE:], of.encode()).decode() if key else ""
    except InvalidTag:
        return ""
