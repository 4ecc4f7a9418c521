"""A file read as its source says: whatever it looks like, what comes out is a table with our names and plain cells.

A cell that cannot be read as the source says stays as it came, and its row is rejected with the reason.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Any
from urllib.parse import quote_plus

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.tables import ROW_ID, SCHEMA, Kind
from yardstick.core.base.words import fold
from yardstick.core.plan.source_records import TAG_COLUMNS, Replacement, Source

from .dates_in import dates_of
from .numbers_in import numbers_of
from .raw import FileProblem, Header, Laid, RawBatch, TableFile, Unread, rejected_digest

NUMBERS = (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE, Kind.COUNT)
_SCHEME = r"^[A-Za-z][A-Za-z0-9+.-]*://"


def laid_of(source: Source) -> Laid:
    """How the files of a source are laid out."""
    return Laid(source.encoding, source.delimiter, source.sheet, source.skip_top)


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
                f"found {', '.join(names)[:200]}: has it another name now?"
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
        columns = tuple(c.name for c in SCHEMA[source.table] if c.name in filled)
        extra = tuple(names[i] for i in self._extra)
        self.header = Header(source.table, file, columns, extra, source.name, made, self._id_of(names) if made else ())

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
            raise FileProblem(
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
        for column, keys in self._comes_from.items():
            typed = raw.typed.get(keys[0]) if len(keys) == 1 else None
            columns[column] = self._read(column, columns[column], typed, unread)
        for column, text in self._constant.items():
            constant = pa.repeat(pa.scalar(text, pa.string()), n)
            there = columns.get(column)
            columns[column] = constant if there is None else pc.if_else(pc.equal(there, ""), constant, there)
        if self._tags:
            columns["url"] = _tagged(columns["url"], {tag: columns.pop(tag) for tag in self._tags})
        blank = pa.repeat(pa.scalar("", pa.string()), n)
        out = {name: columns.get(name, blank) for name in self.header.columns}
        out |= {f"extra {k}": raw.columns[f"extra {i}"] for k, i in enumerate(self._extra)}
        return replace(raw, columns=out, typed={}, unread=unread)

    def _emptied(self, text: Any) -> Any:
        """A column in which words for nothing are nothing."""
        if not self._source.nothing:
            return text
        words = pa.array([word.strip().lower() for word in self._source.nothing], pa.string())
        return pc.if_else(pc.is_in(pc.utf8_lower(text), words), pa.scalar("", pa.string()), text)

    def _made(self, column: str, keys: tuple[str, ...], plain: Mapping[str, Any]) -> Any:
        for split in self._source.split:
            if column in split.into:
                return _part(plain[keys[0]], split.by, split.into.index(column), len(split.into))
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
            read, bad = numbers_of(
                text, source.decimal, source.thousands, source.currency_signs, self._constant.get("currency", "")
            )
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


def _part(text: Any, by: str, at: int, parts: int) -> Any:
    """A part of each cell; the last takes all that is left."""
    pieces = pc.split_pattern(text, pattern=by, max_splits=parts - 1)
    long_enough = pc.greater(pc.list_value_length(pieces), at)
    found = pc.list_element(pc.if_else(long_enough, pieces, pa.scalar([""] * parts, pa.list_(pa.string()))), at)
    return pc.utf8_trim_whitespace(found)


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
