"""The registry of matters (R30): found anew from data and plan at every state, never typed."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..base.columns import Flags, Ints, total
from ..base.day_numbers import day_number
from ..report.weigh import Result
from .kinds import order_twice, refund_alone, shared_identifier, unlisted_word
from .matter import FoundMatter, Matter, MatterKind

MATTER_KINDS: Mapping[str, MatterKind] = {
    kind.name: kind for kind in (order_twice.KIND, refund_alone.KIND, unlisted_word.KIND, shared_identifier.KIND)
}
"""Every kind there is, by its word in files."""


def find_matters(result: Result) -> list[Matter]:
    """All open matters, the one with the larger amount at stake first; those without amounts last, by rows.

    Parameters
    ----------
    result : a weighing, whose range cuts the stake

    Notes
    -----
    They are found over all days: one that has no row in the range puts nothing at stake, and stays a matter.
    """
    found = [_cut(result, kind, one) for kind in MATTER_KINDS.values() for one in kind.find(result)]

    def place(matter: Matter) -> tuple[bool, int, int, str, tuple[str, ...]]:
        amounts = [amount for amount in (matter.spend, matter.value) if amount is not None]
        return not amounts, -max(amounts, default=0), -matter.rows, matter.kind.name, matter.object

    return sorted(found, key=place)


def _cut(result: Result, kind: MatterKind, one: FoundMatter) -> Matter:
    within = [_within(result, part.days) for part in one.parts]
    valued = [(part.values, mine) for part, mine in zip(one.parts, within, strict=True) if part.values is not None]
    return Matter(
        kind=kind,
        object=one.object,
        first_day=min(int(part.days.min()) for part in one.parts if len(part.days)),
        rows=sum(int(mine.sum()) for mine in within),
        spend=None,
        value=sum(total(values[mine]) for values, mine in valued) if valued else None,
        parts=one.parts,
    )


def _within(result: Result, days: Ints) -> Flags:
    reporting = result.plan.reporting
    within = np.ones(len(days), np.bool_)
    if reporting.report_from is not None:
        within &= days >= day_number(reporting.report_from)
    if reporting.report_to is not None:
        within &= days <= day_number(reporting.report_to)
    return within
