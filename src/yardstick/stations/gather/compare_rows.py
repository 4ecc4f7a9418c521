"""Rows of a file held against those that stand, by their hashes."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from yardstick.formats.rows.intake import Counts, Intake
from yardstick.formats.rows.keyed import GROUPED, Keys, among, resolve_versions
from yardstick.store.snapshots import TableState


def compare(table: str, taken: Intake, state: TableState | None) -> int:
    """Say of every accepted row of a file whether it is new, replaces another, is unchanged or repeated.

    Parameters
    ----------
    table : name
    taken : the file; its counts are filled in
    state : the rows that stand, None if there are none

    Returns
    -------
    int
        Rows that stand and would not any more, without a row of their key in the file.
    """
    keys, counts = taken.keys, taken.counts
    one = np.ones(len(keys), np.int64)
    alone = resolve_versions(table, keys, one)
    counts.repeated = int(alone.repeated.sum())
    kept = alone.counts
    if state is None or not len(keys):
        first = alone.ordinal == 0
        if table in GROUPED:
            counts.new, counts.replaced = int(kept.sum()), 0
        else:
            counts.new, counts.replaced = int((kept & first).sum()), int((kept & ~first).sum())
        counts.unchanged = 0
        return 0
    standing = state.standing.counts
    there = state.keys if standing.all() else state.keys.take(standing)
    if table in GROUPED:
        return _compare_groups(keys, kept, there, counts)
    return _compare_ids(table, keys, kept, there, counts)


def _compare_ids(table: str, keys: Keys, kept: npt.NDArray[np.bool_], there: Keys, counts: Counts) -> int:
    known = among(there.key[:, 0], keys.key[:, 0])
    before = there.take(known)
    both = Keys.join([before, keys])
    number = np.concatenate([np.zeros(len(before), np.int64), np.ones(len(keys), np.int64)])
    found = resolve_versions(table, both, number)
    mine = slice(len(before), None)
    again = found.repeated[mine] & kept
    counts.unchanged = int(again.sum())
    first = found.ordinal[mine] == 0
    counts.new = int((kept & ~again & first).sum())
    counts.replaced = int((kept & ~again & ~first).sum())
    return 0


def _compare_groups(keys: Keys, kept: npt.NDArray[np.bool_], there: Keys, counts: Counts) -> int:
    """Whole groups are the same, replaced, or new."""
    groups, which = np.unique(np.concatenate([keys.group[kept], there.group]), return_inverse=True)
    mine, theirs = which[: int(kept.sum())], which[int(kept.sum()) :]
    size = len(groups)
    # A multiset of digests is told by its size and the sums of two of their words, modulo 2^64.
    sums = []
    for part, digest in ((mine, keys.digest[kept]), (theirs, there.digest)):
        one, two = np.zeros(size, np.uint64), np.zeros(size, np.uint64)
        np.add.at(one, part, digest[:, 0])
        np.add.at(two, part, digest[:, 1])
        sums.append((np.bincount(part, minlength=size), one, two))
    (rows, a, b), (rows_there, c, d) = sums
    same = (rows == rows_there) & (a == c) & (b == d)
    counts.unchanged = int(rows[same].sum())
    new = (rows_there == 0) & (rows > 0)
    counts.new = int(rows[new].sum())
    changed = (rows > 0) & ~same & ~new
    counts.replaced = int(rows[changed].sum())
    return int(np.maximum(rows_there - rows, 0)[changed].sum())
