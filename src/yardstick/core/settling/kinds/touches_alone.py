"""Touches of a campaign of a paid channel that nothing was spent on (R19, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.words import fold
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import by_number, touches_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    codes, shown = facts.label("campaign")
    channels, names = facts.label("channel")
    paid = {fold(name) for name in facts.plan.reporting.paid_channels}
    is_paid = np.array([fold(name) in paid for name in names], np.bool_)
    spent = np.zeros(len(shown), np.bool_)
    spent[facts.prepared.spend_campaign[facts.costs != 0]] = True
    alone = facts.touches_where(is_paid[channels] & (codes > 0) & ~spent[codes])
    for number, touches in by_number(codes, alone):
        yield FoundMatter((shown[number],), touches_part(facts, touches))


KIND = MatterKind(
    name="touches_alone",
    station="gather",
    mendings=("same as", "load cost", "other cost"),
    rule="touches of a paid channel whose campaign has neither spend nor other cost",
    find=_find,
)
