"""Text in other encodings as UTF-8, piece by piece."""

from __future__ import annotations

import codecs
import io
import re
from typing import Any, BinaryIO

_STATED = re.compile(r"sep=([,;|\t])", re.IGNORECASE)


AT_ONCE = 1 << 18
"""Bytes that are read where no number is asked for."""

_NO_FILES = ("idna", "punycode", "undefined", "unicode-escape", "raw-unicode-escape")


def encoding_of(head: bytes, stated: str) -> str:
    """The encoding of a file where it is another than UTF-8, else nothing.

    Parameters
    ----------
    head : how it begins
    stated : what its source says; a mark at its beginning beats it
    """
    if head.startswith((codecs.BOM_UTF32_LE, codecs.BOM_UTF32_BE)):
        return "utf-32"
    if is_utf16(head):
        return "utf-16"
    if not stated or head.startswith(codecs.BOM_UTF8):
        return ""
    name = codecs.lookup(stated).name
    # The mark that tells the order of bytes is missing: most write the lower byte first.
    return {"utf-8": "", "utf-8-sig": "", "ascii": "", "utf-16": "utf-16-le"}.get(name, name)


def is_encoding(name: str) -> bool:
    """Whether text can be read by a name."""
    try:
        return bool(codecs.lookup(name)._is_text_encoding) and codecs.lookup(name).name not in _NO_FILES
    except (LookupError, ValueError):
        return False


def is_utf16(head: bytes) -> bool:
    """Whether a file begins with the mark of UTF-16."""
    return head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE))


def stated_delimiter(line: str) -> str | None:
    """What a first line of its own says stands between cells, as some spreadsheets write it; None if it is none."""
    stated = _STATED.fullmatch(line.strip("\r\n"))
    return stated[1] if stated else None


class Recoded(io.RawIOBase):
    """A text in another encoding being read as UTF-8. What is no text there is none here either.

    Parameters
    ----------
    stream : the bytes, read up to `head`
    head : what was read of it
    encoding : of the text
    """

    def __init__(self, stream: BinaryIO, head: bytes, encoding: str = "utf-16") -> None:
        self._stream, self._head = stream, head
        # Half a pair of surrogates stays one, and a byte that is none stands for itself, so that its row is rejected
        # and not changed.
        errors = "surrogatepass" if encoding.startswith(("utf-16", "utf-32")) else "surrogateescape"
        self._decoder = codecs.getincrementaldecoder(encoding)(errors)
        self._ended = False
        self._over = b""

    def readable(self) -> bool:
        """It is."""
        return True

    def readinto(self, into: Any) -> int:
        """Some bytes of UTF-8 into a place that holds so many; for readers of lines."""
        given = self._over or self.read()
        taken, self._over = given[: len(into)], given[len(into) :]
        into[: len(taken)] = taken
        return len(taken)

    def read(self, size: int = -1) -> bytes:
        """Some bytes of UTF-8, none only at the end; they may be more or fewer than asked for."""
        while not self._ended:
            given, self._head = self._head or self._stream.read(size if size >= 0 else AT_ONCE), b""
            self._ended = not given
            try:
                text = self._decoder.decode(given, final=self._ended)
            except UnicodeDecodeError:
                # Half a unit at the end.
                text = "\udcff"
            if text:
                return text.encode("utf-8", "surrogatepass")
        return b""

    def tell(self) -> int:
        """How far the file has been read."""
        return self._stream.tell()
