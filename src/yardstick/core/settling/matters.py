"""The registry of matters (R30): found anew from data and plan at every state, never typed."""

from __future__ import annotations

from collections.abc import Mapping

from ..base.columns import total
from ..base.days import NO_DAY
from ..base.patience import go_on
from ..plan.plan import Plan
from ..report.weigh import Result
from .facts import NOTHING_BESIDES, Besides, Facts
from .kinds import (
    ads,
    arrivals_fell,
    capture_differs,
    invoice_differs,
    levels_differ,
    link_wrong,
    missing_day,
    missing_rate,
    near_value,
    order_twice,
    price_idle,
    price_yields,
    refund_alone,
    shared_identifier,
    spend_alone,
    touches_alone,
    unfilled_slots,
    unknown_campaign,
    unlisted_word,
    unread_tags,
    untagged_mark,
    zone_differs,
)
from .matter import FoundMatter, Matter, MatterKind
from .said import is_accepted, kept_of, whose

MATTER_KINDS: Mapping[str, MatterKind] = {
    kind.name: kind
    for kind in (
        arrivals_fell.KIND,
        untagged_mark.KIND,
        near_value.KIND,
        unknown_campaign.KIND,
        unread_tags.KIND,
        unfilled_slots.KIND,
        spend_alone.KIND,
        touches_alone.KIND,
        missing_day.KIND,
        missing_rate.KIND,
        zone_differs.KIND,
        levels_differ.KIND,
        invoice_differs.KIND,
        shared_identifier.KIND,
        capture_differs.KIND,
        order_twice.KIND,
        refund_alone.KIND,
        unlisted_word.KIND,
        price_idle.KIND,
        price_yields.KIND,
        ads.UNTAGGED,
        ads.WRONG,
        link_wrong.KIND,
    )
}
"""Every kind there is, by its word in files."""


def find_matters(
    result: Result, today: int | None = None, plan: Plan | None = None, besides: Besides = NOTHING_BESIDES
) -> list[Matter]:
    """All matters, the one with the larger amount at stake first; those without amounts last, by rows.

    Parameters
    ----------
    result : a weighing without filters, whose range cuts the stake
    today : day number by which months are over (R21); None = that of `as_of`, without one an invoice ends its month
    plan : one that gives the same figures, and says of matters what is to be said; None = the result's
    besides : what no table holds: placed links, landing pages

    Notes
    -----
    They are found over all days: one that has no row in the range puts nothing at stake, and stays a matter.
    """
    facts = Facts(result, today, plan, besides)
    found = []
    for kind in MATTER_KINDS.values():
        found += [_cut(facts, kind, one) for one in kind.find(facts)]
        go_on()

    def place(matter: Matter) -> tuple[bool, int, int, str, tuple[str, ...]]:
        amounts = [amount for amount in (matter.spend, matter.value) if amount is not None]
        return not amounts, -max(amounts, default=0), -matter.rows, matter.kind.name, matter.object

    return sorted(found, key=place)


def _cut(facts: Facts, kind: MatterKind, one: FoundMatter) -> Matter:
    within = [facts.within(part.days) for part in one.parts]
    pairs = list(zip(one.parts, within, strict=True))
    values = [part.values if part.is_cut else part.values[mine] for part, mine in pairs if part.values is not None]
    spends = [part.spends[mine] for part, mine in pairs if part.spends is not None]
    if one.amounts is not None:
        spends.append(one.amounts.spends[facts.within(one.amounts.days)])
    days = [part.days[part.days != NO_DAY] for part in one.parts if part.own]
    first = min((int(some.min()) for some in days if len(some)), default=None)
    first = first if one.first_day is None else one.first_day
    all_rows = sum(len(part.rows) for part in one.parts if part.own)
    kept = kept_of(facts, kind.name, one, first)
    return Matter(
        kind=kind,
        object=one.object,
        first_day=first,
        rows=sum(int(mine.sum()) for part, mine in pairs if part.own),
        spend=sum(map(total, spends)) if spends else None,
        value=sum(map(total, values)) if values else None,
        rule=kind.rule_for(facts),
        said=one.said,
        parts=one.parts,
        all_rows=all_rows,
        kept=kept,
        is_accepted=is_accepted(facts, kept, all_rows),
        whose=whose(facts, kept, one),
    )
