"""Which roles each platform's touches should carry, and which truly arrived."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..base.columns import total
from ..base.schema import CLICK
from ..base.words import fold
from ..credit.touch_fields import OWN_COLUMN
from ..plan.costing_phase import Platform
from ..plan.linking_phase import Linking
from .proportions import Proportion, proportion
from .weigh import Result

ROLES = ("campaign", "group", "ad", "keyword", "placement")


@dataclass(frozen=True)
class Coverage:
    """One role of one platform.

    Attributes
    ----------
    platform, role : which
    asked : why it should be there: its spend is reported by it, a pattern sets it, or nothing asks for it
    arrived : touches of its source that carry it, of all
    spend : spend of the range that is reported by it, minor units of the home currency
    suffers : the figures that suffer where it is lacking, in words; empty where none do
    """

    platform: str
    role: str
    asked: str
    arrived: Proportion
    spend: int
    suffers: str


_PATTERN_FIELD = {"campaign": "campaign", "keyword": "term", "ad": "content"}


def slot_coverage(result: Result, platforms: Sequence[Platform], linking: Linking) -> list[Coverage]:
    """For each platform with a source, every role that its spend or its patterns ask for.

    Parameters
    ----------
    result : of the range
    platforms : of the plan
    linking : its patterns
    """
    touches, prepared = result.prepared.touches, result.prepared
    count = touches.count
    click = (touches.kind[:count] == CLICK) & result.touch_in_range
    source, of_platform = touches.fields["source"], prepared.spend.text("platform").map(fold)
    out = []
    for platform in platforms:
        if not platform.source:
            continue
        number = source.keys.index(fold(platform.source)) if fold(platform.source) in source.keys else -1
        mine = click & (source.codes[:count] == number)
        spend_rows = result.spend_rows & of_platform.test(fold(platform.name).__eq__)
        of = int(mine.sum())
        for role in ROLES:
            own = OWN_COLUMN.get(role, "campaign")
            reported = spend_rows & prepared.spend.text(own).test(lambda v: bool(v.strip()))
            spend = total(prepared.costs.cost[reported])
            fields = {n for p in linking.patterns if fold(p.platform) == fold(platform.name) for n in p.fields}
            asked = "its spend is reported by it" if spend else ""
            asked = asked or ("a pattern sets it" if _PATTERN_FIELD.get(role) in fields else "")
            if not asked or not of:
                continue
            has = int((mine & (touches.fields[role].codes[:count] > 0)).sum())
            lacking = of - has
            suffers = ""
            if lacking and spend:
                suffers = f"by {role}: {lacking} touches stand without it, beside spend that is reported by it"
            elif lacking:
                suffers = f"by {role}: {lacking} touches stand without it"
            out.append(Coverage(platform.name, role, asked, proportion(has, of), spend, suffers))
    return out
