"""Two orders of one person and value so soon after another that one may be a double (R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.day_numbers import MINUTE_US
from ...base.identifiers import IDENTIFIER_KINDS
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import records_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    conversions = facts.prepared.conversions
    within = int(facts.threshold(KIND.name) * MINUTE_US)
    which = np.flatnonzero(facts.result.counted.flags & (conversions.value > 0))
    person, goal, value = conversions.person[which], conversions.goal.codes[which], conversions.value[which]
    order = np.lexsort((which, conversions.at[which], value, goal, person))
    which, at = which[order], conversions.at[which[order]]
    same = np.ones(max(0, len(which) - 1), np.bool_)
    for column in (person[order], goal[order], value[order]):
        same &= column[1:] == column[:-1]
    later = np.flatnonzero(same & (np.diff(at) <= within))
    groups: dict[tuple[str, int], list[tuple[int, int]]] = {}
    for place in later.tolist():
        first, second = int(which[place]), int(which[place + 1])
        groups.setdefault((conversions.goal[second], int(conversions.person[second])), []).append((second, first))
    for (goal_name, who), pairs in groups.items():
        later_ones, before = np.array(pairs, np.int64).T
        yield FoundMatter((goal_name, _known_as(facts, who)), records_part(facts, later_ones, before))


def _known_as(facts: Facts, person: int) -> str:
    """A person by its smallest identifier (R24)."""
    text = facts.prepared.read.known_by.smallest.get(person, "")
    number, _, value = text.partition(":")
    return f"{IDENTIFIER_KINDS[int(number)]}:{value}" if value else ""


KIND = MatterKind(
    name="order_twice",
    station="gather",
    mendings=("quarantine the later", "accept"),
    rule="two counted records of one goal, person and value above 0 within {} minutes",
    find=_find,
)
