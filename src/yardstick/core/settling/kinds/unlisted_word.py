"""A status word that the plan gives no meaning, and that so counts (R10, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...report.record_list import unlisted_words
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import records_part


def _find(facts: Facts) -> Iterator[FoundMatter]:
    groups = unlisted_words(facts.fields)
    if not groups:
        return
    laid = facts.fields.field("status")
    for group in groups:
        mine = np.flatnonzero(laid.codes == laid.shown.index(group.values[0]))
        yield FoundMatter(group.values, records_part(facts, mine))


KIND = MatterKind(
    name="unlisted_word",
    station="gather",
    mendings=("status word",),
    rule="a present status word that the plan does not list",
    find=_find,
)
