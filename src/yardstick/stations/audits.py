"""The account audit, and which slots truly arrive."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from yardstick.core.base.tables import Tables
from yardstick.core.links.addresses import LinkFinding
from yardstick.core.links.audit import OWN, Ad, audit
from yardstick.core.report.slot_coverage import Coverage, slot_coverage

from .weigh import Question, Weighing


@dataclass
class AdAudited:
    """An ad with the address it will send people to; `spend` is a decimal as its file states it, if it does."""

    platform: str
    account: str
    campaign: str
    ad_group: str
    ad: str
    state: str
    spend: str
    address: str
    level: str
    tagged: bool
    findings: list[LinkFinding]
    file: str
    line: int


@dataclass
class RoleArrived:
    """A role of a platform: why it should be there, in how many touches of how many it arrived, with the bounds of that
    share, the spend that is reported by it (a decimal of the home currency), and the figures that suffer."""

    platform: str
    role: str
    asked: str
    hits: int
    of: int
    low: float | None
    high: float | None
    spend: str
    suffers: str


@dataclass
class Audit:
    """All ads, those with most spend first, and how many of them would arrive untagged.

    Attributes
    ----------
    ads : see `AdAudited`
    untagged, untagged_spend : running ads whose visits would carry no tag, and their spend
    wrong : ads with any finding
    coverage : roles by platform
    """

    ads: list[AdAudited]
    untagged: int
    untagged_spend: str
    wrong: int
    coverage: list[RoleArrived]


RESTING = ("paused", "stopped", "ended", "removed", "archived", "off", "draft")
"""Words for ads that nobody sees."""


def read_audit(weighing: Weighing, question: Question) -> Audit:
    """What the ads of all accounts would send, and which roles arrived in a range.

    Raises
    ------
    NothingYet
        If nothing was loaded yet.
    """
    result, _ = weighing.result(question)
    plan, tables = result.plan, result.ground.tables
    rows = _ads(tables)
    found = audit([ad for ad, _ in rows], plan.linking, plan.reading)
    amounts = tables.ads.amounts("spend")
    ads = []
    for one in found:
        ad, row = rows[one.row]
        spend = f"{Decimal(int(amounts.units[row])).scaleb(-amounts.decimals):f}" if amounts.known[row] else ""
        level = "the plan" if one.level == OWN else one.level
        where = (tables.ads.file[row], int(tables.ads.line[row]))
        findings = list(one.findings)
        ads.append(
            AdAudited(
                ad.platform, ad.account, ad.campaign, ad.group, ad.ad, ad.state, spend, one.address, level, one.tagged,
                findings, *where,
            )
        )  # fmt: skip
    ads.sort(key=lambda a: (-Decimal(a.spend or 0), a.platform, a.campaign, a.ad))
    bare = [a for a in ads if not a.tagged and a.state.strip().lower() not in RESTING]
    return Audit(
        ads=ads,
        untagged=len(bare),
        untagged_spend=f"{sum((Decimal(a.spend or 0) for a in bare), Decimal(0)):f}",
        wrong=sum(bool(a.findings) for a in ads),
        coverage=[
            _arrived(c, plan.money.minor_digits) for c in slot_coverage(result, plan.costing.platforms, plan.linking)
        ],
    )


def _arrived(one: Coverage, digits: int) -> RoleArrived:
    share = one.arrived
    spend = f"{Decimal(one.spend).scaleb(-digits):f}"
    return RoleArrived(
        one.platform, one.role, one.asked, share.hits, share.of, share.low, share.high, spend, one.suffers
    )


def _ads(tables: Tables) -> list[tuple[Ad, int]]:
    table = tables.ads
    names = ("platform", "account", "campaign", "ad_group", "ad", "level", "pattern", "address", "state")
    columns = [table.text(name).strings() for name in names]
    return [(Ad(*cells), row) for row, cells in enumerate(zip(*columns, strict=True))]
