"""Files encrypted by a passphrase, in the open format of age (age-encryption.org/v1).

Every program that reads age can open such a file. A key of the file is wrapped by the
passphrase (scrypt); what follows is sealed in parts of 64 KiB (ChaCha20-Poly1305), each numbered
and the last one marked, so that nothing can be changed, moved or cut off unseen.
"""

from __future__ import annotations

import base64
import hashlib
import hmac
import io
import os
from typing import TYPE_CHECKING, BinaryIO

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import ChaCha20Poly1305
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF
from cryptography.hazmat.primitives.kdf.scrypt import Scrypt

from nest_crate.core.errors import FormatError

if TYPE_CHECKING:
    from _typeshed import ReadableBuffer, WriteableBuffer

__all__ = ["AgeReader", "AgeWriter", "is_age"]

_INTRO = b"age-encryption.org/v1\n"
_SCRYPT_LABEL = b"age-encryption.org/v1/scrypt"
_PART, _TAG, _NONCE, _KEY = 65_536, 16, 16, 16
# About a second and 256 MB for each try of a passphrase.
_WORK_LOG2, _MOST_WORK_LOG2 = 18, 20


def is_age(file: BinaryIO) -> bool:
    """Whether a file at its start is one of this format; it stays at its start."""
    begin = file.read(len(_INTRO))
    file.seek(0)
    return begin == _INTRO


def _base64(data: bytes) -> bytes:
    return base64.b64encode(data).rstrip(b"=")


def _from_base64(text: bytes) -> bytes:
    return base64.b64decode(text + b"=" * (-len(text) % 4), validate=True)


def _derived(key: bytes, salt: bytes, use: bytes) -> bytes:
    return HKDF(SHA256(), 32, salt or None, use).derive(key)


def _wrapping(passphrase: str, salt: bytes, work_log2: int) -> ChaCha20Poly1305:
    scrypt = Scrypt(_SCRYPT_LABEL + salt, 32, 1 << work_log2, 8, 1)
    return ChaCha20Poly1305(scrypt.derive(passphrase.encode()))


def _mac(file_key: bytes, header: bytes) -> bytes:
    return hmac.digest(_derived(file_key, b"", b"header"), header, hashlib.sha256)


def _part_nonce(number: int, last: bool) -> bytes:
    return number.to_bytes(11, "big") + bytes([last])


class AgeWriter(io.RawIOBase):
    """Encrypts what is written to it; ``close`` seals the end, without closing the file beneath."""

    def __init__(self, file: BinaryIO, passphrase: str) -> None:
        file_key, salt, nonce = os.urandom(_KEY), os.urandom(16), os.urandom(_NONCE)
        wrapped = _wrapping(passphrase, salt, _WORK_LOG2).encrypt(bytes(12), file_key, None)
        stanza = b"-> scrypt %s %d\n%s\n---" % (_base64(salt), _WORK_LOG2, _base64(wrapped))
        header = _INTRO + stanza
        file.write(header + b" " + _base64(_mac(file_key, header)) + b"\n" + nonce)
        self._cipher = ChaCha20Poly1305(_derived(file_key, nonce, b"payload"))
        self._file, self._number, self._held = file, 0, bytearray()

    def writable(self) -> bool:
        """Always."""
        return True

    def write(self, data: ReadableBuffer) -> int:
        """Take bytes; whole parts of them are written at once."""
        view = memoryview(data).cast("B")
        self._held += view
        # The last part is not empty unless the file is, so one is held back.
        while len(self._held) > _PART:
            self._seal(bytes(self._held[:_PART]), last=False)
            del self._held[:_PART]
        return len(view)

    def close(self) -> None:
        """Write the last part."""
        if not self.closed:
            self._seal(bytes(self._held), last=True)
        super().close()

    def _seal(self, part: bytes, last: bool) -> None:
        nonce = _part_nonce(self._number, last)
        self._file.write(self._cipher.encrypt(nonce, part, None))
        self._number += 1


class AgeReader(io.RawIOBase):
    """An encrypted file as it was, read from any place.

    Raises
    ------
    FormatError
        where the file is damaged or cut off, asks for another key than a passphrase, or where the
        passphrase is another one.
    """

    def __init__(self, file: BinaryIO, passphrase: str) -> None:
        try:
            self._file_key = _opened_header(file, passphrase)
            self._begin = file.tell() + _NONCE
            self._cipher = ChaCha20Poly1305(_derived(self._file_key, file.read(_NONCE), b"payload"))
        except ValueError as error:
            raise FormatError(f"The head of the encrypted file is damaged: {error}") from error
        self._file, self._at, self._part, self._number = file, 0, b"", -1
        sealed = file.seek(0, os.SEEK_END) - self._begin
        self._parts = max(1, -(-sealed // (_PART + _TAG)))
        self._length = sealed - self._parts * _TAG
        # A file that is cut off shows it at its end, which nobody may have come to yet.
        self._open_part(self._parts - 1)

    def readable(self) -> bool:
        """Always."""
        return True

    def seekable(self) -> bool:
        """Always."""
        return True

    def tell(self) -> int:
        """The place of the next byte."""
        return self._at

    def seek(self, offset: int, whence: int = os.SEEK_SET) -> int:
        """Go to a place, as in any file."""
        base = {os.SEEK_SET: 0, os.SEEK_CUR: self._at, os.SEEK_END: self._length}[whence]
        if base + offset < 0:
            raise ValueError("there is nothing before the start")
        self._at = base + offset
        return self._at

    def readinto(self, buffer: WriteableBuffer) -> int:
        """Fill a buffer as far as one part goes; 0 at the end."""
        if self._at >= self._length:
            return 0
        number, within = divmod(self._at, _PART)
        self._open_part(number)
        view = memoryview(buffer).cast("B")
        found = self._part[within : within + len(view)]
        view[: len(found)] = found
        self._at += len(found)
        return len(found)

    def _open_part(self, number: int) -> None:
        if number == self._number:
            return
        self._file.seek(self._begin + number * (_PART + _TAG))
        sealed = self._file.read(_PART + _TAG)
        nonce = _part_nonce(number, last=number == self._parts - 1)
        try:
            self._part = self._cipher.decrypt(nonce, sealed, None)
        except InvalidTag as error:
            raise FormatError("The encrypted file is damaged or not whole") from error
        self._number = number


def _opened_header(file: BinaryIO, passphrase: str) -> bytes:
    """The key of a file, which then stands behind its head."""
    lines = [file.readline(200) for _ in range(4)]
    intro, stanza, wrapped, mac = lines
    words = stanza.split()
    if intro != _INTRO or words[:2] != [b"->", b"scrypt"] or len(words) != 4:
        raise FormatError("The file is not encrypted by a passphrase")
    work_log2 = int(words[3])
    if not 1 <= work_log2 <= _MOST_WORK_LOG2:
        raise FormatError(f"The file asks for too much work (2^{work_log2})")
    try:
        sealed = _from_base64(wrapped.strip())
        if len(sealed) != _KEY + _TAG:
            raise FormatError("The head of the encrypted file is damaged")
        cipher = _wrapping(passphrase, _from_base64(words[2]), work_log2)
        file_key = cipher.decrypt(bytes(12), sealed, None)
    except InvalidTag as error:
        raise FormatError("The passphrase is not the one that the file was encrypted by") from error
    header = b"".join(lines[:3]) + b"---"
    begin, _, given = mac.partition(b" ")
    same = hmac.compare_digest(_mac(file_key, header), _from_base64(given.strip()))
    if begin != b"---" or not same:
        raise FormatError("The head of the encrypted file is damaged")
    return file_key
