"""CSV in: any of three delimiters, with or without BOM, row by row so that one bad row costs only itself (RFC 4180)."""

from __future__ import annotations

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from yardstick.core.base.notes import Rejected
from yardstick.core.base.tables import SCHEMA
from yardstick.core.base.words import fold

DELIMITERS = (",", ";", "\t")
LONGEST_CELL = 1_000_000
_MARKED = re.compile(r"'+[=+\-@\t\r]")
_MOST_QUOTE_REPAIRS = 100
csv.field_size_limit(LONGEST_CELL)


class FileProblem(ValueError):
    """A file that cannot be used as a whole. The text names the file and says what to do."""


@dataclass
class RawTable:
    """The rows of one file as text.

    Attributes
    ----------
    table : which table of `SCHEMA` the file holds
    file : its name
    columns : canonical names in the order of the file's header; other columns stand in `extra`
    extra : names of columns the table does not know; they are kept with the row
    rows : cells per row, in the order of `columns` + `extra`
    lines : line each row begins on, the header being line 1
    files : file each row came from, where it is not `file` for all of them
    rejected : rows that could not even be split into cells
    read : rows found, the rejected ones among them
    """

    table: str
    file: str
    columns: list[str]
    extra: list[str]
    rows: list[list[str]]
    lines: list[int]
    rejected: list[Rejected] = field(default_factory=list)
    read: int = 0
    files: list[str] | None = None

    def file_of(self, row: int) -> str:
        """Name of the file a row came from."""
        return self.file if self.files is None else self.files[row]


def restore(cell: str) -> str:
    """Take away the apostrophe that `csv_out.neutral` puts before a cell a spreadsheet would run."""
    return cell[1:] if cell.startswith("'") and _MARKED.match(cell) else cell


def shown(cell: str) -> str:
    """A cell as it can be shown and stored: bytes that are not UTF-8 and NULs written as escapes."""
    return "".join(
        f"\\x{ord(c) - 0xDC00:02X}" if 0xDC80 <= ord(c) <= 0xDCFF else "\\x00" if c == "\0" else c for c in cell[:500]
    )


def read_csv(file: str, content: bytes, table: str | None = None) -> RawTable:
    """Split a CSV file into rows of the table it holds.

    Parameters
    ----------
    file : name for messages; its beginning may say which table it holds
    content : the bytes of the file
    table : which table it must hold; without it, the header decides, then the file's name

    Returns
    -------
    RawTable

    Raises
    ------
    FileProblem
        If the file is empty, not text, has no header of a known table, or lacks a required column.
    """
    if content.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise FileProblem(f"{file}: line 1: the file is UTF-16: save it as UTF-8")
    text = content.decode("utf-8-sig", errors="surrogateescape")
    if not text.strip():
        raise FileProblem(f"{file}: the file is empty: it needs a header line and rows")
    lines = _physical(text)
    delimiter = _delimiter(lines[0])
    header, first = _header(file, lines, delimiter)
    name = table or which_table(file, header)
    names = _canonical(file, name, header)
    known = {c.name for c in SCHEMA[name]}
    order = [i for i, n in enumerate(names) if n in known]
    others = [i for i, n in enumerate(names) if n not in known]
    out = RawTable(name, file, [names[i] for i in order], [header[i] for i in others], [], [])
    _rows(out, lines, first, delimiter, len(header), order + others)
    return out


def _physical(text: str) -> list[str]:
    """Lines as an editor counts them: ended by LF, CRLF or CR, the ends kept."""
    return re.findall(r"[^\r\n]*(?:\r\n|\n|\r)|[^\r\n]+$", text)


def _delimiter(header: str) -> str:
    """The delimiter under which most names of the header are column names we know, then the most frequent one."""
    known = {column.name for columns in SCHEMA.values() for column in columns}
    return max(DELIMITERS, key=lambda d: (sum(fold(n.strip('"')) in known for n in header.split(d)), header.count(d)))


def _header(file: str, lines: Sequence[str], delimiter: str) -> tuple[list[str], int]:
    reader = csv.reader(iter(lines), delimiter=delimiter, strict=True)
    try:
        header = next(reader)
    except csv.Error as problem:
        raise FileProblem(f"{file}: line 1: the header cannot be read ({problem}): check its quotes") from None
    if any("\udc80" <= c <= "\udcff" for name in header for c in name):
        raise FileProblem(f"{file}: line 1: the header is not UTF-8: save the file as UTF-8")
    if "\0" in "".join(header):
        raise FileProblem(f"{file}: line 1: the header holds a NUL byte: this is not a CSV file")
    return [name.strip() for name in header], reader.line_num


def _canonical(file: str, table: str, header: list[str]) -> list[str]:
    names = [fold(name).replace(" ", "_") for name in header]
    twice = sorted({n for n in names if n and names.count(n) > 1})
    if twice:
        raise FileProblem(f"{file}: line 1: the column {twice[0]} stands twice: keep one of them")
    missing = [c.name for c in SCHEMA[table] if c.required and c.name not in names]
    if missing:
        hint = "" if len(header) > 1 else "; the delimiter must be a comma, a semicolon or a tab"
        raise FileProblem(
            f"{file}: line 1: required column {', '.join(missing)} of {table} is missing; "
            f"found {', '.join(header)[:200]}{hint}"
        )
    return names


def which_table(file: str, header: Sequence[str]) -> str:
    """Which table a file holds: the one whose required columns its header has; the file's name settles the rest.

    Raises
    ------
    FileProblem
        If it is none.
    """
    names = {fold(name).replace(" ", "_") for name in header}
    by_name = [table for table in SCHEMA if file.rpartition("/")[2].lower().startswith(table)]
    fitting = [t for t, columns in SCHEMA.items() if {c.name for c in columns if c.required} <= names]
    if len(fitting) > 1:
        fitting = [t for t in fitting if t in by_name] or [max(fitting, key=lambda t: len(_overlap(t, names)))]
    for table in fitting or by_name:
        return table
    near = max(SCHEMA, key=lambda t: len(_overlap(t, names)))
    if _overlap(near, names):
        required = ", ".join(c.name for c in SCHEMA[near] if c.required)
        raise FileProblem(
            f"{file}: line 1: unknown table; nearest is {near}, which needs the columns {required}; "
            f"found {', '.join(header)[:200]}"
        )
    raise FileProblem(
        f"{file}: line 1: unknown table: no column of {', '.join(SCHEMA)} is in the header; "
        f"found {', '.join(header)[:200]}; the delimiter must be a comma, a semicolon or a tab"
    )


def _overlap(table: str, names: set[str]) -> set[str]:
    return {c.name for c in SCHEMA[table]} & names


def _rows(out: RawTable, lines: list[str], first: int, delimiter: str, width: int, order: list[int]) -> None:
    """Read rows from line index `first` on; a quote that is never closed costs only the line it opens on."""
    start, repairs = first, 0
    while start < len(lines):
        reader = csv.reader(iter(lines[start:]), delimiter=delimiter, strict=True)
        again = None
        while again is None:
            line = start + reader.line_num + 1
            try:
                cells = next(reader)
            except StopIteration:
                return
            except csv.Error as problem:
                out.read += 1
                if "unexpected end" in str(problem) and repairs < _MOST_QUOTE_REPAIRS:
                    reason, again = "a quote is opened and never closed: double it or close it", line
                else:
                    reason = f"the row cannot be split into cells ({problem}): check its quotes"
                out.rejected.append(Rejected(out.table, out.file, line, "", shown(lines[line - 1].rstrip()), reason))
                continue
            if not cells:
                continue
            out.read += 1
            problem_found = _row_problem(cells, width)
            if problem_found:
                value, reason = problem_found
                out.rejected.append(Rejected(out.table, out.file, line, "", value, reason))
                continue
            out.rows.append([restore(cells[i]) for i in order])
            out.lines.append(line)
        start, repairs = again, repairs + 1


def _row_problem(cells: list[str], width: int) -> tuple[str, str] | None:
    joined = "\x1f".join(cells)
    if not joined.isascii() and any("\udc80" <= c <= "\udcff" for c in joined):
        bad = next(cell for cell in cells if any("\udc80" <= c <= "\udcff" for c in cell))
        return shown(bad), "not UTF-8: save the file as UTF-8"
    if "\0" in joined:
        bad = next(cell for cell in cells if "\0" in cell)
        return shown(bad), "holds a NUL byte: remove it"
    if len(cells) != width:
        return shown(",".join(cells)), f"{len(cells)} cells where the header has {width}: check delimiters and quotes"
    return None
