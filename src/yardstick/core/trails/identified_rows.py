"""Which identifiers stand on which rows, as they are compared (R6), with those apart that are not one person (R33)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.day_numbers import day_number
from ..base.days import local_days
from ..base.identifier_columns import normalised
from ..base.identifiers import EMAIL, LEAD, MARK, PHONE, VISITOR, email_id, phone_id, plain_id, stated_identifier
from ..base.tables import Table, Tables
from ..base.words import Slots
from ..plan.reading_phase import Reading, Separation
from .people import Identified


def identified_rows(tables: Tables, marks: Text, joins: Sequence[Flags], reading: Reading) -> tuple[Identified, ...]:
    """The identifiers on visits, leads and conversions.

    Parameters
    ----------
    tables : of visits, leads and conversions the rows that stand
    marks : (n_visits,) click mark of each visit
    joins : of each table, rows that may join people
    reading : slots, the time zone, and what is separated by hand
    """
    slots = Slots(reading.slot_pairs)
    visits = tables.visits
    of_visits = {
        VISITOR: normalised(visits.text("visitor_id"), plain_id, slots),
        EMAIL: normalised(visits.text("email"), email_id, slots),
        MARK: normalised(marks, plain_id, slots),
    }
    groups = (
        Identified(joins[0], of_visits),
        _of_records(tables.leads, joins[1], slots),
        _of_records(tables.conversions, joins[2], slots),
    )
    if not reading.separations:
        return groups
    instants = [table.ints("occurred_at") for table in (visits, tables.leads, tables.conversions)]

    def days_of(group: int, rows: Ints) -> Ints:
        return local_days(instants[group][rows], reading.time_zone)

    return separated(groups, reading.separations, days_of)


def _of_records(table: Table, joins: Flags, slots: Slots) -> Identified:
    kinds: dict[int, tuple[str, Callable[[str], str]]] = {
        VISITOR: ("visitor_id", plain_id),
        EMAIL: ("email", email_id),
        PHONE: ("phone", phone_id),
        LEAD: ("lead_id", plain_id),
        MARK: ("click_id", plain_id),
    }
    columns = {kind: normalised(table.text(name), normal, slots) for kind, (name, normal) in kinds.items()}
    return Identified(joins, columns)


def separated(
    groups: Sequence[Identified], separations: Sequence[Separation], days_of: Callable[[int, Ints], Ints]
) -> tuple[Identified, ...]:
    """Rows with identifiers that are not one person taken apart (R33).

    Parameters
    ----------
    groups : row groups with the identifiers that stand on them
    separations : all are looked for in the rows as they came, so that their order means nothing
    days_of : the local day, since 1970, of some rows of a group
    """
    out = []
    for number, group in enumerate(groups):
        columns = dict(group.columns)
        for one in separations:
            (first, value), (second, other) = stated_identifier(one.first), stated_identifier(one.second)
            if first not in group.columns or second not in group.columns:
                continue
            both = group.columns[first].equals(value) & group.columns[second].equals(other)
            if one.since is not None and both.any():
                rows = np.flatnonzero(both)
                both[rows] = days_of(number, rows) >= day_number(one.since)
            if both.any():
                columns[second] = columns[second].where(~both, Text.blank(len(both)))
        out.append(replace(group, columns=columns))
    return tuple(out)
