"""CSV in: any of three delimiters, with or without BOM, batch by batch, so that a file never has to fit into memory and
one bad row costs only itself (RFC 4180).

Blocks in which no cell spans lines and every quote is where it may be are split by Arrow; in the others each record
that spans lines is read by itself, and one that does not fit the header costs only the line it begins on: what follows
is read again from the next line. So every line of a file is a row that was read, a row that was rejected, or skipped
(blank, or inside a cell).
"""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections.abc import Iterator, Sequence
from itertools import islice
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from pyarrow import csv as arrow_csv

from yardstick.core.base.notes import Rejected
from yardstick.core.base.schema import SCHEMA
from yardstick.core.base.text_bytes import laid_out
from yardstick.core.base.words import fold

from .encodings import Recoded, encoding_of, stated_delimiter
from .format import FileFormat
from .headers import header_of, keys_of
from .raw import USUAL, FileLayout, FileProblem, RawBatch, rejected_digest, shown
from .text_layout import text_looked_at

DELIMITERS = (",", ";", "\t")
LONGEST_CELL = 1_000_000
MOST_COLUMNS = 1_000
BLOCK = 2 * 1024 * 1024
"""Bytes that are read at a time."""
LONGEST_LINE = 16 * 1024 * 1024
LONGEST_RECORD = 500
"""Lines that one record may span."""
MOST_BROKEN = 10_000
"""Records with broken quotes in one file after which each further line with a quote is rejected by itself."""
_MARKED = re.compile(r"'+[=+\-@\t\r]")
_LINES = re.compile(r"[^\r\n]*(?:\r\n|\n|\r)|[^\r\n]+$")
csv.field_size_limit(LONGEST_CELL)


def restore(cell: str) -> str:
    """Take away the apostrophe that `csv_out.neutral` puts before a cell a spreadsheet would run."""
    return cell[1:] if cell.startswith("'") and _MARKED.match(cell) else cell


class CsvFile:
    """A CSV file being read.

    Parameters
    ----------
    file : name for messages; its beginning may say which table it holds
    stream : the bytes
    table : which table it must hold; without it, the header decides, then the file's name
    laid : how it is laid out, as far as that is known

    Raises
    ------
    FileProblem
        If the file is empty, not text, has no header of a known table, or lacks a required column.
    """

    def __init__(self, file: str, stream: BinaryIO, table: str | None = None, laid: FileLayout = USUAL) -> None:
        self._stream: BinaryIO | Recoded = stream
        self._broken, self._done = 0, 0
        head = stream.read(BLOCK)
        encoding = encoding_of(head, laid.encoding)
        if encoding:
            self._stream = Recoded(stream, head, encoding)
            head = self._stream.read(BLOCK)
        head = head.removeprefix(codecs.BOM_UTF8)
        if not head.strip():
            raise FileProblem(f"{file}: the file is empty: it needs a header line and rows")
        top = _LINES.finditer(head[: 1024 * 1024].decode("utf-8", "surrogateescape"))
        lines = [found[0] for found in islice(top, laid.skip_top + 1 + LONGEST_RECORD)]
        stated = stated_delimiter(lines[0])
        above = (1 if stated else 0) + laid.skip_top
        if above >= len(lines):
            raise FileProblem(f"{file}: the file is empty: it needs a header line and rows")
        self._delimiter = laid.delimiter or stated or _delimiter(lines[above])
        names, self._first = _header(file, lines[above:], self._delimiter)
        self._first += above
        if not laid.headed:
            names, self._first = [""] * len(names), above
        self.header, self._order = header_of(file, table, names)
        self._width = len(names)
        cell = rf'(?:"(?:[^"]|"")*"|[^"{re.escape(self._delimiter)}]*)'
        # Counted as far as an expression has room for it; rows of another width are told apart below in any case.
        more = f"(?:{re.escape(self._delimiter)}{cell})" + (f"{{{self._width - 1}}}" if self._width <= 100 else "*")
        self._well = rf"^{cell}{more}\r?$"
        self._names = keys_of(self.header)
        self.header_lines = self._first
        self._rest = head[len("".join(lines[: self._first]).encode("utf-8", "surrogateescape")) :]

    def batches(self) -> Iterator[RawBatch]:
        """The rows of the file, some at a time, in order."""
        line, rest = self._first + 1, self._rest
        while True:
            more = self._stream.read(BLOCK)
            self._done += len(more)
            block, rest = (rest + more, b"") if not more else _cut(rest + more)
            if block:
                batch, used = self._batch(block, line, last=not more)
                rest = block[used:] + rest
                if used:
                    line += len(batch) + len({r.line for r in batch.rejected}) + batch.skipped
                    batch.bytes_done = self._stream.tell() - len(rest)
                    yield batch
            if not more and not rest:
                return
            if not more:
                # Only a record that never ends is left over; read as the last block it costs one line.
                batch, used = self._batch(rest, line, last=True)
                rest = rest[used:]
                line += len(batch) + len({r.line for r in batch.rejected}) + batch.skipped
                yield batch
            if len(rest) > LONGEST_LINE:
                where = f"{self.header.file}: line {line}"
                raise FileProblem(f"{where}: longer than {LONGEST_LINE:,} bytes: this is not CSV")

    def _batch(self, block: bytes, line: int, last: bool) -> tuple[RawBatch, int]:
        """The rows of a block of whole lines, and how many of its bytes were used up."""
        simple = (
            b"\0" not in block
            and not block.startswith((b"\n", b"\r\n"))
            and (b"\r" not in block or (block.count(b"\r") == block.count(b"\r\n") and b"\n\r\n" not in block))
            and _is_utf8(block)
            and (b'"' not in block or self._quoted_well(block))
        )
        if simple:
            try:
                return self._split_by_arrow(block, line, b'"' in block), len(block)
            except pa.ArrowInvalid:
                pass
        return self._split_by_line(block, line, last)

    def _quoted_well(self, block: bytes) -> bool:
        """Whether every line of a block is a record of all cells by itself, quoted as RFC 4180 says."""
        lines = pa.array(block.removesuffix(b"\n").split(b"\n"), pa.binary()).cast(pa.string())
        return bool(pc.all(pc.match_substring_regex(lines, self._well)).as_py())

    def _split_by_arrow(self, block: bytes, line: int, quoted: bool) -> RawBatch:
        bad: list[tuple[int, str, int]] = []

        def note(row: Any) -> str:
            bad.append((row.number, row.text, row.actual_columns))
            return "skip"

        names = [str(i) for i in range(self._width)]
        table = arrow_csv.read_csv(
            pa.BufferReader(block),
            read_options=arrow_csv.ReadOptions(column_names=names, use_threads=False, block_size=len(block) + 1),
            parse_options=arrow_csv.ParseOptions(
                delimiter=self._delimiter,
                quote_char='"' if quoted else False,
                double_quote=quoted,
                escape_char=False,
                newlines_in_values=False,
                ignore_empty_lines=False,
                invalid_row_handler=note,
            ),
            convert_options=arrow_csv.ConvertOptions(
                column_types=dict.fromkeys(names, pa.string()),
                strings_can_be_null=False,
                null_values=[],
                check_utf8=False,  # it was, for the block
            ),
        )
        whole = block.count(b"\n") + (not block.endswith(b"\n"))
        if len(table) + len(bad) != whole or any(not 0 < number <= whole for number, _, _ in bad):
            # Lines that Arrow counts otherwise: a cell of some sign that ends a line to it.
            raise pa.ArrowInvalid("another number of lines")
        if _has_blank_row(table):
            raise pa.ArrowInvalid("blank lines, or rows that look like one")
        rejected = [self._bad(line + number - 1, text, self._wrong_width(cells)) for number, text, cells in bad]
        at = np.arange(line, line + len(table) + len(bad))
        if bad:
            at = np.delete(at, [number - 1 for number, _, _ in bad])
        arrays = [table.column(i).combine_chunks() for i in self._order]
        return RawBatch(self._restored(arrays, b"'" in block), at, rejected)

    def _restored(self, arrays: Sequence[Any], marks: bool) -> dict[str, Any]:
        """Cells as they were before `csv_out.neutral`; without an apostrophe anywhere there is nothing to look for."""
        out = {}
        for name, array in zip(self._names, arrays, strict=True):
            if marks and pc.any(pc.starts_with(array, "'")).as_py():
                array = pa.array([restore(cell) for cell in array.to_pylist()], pa.string())
            out[name] = array
        return out

    def _split_by_line(self, block: bytes, line: int, last: bool) -> tuple[RawBatch, int]:
        lines = _LINES.findall(block.decode("utf-8", "surrogateescape"))
        rows: list[list[str]] = []
        at: list[int] = []
        rejected: list[Rejected] = []
        skipped = i = 0
        while i < len(lines):
            cells, span, reason = self._record(lines, i, last)
            if span > len(lines) - i:
                break  # it goes on in the next block
            if cells is None:
                rejected.append(self._bad(line + i, lines[i].rstrip("\r\n"), reason))
                i += 1
                continue
            if not cells:
                skipped += span
            else:
                problem = self._problem(cells)
                if problem is None:
                    rows.append([restore(cells[k]) for k in self._order])
                    at.append(line + i)
                    skipped += span - 1
                elif span > 1:
                    # A quote that was opened by mistake has swallowed lines: only the first is lost.
                    self._broken += 1
                    rejected.append(self._bad(line + i, lines[i].rstrip("\r\n"), problem[1]))
                    i += 1
                    continue
                else:
                    rejected.append(self._bad(line + i, *problem))
            i += span
        used = len("".join(lines[:i]).encode("utf-8", "surrogateescape"))
        columns = list(zip(*rows, strict=True)) if rows else [()] * len(self._names)
        arrays = {n: pa.array(c, pa.string()) for n, c in zip(self._names, columns, strict=True)}
        return RawBatch(arrays, np.array(at, np.int64), rejected, skipped), used

    def _record(self, lines: list[str], i: int, last: bool) -> tuple[list[str] | None, int, str]:
        """The cells of the record that begins on a line, how many lines it spans, and why it cannot be read.

        A span beyond the lines there are means that the record may go on in the next block.
        """
        text = lines[i]
        if '"' not in text:
            plain = text.rstrip("\r\n")
            return (plain.split(self._delimiter) if plain else []), 1, ""
        if self._broken >= MOST_BROKEN:
            return None, 1, f"more than {MOST_BROKEN} rows of this file have broken quotes: mend how it is written"
        reader = csv.reader(iter(lines[i : i + LONGEST_RECORD]), delimiter=self._delimiter, strict=True)
        try:
            return next(reader), reader.line_num, ""
        except csv.Error as problem:
            if "unexpected end" not in str(problem):
                self._broken += 1
                return None, 1, f"the row cannot be split into cells ({problem}): check its quotes"
        if not last and len(lines) - i < LONGEST_RECORD:
            return None, len(lines) - i + 1, ""
        self._broken += 1
        return None, 1, "a quote is opened and never closed: double it or close it"

    def _bad(self, line: int, value: str, reason: str) -> Rejected:
        table = self.header.table
        return Rejected(table, self.header.file, line, "", shown(value), reason, rejected_digest(table, [value]))

    def _wrong_width(self, cells: int) -> str:
        return f"{cells} cells where the header has {self._width}: check delimiters and quotes"

    def _problem(self, cells: list[str]) -> tuple[str, str] | None:
        joined = "\x1f".join(cells)
        if not joined.isascii() and any("\ud800" <= c <= "\udfff" for c in joined):
            bad = next(cell for cell in cells if any("\ud800" <= c <= "\udfff" for c in cell))
            return bad, "not UTF-8: save the file as UTF-8"
        if "\0" in joined:
            return next(cell for cell in cells if "\0" in cell), "holds a NUL byte: remove it"
        if len(cells) != self._width:
            return self._delimiter.join(cells), self._wrong_width(len(cells))
        return None


def open_csv(path: Path, name: str | None = None, table: str | None = None) -> CsvFile:
    """A CSV file on disk; see `CsvFile`."""
    return CsvFile(name or path.name, path.open("rb"), table)


def csv_of(file: str, content: bytes, table: str | None = None) -> CsvFile:
    """A CSV file in memory; see `CsvFile`."""
    return CsvFile(file, io.BytesIO(content), table)


def _has_blank_row(table: Any) -> bool:
    """Whether all cells of any row are empty."""
    blank = np.ones(len(table), np.bool_)
    for column in table.columns:
        blank &= np.diff(laid_out(column.combine_chunks())[1]) == 0
        if not blank.any():
            return False
    return True


def _is_utf8(block: bytes) -> bool:
    if block.isascii():
        return True
    try:
        block.decode()
    except UnicodeDecodeError:
        return False
    return True


def _cut(data: bytes) -> tuple[bytes, bytes]:
    """Data up to the end of its last whole line, and what is left."""
    end = data.rfind(b"\n") + 1
    if not end and b"\r" in data[:-1]:
        end = data.rfind(b"\r", 0, len(data) - 1) + 1
    return data[:end], data[end:]


def _delimiter(header: str) -> str:
    """The delimiter under which most names of the header are column names we know, then the most frequent one."""
    known = {column.called for columns in SCHEMA.values() for column in columns}
    return max(DELIMITERS, key=lambda d: (sum(fold(n.strip('"')) in known for n in header.split(d)), header.count(d)))


def _header(file: str, lines: Sequence[str], delimiter: str) -> tuple[list[str], int]:
    reader = csv.reader(iter(lines), delimiter=delimiter, strict=True)
    try:
        header = next(reader)
    except csv.Error as problem:
        raise FileProblem(f"{file}: line 1: the header cannot be read ({problem}): check its quotes") from None
    if len(header) > MOST_COLUMNS:
        raise FileProblem(f"{file}: line 1: {len(header):,} columns; a table has at most {MOST_COLUMNS:,}")
    if any("\ud800" <= c <= "\udfff" for name in header for c in name):
        raise FileProblem(f"{file}: line 1: the header is not UTF-8: save the file as UTF-8")
    if "\0" in "".join(header):
        raise FileProblem(f"{file}: line 1: the header holds a NUL byte: this is not a CSV file")
    return [name.strip() for name in header], reader.line_num


FORMAT = FileFormat(
    "CSV",
    (".csv", ".tsv"),
    CsvFile,
    look=text_looked_at,
    bears=("encoding", "delimiter", "sheet", "skip_top", "headed"),
)
