"""Values that are almost a known one, as the check-up of links finds them (R30)."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from ...links.checked_values import ValueCheck
from ...links.placing import MOST_NAMES, OFTEN
from ...reading.hosts import host_matcher
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import spend_part, touches_part

FIELD_OF = {"source": "source", "medium": "medium", "campaign": "campaign", "keyword": "term", "ad": "content"}
"""Which field the check-up knows a role by."""
LOOKED_UP = ("source", "medium", "campaign")
"""Roles whose values are held against values that often arrive, too: those with many values of their own are not."""
NEAR = ("near_miss", "perhaps_meant", "other_spelling")


def _find(facts: Facts) -> Iterator[FoundMatter]:
    plan, same = facts.plan, facts.plan.reading.names.same
    own = host_matcher(plan.reading.own_hosts)
    sources = {"source": [one.source for one in plan.costing.platforms if one.source.strip()]}
    by_plan = ValueCheck(plan, {}, sources, None, own)
    for role, field in FIELD_OF.items():
        codes, shown = facts.label(role)
        uses = np.bincount(codes[: facts.touch_count], minlength=len(shown))
        uses += np.bincount(codes[facts.sets], minlength=len(shown))
        there = [number for number in np.flatnonzero(uses).tolist() if shown[number]]
        often = sorted((n for n in there if uses[n] >= OFTEN), key=lambda n: (-uses[n], shown[n]))
        near = {n: by_plan for n in there if _is_near(by_plan, field, shown[n], same)}
        if role in LOOKED_UP:
            # A value that is itself almost a known one is no name that others are held against.
            names = [shown[n] for n in often if n not in near][:MOST_NAMES]
            by_use = ValueCheck(plan, {}, {field: [*sources.get(field, ()), *names]}, None, own)
            near |= {n: by_use for n in there if n not in near and _is_near(by_use, field, shown[n], same)}
        for number in sorted(near):
            touches = touches_part(facts, facts.touches_where(codes == number))
            if role == "campaign":
                spent = np.flatnonzero((facts.prepared.spend_campaign == number) & (facts.costs != 0))
                touches = (*touches, spend_part(facts, spent, own=False))
            yield FoundMatter((role, shown[number]), touches, said=near[number].near(field, shown[number]))


def _is_near(check: ValueCheck, field: str, value: str, same: Callable[[str], str]) -> bool:
    found: list[str] = []
    meant = check.mended(field, value, lambda code, *_: found.append(code))
    if "perhaps_meant" in found:
        return True
    # Spellings that are one value (R2) are counted together.
    return same(meant) != same(value) and any(code in NEAR for code in found)


KIND = MatterKind(
    name="near_value",
    station="plan",
    mendings=("same as", "allowed word"),
    rule="a value that looks like a known one mistyped or written otherwise",
    find=_find,
)
