"""Two orders of one person and value so soon after another that one may be a double (R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.day_numbers import MINUTE_US
from ...base.identifiers import IDENTIFIER_KINDS
from ...report.weigh import Result
from ..matter import FoundMatter, MatterKind, RowsOf, days_of_records

MINUTES = 30


def _find(result: Result) -> Iterator[FoundMatter]:
    prepared = result.prepared
    conversions = prepared.conversions
    which = np.flatnonzero(result.counted.flags & (conversions.value > 0))
    person, goal, value = conversions.person[which], conversions.goal.codes[which], conversions.value[which]
    order = np.lexsort((which, conversions.at[which], value, goal, person))
    which, at = which[order], conversions.at[which[order]]
    same = np.ones(max(0, len(which) - 1), np.bool_)
    for column in (person[order], goal[order], value[order]):
        same &= column[1:] == column[:-1]
    later = np.flatnonzero(same & (np.diff(at) <= MINUTES * MINUTE_US))
    groups: dict[tuple[str, int], list[tuple[int, int]]] = {}
    for place in later.tolist():
        first, second = int(which[place]), int(which[place + 1])
        groups.setdefault((conversions.goal[second], int(conversions.person[second])), []).append((second, first))
    for (goal_name, who), pairs in groups.items():
        parts = []
        for is_lead, table in ((True, "leads"), (False, "conversions")):
            mine = [pair for pair in pairs if bool(conversions.is_lead_row[pair[0]]) == is_lead]
            if mine:
                numbers = np.array([pair[0] for pair in mine], np.int64)
                before = np.array([pair[1] for pair in mine], np.int64)
                days, values = days_of_records(result)[numbers], conversions.value[numbers]
                parts.append(RowsOf(table, conversions.row[numbers], days, values, conversions.row[before]))
        yield FoundMatter((goal_name, _known_as(result, who)), tuple(parts))


def _known_as(result: Result, person: int) -> str:
    """A person by its smallest identifier (R24)."""
    text = result.prepared.read.known_by.smallest.get(person, "")
    number, _, value = text.partition(":")
    return f"{IDENTIFIER_KINDS[int(number)]}:{value}" if value else ""


KIND = MatterKind(
    name="order_twice",
    station="gather",
    mendings=("quarantine the later", "accept"),
    rule=f"two counted records of one goal, person and value above 0 within {MINUTES} minutes",
    find=_find,
)
