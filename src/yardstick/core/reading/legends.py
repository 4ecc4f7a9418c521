"""Legends (R3) and naming patterns: which role each value of a visit plays."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

import numpy as np

from ..base.columns import Ints
from ..base.errors import SettingsError
from ..base.words import fold
from ..plan.reading_phase import Legend, Naming, Reading
from .asking import MARK, PARAMETER, REFERRER, ArrivalTest, Seen, sameness, test_of
from .tags import EXTRA, FIELDS, beside_fields

ROLES = ("channel", "source", "medium", "campaign", "group", "ad", "keyword", "placement", "item", "audience")
"""Roles a field can carry, besides `extra:NAME`."""
DEFAULT_ROLE = {"source": "source", "medium": "medium", "campaign": "campaign", "term": "keyword", "content": "ad"}

Roles = dict[str, str]
"""Role -> value; a role that is missing is empty."""


def check_legends(reading: Reading) -> None:
    """See that every legend can be applied.

    Raises
    ------
    SettingsError
        If a legend names an unknown role or condition, gives one role to two fields, or two with equal conditions begin
        on one day.
    """
    seen: set[tuple[object, date | None]] = set()
    for legend in reading.legends:
        where = called(legend)
        for stated in legend.when:
            test_of(where, stated, reading.fold)
        key = (sameness(legend.when, reading.fold), legend.since)
        if key in seen:
            raise SettingsError(f"{where}: two legends begin on one day: keep one of them")
        seen.add(key)
        if legend.since and legend.until and legend.until < legend.since:
            raise SettingsError(f"{where}: until is before from: swap them")
        for field, _ in legend.roles:
            if not _is_key(field, reading):
                raise SettingsError(
                    f"{where}: {field!r} is nothing that an arrival has: name a field (utm_source, term...), another "
                    "utm_ tag, a name of extra_values or tag_parameters, or parameter:NAME"
                )
        taken: dict[str, str] = {}
        for field, role in (*legend.roles, *(("a fixed text", role) for role, _ in legend.fixed)):
            if role not in ROLES and not (role.startswith(EXTRA) and role != EXTRA):
                known = ", ".join(ROLES)
                raise SettingsError(f"{where}: {field}: unknown role {role!r}; roles are {known}, or extra:NAME")
            if role in taken:
                raise SettingsError(f"{where}: {taken[role]} and {field} are both the {role}: choose one of them")
            taken[role] = field


def _is_key(field: str, reading: Reading) -> bool:
    """Whether a legend can say what a name carries (R3)."""
    name = fold(field)
    if name in FIELDS or name.startswith("utm_") or (name.startswith(PARAMETER) and name != PARAMETER):
        return True
    own = {fold(known) for known in (*reading.extra_values, *reading.tag_parameters)}
    own |= {fold(part) for naming in reading.namings for part in naming.parts}
    return name.removeprefix(EXTRA) in own


def called(legend: Legend) -> str:
    """A legend as messages name it."""
    if not legend.when:
        return "legend for every arrival"
    said = [" ".join(part for part in (c.field, c.op, " | ".join(c.values)) if part) for c in legend.when]
    return f"legend for {' and '.join(said)}"


class LegendBook:
    """The legends of a workspace, asked by arrival and day.

    Parameters
    ----------
    reading : legends, naming patterns, folding

    Notes
    -----
    Legends with equal conditions are versions of one *lot*, which stands at the place of its first version.
    """

    def __init__(self, reading: Reading) -> None:
        self._namings = reading.namings
        self.legends: tuple[Legend | None, ...] = (None, *reading.legends)
        lots: dict[object, list[tuple[int, int, int]]] = {}
        tests: list[list[ArrivalTest]] = []
        for number, legend in enumerate(reading.legends, 1):
            key = sameness(legend.when, reading.fold)
            if key not in lots:
                lots[key] = []
                tests.append([test_of(called(legend), stated, reading.fold) for stated in legend.when])
            day = -(10**9) if legend.since is None else (legend.since - date(1970, 1, 1)).days
            last = 10**9 if legend.until is None else (legend.until - date(1970, 1, 1)).days
            lots[key].append((day, number, last))
        self._tests = tests
        self._versions = []
        for versions in lots.values():
            # Of two that begin on one day the first written holds.
            ordered = sorted(versions, key=lambda v: (v[0], -v[1]))
            firsts, numbers = np.array([day for day, *_ in ordered]), np.array([0, *(n for _, n, _ in ordered)])
            self._versions.append((firsts, numbers, np.array([0, *(last for *_, last in ordered)])))
        asked = {key for legend in reading.legends for key, *_ in sameness(legend.when, reading.fold)}
        self.looks_beyond_the_address = bool(asked & {REFERRER, MARK})
        """Whether any of them looks at what the address alone does not say."""

    def fitting(self, many: Sequence[Seen]) -> list[tuple[int, ...]]:
        """Lots whose conditions hold for each of several arrivals, in order."""
        for tests in self._tests:
            for test in tests:
                test.learn(many)
        return [
            tuple(lot for lot, tests in enumerate(self._tests) if all(holds(seen) for holds in tests)) for seen in many
        ]

    def numbers_at(self, fitting: Sequence[int], days: Ints) -> Ints:
        """(n,) int64: number of the legend that holds on each day for arrivals that fit lots; 0 where none does."""
        found = np.zeros(len(days), np.int64)
        for lot in fitting:
            firsts, numbers, lasts = self._versions[lot]
            at = np.searchsorted(firsts, days, side="right")
            # What has ended leaves the day to the legends after it.
            found = np.where(found == 0, np.where(days <= lasts[at], numbers[at], 0), found)
        return found

    def numbers_of(self, fitting: Sequence[tuple[int, ...]], which: Ints, days: Ints) -> Ints:
        """(n,) int64: number of the legend that holds for each row, 0 where none does.

        Parameters
        ----------
        fitting : lots that fit each kind of row
        which : (n,) int64, the kind of each row
        days : (n,) int64, its day

        Notes
        -----
        Kinds that fit the same lots are one, so that rows are gone through once per such set and not once per kind.
        """
        sets: dict[tuple[int, ...], int] = {}
        of_kind = np.array([sets.setdefault(lots, len(sets)) for lots in fitting] or [0], np.int64)
        of_row = of_kind[which] if len(which) else np.empty(0, np.int64)
        out = np.zeros(len(days), np.int64)
        for lots, number in sets.items():
            if lots:
                mine = np.flatnonzero(of_row == number)
                out[mine] = self.numbers_at(lots, days[mine])
        return out

    def read_alike(self, one: int, other: int) -> bool:
        """Whether two legends give the same roles."""
        said = [self.legends[number] for number in (one, other)]
        return len({(frozenset(s.roles), frozenset(s.fixed)) for s in said if s is not None}) <= 1

    def roles(
        self,
        values: Mapping[str, str],
        number: int,
        has_parameters: bool = True,
        stated: Sequence[tuple[str, str]] = (),
    ) -> Roles:
        """The role of every value of one arrival.

        Parameters
        ----------
        values : by field (`core.tags.FIELDS`) or name of an extra value; one named like a field as `extra:NAME`
        number : of the legend, 0 = none
        has_parameters : whether it came by an address; captured sets and spend rows have none, and a role that would be
            filled from one keeps its default field
        stated : (folded name, value) of parameters that legends read by `parameter:NAME`

        Returns
        -------
        dict from role to value; fields that the legend names lose their default role, roles it fills their field
        """
        parts = name_parts(values, self._namings)
        legend = self.legends[number]
        there = {fold(name) for name in (*FIELDS, *parts)}
        roles = [(fold(field), role) for field, role in (legend.roles if legend else ())]
        asked = {field for field, _ in roles}
        read = {f"{PARAMETER}{name}": value for name, value in stated}
        all_values = dict(values) | parts | {name: value for name, value in read.items() if name in asked}
        roles = [
            (field if fold(field.removeprefix(EXTRA)) in FIELDS else field.removeprefix(EXTRA), r) for field, r in roles
        ]
        given = {field: role for field, role in roles if has_parameters or field in there}
        fixed = dict(legend.fixed) if legend else {}
        filled = {*given.values(), *fixed}
        out: Roles = {}
        for name, value in all_values.items():
            key = fold(name)
            if key in given:
                out[given[key]] = value
                continue
            role = DEFAULT_ROLE.get(name) if name in FIELDS else EXTRA + name.removeprefix(EXTRA)
            if role and role not in filled:
                out[role] = value
        out |= fixed
        # Only an id that still has its own meaning finds a campaign (R19).
        out["id"] = "" if "id" in given else values.get("id", "")
        return out


def name_parts(values: Mapping[str, str], namings: Sequence[Naming]) -> dict[str, str]:
    """The parts of values that follow a naming pattern, as values of their own.

    A value with another number of parts has none.
    """
    out: dict[str, str] = {}
    for naming in namings:
        pieces = values.get(naming.field, "").split(naming.separator)
        if len(pieces) == len(naming.parts):
            for part, piece in zip(naming.parts, pieces, strict=True):
                out.setdefault(beside_fields(part), piece.strip())
    return out
