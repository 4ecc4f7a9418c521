"""People (R6): rows that share an identifier belong to one person."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from ..base.columns import Codes, Flags, Ints, Text

KINDS = ("visitor id", "e-mail", "phone", "lead id", "click mark")
VISITOR, EMAIL, PHONE, LEAD, MARK = range(5)
MOST_TOGETHER = 50


@dataclass(frozen=True)
class Identified:
    """Rows and the identifiers on them.

    Attributes
    ----------
    joins : (n,) bool, rows that may join people (test, quarantined and rejected rows do not)
    columns : one text column per kind present, already normalised; empty = none
    """

    joins: Flags
    columns: dict[int, Text]


@dataclass(frozen=True)
class People:
    """Who each row belongs to.

    Attributes
    ----------
    person : one (n,) int64 array per group of rows given, numbers from 0 without gaps over all groups
    shared : identifiers that join nothing, as (kind, value, how many others they were seen with)
    """

    person: tuple[Ints, ...]
    shared: tuple[tuple[str, str, int], ...]


def find_people(groups: Sequence[Identified]) -> People:
    """Connected components of rows and identifiers (R6).

    Parameters
    ----------
    groups : the row groups (visits, leads, conversions), each with its identifiers

    Returns
    -------
    People

    Notes
    -----
    An identifier found together with more than 50 different others (click marks not counted) joins nothing.
    """
    sizes = [len(group.joins) for group in groups]
    starts = np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64)
    total = int(starts[-1])
    ids = np.full((len(KINDS), total), -1, np.int64)
    names: list[tuple[int, Sequence[str], int]] = []
    count = 0
    for kind in range(len(KINDS)):
        holders = [(i, g.columns[kind]) for i, g in enumerate(groups) if kind in g.columns]
        if not holders:
            continue
        joined = Text.join([column for _, column in holders])
        at = 0
        for i, column in holders:
            codes = joined.codes[at : at + len(column)]
            at += len(column)
            blank = np.array([not v for v in joined.values], np.bool_)
            use = groups[i].joins & ~blank[codes] if len(codes) else np.empty(0, np.bool_)
            ids[kind, starts[i] : starts[i + 1]] = np.where(use, codes.astype(np.int64) + count, -1)
        names.append((kind, joined.values, count))
        count += len(joined.values)
    if not count:
        return People(tuple(np.arange(starts[i], starts[i + 1]) for i in range(len(groups))), ())
    together = _others_seen(ids, count)
    barred = together > MOST_TOGETHER
    person = _components(ids, barred, total, count)
    return People(
        tuple(person[starts[i] : starts[i + 1]] for i in range(len(groups))), _shared(names, together, barred)
    )


def _others_seen(ids: Ints, count: int) -> Ints:
    """For each identifier, how many different others (no click marks) stand on rows together with it."""
    present = ids >= 0
    seen = np.zeros(count, np.int64)
    pairs = []
    for a in range(len(KINDS)):
        for b in range(MARK):
            both = present[a] & present[b] if a != b else None
            if both is not None and both.any():
                pairs.append(np.unique(ids[a][both] * count + ids[b][both]))
    if pairs:
        every = np.unique(np.concatenate(pairs))
        seen += np.bincount(every // count, minlength=count)
    return seen


def _components(ids: Ints, barred: Flags, total: int, count: int) -> Ints:
    kinds = [k for k in range(len(KINDS)) if (ids[k] >= 0).any()]
    if not kinds:
        return np.arange(total)
    if len(kinds) == 1 and not barred.any():
        # One kind of identifier only: people are its values, and rows without one stand alone.
        one = ids[kinds[0]]
        return _dense(np.where(one >= 0, one, count + np.arange(total)))
    rows, cols = [], []
    for kind in kinds:
        at = np.flatnonzero(ids[kind] >= 0)
        at = at[~barred[ids[kind][at]]]
        rows.append(at)
        cols.append(ids[kind][at] + total)
    r, c = np.concatenate(rows), np.concatenate(cols)
    graph = coo_array((np.ones(len(r), np.int8), (r, c)), shape=(total + count, total + count))
    labels: Codes = connected_components(graph, directed=False)[1]
    return _dense(labels[:total].astype(np.int64))


def _dense(labels: Ints) -> Ints:
    return np.unique(labels, return_inverse=True)[1].astype(np.int64).reshape(-1)


def _shared(
    names: list[tuple[int, Sequence[str], int]], together: Ints, barred: Flags
) -> tuple[tuple[str, str, int], ...]:
    out = []
    for code in np.flatnonzero(barred).tolist():
        kind, values, start = next(n for n in reversed(names) if n[2] <= code)
        out.append((KINDS[kind], values[code - start], int(together[code])))
    return tuple(sorted(out))
