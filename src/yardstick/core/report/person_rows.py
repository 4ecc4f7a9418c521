"""The rows of one person in the order of time, and what ties them together (R6)."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..base.columns import Flags, Ints
from ..base.identifiers import IDENTIFIER_KINDS, stated_identifier
from ..trails.people import KINDS
from .read_rows import ReadRows

TABLES = ("visits", "leads", "conversions")


@dataclass(frozen=True)
class PersonRows:
    """The rows of one person.

    Attributes
    ----------
    group, row : (n,) int64, which of `TABLES`, and the row of it, in the order of time
    identifiers : (kind, value), all that stand on these rows
    carried : (n, number of kinds) int64, position in `identifiers`, -1 for none
    shared : (number of identifiers,) bool, those that join nobody
    """

    group: Ints
    row: Ints
    identifiers: tuple[tuple[int, str], ...]
    carried: Ints
    shared: Flags

    def __len__(self) -> int:
        return len(self.row)

    @cached_property
    def together(self) -> list[tuple[int, tuple[int, ...]]]:
        """Identifiers that stand on one row and join people: the first such row, and they; in the order of time."""
        _, first = np.unique(self.carried, axis=0, return_index=True)
        out = []
        for at in sorted(first.tolist()):
            held = tuple(i for i in self.carried[at].tolist() if i >= 0 and not self.shared[i])
            out.append((at, held))
        return out


def person_of(read: ReadRows, group: int, row: int) -> int:
    """The person of a row of `TABLES[group]`."""
    return int(read.known.people.person[group][row])


def rows_of_person(read: ReadRows, person: int) -> PersonRows:
    """The rows of a person.

    Parameters
    ----------
    read : rows as read
    person : number of the person

    Notes
    -----
    A row that joins nobody is a person of its own, whose identifiers are not asked.
    """
    mine = [np.flatnonzero(persons == person) for persons in read.known.people.person]
    group = np.repeat(np.arange(len(mine)), [len(rows) for rows in mine])
    row = np.concatenate(mine)
    instants = (getattr(read.tables, name).ints("occurred_at")[rows] for name, rows in zip(TABLES, mine, strict=True))
    order = np.lexsort((row, group, np.concatenate(list(instants))))
    carried = np.full((len(row), len(KINDS)), -1, np.int64)
    identifiers: list[tuple[int, str]] = []
    for kind in range(len(KINDS)):
        values: dict[str, int] = {}
        start = 0
        for identified, rows in zip(read.identified, mine, strict=True):
            if kind in identified.columns:
                column = identified.columns[kind]
                joins = np.flatnonzero(identified.joins[rows])
                codes, at = np.unique(column.codes[rows[joins]], return_inverse=True)
                texts = [column.values[code] for code in codes.tolist()]
                numbers = [values.setdefault(text, len(identifiers) + len(values)) if text else -1 for text in texts]
                carried[start + joins, kind] = np.array(numbers, np.int64)[at.reshape(-1)]
            start += len(rows)
        identifiers += [(kind, value) for value in values]
    shared = {(KINDS.index(kind), value) for kind, value, _ in read.known.people.shared}
    return PersonRows(
        group[order],
        row[order],
        tuple(identifiers),
        carried[order],
        np.array([one in shared for one in identifiers], np.bool_),
    )


def joined_by(rows: PersonRows) -> tuple[list[int], dict[int, tuple[int, ...]]]:
    """By which row each identifier came to the person, and the rows that tied several together.

    Returns
    -------
    by : position of a row for each identifier: the one that tied it to those of the person's first row
    knots : by position of a row, the identifiers on it, where until then they were not all together
    """
    by = [-1] * len(rows.identifiers)
    knots: dict[int, tuple[int, ...]] = {}
    part = list(range(len(rows.identifiers)))
    members = {number: [number] for number in part}
    begun, main = next(((at, held[0]) for at, held in rows.together if held), (-1, -1))
    if main >= 0:
        by[main] = begun
    for at, held in rows.together:
        parts = sorted({part[number] for number in held})
        if len(parts) < 2:
            continue
        knots[at] = held
        kept = part[main] if part[main] in parts else max(parts, key=lambda one: len(members[one]))
        for gone in parts:
            if gone != kept:
                come = members.pop(gone)
                members[kept] += come
                for number in come:
                    part[number] = kept
                    if kept == part[main]:
                        by[number] = at
    for number in np.flatnonzero(rows.shared).tolist():
        by[number] = int((rows.carried == number).any(axis=1).argmax())
    return by, knots


def chain_between(read: ReadRows, first: str, second: str) -> tuple[PersonRows, list[int]] | None:
    """The fewest rows by which two identifiers are one person; None where they are none.

    Parameters
    ----------
    read : rows as read
    first, second : `kind:value`

    Returns
    -------
    The person's rows, and the positions of those that make the chain, from the first to the second
    """
    ends = [stated_identifier(first), stated_identifier(second)]
    persons = [_persons_with(read, *end) for end in ends]
    for person in sorted(persons[0] & persons[1]):
        rows = rows_of_person(read, person)
        begin, end = (rows.identifiers.index(one) for one in ends)
        came: dict[int, tuple[int, int]] = {begin: (-1, -1)}
        left = deque([begin])
        rows_with: dict[int, list[tuple[int, tuple[int, ...]]]] = {}
        for at, held in rows.together:
            for number in held:
                rows_with.setdefault(number, []).append((at, held))
        while left and end not in came:
            number = left.popleft()
            for at, held in rows_with.pop(number, ()):
                for other in held:
                    if other not in came:
                        came[other] = (number, at)
                        left.append(other)
        if end in came:
            chain = []
            while end != begin:
                end, at = came[end]
                chain.append(at)
            return rows, chain[::-1]
    return None


def _persons_with(read: ReadRows, kind: int, value: str) -> set[int]:
    found: set[int] = set()
    if any((KINDS[kind], value) == (known, text) for known, text, _ in read.known.people.shared):
        return found
    for identified, persons in zip(read.identified, read.known.people.person, strict=True):
        if kind in identified.columns:
            found.update(persons[identified.columns[kind].equals(value) & identified.joins].tolist())
    return found


def written(identifier: tuple[int, str]) -> str:
    """An identifier as settings write it.

    Examples
    --------
    >>> written((1, "desk@mail.example"))
    'email:desk@mail.example'
    """
    kind, value = identifier
    return f"{IDENTIFIER_KINDS[kind]}:{value}"
