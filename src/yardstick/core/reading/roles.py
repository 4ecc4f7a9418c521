"""The roles of every visit and captured set (R3), each distinct combination read once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.days import local_days
from ..base.distinct import distinct_columns
from ..base.tables import Table
from ..plan.reading_phase import Reading
from .arrivals import Arrivals
from .asking import Arrival
from .captured import Captured
from .hosts import outside_of
from .legends import LegendBook, Roles
from .tags import EXTRA, FIELDS, ReadAddress


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

    wide = len(book.legends)
    if wide == 1:
        # Without legends every address reads the same on every day.
        legend = np.zeros(len(visits), np.int64)
        kind, number_of_keys = arrivals.url, len(arrivals.readings)
        distinct += [book.roles(reading.values(), 0) for reading in arrivals.readings]
    else:
        legend = legends_of_visits(arrivals, visit_day, reading)
        keys, kind = np.unique(arrivals.url * wide + legend, return_inverse=True)
        number_of_keys = len(keys)
        distinct += [_roles_of(book, arrivals.readings[key // wide], key % wide) for key in keys.tolist()]

    columns = [captured.fields[name] for name in FIELDS]
    codes = np.stack([c.codes.astype(np.int64) for c in columns])
    sets, which = distinct_columns(codes)
    values = [dict(zip(FIELDS, _texts(columns, one), strict=True)) for one in sets.T.tolist()]
    fitting = book.fitting([{name: value for name, value in said.items() if value} for said in values])
    set_legend = book.numbers_of(fitting, which, set_day)
    found, set_kind = np.unique(which * wide + set_legend, return_inverse=True)
    distinct += [book.roles(values[key // wide], key % wide, has_parameters=False) for key in found.tolist()]
    return RoleTable(
        len(visits),
        np.concatenate([kind.reshape(-1), set_kind.reshape(-1) + number_of_keys]).astype(np.int64),
        distinct,
        np.concatenate([visit_day, set_day]),
        np.concatenate([legend, set_legend]),
    )


def _roles_of(book: LegendBook, reading: ReadAddress, legend: int) -> Roles:
    return book.roles(reading.values(), legend, stated=reading.stated)


def _texts(columns: Sequence[Text], codes: Sequence[int]) -> list[str]:
    return [column.values[code] for column, code in zip(columns, codes, strict=True)]


def legends_of_visits(arrivals: Arrivals, day: Ints, reading: Reading) -> Ints:
    """(n,) int64: number of the legend that holds for each visit on its day, from 1; 0 where none does.

    Parameters
    ----------
    arrivals : visits as read
    day : (n,) int64, their days
    reading : legends, own and pass-through hosts
    """
    if not len(day):
        return np.zeros(0, np.int64)
    book = LegendBook(reading)
    fitting, which = _fitting(book, arrivals, reading)
    return book.numbers_of(fitting, which, day)


def legends_that_clash(arrivals: Arrivals, roles: RoleTable, reading: Reading) -> Flags:
    """(visits,) bool: visits that several legends fit on their day, one of which reads otherwise than the first (R3).

    Parameters
    ----------
    arrivals, roles : visits as read
    reading : legends, own and pass-through hosts
    """
    day = roles.day[: roles.visits]
    if len(reading.legends) < 2 or not len(day):
        return np.zeros(len(day), np.bool_)
    book = LegendBook(reading)
    fitting, which = _fitting(book, arrivals, reading)
    out = np.zeros(len(day), np.bool_)
    several = [lots for lots in set(fitting) if len(lots) > 1]
    for lots in several:
        kinds = np.array([some == lots for some in fitting], np.bool_)
        mine = np.flatnonzero(kinds[which])
        first = book.numbers_at(lots, day[mine])
        for lot in lots:
            other = book.numbers_at((lot,), day[mine])
            for one, two in np.unique(np.stack([first, other]), axis=1).T.tolist():
                if one and two and one != two and not book.read_alike(one, two):
                    out[mine[(first == one) & (other == two)]] = True
    return out


def _fitting(book: LegendBook, arrivals: Arrivals, reading: Reading) -> tuple[list[tuple[int, ...]], Ints]:
    """The lots of legends that fit each kind of visit, and the kind of each."""
    outside, hosts = outside_of(reading), arrivals.referrer_host
    beyond, rows = book.looks_beyond_the_address, len(arrivals.url)
    host = hosts.codes if beyond else np.zeros(rows, np.int64)
    marked = arrivals.mark.filled() if beyond else np.zeros(rows, np.bool_)
    keys, which = distinct_columns(np.stack([arrivals.url, host.astype(np.int64), marked.astype(np.int64)]))
    seen = []
    for url, code, has_mark in keys.T.tolist():
        r = arrivals.readings[url]
        came = hosts.values[code] if beyond else ""
        arrival = Arrival(r.tags, r.tagged, bool(has_mark), came, r.host, r.stated, r.page)
        seen.append(arrival.seen(outside(came, r.host)))
    return book.fitting(seen), which
