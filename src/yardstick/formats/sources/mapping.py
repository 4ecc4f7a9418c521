"""A file read as its source says: whatever it looks like, what comes out is a table with our names and plain cells.

A cell that cannot be read as the source says stays as it came, and its row is rejected with the reason.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any
from urllib.parse import quote_plus

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.schema import ROW_ID, SCHEMA, Kind
from yardstick.core.base.words import fold
from yardstick.core.plan.gathering_phase import TAG_COLUMNS, Replacement, Source

from ..cells.cells import is_currency, minor_digits
from ..cells.currencies_in import code_of, codes_by_sign, marks_of
from ..cells.dates_in import dates_of
from ..cells.numbers_in import ANY, numbers_of
from ..files.raw import FileLayout, FileProblem, Header, NotSaid, RawBatch, TableFile, Unread, rejected_digest
from ..rows.worth import MONEY
from .spreading import first_day, spread
from .sum_rows import SumRow, SumRows, sum_rows_of

NUMBERS = (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE, Kind.COUNT)
_SCHEME = r"^[A-Za-z][A-Za-z0-9+.-]*://"


def laid_of(source: Source) -> FileLayout:
    """How the files of a source are laid out."""
    return FileLayout(source.encoding, source.delimiter, source.sheet, source.skip_top, source.headed)


def missing_columns(source: Source, names: tuple[str, ...]) -> list[str]:
    """Which columns that a source names a header has not."""
    there = {fold(name) for name in names}
    return [name for name in source.asks_for if fold(name) not in there]


class MappedFile:
    """A file being read by its source.

    Parameters
    ----------
    plain : the file with every column under the name it has
    source : how it is to be read

    Attributes
    ----------
    names : of the columns, as written

    Raises
    ------
    FileProblem
        If a column that the source names is not there, or one that the table requires comes from nowhere.
    """

    def __init__(self, plain: TableFile, source: Source) -> None:
        self._plain, self._source = plain, source
        self.header_lines = plain.header_lines
        names = plain.header.extra
        missing = missing_columns(source, names)
        file = plain.header.file
        if missing:
            raise FileProblem(
                f"{file}: line {plain.header_lines or 1}: {source.name} needs the column {', '.join(missing)}; "
                f"found {', '.join(names)[:200]}: does it have another name now?"
            )
        self.names = names
        self._place = {fold(name): f"extra {i}" for i, name in reversed(list(enumerate(names)))}
        self._kinds = {c.name: c.kind for c in SCHEMA[source.table]}
        self._constant = dict(source.constant)
        for column, text in (("account", source.account), ("currency", source.currency)):
            if text and column in self._kinds:
                self._constant.setdefault(column, text)
        self._comes_from = self._columns(names)
        self._tags = [t for t in TAG_COLUMNS if t in self._comes_from and t not in self._kinds]
        own_id = ROW_ID.get(source.table, "")
        made = own_id if source.id and own_id and own_id not in self._comes_from else ""
        filled = set(self._comes_from) | set(self._constant) | ({made} if made else set())
        self._require(filled, file)
        used = {key for keys in self._comes_from.values() for key in keys}
        used |= {self._place[fold(s.column)] for s in source.split}
        self._extra = [i for i in range(len(names)) if f"extra {i}" not in used]
        self._total = fold(source.total)
        self._signs = dict(source.signs)
        self._reads_codes = source.currency_signs and "currency" in self._kinds
        self._sums = self._sum_rows()
        filled |= {"currency"} if self._reads_codes else set()
        columns = tuple(c.name for c in SCHEMA[source.table] if c.name in filled)
        extra = tuple(names[i] for i in self._extra)
        id_of = self._id_of(names) if made else ()
        left_out = plain.header.left_out
        self.header = Header(source.table, file, columns, extra, source.name, made, id_of, left_out)

    @property
    def sums(self) -> list[SumRow]:
        """Rows that are, or may be, the sum of others, as far as the file was read."""
        return self._sums.found

    def _sum_rows(self) -> SumRows:
        """What finds rows that are the sum of others: those of tables that are worth something."""
        key = {c: keys[0] for c, keys in self._comes_from.items() if len(keys) == 1}
        return sum_rows_of(self._source.table, key, [*self._place.values()], self._source.sums)

    def _columns(self, names: tuple[str, ...]) -> dict[str, tuple[str, ...]]:
        """Which columns of the file each of the table is made of; of a split, the column that is split."""
        out: dict[str, tuple[str, ...]] = {}
        for column, written in self._source.columns:
            if written:
                out[column] = (self._place[fold(written)],)
        for split in self._source.split:
            out |= {into: (self._place[fold(split.column)],) for into in split.into if into}
        for join in self._source.join:
            out[join.into] = tuple(self._place[fold(name)] for name in join.columns)
        # A column that has our name is that column, unless the source says otherwise.
        said = {fold(written) for _, written in self._source.columns} | {fold(s.column) for s in self._source.split}
        left = {column for column, written in self._source.columns if not written}
        called = {c.called: c.name for c in SCHEMA[self._source.table]}
        for name in names:
            column = called.get(fold(name).replace(" ", "_"), "")
            if column and column not in out and column not in left and fold(name) not in said:
                out[column] = (self._place[fold(name)],)
        return out

    def _require(self, filled: set[str], file: str) -> None:
        missing = [c.called for c in SCHEMA[self._source.table] if c.required and c.name not in filled]
        if missing:
            raise NotSaid(
                f"{file}: {self._source.name} says nothing of {', '.join(missing)}, which {self._source.table} must "
                "have: name its column, or a text that always stands there"
                + (", or the columns that tell a row" if ROW_ID.get(self._source.table) in missing else "")
            )

    def _id_of(self, names: tuple[str, ...]) -> tuple[str, ...]:
        """The columns of a batch that tell a row."""
        out = []
        by_written = {keys[0]: column for column, keys in self._comes_from.items() if len(keys) == 1}
        extras = {f"extra {i}": f"extra {k}" for k, i in enumerate(self._extra)}
        for name in self._source.id:
            if name in self._comes_from or name in self._constant:
                out.append(name)
            elif fold(name) in self._place:
                key = self._place[fold(name)]
                out.append(by_written.get(key) or extras[key])
            else:
                raise FileProblem(
                    f"{self._plain.header.file}: {self._source.name} makes its ids of the column {name}, which is not "
                    f"there; found {', '.join(names)[:200]}"
                )
        return tuple(out)

    def batches(self) -> Iterator[RawBatch]:
        """The rows of the file, some at a time, in order."""
        for raw in self._plain.batches():
            yield self._batch(self._without_totals(raw))

    def _without_totals(self, raw: RawBatch) -> RawBatch:
        table = self._source.table
        rejected = [r for r in raw.rejected if not self._total or not fold(r.value.lstrip('"')).startswith(self._total)]
        skipped = raw.skipped + len(raw.rejected) - len(rejected)
        rejected = [replace(r, table=table, digest=rejected_digest(table, [r.digest])) for r in rejected]
        raw = replace(raw, rejected=rejected, skipped=skipped)
        if not self._total or not len(raw):
            return raw
        first = raw.columns["extra 0"]
        near = pc.starts_with(pc.utf8_lower(pc.utf8_ltrim_whitespace(first)), self._total[:1])
        rows = np.flatnonzero(near.to_numpy(zero_copy_only=False))
        gone = [row for row in rows.tolist() if fold(first[row].as_py()).startswith(self._total)]
        if not gone:
            return raw
        keep = np.ones(len(raw), np.bool_)
        keep[gone] = False
        mask = pa.array(keep)
        return replace(
            raw,
            columns={name: array.filter(mask) for name, array in raw.columns.items()},
            typed={name: array.filter(mask) for name, array in raw.typed.items()},
            lines=raw.lines[keep],
            skipped=raw.skipped + len(gone),
        )

    def _batch(self, raw: RawBatch) -> RawBatch:
        n = len(raw)
        plain = {key: self._emptied(pc.utf8_trim_whitespace(array)) for key, array in raw.columns.items()}
        columns = {column: self._made(column, keys, plain) for column, keys in self._comes_from.items()}
        for replacement in self._source.replace:
            if replacement.column in columns:
                columns[replacement.column] = _replaced(columns[replacement.column], replacement)
        unread: list[Unread] = []
        currency = self._codes(columns, unread) if self._reads_codes else None
        by_period = self._source.period and self._source.table == "spend"
        came, strange = dict(columns), list(unread)
        for column, keys in self._comes_from.items():
            typed = raw.typed.get(keys[0]) if len(keys) == 1 else None
            if column != "day" or not by_period:
                columns[column] = self._read(column, columns[column], typed, unread)
        for one in strange:
            # A cell that is refused is shown as it came.
            columns[one.column] = pc.if_else(one.rows, came[one.column], columns[one.column])
        if self._source.micros and "cost" in columns:
            columns["cost"] = _millionth(columns["cost"])
        gone = self._sums.sift(plain, raw.lines, columns)
        if currency is not None:
            columns["currency"] = currency
        for column, text in self._constant.items():
            constant = pa.repeat(pa.scalar(text, pa.string()), n)
            there = columns.get(column)
            columns[column] = constant if there is None else pc.if_else(pc.equal(there, ""), constant, there)
        if self._tags:
            columns["url"] = _tagged(columns["url"], {tag: columns.pop(tag) for tag in self._tags})
        blank = pa.repeat(pa.scalar("", pa.string()), n)
        out = {name: columns.get(name, blank) for name in self.header.columns}
        out |= {f"extra {k}": raw.columns[f"extra {i}"] for k, i in enumerate(self._extra)}
        gone |= self._turned(out)
        lines = raw.lines
        if gone.any():
            keep = pa.array(~gone)
            out = {name: array.filter(keep) for name, array in out.items()}
            unread = [replace(one, rows=one.rows.filter(keep)) for one in unread]
            lines = lines[~gone]
        made = replace(raw, columns=out, typed={}, unread=unread, lines=lines, skipped=raw.skipped + int(gone.sum()))
        return self._by_day(made) if by_period else made

    def _codes(self, columns: Mapping[str, Any], unread: list[Unread]) -> Any:
        """The currency of each row: as a column says it, else as it stands beside its amounts."""
        money = [c for c in columns if self._kinds.get(c) in (Kind.AMOUNT, Kind.COST, Kind.PRICE)]
        there = columns.get("currency")
        out = there
        for column in sorted(money, key=lambda c: c != MONEY.get(self._source.table)):
            marks = marks_of(columns[column]).dictionary_encode()
            said = marks.dictionary.to_pylist()
            codes = [code_of(mark, self._signs) if mark else "" for mark in said]
            strange = [
                bool(mark) and not code and self._is_strange(mark) for mark, code in zip(said, codes, strict=True)
            ]
            if any(strange):
                rows = pa.array(strange, pa.bool_()).take(marks.indices)
                unread.append(Unread(column, rows, f"{self._source.name} does not say which currency its sign is"))
            if not any(codes):
                continue
            found = pa.array(codes, pa.string()).take(marks.indices)
            if out is None:
                out = found
                continue
            differ = pc.and_(
                pc.and_(pc.not_equal(found, ""), pc.not_equal(out, "")), pc.not_equal(found, pc.utf8_upper(out))
            )
            if pc.any(differ).as_py():
                unread.append(Unread(column, differ, "another currency than the rest of its row: say which one holds"))
            out = pc.if_else(pc.equal(out, ""), found, out)
        return out

    def _is_strange(self, mark: str) -> bool:
        """Whether a sign is none of those that the source says, nor one of its currency."""
        stated = self._constant.get("currency", "")
        if self._signs:
            return stated not in codes_by_sign().get(mark, ())
        return bool(stated) and stated not in codes_by_sign().get(mark, (stated,))

    def _turned(self, columns: dict[str, Any]) -> npt.NDArray[np.bool_]:
        """(n,) bool, rows that are none of the table, by the sign of their amounts: refunds among orders, and orders
        among refunds. Of refunds the sign is taken away."""
        worth, table = MONEY.get(self._source.table, ""), self._source.table
        some = np.zeros(len(next(iter(columns.values()))) if columns else 0, np.bool_)
        if not self._source.negative or worth not in columns:
            return some
        below = pc.and_(pc.starts_with(columns[worth], "-"), pc.match_substring_regex(columns[worth], "[1-9]"))
        negative: npt.NDArray[np.bool_] = below.to_numpy(zero_copy_only=False)
        if table == "refunds":
            columns[worth] = pc.utf8_ltrim(columns[worth], "-")
            return ~negative
        return negative

    def _by_day(self, raw: RawBatch) -> RawBatch:
        """Rows of weeks or months as rows of days."""
        code = self._constant.get("currency", "")
        digits = minor_digits(code) if is_currency(code) else 0
        adding = {"cost": digits, "claimed_value": digits, "claimed_conversions": 0, "clicks": 0, "impressions": 0}
        period, order = self._source.period, self._source.date

        def day(cell: str) -> tuple[date, int] | None:
            return first_day(cell, order, period)

        columns, lines, rows = spread(raw.columns, raw.lines, day, adding)
        index = pa.array(rows)
        unread = [replace(one, rows=one.rows.take(index)) for one in raw.unread]
        bad = pa.array([cell[4:5] != "-" or len(cell) != 10 for cell in columns["day"].to_pylist()], pa.bool_())
        if pc.any(bad).as_py():
            unread.append(Unread("day", bad, f"not a {period} as {self._source.name} writes it ({order})"))
        return replace(raw, columns=columns, lines=lines, unread=unread, spread=len(lines) - len(raw))

    def _emptied(self, text: Any) -> Any:
        """A column in which words for nothing are nothing."""
        if not self._source.nothing:
            return text
        words = pa.array([word.strip().lower() for word in self._source.nothing], pa.string())
        return pc.if_else(pc.is_in(pc.utf8_lower(text), words), pa.scalar("", pa.string()), text)

    def _made(self, column: str, keys: tuple[str, ...], plain: Mapping[str, Any]) -> Any:
        for split in self._source.split:
            if column in split.into:
                return self._emptied(_split(plain[keys[0]], split.by, split.into.index(column), len(split.into)))
        for join in self._source.join:
            if join.into == column:
                joined = pc.binary_join_element_wise(*(plain[key] for key in keys), pa.scalar(join.by))
                return (
                    pc.utf8_trim_whitespace(pc.utf8_trim(joined, join.by))
                    if join.by.strip()
                    else (pc.utf8_trim_whitespace(joined))
                )
        return plain[keys[0]]

    def _read(self, column: str, text: Any, typed: Any, unread: list[Unread]) -> Any:
        """A column's cells as they are written in here."""
        source, kind = self._source, self._kinds.get(column)
        if kind in (Kind.DAY, Kind.INSTANT):
            read, bad = dates_of(text, source.date, kind is Kind.DAY)
            reason = f"not a {'day' if kind is Kind.DAY else 'time'} as {source.name} writes it ({source.date})"
        elif kind in NUMBERS:
            code = ANY if self._reads_codes else self._constant.get("currency", "")
            read, bad = numbers_of(text, source.decimal, source.thousands, source.currency_signs, code)
            reason = f"not a number as {source.name} writes it (decimals after {source.decimal!r})"
        elif kind is Kind.ADDRESS and source.url_host:
            return _with_host(text, source.url_host)
        else:
            return text
        if typed is not None and pc.any(typed).as_py():
            # What was a number or a day in the file is one, whatever signs the source's texts have.
            read = pc.if_else(typed, pc.utf8_slice_codeunits(text, 0, 10) if kind is Kind.DAY else text, read)
            bad = pc.and_(bad, pc.invert(typed))
        if pc.any(bad).as_py():
            unread.append(Unread(column, bad, reason))
        return read


def _split(text: Any, by: str, at: int, parts: int) -> Any:
    """A part of each cell, each cell by itself: with blanks around what parts it where it has them, else without."""
    bare = by.strip()
    if not bare or by == bare == "":
        return _part(text, by, at, parts)
    wide = pc.match_substring(text, f" {bare} ")
    return pc.if_else(wide, _part(text, f" {bare} ", at, parts), _part(text, bare, at, parts))


def _part(text: Any, by: str, at: int, parts: int) -> Any:
    """A part of each cell; the last takes all that is left."""
    pieces = pc.split_pattern(text, pattern=by, max_splits=parts - 1)
    long_enough = pc.greater(pc.list_value_length(pieces), at)
    found = pc.list_element(pc.if_else(long_enough, pieces, pa.scalar([""] * parts, pa.list_(pa.string()))), at)
    return pc.utf8_trim_whitespace(found)


def _millionth(text: Any) -> Any:
    """Amounts, each a millionth of what it says."""
    coded = text.dictionary_encode()
    made = []
    for cell in coded.dictionary.to_pylist():
        try:
            made.append(f"{Decimal(cell).scaleb(-6):f}" if cell else cell)
        except InvalidOperation:
            made.append(cell)
    return pa.array(made, pa.string()).take(coded.indices)


def _replaced(text: Any, what: Replacement) -> Any:
    same = pc.equal(pc.utf8_lower(text), what.old.strip().lower())
    return pc.if_else(same, pa.scalar(what.new, pa.string()), text)


def _with_host(text: Any, host: str) -> Any:
    """Addresses whole: a path gets the host, a host its scheme."""
    base = (host if "://" in host else f"https://{host}").rstrip("/")
    join = pc.binary_join_element_wise
    is_path = pc.or_(pc.starts_with(text, "/"), pc.starts_with(text, "?"))
    is_host = pc.match_substring_regex(text, r"^[^/?#\s]+\.[^/?#\s.]+(?:[/?#]|$)")
    made = pc.if_else(
        is_path,
        join(pa.scalar(base), text, ""),
        pc.if_else(is_host, join(pa.scalar("https://"), text, ""), join(pa.scalar(f"{base}/"), text, "")),
    )
    whole = pc.or_(pc.match_substring_regex(text, _SCHEME), pc.equal(text, ""))
    return pc.if_else(whole, text, made)


def _tagged(url: Any, tags: Mapping[str, Any]) -> Any:
    """Addresses with tags from columns of their own, where they carry none of that name."""
    for name, values in tags.items():
        coded = values.dictionary_encode()
        quoted = [f"{name}={quote_plus(value)}" if value else "" for value in coded.dictionary.to_pylist()]
        wanted = pa.array(quoted, pa.string()).take(coded.indices)
        has = pc.or_(pc.equal(wanted, ""), pc.match_substring_regex(url, rf"(?i)[?&]{name}="))
        base, fragment = _part(url, "#", 0, 2), _part(url, "#", 1, 2)
        sign = pc.if_else(pc.match_substring(base, "?"), pa.scalar("&"), pa.scalar("?"))
        closed = pc.if_else(pc.equal(fragment, ""), pa.scalar(""), pc.binary_join_element_wise("#", fragment, ""))
        url = pc.if_else(has, url, pc.binary_join_element_wise(base, sign, wanted, closed, ""))
    return url
