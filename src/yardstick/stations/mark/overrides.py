"""What nearer levels of a platform say in place of its account's pattern: the account's is read, these count."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from decimal import Decimal

from yardstick.core.base.words import fold
from yardstick.core.links.patterns import PATTERN_LEVELS, REFERRER
from yardstick.core.plan.linking_phase import Pattern
from yardstick.core.plan.plan import Plan
from yardstick.core.report.breakdown import Breakdown

from ..weigh.weigh_board import BoardQuestion, NothingYet, Weighing

ACCOUNT = PATTERN_LEVELS[0]


@dataclass(frozen=True)
class Override:
    """A pattern of a campaign, a group or an ad.

    Attributes
    ----------
    level, name, kind : what it is set for; an empty name or kind is any
    says : part -> its text there
    account : the same parts as the account has them; empty where it says nothing of one
    spend : of all that goes by the name, a decimal of the home currency; empty where nothing is known of it
    touches : that arrived under the name; None where nothing is known of it
    """

    level: str
    name: str
    kind: str
    says: dict[str, str]
    account: dict[str, str]
    spend: str = ""
    touches: int | None = None


@dataclass
class _Stake:
    spend: int = 0
    touches: int = 0


def overrides(weighing: Weighing, plan: Plan, platform: str) -> list[Override]:
    """The patterns of a platform that override its account's, those with most spend first.

    Parameters
    ----------
    weighing : the workspace's figures, over all days; without any the list has no money
    plan, platform : whose patterns
    """
    mine = [p for p in plan.linking.patterns if fold(p.platform) == fold(platform)]
    general = [p for p in mine if p.level == ACCOUNT]
    nearer = [p for p in mine if p.level != ACCOUNT and _says(p)]
    stakes = {level: _stakes(weighing, level) for level in {p.level for p in nearer if p.name}}
    digits = plan.money.minor_digits
    out = []
    for pattern in nearer:
        of_kind = [p for p in general if not p.kind or fold(p.kind) == fold(pattern.kind)]
        account = {name: text for p in sorted(of_kind, key=lambda p: bool(p.kind)) for name, text in _says(p).items()}
        says = _says(pattern)
        one = Override(pattern.level, pattern.name, pattern.kind, says, {name: account.get(name, "") for name in says})
        stake = stakes.get(pattern.level, {}).get(fold(pattern.name)) if pattern.name else None
        if stake is not None:
            one = replace(one, spend=f"{Decimal(stake.spend).scaleb(-digits):f}", touches=stake.touches)
        out.append(one)
    return sorted(out, key=lambda o: (-Decimal(o.spend or 0), -(o.touches or 0), PATTERN_LEVELS.index(o.level), o.name))


def _says(pattern: Pattern) -> dict[str, str]:
    said = {**pattern.fields, REFERRER: pattern.referrer}
    return {name: text for name, text in said.items() if text.strip()}


def _stakes(weighing: Weighing, level: str) -> Mapping[str, _Stake]:
    """Spend and touches by folded name, over all days."""
    found: dict[str, _Stake] = {}
    with suppress(NothingYet):
        result, chosen = weighing.result(BoardQuestion(Breakdown((level,))))
        for row in result.rows:
            if row.yardstick == chosen and row.by and row.by[0]:
                stake = found.setdefault(fold(row.by[0]), _Stake())
                stake.spend += row.sums.spend or 0
                stake.touches += row.sums.touches or 0
    return found
