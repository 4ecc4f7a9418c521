"""Legends (R3) and naming patterns: which role each value of a visit plays."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

import numpy as np

from ..base.columns import Ints
from ..base.errors import SettingsError
from ..base.words import fold, same_as
from ..plan.plan import Reading
from ..plan.records import Legend, Naming
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
        If a legend names an unknown role, gives one role to two fields, or a source has two legends from one day.
    """
    seen: set[tuple[str, date | None]] = set()
    same = same_as(reading.fold)
    for legend in reading.legends:
        where = f"legend {legend.source!r}"
        key = (same(legend.source), legend.since)
        if key in seen:
            raise SettingsError(f"{where}: two legends begin on one day: keep one of them")
        seen.add(key)
        taken: dict[str, str] = {}
        for field, role in legend.roles:
            if role not in ROLES and not (role.startswith(EXTRA) and role != EXTRA):
                known = ", ".join(ROLES)
                raise SettingsError(f"{where}: {field}: unknown role {role!r}; roles are {known}, or extra:NAME")
            if role in taken:
                raise SettingsError(f"{where}: {taken[role]} and {field} are both the {role}: choose one of them")
            taken[role] = field


class LegendBook:
    """The legends of a workspace, asked by source and day.

    Parameters
    ----------
    reading : legends, naming patterns, folding
    """

    def __init__(self, reading: Reading) -> None:
        self._same = same_as(reading.fold)
        self._namings = reading.namings
        self._by_source: dict[str, list[tuple[int, int]]] = {}
        self.legends: tuple[Legend | None, ...] = (None, *reading.legends)
        for number, legend in enumerate(reading.legends, 1):
            day = -(10**9) if legend.since is None else (legend.since - date(1970, 1, 1)).days
            self._by_source.setdefault(self._same(legend.source), []).append((day, number))
        for entries in self._by_source.values():
            entries.sort()

    def of_source(self, source: str) -> Sequence[tuple[int, int]]:
        """(first day since 1970, number of the legend) of a source, the earliest first; empty if it has none."""
        return self._by_source.get(self._same(source), ())

    def number_at(self, source: str, day: int) -> int:
        """Number of the legend that holds for a source on a day, 0 if none does."""
        return int(self.numbers_at(source, np.array([day]))[0])

    def numbers_at(self, source: str, days: Ints) -> Ints:
        """(n,) int64: number of the legend that holds for a source on each day, 0 where none does."""
        entries = self.of_source(source)
        if not entries:
            return np.zeros(len(days), np.int64)
        firsts = np.array([first for first, _ in entries])
        numbers = np.array([0, *(number for _, number in entries)])
        found: Ints = numbers[np.searchsorted(firsts, days, side="right")]
        return found

    def roles(self, values: Mapping[str, str], number: int) -> Roles:
        """The role of every value of one arrival.

        Parameters
        ----------
        values : by field (`core.tags.FIELDS`) or name of an extra value; one named like a field as `extra:NAME`
        number : of the legend, 0 = none

        Returns
        -------
        dict from role to value; fields that the legend names lose their default role, roles it fills their field
        """
        all_values = dict(values) | name_parts(values, self._namings)
        legend = self.legends[number]
        named = dict(legend.roles) if legend else {}
        given = {fold(field): role for field, role in named.items()}
        filled = set(named.values())
        out: Roles = {}
        for name, value in all_values.items():
            key = fold(name)
            if key in given:
                out[given[key]] = value
                continue
            role = DEFAULT_ROLE.get(name) if name in FIELDS else EXTRA + name.removeprefix(EXTRA)
            if role and role not in filled:
                out[role] = value
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
