"""By which identifiers people were joined (R6, R32)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints
from ..base.identifiers import IDENTIFIER_KINDS
from ..report.person_rows import TABLES
from ..report.weigh import Result
from ..trails.people import KINDS, Identifiers, identifiers_of, others_seen

MOST = 10
"""Persons and identifiers that are listed."""


@dataclass(frozen=True)
class JoinedBy:
    """People who were joined by the same kinds of identifiers.

    Attributes
    ----------
    kinds : of which an identifier stands on two rows or more; none = nothing joins them
    people, rows : how many
    """

    kinds: tuple[str, ...]
    people: int
    rows: int


@dataclass(frozen=True)
class LargePerson:
    """A person of many rows: how many, and of which table and row one of them is."""

    rows: int
    identifiers: int
    table: str
    row: int


@dataclass(frozen=True)
class WidelySeen:
    """An identifier that stands with many others.

    Attributes
    ----------
    kind, value : which it is
    others : how many different ones stand on rows with it, click marks not counted
    joins : whether it joins its rows; beyond R6's limit it does not
    table, row : the first row with it
    """

    kind: str
    value: str
    others: int
    joins: bool
    table: str
    row: int


@dataclass(frozen=True)
class PeopleJoined:
    """See the module's text; the most first."""

    by_kinds: tuple[JoinedBy, ...]
    largest: tuple[LargePerson, ...]
    widest: tuple[WidelySeen, ...]


def people_joined(result: Result) -> PeopleJoined:
    """By which identifiers people were joined, the largest persons, and the identifiers with most others.

    Parameters
    ----------
    result : a weighing; people are those of all days

    Notes
    -----
    Rows that join nobody (test and quarantined ones) are no people here.
    """
    read = result.prepared.read
    held = identifiers_of(read.identified)
    person = np.concatenate(read.known.people.person)
    joins = np.concatenate([one.joins for one in read.identified])
    shared = {(kind, value) for kind, value, _ in read.known.people.shared}
    count = len(held)
    uses = np.zeros(count + 1, np.int64)
    for row in held.ids:
        uses += np.bincount(np.where(row < 0, count, row), minlength=count + 1)
    barred = _barred(held, shared)
    people = int(person.max(initial=-1)) + 1
    mask, distinct = np.zeros(people, np.int64), np.zeros(people, np.int64)
    for kind, ids in enumerate(held.ids):
        mine = np.flatnonzero(ids >= 0)
        mine = mine[~barred[ids[mine]]]
        mask[person[mine[uses[ids[mine]] > 1]]] |= 1 << kind
        # An identifier is of one person: its first row stands for it.
        distinct += np.bincount(person[mine[np.unique(ids[mine], return_index=True)[1]]], minlength=people)
    rows = np.bincount(person[joins], minlength=people)
    there = rows > 0
    sets, which = np.unique(mask[there], return_inverse=True)
    number, size = np.bincount(which, minlength=len(sets)), np.zeros(len(sets), np.int64)
    np.add.at(size, which, rows[there])
    by_kinds = [
        JoinedBy(tuple(name for bit, name in enumerate(IDENTIFIER_KINDS) if said >> bit & 1), n, r)
        for said, n, r in zip(sets.tolist(), number.tolist(), size.tolist(), strict=True)
    ]
    return PeopleJoined(
        tuple(sorted(by_kinds, key=lambda one: (-one.people, one.kinds))),
        _largest(held, person, joins, rows, distinct),
        _widest(held, barred),
    )


def _barred(held: Identifiers, shared: set[tuple[str, str]]) -> Flags:
    out = np.zeros(len(held), np.bool_)
    for kind, values, start in held.names:
        mine = {value for name, value in shared if name == KINDS[kind]}
        if mine:
            out[start : start + len(values)] = [value in mine for value in values]
    return out


def _place(held: Identifiers, row: int) -> tuple[str, int]:
    group = int(np.searchsorted(held.starts, row, side="right")) - 1
    return TABLES[group], row - int(held.starts[group])


def _largest(held: Identifiers, person: Ints, joins: Flags, rows: Ints, distinct: Ints) -> tuple[LargePerson, ...]:
    many = np.flatnonzero(rows > 1)
    most = many[np.lexsort((many, -rows[many]))][:MOST]
    out = []
    for who in most.tolist():
        first = int(np.flatnonzero((person == who) & joins)[0])
        out.append(LargePerson(int(rows[who]), int(distinct[who]), *_place(held, first)))
    return tuple(out)


def _widest(held: Identifiers, barred: Flags) -> tuple[WidelySeen, ...]:
    others = others_seen(held.ids, len(held), 1) if len(held) else np.zeros(0, np.int64)
    wide = np.flatnonzero(others > 1)
    most = wide[np.lexsort((wide, -others[wide]))][:MOST]
    out = []
    for code in most.tolist():
        kind, value = held.name(code)
        row = int(np.flatnonzero(held.ids[kind] == code)[0])
        seen = (IDENTIFIER_KINDS[kind], value, int(others[code]), not bool(barred[code]))
        out.append(WidelySeen(*seen, *_place(held, row)))
    return tuple(out)
