"""Rows of a file as text, batch by batch: what every reader gives and everything behind it takes."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np
import numpy.typing as npt

from yardstick.core.base.notes import Rejected

Lines = npt.NDArray[np.int64]


class FileProblem(ValueError):
    """A file that cannot be used as a whole. The text names the file and says what to do."""


class NotSaid(FileProblem):
    """A file whose source does not say all that its table must have."""


@dataclass(frozen=True)
class Header:
    """What the first line of a file says.

    Attributes
    ----------
    table : which table of `core.base.tables.SCHEMA` the file holds
    file : its name
    columns : canonical names in the order of the file
    extra : names of columns the table does not know, as written; they are kept with the row
    source : name of the source by which the file is read, empty if by none
    id_column, id_of : a column that is made of others, if the file has none of its own, and the names of those others
    left_out : names of columns that hold lists or objects, of which no cell is read
    """

    table: str
    file: str
    columns: tuple[str, ...]
    extra: tuple[str, ...]
    source: str = ""
    id_column: str = ""
    id_of: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()


@dataclass(frozen=True)
class FileLayout:
    """How a file is laid out, as far as it is known before it is opened; what is empty is found out.

    Attributes
    ----------
    encoding, delimiter : of text
    sheet : name of the sheet of a workbook; empty for the first
    skip_top : lines above the header that are none of the table
    headed : whether it names its columns
    """

    encoding: str = ""
    delimiter: str = ""
    sheet: str = ""
    skip_top: int = 0
    headed: bool = True


USUAL = FileLayout()


@dataclass(frozen=True)
class Unread:
    """Cells that cannot be read as their source says: the column, (n,) Arrow booleans, and why."""

    column: str
    rows: Any
    reason: str


@dataclass
class RawBatch:
    """Some rows of a file, as text.

    Attributes
    ----------
    columns : Arrow string array per name of `Header.columns`, then per name of `Header.extra`
    lines : (n,) int64, line each row begins on, the header being line 1
    rejected : rows that could not be split into cells
    skipped : lines that are no rows of their own: blank ones, and lines inside a cell
    bytes_done : how far into the file this batch reaches
    typed : per column (n,) Arrow booleans, cells that were numbers, days or times in the file and not text; columns
        without any are left out
    unread : cells whose rows are rejected, whatever the rules for their columns say
    spread : how many of the rows stand for a part of one that stands beside them: a week is seven
    """

    columns: dict[str, Any]
    lines: Lines
    rejected: list[Rejected] = field(default_factory=list)
    skipped: int = 0
    bytes_done: int = 0
    typed: dict[str, Any] = field(default_factory=dict)
    unread: list[Unread] = field(default_factory=list)
    spread: int = 0

    def __len__(self) -> int:
        return len(self.lines)


class TableFile(Protocol):
    """A file of rows being read, whatever its format."""

    header: Header
    header_lines: int

    def batches(self) -> Iterator[RawBatch]:
        """The rows of the file, some at a time, in order."""


def rejected_digest(table: str, cells: Sequence[str]) -> str:
    """What a rejected row adds to a fingerprint: a hash of its table and raw cells, as hexadecimal digits (R27)."""
    said = "\x1f".join(["rejected", table, *cells])
    return hashlib.sha256(said.encode("utf-8", "surrogatepass")).hexdigest()


def shown(cell: str) -> str:
    """A cell as it can be shown and stored: bytes that are not UTF-8 and NULs written as escapes."""
    if cell.isascii() and "\0" not in cell:
        return cell[:500]
    return (
        "".join(
            f"\\x{ord(c) - 0xDC00:02X}" if 0xDC80 <= ord(c) <= 0xDCFF else "\\x00" if c == "\0" else c
            for c in cell[:500]
        )
        .encode("utf-8", "replace")
        .decode()
    )
