"""Tags that nothing says how to read, or that two legends read differently (R3, R5, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.columns import Flags
from ...base.words import fold
from ...reading.channels import ANY_OTHER_TAG
from ...reading.roles import legends_that_clash
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import by_number, touches_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    touches, roles = facts.prepared.touches, facts.prepared.roles
    rows = np.concatenate([touches.visit, np.arange(roles.visits, len(roles.kind))])
    medium, mediums = facts.label("medium")
    words = {fold(word) for name, some in facts.plan.reading.allowed if name == "medium" for word in some}
    is_word = np.array([fold(text) in words for text in mediums], np.bool_)
    unread: Flags = touches.why.test(ANY_OTHER_TAG.__eq__) & (roles.legend[rows] == 0) & ~is_word[medium]
    clash = legends_that_clash(facts.prepared.arrivals, roles, facts.plan.reading)
    if clash.any():
        unread[: facts.touch_count] |= clash[touches.visit]
    found = facts.touches_where(unread)
    sources, shown = facts.label("source")
    for number, some in by_number(sources, found):
        yield FoundMatter((shown[number],), touches_part(facts, some))


KIND = MatterKind(
    name="unread_tags",
    station="plan",
    mendings=("rule", "legend", "allowed word"),
    rule="tags that no legend, channel rule or allowed word reads, or that two legends read differently",
    find=_find,
)
