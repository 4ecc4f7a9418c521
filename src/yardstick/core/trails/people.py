"""People (R6): rows that share an identifier belong to one person."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.identifiers import MARK
from .components import least_of_component

KINDS = ("visitor id", "e-mail", "phone", "lead id", "click mark")
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


@dataclass(frozen=True)
class Identifiers:
    """The identifiers of all groups of rows under common numbers.

    Attributes
    ----------
    ids : (kinds, rows) int64, the number of the identifier of each kind on each row that joins; -1 = none
    starts : (groups + 1,) int64, where the rows of each group begin
    names : of each kind that is there: its number, its values, and the number of the first
    """

    ids: Ints
    starts: Ints
    names: tuple[tuple[int, Sequence[str], int], ...]

    def __len__(self) -> int:
        return sum(len(values) for _, values, _ in self.names)

    def name(self, code: int) -> tuple[int, str]:
        """The kind and value of an identifier."""
        kind, values, start = next(n for n in reversed(self.names) if n[2] <= code)
        return kind, values[code - start]


def identifiers_of(groups: Sequence[Identified]) -> Identifiers:
    """Number the identifiers on rows; see `find_people`."""
    sizes = [len(group.joins) for group in groups]
    starts = np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64)
    ids = np.full((len(KINDS), int(starts[-1])), -1, np.int64)
    names: list[tuple[int, Sequence[str], int]] = []
    count = 0
    for kind in range(len(KINDS)):
        holders = [(i, g.columns[kind]) for i, g in enumerate(groups) if kind in g.columns]
        if not holders:
            continue
        joined = Text.join([column for _, column in holders])
        filled, at = joined.filled(), 0
        for i, column in holders:
            codes = joined.codes[at : at + len(column)]
            use = groups[i].joins & filled[at : at + len(column)]
            at += len(column)
            ids[kind, starts[i] : starts[i + 1]] = np.where(use, codes.astype(np.int64) + count, -1)
        names.append((kind, joined.values, count))
        count += len(joined.values)
    return Identifiers(ids, starts, tuple(names))


def find_people(groups: Sequence[Identified], limit: int = MOST_TOGETHER) -> People:
    """Connected components of rows and identifiers (R6).

    Parameters
    ----------
    groups : the row groups (visits, leads, conversions), each with its identifiers
    limit : more others than that on rows with an identifier, and it joins nothing

    Returns
    -------
    People

    Notes
    -----
    An identifier found together with more different others than the limit (click marks not counted) joins nothing.
    """
    held = identifiers_of(groups)
    ids, starts, count = held.ids, held.starts, len(held)
    total = int(starts[-1])
    if not count:
        return People(tuple(np.arange(starts[i], starts[i + 1]) for i in range(len(groups))), ())
    together = others_seen(ids, count, limit)
    barred = together > limit
    person = _components(ids, barred, total, count)
    return People(tuple(person[starts[i] : starts[i + 1]] for i in range(len(groups))), _shared(held, together, barred))


def others_seen(ids: Ints, count: int, limit: int) -> Ints:
    """(count,) int64: how many different others (no click marks) stand on rows together with each identifier.

    Parameters
    ----------
    ids, count : see `Identifiers`
    limit : it is said of those alone that may have more; 0 of all others
    """
    present = ids >= 0
    kinds = [(a, b, present[a] & present[b]) for a in range(len(KINDS)) for b in range(MARK) if a != b]
    # An identifier has at most as many others as rows with one.
    most = np.zeros(count, np.int64)
    for a, _, both in kinds:
        most += np.bincount(ids[a][both], minlength=count)
    many = most > limit
    pairs = [
        np.unique(ids[a][asked] * count + ids[b][asked])
        for a, b, both in (kinds if many.any() else ())
        if (asked := both & many[ids[a]]).any()
    ]
    if not pairs:
        return np.zeros(count, np.int64)
    return np.bincount(np.concatenate(pairs) // count, minlength=count)


def _components(ids: Ints, barred: Flags, total: int, count: int) -> Ints:
    """(total,) int64, the person of each row.

    Only identifiers that stand on several rows join any; each row points to the first such it has, and to its own
    number where it has none.
    """
    rows_with = np.zeros(count + 1, np.int64)
    for kind in ids:
        rows_with += np.bincount(kind[kind >= 0], minlength=count + 1)
    joins = np.append((rows_with[:count] > 1) & ~barred, False)
    first = np.full(total, -1, np.int64)
    edges = []
    for kind in ids:
        use = joins[kind]
        other = use & (first >= 0)
        if other.any():
            edges.append(np.stack([first[other], kind[other]]))
        first = np.where(use & (first < 0), kind, first)
    of_id = np.arange(count, dtype=np.int64)
    if edges:
        a, b = np.concatenate(edges, axis=1)
        of_id = least_of_component(a, b, count)
    return _dense(np.where(first >= 0, of_id[first], count + np.arange(total)), count + total)


def _dense(labels: Ints, size: int) -> Ints:
    used = np.zeros(size, np.bool_)
    used[labels] = True
    return (np.cumsum(used) - 1)[labels]


def _shared(held: Identifiers, together: Ints, barred: Flags) -> tuple[tuple[str, str, int], ...]:
    out = []
    for code in np.flatnonzero(barred).tolist():
        kind, value = held.name(code)
        out.append((KINDS[kind], value, int(together[code])))
    return tuple(sorted(out))
