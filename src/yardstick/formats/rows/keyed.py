"""Which rows replace each other, which are equal, and what the rows of a state add up to (R18, R20, R27).

Every row has a key (rows with one key are versions of one thing), a digest of its table, typed cells and kept further
columns, and, where a later load replaces whole days, a group. All are hashes: the rules about rows are worked out on
columns of numbers.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.schema import ROW_ID, SCHEMA, Kind
from yardstick.core.base.words import fold
from yardstick.core.costs.levels import LEVELS

from ..cells.row_hashes import Words, hash_of
from ..files.raw import Header
from .columns import TypedBatch, blank

GROUPED = ("spend", "other_costs")
"""Tables of which a later load replaces whole groups: days of an account, costs of one name."""
KEYED_BY = {
    "rates": ("day", "base", "quote"),
    "statuses": ("record_id", "occurred_at"),
    "deal_contacts": ("deal_id", "lead_id", "email"),
    "order_lines": ("conversion_id", "line_number"),
    "invoices": ("platform", "account", "month"),
    "ads": ("platform", "account", "campaign", "ad_group", "ad"),
}
"""Columns that together are the key of a row, in tables without an id or a group."""
NAMED = ("invoices", "ads")
"""Tables keyed by names, of which two spellings with one fold are one (R2)."""
DIGEST_BYTES = 32
BLOCK = 1 << 20


@dataclass(frozen=True)
class Keys:
    """Hashes of rows.

    Attributes
    ----------
    key : (n, 2) uint64
    group : (n,) uint64, 0 in tables without groups
    digest : (n, 4) uint64, SHA-256
    """

    key: Words
    group: Words
    digest: Words

    def __len__(self) -> int:
        return len(self.key)

    def take(self, rows: npt.NDArray[np.bool_]) -> Keys:
        """The rows where a mask holds."""
        return Keys(self.key[rows], self.group[rows], self.digest[rows])

    @staticmethod
    def empty(n: int) -> Keys:
        """Room for n rows."""
        return Keys(np.zeros((n, 2), np.uint64), np.zeros(n, np.uint64), np.zeros((n, 4), np.uint64))

    @staticmethod
    def join(parts: Sequence[Keys]) -> Keys:
        """Rows end to end."""
        return parts[0] if len(parts) == 1 else Keys.gathered(list(parts))

    @staticmethod
    def gathered(parts: list[Keys]) -> Keys:
        """Rows end to end, each piece let go of once it is in its place: memory for all of them is taken once."""
        out = Keys.empty(sum(len(part) for part in parts))
        start = 0
        parts.reverse()
        while parts:
            part = parts.pop()
            stop = start + len(part)
            out.key[start:stop], out.digest[start:stop] = part.key, part.digest
            if part.group.any():
                out.group[start:stop] = part.group
            start = stop
        return out


class KeyRows:
    """Hashes of rows as they come, in blocks so large that each is given back to the system once it is let go of."""

    def __init__(self) -> None:
        self._blocks: list[Keys] = []
        self._used = BLOCK

    def add(self, keys: Keys) -> None:
        """Append rows."""
        start = 0
        while start < len(keys):
            if self._used == BLOCK:
                self._blocks.append(Keys.empty(BLOCK))
                self._used = 0
            count = min(BLOCK - self._used, len(keys) - start)
            here, there = slice(self._used, self._used + count), slice(start, start + count)
            block = self._blocks[-1]
            block.key[here], block.digest[here] = keys.key[there], keys.digest[there]
            if keys.group.any():
                block.group[here] = keys.group[there]
            self._used, start = self._used + count, start + count

    def all(self) -> Keys:
        """All of them, end to end; they are kept here no longer."""
        blocks, self._blocks = self._blocks, []
        if blocks:
            last = blocks[-1]
            blocks[-1] = Keys(last.key[: self._used], last.group[: self._used], last.digest[: self._used])
        self._used = BLOCK
        return Keys.gathered(blocks) if len(blocks) != 1 else blocks[0]


def keys_of(table: str, batch: TypedBatch, detail_columns: str, *, known: bool = False) -> Keys:
    """The hashes of a batch.

    Parameters
    ----------
    table : name
    batch : typed rows
    detail_columns : see `detail_columns_of`; files that differ in it stand side by side
    known : leave the keys of rows with an id at 0: whoever has all rows at hand tells ids apart without hashes

    Returns
    -------
    Keys
    """
    columns = batch.columns
    written = [WRITTEN_EMPTY[c.kind] if c.name in batch.absent else _written(columns[c.name]) for c in SCHEMA[table]]
    digest = hash_of([table, *written, batch.extra], "sha256", DIGEST_BYTES)
    group = np.zeros(len(batch), np.uint64)
    if table in ROW_ID and known:
        key = np.zeros((len(batch), 2), np.uint64)
    elif table in ROW_ID:
        key = hash_of([columns[ROW_ID[table]]], "blake2b", 16)
    elif table == "spend":
        day, rest = _written(columns["day"]), [_folded(columns[n]) for n in ("platform", "account")]
        named = _folded(columns["campaign_id"])
        by_id = pc.binary_join_element_wise("id", named, " ")
        name = pc.if_else(pc.equal(named, ""), _folded(columns["campaign"]), by_id)
        key = hash_of([day, *rest, name, *(_folded(columns[n]) for n in LEVELS)], "blake2b", 16)
        group = hash_of([day, *rest, pa.repeat(pa.scalar(detail_columns), len(batch))], "blake2b", 8)[:, 0]
    elif table == "other_costs":
        parts = [_written(columns[n]) for n in ("from", "to")] + [_folded(columns[n]) for n in ("campaign", "kind")]
        key = hash_of(parts, "blake2b", 16)
        group = key[:, 0].copy()
    else:
        key = hash_of([(_named if table in NAMED else _written)(columns[n]) for n in KEYED_BY[table]], "blake2b", 16)
    return Keys(key, group, digest)


def detail_columns_of(header: Header) -> str:
    """What sets a file's days apart from those of others: its source, without one which of the finer columns it has."""
    return f"source {header.source}" if header.source else " ".join(n for n in LEVELS if n in header.columns)


def _written(array: Any) -> Any:
    return array if pa.types.is_string(array.type) else pc.cast(array, pa.string())


WRITTEN_EMPTY = {kind: _written(blank(kind, 1))[0].as_py() for kind in Kind}
"""An empty cell of each kind as it goes into a digest."""


def _named(array: Any) -> Any:
    return _folded(array) if pa.types.is_string(array.type) else _written(array)


def _folded(array: Any) -> Any:
    coded = array.dictionary_encode()
    return pa.array([fold(v) for v in coded.dictionary.to_pylist()], pa.string()).take(coded.indices)


@dataclass(frozen=True)
class ResolvedRows:
    """What becomes of the rows of one table, in the order in which they were given.

    Attributes
    ----------
    counts : (n,) bool, rows that go into the rules
    repeated : (n,) bool, rows left out because they are equal to the row before of their key, or in a table without ids
        to another of their load
    ordinal : (n,) int64, which of the rows of its key that are not repeated each row is
    """

    counts: npt.NDArray[np.bool_]
    repeated: npt.NDArray[np.bool_]
    ordinal: npt.NDArray[np.int64]

    @property
    def given(self) -> npt.NDArray[np.bool_]:
        """(n,) bool, rows that count or are equal to one that does."""
        both: npt.NDArray[np.bool_] = self.counts | self.repeated
        return both

    def followed_by(self, n: int) -> ResolvedRows:
        """The same rows, then n whose keys are all new."""
        more = all_stand(n)
        pairs = ((getattr(self, f.name), getattr(more, f.name)) for f in fields(self))
        return ResolvedRows(*(np.concatenate(pair) for pair in pairs))


def resolve_versions(table: str, keys: Keys, load: npt.NDArray[np.int64]) -> ResolvedRows:
    """Which rows stand.

    Parameters
    ----------
    table : name
    keys : of all rows that were given and not undone, by load, file, line
    load : (n,) int64, ascending, number of the load each row came with; files given together are one
    """
    n = len(keys)
    if table not in GROUPED and _all_different(keys.key[:, 0]):
        return all_stand(n)
    alive = np.ones(n, np.bool_)
    if table in GROUPED and n:
        _, group = np.unique(keys.group, return_inverse=True)
        latest = np.zeros(int(group.max()) + 1, np.int64)
        np.maximum.at(latest, group, load)
        alive = load == latest[group]
    repeated = np.zeros(n, np.bool_)
    rows = np.flatnonzero(alive)
    order = rows[np.lexsort((rows, keys.key[rows, 1], keys.key[rows, 0]))]
    fresh = np.ones(len(order), np.bool_)
    fresh[1:] = (keys.key[order][1:] != keys.key[order][:-1]).any(axis=1)
    if table in GROUPED:
        # Equal to any other row of its key, not only to the one before: rows of one key add up in any order.
        by_digest = order[np.lexsort((order, *(keys.digest[order, i] for i in range(4)), np.cumsum(fresh)))]
        again = np.zeros(len(order), np.bool_)
        again[1:] = _same(keys, by_digest)
        repeated[by_digest[again]] = True
    else:
        again = np.zeros(len(order), np.bool_)
        again[1:] = _same(keys, order)
        repeated[order[again]] = True
    kept = ~repeated[order]
    number = np.cumsum(kept) - 1
    starts = np.maximum.accumulate(np.where(fresh, np.arange(len(order)), 0))
    before = np.concatenate([[0], np.cumsum(kept)])[starts]
    ordinal = np.zeros(n, np.int64)
    ordinal[order] = number - before
    return ResolvedRows(alive & ~repeated, repeated, ordinal)


def all_stand(n: int) -> ResolvedRows:
    """What becomes of rows whose keys all differ."""
    return ResolvedRows(np.ones(n, np.bool_), np.zeros(n, np.bool_), np.zeros(n, np.int64))


def all_new(there: Keys, more: Keys) -> bool:
    """Whether keys all differ from each other and from those there; two that share 64 bits may pass for equal."""
    return _all_different(more.key[:, 0]) and not bool(among(there.key[:, 0], more.key[:, 0]).any())


def among(there: Words, few: Words) -> npt.NDArray[np.bool_]:
    """(n,) bool: which hashes are among a few others."""
    # A bit for each of their beginnings turns nearly all away at once.
    bits = max(16, 4 + len(few).bit_length())
    shift = np.uint64(64 - bits)
    begins = np.zeros(1 << bits, np.bool_)
    begins[few >> shift] = True
    found: npt.NDArray[np.bool_] = begins[there >> shift]
    rows = np.flatnonzero(found)
    found[rows] = np.isin(there[rows], few)
    return found


def _all_different(key: Words) -> bool:
    ordered = np.sort(key)
    return not bool((ordered[1:] == ordered[:-1]).any())


def _same(keys: Keys, order: npt.NDArray[np.int64]) -> npt.NDArray[np.bool_]:
    same: npt.NDArray[np.bool_] = (keys.key[order][1:] == keys.key[order][:-1]).all(axis=1)
    same &= (keys.digest[order][1:] == keys.digest[order][:-1]).all(axis=1)
    return same


def contributed(digest: Words, ordinal: npt.NDArray[np.int64]) -> Words:
    """(n, 4) uint64: what each row contributes to a fingerprint (R27).

    That is its digest where it is the first of its key, else a hash of its digest and its ordinal.
    """
    content = np.ascontiguousarray(digest)
    later = np.flatnonzero(ordinal > 0)
    if len(later):
        content = content.copy()
        for row in later.tolist():
            said = content[row].tobytes() + int(ordinal[row]).to_bytes(8, "little")
            content[row] = np.frombuffer(hashlib.sha256(said).digest(), np.uint64)
    return content


def sum_of(content: Words) -> int:
    """The sum modulo 2^256 of what rows contribute to a fingerprint, whatever their order (R27)."""
    halves = content.view(np.uint32).reshape(len(content), 8)
    # Sums of 2^32 numbers of 32 bits each still fit 64.
    sums = halves.sum(axis=0, dtype=np.uint64)
    return sum(int(part) << (32 * i) for i, part in enumerate(sums.tolist())) % 2**256
