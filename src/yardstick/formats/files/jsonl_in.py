"""JSON Lines in: one object a line, batch by batch; a line that is none costs only itself."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any, BinaryIO

import numpy as np
import pyarrow as pa

from yardstick.core.base.notes import Rejected

from .csv_in import LONGEST_CELL, LONGEST_LINE, MOST_COLUMNS
from .encodings import Recoded, encoding_of
from .format import FileFormat, Layout
from .headers import AS_WRITTEN, header_of, keys_of
from .raw import USUAL, FileLayout, FileProblem, RawBatch, rejected_digest, shown
from .text_layout import encoding_looked_at

ROWS = 20_000
"""Rows of a batch."""


class _Number(str):
    """A number as it is written."""


class _BadLine(ValueError):
    """A line that is no row; the text says why."""


class JsonLinesFile:
    """A JSON Lines file being read. Numbers are taken as they are written, never as binary floats.

    Parameters
    ----------
    file : name for messages; its beginning may say which table it holds
    stream : the bytes, which can be read twice: the names of all lines make the header
    table : which table it must hold; without it the names decide, then the file's name
    laid : how it is laid out; its encoding alone bears on this format

    Raises
    ------
    FileProblem
        If the file is empty, no line of it is an object, it holds no known table, or lacks a required column.
    """

    def __init__(self, file: str, stream: BinaryIO, table: str | None = None, laid: FileLayout = USUAL) -> None:
        self._stream, self._file = stream, file
        head = stream.read(2)
        self._encoding = encoding_of(head, laid.encoding)
        self.header_lines = 0
        names = self._names_of_all()
        header, order = header_of(file, table, names)
        self.header = replace(header, left_out=tuple(self._nested))
        self._names = [names[i] for i in order]
        self._keys = keys_of(self.header)

    def batches(self) -> Iterator[RawBatch]:
        """The rows of the file, some at a time, in order."""
        rows: list[list[str]] = []
        at: list[int] = []
        rejected: list[Rejected] = []
        skipped = 0
        for number, line in self._lines():
            if not line.strip():
                skipped += 1
            else:
                try:
                    values = _object(line)
                    rows.append([_text(name, values.get(name)) for name in self._names])
                    at.append(number)
                except _BadLine as problem:
                    rejected.append(self._refused(number, line, str(problem)))
            if len(rows) + len(rejected) >= ROWS:
                yield self._batch(rows, at, rejected, skipped)
                rows, at, rejected, skipped = [], [], [], 0
        yield self._batch(rows, at, rejected, skipped)

    def _batch(self, rows: list[list[str]], at: list[int], rejected: list[Rejected], skipped: int) -> RawBatch:
        columns = list(zip(*rows, strict=True)) if rows else [()] * len(self._keys)
        arrays = {key: pa.array(cells, pa.string()) for key, cells in zip(self._keys, columns, strict=True)}
        typed = {
            key: pa.array([isinstance(cell, _Number) for cell in cells], pa.bool_())
            for key, cells in zip(self._keys, columns, strict=True)
            if self.header.table == AS_WRITTEN
        }
        return RawBatch(arrays, np.array(at, np.int64), rejected, skipped, self._stream.tell(), typed)

    def _lines(self) -> Iterator[tuple[int, bytes]]:
        self._stream.seek(0)
        text = io.BufferedReader(Recoded(self._stream, b"", self._encoding)) if self._encoding else self._stream
        number = 0
        while line := text.readline(LONGEST_LINE + 1):
            number += 1
            if len(line) > LONGEST_LINE:
                raise FileProblem(
                    f"{self._file}: line {number}: longer than {LONGEST_LINE:,} bytes: this is not JSON Lines"
                )
            yield number, line.removeprefix(b"\xef\xbb\xbf") if number == 1 else line

    def _names_of_all(self) -> list[str]:
        """The names that stand in any line, in the order in which they first do."""
        names: dict[str, None] = {}
        first: tuple[int, str] | None = None
        nested: dict[str, None] = {}
        single: set[str] = set()
        for number, line in self._lines():
            if not line.strip():
                continue
            try:
                found = _object(line)
                names.update(dict.fromkeys(found))
                nested.update((name, None) for name, value in found.items() if isinstance(value, list | dict))
                if nested:
                    single |= {
                        n for n, v in found.items() if n in nested and v is not None and isinstance(v, str | bool)
                    }
            except _BadLine as problem:
                first = first or (number, str(problem))
            if len(names) > MOST_COLUMNS:
                raise FileProblem(f"{self._file}: line {number}: more than {MOST_COLUMNS:,} names: a table has fewer")
        if not names:
            if first is None:
                raise FileProblem(f"{self._file}: the file is empty: it needs an object on each line")
            raise FileProblem(f"{self._file}: line {first[0]}: {first[1]}: this is not JSON Lines")
        # Where one value stands in some rows, the others are named one by one.
        self._nested = [name for name in nested if name not in single]
        return [name for name in names if name not in self._nested]

    def _refused(self, number: int, line: bytes, reason: str) -> Rejected:
        text = line.rstrip(b"\r\n").decode("utf-8", "surrogateescape")
        table = self.header.table
        return Rejected(table, self._file, number, "", shown(text), reason, rejected_digest(table, [text]))


def _once(pairs: Sequence[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        raise _BadLine("a name appears twice: keep one of them")
    return found


_decoded = json.JSONDecoder(parse_float=_Number, parse_int=_Number, parse_constant=str, object_pairs_hook=_once).decode


def _object(line: bytes) -> dict[str, Any]:
    """The object on a line; numbers and other constants as they are written."""
    try:
        found = _decoded(line.decode())
    except UnicodeDecodeError:
        raise _BadLine("not UTF-8: save the file as UTF-8") from None
    except RecursionError:
        raise _BadLine("nested too deeply: one value a name is needed") from None
    except json.JSONDecodeError as problem:
        raise _BadLine(f"not JSON ({problem.msg} at character {problem.colno})") from None
    if not isinstance(found, dict):
        raise _BadLine('not an object: write {"name": value, ...}')
    return found


def _text(name: str, value: Any) -> str:
    """A value as the cell it would be in CSV."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if not isinstance(value, str):
        kind = "a list" if isinstance(value, list) else "an object"
        raise _BadLine(f"{name} holds {kind}: one value is needed")
    if len(value) > LONGEST_CELL:
        raise _BadLine(f"{name} is longer than {LONGEST_CELL:,} characters")
    if "\0" in value:
        raise _BadLine(f"{name} holds a NUL: remove it")
    if not value.isascii() and any("\ud800" <= c <= "\udfff" for c in value):
        raise _BadLine(f"{name} holds half a character (a lone surrogate): write it whole")
    return value


def _look(_: str, stream: BinaryIO, encoding: str) -> Layout:
    return encoding_looked_at(stream, encoding)


FORMAT = FileFormat("JSON Lines", (".jsonl", ".ndjson"), JsonLinesFile, look=_look, bears=("encoding",))
