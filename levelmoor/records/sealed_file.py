"""A file sealed with a passphrase: who does not know it can neither read the file nor change it unnoticed.

The key is drawn from the passphrase by scrypt [1]_. The content is cut into pieces, each sealed by AES-256-GCM [2]_
with its number and whether it is the last in the nonce [3]_, so that no piece can be left out, moved or cut off.

References
----------
.. [1] RFC 7914, The scrypt Password-Based Key Derivation Function.
.. [2] NIST SP 800-38D, Recommendation for Block Cipher Modes of Operation: Galois/Counter Mode.
.. [3] V. T. Hoang, R. Reyhanitabar, P. Rogaway, D. Vizár, Online Authenticated-Encryption and its Nonce-Reuse
   Misuse-Resistance, CRYPTO 2015: the construction STREAM.
"""

import hashlib
import io
import os
from typing import BinaryIO

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM

MAGIC = b"levelmoor sealed 1\n"
PIECE = 1 << 20
_SALT, _NONCE, _TAG = 16, 7, 16
_COST = {"n": 2**16, "r": 8, "p": 1, "maxmem": 128 * 2**20}
"""64 MB and a fifth of a second for each guess."""


class NotOpened(Exception):
    """A sealed file that this passphrase does not open, or that is not whole."""


def is_sealed(file: BinaryIO) -> bool:
    """Whether a file, at its beginning, is a sealed one; it stands at its beginning afterwards."""
    found = file.read(len(MAGIC)) == MAGIC
    file.seek(0)
    return found


def _cipher(passphrase: str, salt: bytes) -> AESGCM:
    return AESGCM(hashlib.scrypt(passphrase.encode(), salt=salt, dklen=32, **_COST))


def _nonce(prefix: bytes, number: int, last: bool) -> bytes:
    return prefix + number.to_bytes(4, "big") + bytes([last])


class SealedWriter(io.RawIOBase):
    """Seals what is written into a file; it is whole once this is closed, and the file stays open."""

    def __init__(self, file: BinaryIO, passphrase: str) -> None:
        salt, self._prefix = os.urandom(_SALT), os.urandom(_NONCE)
        self._file, self._cipher, self._number, self._held = file, _cipher(passphrase, salt), 0, bytearray()
        file.write(MAGIC + salt + self._prefix)

    def writable(self) -> bool:
        return True

    def write(self, data: bytes) -> int:  # type: ignore[override]
        self._held += data
        while len(self._held) > PIECE:  # the last piece is sealed as such
            self._seal(PIECE, last=False)
        return len(data)

    def _seal(self, size: int, last: bool) -> None:
        piece = bytes(self._held[:size])
        self._file.write(self._cipher.encrypt(_nonce(self._prefix, self._number, last), piece, None))
        del self._held[:size]
        self._number += 1

    def close(self) -> None:
        if not self.closed:
            self._seal(len(self._held), last=True)
        super().close()


class SealedReader(io.RawIOBase):
    """Reads what is sealed in a file.

    Raises
    ------
    NotOpened
        At the first piece for a wrong passphrase, and wherever the file was changed or cut off.
    """

    def __init__(self, file: BinaryIO, passphrase: str) -> None:
        head = file.read(len(MAGIC) + _SALT + _NONCE)
        if len(head) < len(MAGIC) + _SALT + _NONCE or not head.startswith(MAGIC):
            raise NotOpened("it is not an encrypted backup")
        self._prefix, self._cipher = head[-_NONCE:], _cipher(passphrase, head[len(MAGIC) : -_NONCE])
        self._file, self._number, self._open = file, 0, b""
        self._next = file.read(PIECE + _TAG)
        if not self._next:
            raise NotOpened("it was cut off")

    def readable(self) -> bool:
        return True

    def readinto(self, into: bytearray) -> int:  # type: ignore[override]
        if not self._open and self._next:
            sealed, self._next = self._next, self._file.read(PIECE + _TAG)
            try:
                self._open = self._cipher.decrypt(_nonce(self._prefix, self._number, last=not self._next), sealed, None)
            except InvalidTag:
                first = self._number == 0
                raise NotOpened("the passphrase is wrong" if first else "it was changed or cut off") from None
            self._number += 1
        given = self._open[: len(into)]
        into[: len(given)] = given
        self._open = self._open[len(given) :]
        return len(given)
