"""Spend of a campaign that nobody ever arrived by (R19, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import by_number, spend_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    codes, shown = facts.label("campaign")
    met = np.zeros(len(shown), np.bool_)
    met[codes[: facts.touch_count]] = True
    met[codes[facts.sets]] = True
    campaign = facts.prepared.spend_campaign
    alone = np.flatnonzero(~met[campaign] & (facts.costs != 0))
    for number, rows in by_number(campaign, alone):
        yield FoundMatter((shown[number],), (spend_part(facts, rows),))


KIND = MatterKind(
    name="spend_alone",
    station="gather",
    mendings=("same as", "id", "landing page"),
    rule="spend of a campaign that no touch carries",
    find=_find,
)
