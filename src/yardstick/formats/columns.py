"""Rows of text -> the core's columns, with rejected rows and their reasons."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from yardstick.core.base.columns import Amounts, Text
from yardstick.core.base.notes import Finding, Rejected
from yardstick.core.base.tables import ROW_ID, SCHEMA, Column, Kind, Table, blank_column

from .cells import BadCell, readers
from .csv_in import RawTable, shown


@dataclass
class Parsed:
    """A file read into columns.

    Attributes
    ----------
    table : the accepted rows
    kept : which rows of the raw table they are, in order
    rejected, findings : what was noticed on the way
    read : rows found in the file
    """

    table: Table
    kept: list[int]
    rejected: list[Rejected]
    findings: list[Finding]
    read: int


@dataclass
class _Notes:
    """Remarks about times, one finding per file, column and kind of remark, with the first line it stands on."""

    found: dict[tuple[str, str], str] = field(default_factory=dict)
    column: str = ""

    def __call__(self, code: str, text: str) -> None:
        self.found.setdefault((code, self.column), text)


def parse(raw: RawTable, zone: str) -> Parsed:
    """Read every cell of a file.

    Parameters
    ----------
    raw : the rows as text
    zone : time zone of times that carry no offset

    Returns
    -------
    Parsed; rows with a cell that cannot be read are rejected with the first such cell; identical rows count once
    """
    notes = _Notes()
    kinds = readers(zone, notes)
    cells = list(zip(*raw.rows, strict=True)) if raw.rows else [()] * (len(raw.columns) + len(raw.extra))
    by_name = {name: cells[i] for i, name in enumerate(raw.columns)}
    bad: dict[int, tuple[str, str, str]] = {}
    typed: dict[str, tuple[list[Any], np.ndarray[Any, Any]]] = {}
    firsts: list[Finding] = []
    for column in SCHEMA[raw.table]:
        if column.name in by_name:
            notes.column = column.name
            typed[column.name] = _read_column(column, by_name[column.name], kinds[column.kind], bad)
            firsts += _first_lines(notes, raw, column.name, by_name[column.name])
    if raw.table == "spend":
        _require_cost(by_name, len(raw.rows), bad)
    rejected = [
        Rejected(raw.table, raw.file_of(row), raw.lines[row], column, shown(value), reason)
        for row, (column, value, reason) in sorted(bad.items())
    ]
    good = [row for row in range(len(raw.rows)) if row not in bad]
    kept, repeated = _without_repeats(raw, good, by_name)
    rows = np.array(kept, dtype=np.int64)
    columns = {
        c.name: _column(c.kind, *typed[c.name], rows) if c.name in typed else blank_column(c.kind, len(rows))
        for c in SCHEMA[raw.table]
    }
    line = np.array([raw.lines[row] for row in kept], dtype=np.int32)
    file = Text.of([raw.files[row] for row in kept]) if raw.files else Text(np.zeros(len(kept), np.int32), [raw.file])
    table = Table(raw.table, columns, file, line)
    every = sorted(raw.rejected + rejected, key=lambda r: r.line)
    findings = firsts + repeated
    if not raw.read:
        findings.append(Finding("no_rows", "warning", raw.table, "", "", "", None, "", raw.file, 1))
    return Parsed(table, kept, every, findings, raw.read)


def _read_column(
    column: Column, cells: Sequence[str], read: Callable[[str], Any], bad: dict[int, tuple[str, str, str]]
) -> tuple[list[Any], np.ndarray[Any, Any]]:
    """Read each distinct cell once: the values, and which of them every row has."""
    seen: dict[str, int] = {}
    codes = np.array([seen.setdefault(cell, len(seen)) for cell in cells], dtype=np.int64)
    values: list[Any] = []
    problems: dict[int, str] = {}
    for code, cell in enumerate(seen):
        text = cell.strip()
        try:
            if column.required and not text:
                raise BadCell(f"{column.name} is required: fill it")
            values.append(read(text))
        except BadCell as problem:
            problems[code] = str(problem)
            values.append(None)
    if problems:
        for row in np.flatnonzero(np.isin(codes, list(problems))).tolist():
            bad.setdefault(row, (column.name, cells[row], problems[int(codes[row])]))
        spare = next((v for i, v in enumerate(values) if i not in problems), None)
        values = [spare if i in problems else v for i, v in enumerate(values)]
    return values, codes


def _column(kind: Kind, values: list[Any], codes: np.ndarray[Any, Any], rows: np.ndarray[Any, Any]) -> Any:
    """The accepted rows of a column in the form the core wants."""
    blank = blank_column(kind, 1)
    if not len(rows):
        return blank_column(kind, 0)
    used = codes[rows]
    if isinstance(blank, Text):
        # Only values of accepted rows stay, in order of first use, so that rejected rows leave no trace.
        return Text.of([values[c] for c in used.tolist()])
    if isinstance(blank, Amounts):
        live = set(used.tolist())
        amounts = Amounts.of([v if c in live else None for c, v in enumerate(values)])
        return amounts.take(used)
    array = np.array([blank[0] if v is None else v for v in values], dtype=blank.dtype)
    return array[used]


def _require_cost(by_name: Mapping[str, Sequence[str]], rows: int, bad: dict[int, tuple[str, str, str]]) -> None:
    empty = ("",) * rows
    columns = zip(*(by_name.get(name, empty) for name in ("cost", "clicks", "click_price")), strict=True)
    for row, (cost, clicks, price) in enumerate(columns):
        if not cost.strip() and not (clicks.strip() and price.strip()):
            bad.setdefault(row, ("cost", cost, "cost is required unless clicks and click_price are given: fill it"))


def _first_lines(notes: _Notes, raw: RawTable, name: str, cells: Sequence[str]) -> list[Finding]:
    out = []
    for code, column in list(notes.found):
        if column == name:
            text = notes.found.pop((code, column))
            row = next(i for i, cell in enumerate(cells) if cell.strip() == text)
            out.append(Finding(code, "note", raw.table, "", name, text, None, "", raw.file_of(row), raw.lines[row]))
    return out


def _without_repeats(
    raw: RawTable, good: list[int], by_name: Mapping[str, Sequence[str]]
) -> tuple[list[int], list[Finding]]:
    """Rows that are no mere repetition: equal to the row before with the same id, or to any other row of spend.

    Which of several different rows with one id stands is for the rules to say (R20), so they are all kept.
    """
    key = ROW_ID.get(raw.table)
    if key is None and raw.table != "spend":
        return good, []
    latest: dict[Any, tuple[str, ...]] = {}
    kept, findings = [], []
    for row in good:
        cells = tuple(cell.strip() for cell in raw.rows[row])
        name: Any = by_name[key][row].strip() if key else cells
        if latest.get(name) != cells:
            latest[name] = cells
            kept.append(row)
            continue
        said = (str(name), key) if key else ("", "campaign")
        value = "" if key else by_name["campaign"][row]
        where = (raw.file_of(row), raw.lines[row])
        findings.append(Finding("identical_row", "note", raw.table, *said, value, None, "", *where))
    return kept, findings
