"""The roles of every visit and captured set (R3), each distinct combination read once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Ints, Text
from ..base.days import local_days
from ..base.distinct import distinct_columns
from ..base.tables import Table
from ..plan.plan import Reading
from .arrivals import Arrivals
from .captured import Captured
from .legends import LegendBook, Roles
from .tags import EXTRA, FIELDS


@dataclass(frozen=True)
class RoleTable:
    """Visits first, then captured sets.

    Attributes
    ----------
    visits : how many rows are visits
    kind : (n,) int64, which of `distinct` each row is
    distinct : the combinations of roles that occur
    day : (n,) int64, day of each row in the workspace's zone
    legend : (n,) int64, number of the legend that read each row, 0 = none
    """

    visits: int
    kind: Ints
    distinct: list[Roles]
    day: Ints
    legend: Ints

    def text(self, role: str) -> Text:
        """(n,) text: the values of one role. An extra tag is found with or without its `utm_`."""
        spare = EXTRA + "utm_" + role.removeprefix(EXTRA) if role.startswith(EXTRA) else ""
        values = Text.of([roles.get(role) or roles.get(spare, "") for roles in self.distinct])
        return values.take(self.kind) if len(self.kind) else Text.blank(0)

    def extras(self) -> set[str]:
        """Names of the extra roles that have a value anywhere."""
        return {role.removeprefix(EXTRA) for roles in self.distinct for role in roles if role.startswith(EXTRA)}


def lay_roles(visits: Table, arrivals: Arrivals, captured: Captured, reading: Reading) -> RoleTable:
    """Read every visit and captured set by the legend of its source and day.

    Parameters
    ----------
    visits, arrivals, captured : the same rows as read before
    reading : legends, naming patterns, zone, folding
    """
    book = LegendBook(reading)
    visit_day = local_days(visits.ints("occurred_at"), reading.time_zone)
    set_day = local_days(captured.at, reading.time_zone)
    distinct: list[Roles] = []

    of_visits = Text.of([r.tags[0] for r in arrivals.readings] or [""])
    legend = _legends(of_visits.take(arrivals.url), visit_day, book)
    wide = len(book.legends)
    if wide == 1:
        # Without legends every address reads the same on every day.
        kind, number_of_keys = arrivals.url, len(arrivals.readings)
        distinct += [book.roles(reading.values(), 0) for reading in arrivals.readings]
    else:
        keys, kind = np.unique(arrivals.url * wide + legend, return_inverse=True)
        number_of_keys = len(keys)
        distinct += [book.roles(arrivals.readings[key // wide].values(), key % wide) for key in keys.tolist()]

    set_legend = _legends(captured.fields["source"], set_day, book)
    columns = [captured.fields[name] for name in FIELDS]
    stacked = np.stack([*(c.codes.astype(np.int64) for c in columns), set_legend])
    found, set_kind = distinct_columns(stacked)
    for *codes, number in found.T.tolist():
        values = {name: column.values[code] for name, column, code in zip(FIELDS, columns, codes, strict=True)}
        distinct.append(book.roles(values, number))
    return RoleTable(
        len(visits),
        np.concatenate([kind.reshape(-1), set_kind.reshape(-1) + number_of_keys]).astype(np.int64),
        distinct,
        np.concatenate([visit_day, set_day]),
        np.concatenate([legend, set_legend]),
    )


def _legends(source: Text, day: Ints, book: LegendBook) -> Ints:
    """(n,) int64: number of the legend that holds for each row's source on its day."""
    out = np.zeros(len(source), np.int64)
    for code, value in enumerate(source.values):
        if book.of_source(value):
            mine = np.flatnonzero(source.codes == code)
            out[mine] = book.numbers_at(value, day[mine])
    return out
