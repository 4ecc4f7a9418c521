"""How a text that nobody has described is laid out: its encoding, its delimiter, and the lines above its header."""

from __future__ import annotations

import codecs
import csv
import io
from typing import BinaryIO

from .encoding_guess import Candidate, candidates, first_changes, is_close
from .encodings import Recoded, encoding_of, stated_delimiter
from .format import Layout
from .header_line import LINES, header_at, is_row
from .raw import FileLayout

DELIMITERS = (",", ";", "\t", "|")
LOOKED_AT = 1 << 18
"""Bytes of a text that are looked at."""


def encoding_looked_at(stream: BinaryIO, encoding: str) -> Layout:
    """The encoding alone, of a text whose lines say the rest; the stream is where it was.

    Parameters
    ----------
    encoding : the one it is in, if somebody said so
    """
    head = stream.read(LOOKED_AT)
    stream.seek(0)
    found: list[Candidate] = []
    if not encoding:
        encoding, found = _encoding(head)
    close = [c for c in found[1:] if is_close(found[0], c)]
    others = [found[0].name, *(c.name for c in close)] if close else []
    return Layout(FileLayout(encoding), [], others, first_changes(found[0], close) if close else [])


def text_looked_at(file: str, stream: BinaryIO, encoding: str) -> Layout:
    """Encoding, delimiter and header of a delimited text; see `format.FileFormat.look`."""
    told = encoding_looked_at(stream, encoding)
    encoding = told.laid.encoding
    text = _text(stream, encoding)
    lines = text.splitlines()[:LINES]
    stated = stated_delimiter(lines[0]) if lines else None
    if stated:
        lines = lines[1:]
    best = (0.0, stated or ",", 0)
    split = {d: [_cells(line, d) for line in lines] for d in ([stated] if stated else DELIMITERS)}
    for delimiter, rows in split.items():
        score, above = header_at(rows)
        if score > best[0]:
            best = (score, delimiter, above)
    _, delimiter, above = best
    usual = delimiter in (",", ";", "\t") and not above
    headed = not is_row(split[delimiter][above]) if len(split[delimiter]) > above else True
    laid = FileLayout(encoding, "" if stated or (usual and headed) else delimiter, "", above, headed)
    return Layout(laid, lines[:above], told.encodings, told.hints)


def _encoding(head: bytes) -> tuple[str, list[Candidate]]:
    """Empty for UTF-8 and for what says what it is; of another, those its bytes may be, the likeliest first."""
    if encoding_of(head, ""):
        return "", []
    if len(head) >= 8 and head[1::4].count(0) + head[2::4].count(0) > len(head) // 3:
        return "utf-32-le" if head[3::4].count(0) > head[::4].count(0) else "utf-32-be", []
    if head[1::2].count(0) > len(head) // 6:
        return "utf-16-le", []
    if head[::2].count(0) > len(head) // 6:
        return "utf-16-be", []
    try:
        # The last character of what is looked at may be cut in two.
        codecs.getincrementaldecoder("utf-8")().decode(head, final=len(head) < LOOKED_AT)
    except UnicodeDecodeError:
        found = candidates(head)
        return (found[0].name if found else "windows-1252"), found
    return "", []


def _text(stream: BinaryIO, encoding: str) -> str:
    head = stream.read(LOOKED_AT)
    known = encoding_of(head, encoding)
    return (Recoded(stream, head, known).read(0) if known else head).decode("utf-8", "replace").removeprefix("\ufeff")


def _cells(line: str, delimiter: str) -> list[str]:
    try:
        return next(csv.reader(io.StringIO(line), delimiter=delimiter), [])
    except csv.Error:
        return line.split(delimiter)
