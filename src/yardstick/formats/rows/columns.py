"""Rows of text -> typed columns, with rejected rows and their reasons. Each distinct cell is read once; what most cells
look like (an instant with its offset, a plain address) is read by Arrow for all rows at once."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.columns import NO_DAY, NO_INSTANT
from yardstick.core.base.limits import FIRST_INSTANT, LAST_INSTANT
from yardstick.core.base.notes import Finding, Rejected
from yardstick.core.base.schema import SCHEMA, Column, Kind
from yardstick.core.base.text_bytes import content_of, laid_out, printed

from ..cells.cells import BadCell, readers
from ..cells.row_hashes import hash_of
from ..files.raw import Header, RawBatch, rejected_digest, shown

_ABOVE_ADS = ("account", "campaign", "group")
DECIMALS = (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE)
_INSTANT = r"^[0-9]{4}-[0-9]{2}-[0-9]{2}[T ][0-9]{2}:[0-9]{2}:[0-9]{2}(\.[0-9]{1,6})?(Z|[+-][0-9]{2}:[0-9]{2})$"
_OFFSET = r"[Tt ][0-9:.,]+(?:[Zz]|[+-][0-9]{2}(?::?[0-9]{2})?(?::?[0-9]{2})?)\s*$"
_LOCAL = r"^[0-9]{4}-[0-9]{2}-[0-9]{2}[T ][0-9]{2}:[0-9]{2}(:[0-9]{2}(\.[0-9]{1,6})?)?$"
_RULES_END = 2_114_380_800_000_000
"""The beginning of 2037 in microseconds since 1970: until then clock changes stand in every zone's file."""
_ADDRESS = r"^(/|[Hh][Tt][Tt][Pp][Ss]?://[A-Za-z0-9][A-Za-z0-9.-]*(:[0-9]{1,4})?([/?#]|$))"
"""How an address begins that is one whatever printed ASCII follows."""
_LEAST = np.frombuffer(b"0000-00-00 00:00:00Z", np.uint8)
_MORE = np.frombuffer(b"9999-99-99T99:99:99Z", np.uint8) - _LEAST
"""What each character of an instant is at least, and how far above it may be."""
FILE_TYPES: Mapping[Kind, Any] = {
    Kind.INSTANT: pa.int64(),
    Kind.DAY: pa.int32(),
    Kind.MONTH: pa.int32(),
    Kind.FLAG: pa.bool_(),
    Kind.VISIT_KIND: pa.int8(),
    Kind.COUNT: pa.int64(),
}
"""Arrow type of a typed column; all others are text, decimals as they are written canonically."""
EMPTY: Mapping[Kind, Any] = {
    Kind.INSTANT: NO_INSTANT,
    Kind.DAY: NO_DAY,
    Kind.MONTH: NO_DAY,
    Kind.FLAG: False,
    Kind.VISIT_KIND: 0,
    Kind.COUNT: -1,
}


@dataclass
class TypedBatch:
    """The accepted rows of a batch.

    Attributes
    ----------
    columns : Arrow array per column of the table's schema, empty cells where the file has no such column
    extra : Arrow string array, the filled further columns of each row as a JSON object, empty where there are none
    lines : (n,) int64
    raw : Arrow string array per column of the file, the accepted rows just as they came
    plain_times : Arrow string array, what each row says of times that carry no offset, as written; empty where all do
    rejected : rows with a cell that cannot be read, and rows that could not be split into cells
    absent : columns of the table that the file does not have, each empty in all rows
    """

    columns: dict[str, Any]
    extra: Any
    lines: npt.NDArray[np.int64]
    raw: dict[str, Any]
    plain_times: Any
    rejected: list[Rejected]
    absent: frozenset[str] = frozenset()

    def __len__(self) -> int:
        return len(self.lines)


@dataclass
class _Notes:
    """Remarks about times: per column and kind of remark the first cell it was made of."""

    found: dict[tuple[str, str], str] = field(default_factory=dict)
    column: str = ""

    def __call__(self, code: str, text: str) -> None:
        self.found.setdefault((code, self.column), text)


class Typer:
    """Types the batches of one file, one after the other.

    Parameters
    ----------
    header : of the file
    zone : time zone of times that carry no offset
    """

    def __init__(self, header: Header, zone: str) -> None:
        self._header, self._notes = header, _Notes()
        self._zone = zone
        self._readers = readers(zone, self._notes)
        self._said: set[tuple[str, str]] = set()
        self.findings: list[Finding] = []

    @property
    def zone_matters(self) -> bool:
        """Whether any time so far had no offset, so that it depends on the zone."""
        return any(code == "no_offset" for code, _ in self._said)

    def read(self, raw: RawBatch) -> TypedBatch:
        """Type one batch."""
        header, n = self._header, len(raw)
        bad = _BadCell(n)
        typed: dict[str, Any] = {}
        for unread in raw.unread:
            bad.mark(unread.rows, unread.column, unread.reason)
        for column in SCHEMA[header.table]:
            if column.name in header.columns and column.name != header.id_column:
                self._notes.column = column.name
                text = _trimmed(raw.columns[column.name])
                typed[column.name] = self._column(column, text, bad)
                self._remember(column.name, text, raw)
        if header.id_column:
            raw.columns[header.id_column] = typed[header.id_column] = self._made_ids(raw, typed)
            bad.mark(pc.equal(typed[header.id_column], ""), header.id_column, "the columns that tell a row are empty")
        if header.table == "spend":
            _require_cost(raw, bad, ("clicks", "click_price"), "campaign")
        if header.table == "other_costs":
            _require_cost(raw, bad, ("quantity", "price"), "kind")
        if header.table == "ads":
            above = (
                pc.is_in(pc.utf8_lower(pc.utf8_trim_whitespace(raw.columns["level"])), pa.array(_ABOVE_ADS))
                if ("level" in raw.columns)
                else pa.repeat(pa.scalar(False), n)
            )
            bad.mark(
                pc.and_(_is_empty(raw, "ad"), pc.invert(above)),
                "ad" if "ad" in raw.columns else "platform",
                f"a row without ad must be of a level above: {', '.join(_ABOVE_ADS)}",
            )
        if header.table == "deal_contacts":
            named = pc.and_(_is_empty(raw, "lead_id"), _is_empty(raw, "email"))
            bad.mark(named, "deal_id", "a contact is named by lead_id or email: fill one of them")
        good = pa.array(~bad.rows)
        all_good = not bad.rows.any()
        columns = {
            c.name: (typed[c.name] if all_good else typed[c.name].filter(good))
            if c.name in typed
            else blank(c.kind, n - int(bad.rows.sum()))
            for c in SCHEMA[header.table]
        }
        kept = raw.columns if all_good else {name: array.filter(good) for name, array in raw.columns.items()}
        rejected = self._rejected(raw, sorted(bad.reasons.items())) if bad.reasons else []
        lines = raw.lines if all_good else raw.lines[~bad.rows]
        every = sorted([*raw.rejected, *rejected], key=lambda r: r.line)
        return TypedBatch(
            columns,
            kept["extra"] if "extra" in kept else _extra(header, kept, len(lines)),
            lines,
            kept,
            self._plain_times(kept, len(lines)),
            every,
            frozenset(c.name for c in SCHEMA[header.table] if c.name not in typed),
        )

    def _made_ids(self, raw: RawBatch, typed: Mapping[str, Any]) -> Any:
        """An id a row, of what its cells mean, so that it is the same however they are written."""
        cells = [typed[n] if n in typed else pc.utf8_trim_whitespace(raw.columns[n]) for n in self._header.id_of]
        texts = [cell if pa.types.is_string(cell.type) else pc.cast(cell, pa.string()) for cell in cells]
        words = hash_of([pa.repeat(pa.scalar(self._header.table), len(raw)), *texts], "blake2b", 16)
        empty = pc.equal(pc.binary_join_element_wise(*(raw.columns[n] for n in self._header.id_of), ""), "")
        ids = [word.tobytes().hex()[:20] for word in words]
        return pc.if_else(empty, pa.scalar("", pa.string()), pa.array(ids, pa.string()))

    def _plain_times(self, kept: Mapping[str, Any], n: int) -> Any:
        """Two spellings of one instant are one row to the rules, but a finding quotes the spelling (R27)."""
        names = [c.name for c in SCHEMA[self._header.table] if ("no_offset", c.name) in self._said]
        if not names:
            return pa.repeat(pa.scalar("", pa.string()), n)
        blank = pa.scalar("", pa.string())
        texts = [pc.if_else(pc.match_substring_regex(kept[name], _OFFSET), blank, kept[name]) for name in names]
        return pc.binary_join_element_wise(*texts, "\x1f") if len(texts) > 1 else texts[0]

    def _rejected(self, raw: RawBatch, reasons: Sequence[tuple[int, tuple[str, str]]]) -> list[Rejected]:
        """Rows that are rejected, with the column and why."""
        picked = pa.array([row for row, _ in reasons], pa.int64())
        cells = zip(*(array.take(picked).to_pylist() for array in raw.columns.values()), strict=True)
        place = {name: i for i, name in enumerate(raw.columns)}
        table, file, lines = self._header.table, self._header.file, raw.lines.tolist()
        return [
            Rejected(table, file, lines[row], column, shown(of[place[column]]), why, rejected_digest(table, of))
            for (row, (column, why)), of in zip(reasons, cells, strict=True)
        ]

    def _column(self, column: Column, text: Any, bad: _BadCell) -> Any:
        if column.required:
            empty = np.diff(laid_out(text)[1]) == 0
            if empty.any():
                bad.mark(pa.array(empty), column.name, f"{column.name} is required: fill it")
        if column.kind is Kind.TEXT:
            return text
        if column.kind is Kind.INSTANT:
            quick = _instants(text)
            if quick is None:
                quick = self._local_instants(text)
            if quick is not None:
                return quick
        if column.kind is Kind.ADDRESS and _plain_addresses(text):
            return text
        return self._distinct(column, text, bad)

    def _local_instants(self, text: Any) -> Any:
        """Instants, if every filled cell is a time without offset that is one moment in the zone and in the years whose
        rules every library knows; None where one is not, so that each is read by itself."""
        filled = pc.not_equal(text, "")
        if (
            not pc.any(filled).as_py()
            or not pc.all(pc.or_(pc.match_substring_regex(text, _LOCAL), pc.invert(filled))).as_py()
        ):
            return None
        some = pc.if_else(filled, text, pa.scalar(None, pa.string()))
        try:
            plain = pc.cast(some, pa.timestamp("us"))
            at = pc.cast(pc.assume_timezone(plain, self._zone, ambiguous="raise", nonexistent="raise"), pa.int64())
        except pa.ArrowInvalid:
            return None
        low, high = pc.min(at).as_py(), pc.max(at).as_py()
        if low < 0 or high >= _RULES_END:
            return None
        self._notes("no_offset", text[pc.index(filled, True).as_py()].as_py())
        return pc.fill_null(at, NO_INSTANT)

    def _distinct(self, column: Column, text: Any, bad: _BadCell) -> Any:
        """Read each distinct cell once."""
        read, kind = self._readers[column.kind], column.kind
        coded = text.dictionary_encode()
        values: list[Any] = []
        problems: dict[int, str] = {}
        for code, cell in enumerate(coded.dictionary.to_pylist()):
            try:
                values.append(_canonical(read(cell)) if kind in DECIMALS else read(cell))
            except BadCell as problem:
                problems[code] = str(problem)
                values.append(EMPTY.get(kind, ""))
        codes = coded.indices.to_numpy()
        for code, reason in problems.items():
            bad.mark(pa.array(codes == code), column.name, reason)
        return pa.array(values, FILE_TYPES.get(kind, pa.string())).take(coded.indices)

    def _remember(self, name: str, text: Any, raw: RawBatch) -> None:
        """One finding per file, column and kind of remark, with the first line it stands on."""
        for key, cell in list(self._notes.found.items()):
            if key[1] == name and key not in self._said:
                self._said.add(key)
                row = pc.index(text, cell).as_py()
                where = (self._header.file, int(raw.lines[row]))
                self.findings.append(Finding(key[0], "note", self._header.table, "", name, cell, None, "", *where))


class _BadCell:
    """Rows that cannot be accepted, each with its first reason."""

    def __init__(self, n: int) -> None:
        self.rows = np.zeros(n, np.bool_)
        self.reasons: dict[int, tuple[str, str]] = {}

    def mark(self, rows: Any, column: str, reason: str) -> None:
        for row in np.flatnonzero(rows.to_numpy(zero_copy_only=False)).tolist():
            if row not in self.reasons:
                self.rows[row] = True
                self.reasons[row] = (column, reason)


def _trimmed(text: Any) -> Any:
    return text if printed(content_of(text)) else pc.utf8_trim_whitespace(text)


def _plain_addresses(text: Any) -> bool:
    """Whether all cells are addresses of printed ASCII."""
    if not len(text) or not printed(content_of(text)):
        return not len(text)
    # How an address begins says it all, and most begin as the first does.
    first = re.match(_ADDRESS, text[0].as_py())
    if first is None:
        return False
    if first[0] and first[0][-1] in "/?#":
        text = text.filter(pc.invert(pc.starts_with(text, first[0])))
    return not len(text) or bool(pc.all(pc.match_substring_regex(text, _ADDRESS)).as_py())


def _same_instants(text: Any) -> bool:
    """Whether all cells are written `2026-03-02T10:00:00Z`; a quick answer for what most files hold."""
    content = content_of(text)
    if len(content) != 20 * len(text) or not bool((pc.binary_length(text).to_numpy() == 20).all()):
        return False
    cells = content.reshape(-1, 20)
    # Unsigned, so that what is below the least allowed is far above the most.
    return bool((cells - _LEAST <= _MORE).all()) and bool(np.isin(cells[:, 10], (ord("T"), ord(" "))).all())


def _instants(text: Any) -> Any:
    """Instants in microseconds since 1970, if every filled cell is one with its offset and within the limits."""
    filled = pc.not_equal(text, "")
    if (
        not _same_instants(text)
        and not pc.all(pc.or_(pc.match_substring_regex(text, _INSTANT), pc.invert(filled))).as_py()
    ):
        return None
    try:
        some = pc.if_else(filled, text, pa.scalar(None, pa.string()))
        at = pc.cast(pc.cast(some, pa.timestamp("us", "UTC")), pa.int64())
    except pa.ArrowInvalid:
        return None
    low, high = pc.min(at).as_py(), pc.max(at).as_py()
    if low is not None and (low < FIRST_INSTANT or high > LAST_INSTANT):
        return None
    return pc.fill_null(at, NO_INSTANT)


def _canonical(value: tuple[int, int] | None) -> str:
    """A decimal in the one way it is written: no sign of plus, no closing zeros, a point only before decimals."""
    if value is None:
        return ""
    units, decimals = value
    while decimals and units % 10 == 0:
        units, decimals = units // 10, decimals - 1
    if not decimals:
        return str(units)
    digits = str(abs(units)).rjust(decimals + 1, "0")
    return f"{'-' if units < 0 else ''}{digits[:-decimals]}.{digits[-decimals:]}"


def blank(kind: Kind, length: int) -> Any:
    """A typed column of empty cells."""
    return pa.repeat(pa.scalar(EMPTY.get(kind, ""), FILE_TYPES.get(kind, pa.string())), length)


def _is_empty(raw: RawBatch, name: str) -> Any:
    if name not in raw.columns:
        return pa.repeat(pa.scalar(True), len(raw))
    return pc.equal(pc.utf8_trim_whitespace(raw.columns[name]), "")


def _require_cost(raw: RawBatch, bad: _BadCell, instead: tuple[str, str], else_at: str) -> None:
    column = next((name for name in ("cost", instead[0]) if name in raw.columns), else_at)
    column = column if column in raw.columns else "campaign"
    none = pc.and_(_is_empty(raw, "cost"), pc.or_(_is_empty(raw, instead[0]), _is_empty(raw, instead[1])))
    bad.mark(none, column, f"cost is required unless {instead[0]} and {instead[1]} are given: fill it")


def _extra(header: Header, raw: Mapping[str, Any], n: int) -> Any:
    """The filled cells of columns the table does not know, as a JSON object a row."""
    if not header.extra:
        return pa.repeat(pa.scalar("", pa.string()), n)
    columns = [raw[f"extra {i}"].to_pylist() for i in range(len(header.extra))]
    out = []
    for cells in zip(*columns, strict=True):
        filled = {name: cell for name, cell in zip(header.extra, cells, strict=True) if cell.strip()}
        out.append(json.dumps(filled, ensure_ascii=False, sort_keys=True) if filled else "")
    return pa.array(out, pa.string())
