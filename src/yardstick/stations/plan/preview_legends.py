"""What a legend would do to its source's real visits, before it is kept, and where it contradicts what is known."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from yardstick.core.base.days import local_days
from yardstick.core.base.tables import Tables
from yardstick.core.plan.plan import Plan
from yardstick.core.plan.reading_phase import Reading
from yardstick.core.reading.arrivals import read_arrivals
from yardstick.core.reading.legends import LegendBook
from yardstick.core.reading.roles import legends_of_visits

from ..workspace.desk import Desk
from .preview_plan import COLUMN_LEVEL, rows_and_plan

MOST_VALUES = 8
KNOWN_ROLES = ("campaign", *COLUMN_LEVEL.values(), "item", "audience")
"""Roles whose values the plan or spend files may know as something else."""


@dataclass(frozen=True)
class ValueCount:
    """A value and how many visits carry it."""

    value: str
    visits: int


@dataclass(frozen=True)
class FieldPreview:
    """One field of a source's visits: its commonest values, and the role each of the two legends gives it.

    `conflicts` says which of its values are known as something else than the new role.
    """

    field: str
    values: list[ValueCount]
    distinct: int
    before: str
    after: str
    conflicts: list[str]


@dataclass(frozen=True)
class LegendPreview:
    """What a legend would do: visits it reads, field by field."""

    visits: int
    fields: list[FieldPreview]


def preview_legend(desk: Desk, record: Mapping[str, Any]) -> LegendPreview:
    """What one legend would do to its source's real visits (R3).

    Raises
    ------
    SettingsError
        If the legend is wrong; a role given to two fields among them.
    """
    tables, kept = rows_and_plan(desk)
    before, tried = kept.plan.reading, kept.document.with_records("legend", [record]).plan().reading
    if tables is None or not tried.legends:
        return LegendPreview(0, [])
    same, legend = before.names.same, tried.legends[0]
    arrivals = read_arrivals(tables.visits, replace(before, legends=(*before.legends, legend)))
    days = local_days(tables.visits.ints("occurred_at"), before.time_zone)
    rows = np.flatnonzero(legends_of_visits(arrivals, days, replace(before, legends=(legend,))) == 1)
    values: dict[str, Counter[str]] = {}
    urls, counts = np.unique(arrivals.url[rows], return_counts=True)
    for url, count in zip(urls.tolist(), counts.tolist(), strict=True):
        for name, value in arrivals.readings[url].values().items():
            if value:
                values.setdefault(name, Counter())[value] += count
    newest = rows[np.argmax(days[rows])] if len(rows) else 0
    number = int(legends_of_visits(arrivals, days, before)[newest]) if len(rows) else 0
    roles = [_roles_by_field(before, number, list(values)), _roles_by_field(tried, 1, list(values))]
    known = _known_as(tables, kept.plan, same)
    fields = []
    for name, counter in values.items():
        before_role, after_role = (of_side.get(name, "") for of_side in roles)
        common = [ValueCount(value, count) for value, count in counter.most_common(MOST_VALUES)]
        conflicts = _conflicts(counter, after_role, known, same)
        fields.append(FieldPreview(name, common, len(counter), before_role, after_role, conflicts))
    return LegendPreview(len(rows), fields)


def _roles_by_field(reading: Reading, legend: int, names: list[str]) -> dict[str, str]:
    roles = LegendBook(reading).roles({name: f"value of {name}" for name in names}, legend)
    field = {f"value of {name}": name for name in names}
    return {field[value]: role for role, value in roles.items() if value in field and role != "id"}


def _known_as(tables: Tables, plan: Plan, same: Callable[[str], str]) -> dict[str, set[str]]:
    """What values are known as: campaigns, groups, ads, keywords and placements of the plan and of spend files."""
    known: dict[str, set[str]] = {}

    def learn(role: str, values: Iterable[str]) -> None:
        for value in values:
            if value:
                known.setdefault(same(value), set()).add(role)

    for campaign in plan.campaigns:
        learn("campaign", [campaign.name, campaign.code])
    for level in plan.levels:
        learn(level.level, [level.id, level.name])
    for column, role in {"campaign": "campaign", **COLUMN_LEVEL}.items():
        learn(role, tables.spend.text(column).values)
    return known


def _conflicts(
    counter: Counter[str], role: str, known: Mapping[str, set[str]], same: Callable[[str], str]
) -> list[str]:
    """Values that are known as something, but not as what the legend makes of them."""
    if role not in KNOWN_ROLES:
        return []
    found: dict[str, Counter[str]] = {}
    for value, visits in counter.items():
        others = known.get(same(value), set())
        if others and role not in others:
            found.setdefault(" or ".join(sorted(others)), Counter())[value] += visits
    return [_said(counts, f"what is known as {other}, not as {role}") for other, counts in sorted(found.items())]


def _said(counts: Counter[str], what: str) -> str:
    number, common = counts.total(), ", ".join(value for value, _ in counts.most_common(3))
    more = " ..." if len(counts) > 3 else ""
    return f"{number} {'visit carries' if number == 1 else 'visits carry'} {what}: {common}{more}"
