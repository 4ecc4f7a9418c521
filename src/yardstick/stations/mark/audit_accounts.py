"""The account audit, and which slots truly arrive."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal

from yardstick.core.base.words import fold
from yardstick.core.links.addresses import LinkFinding
from yardstick.core.links.audit import OWN, RESTING, ads_of, audit
from yardstick.core.report.slot_coverage import Coverage, slot_coverage
from yardstick.store.links import rows_after
from yardstick.store.states import last_change

from ..weigh.weigh_board import BoardQuestion, Weighing
from ..workspace.desk import Desk


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
class AuditGroup:
    """Ads whose worst finding is the same one, with their spend as their files state it; an empty code = none."""

    code: str
    ads: int
    spend: str


@dataclass
class Audit:
    """All ads, those with most spend first, and how many of them would arrive untagged.

    Attributes
    ----------
    ads : see `AdAudited`
    untagged, untagged_spend : running ads whose visits would carry no tag, and their spend
    wrong : ads with any finding
    groups : of the ads by finding, those with most spend first, those with none at the end
    coverage : roles by platform
    """

    ads: list[AdAudited]
    untagged: int
    untagged_spend: str
    wrong: int
    groups: list[AuditGroup]
    coverage: list[RoleArrived]


def landing_pages(desk: Desk) -> dict[str, str]:
    """Campaign -> the one page that its links lead to; without those whose links lead to several."""
    with desk.engine.connect() as connection:
        rows = rows_after(connection, desk.workspace, last_change(connection, desk.workspace))
    addresses = {fold(page.name): page.address for page in desk.plan().reading.pages}
    found: dict[str, set[str]] = {}
    for row in rows:
        campaign, page = row.cells.get("campaign", "").strip(), row.cells.get("page", "").strip()
        if campaign and page:
            found.setdefault(campaign, set()).add(addresses.get(fold(page), page))
    return {campaign: next(iter(pages)) for campaign, pages in found.items() if len(pages) == 1}


LEVEL_ORDER = ("error", "warning", "note")


def read_audit(weighing: Weighing, question: BoardQuestion, landing: Mapping[str, str] | None = None) -> Audit:
    """What the ads of all accounts would send, and which roles arrived in a range.

    Parameters
    ----------
    weighing, question : the workspace's figures, and the range
    landing : campaign -> its landing page

    Raises
    ------
    NothingYet
        If nothing was loaded yet.
    """
    result, _ = weighing.result(question)
    plan, tables = result.plan, result.prepared.tables
    rows = ads_of(tables.ads)
    found = audit(rows, plan.linking, plan.reading, landing)
    amounts = tables.ads.amounts("spend")
    ads = []
    for one in found:
        ad, row = rows[one.row], one.row
        spend = f"{Decimal(int(amounts.units[row])).scaleb(-amounts.decimals):f}" if amounts.known[row] else ""
        level = "the plan" if one.level == OWN else one.level
        where = (tables.ads.file[row], int(tables.ads.line[row]))
        findings = sorted(one.findings, key=lambda f: LEVEL_ORDER.index(f.level))
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
        groups=_groups(ads),
        coverage=[
            _arrived(c, plan.money.minor_digits) for c in slot_coverage(result, plan.costing.platforms, plan.linking)
        ],
    )


def _groups(ads: Sequence[AdAudited]) -> list[AuditGroup]:
    by: dict[str, list[Decimal]] = {}
    for ad in ads:
        by.setdefault(ad.findings[0].code if ad.findings else "", []).append(Decimal(ad.spend or 0))
    sums = sorted(((code, len(spends), sum(spends, Decimal(0))) for code, spends in by.items()), key=_last_without)
    return [AuditGroup(code, number, f"{spend:f}") for code, number, spend in sums]


def _last_without(group: tuple[str, int, Decimal]) -> tuple[bool, Decimal, str]:
    return (not group[0], -group[2], group[0])


def _arrived(one: Coverage, digits: int) -> RoleArrived:
    share = one.arrived
    spend = f"{Decimal(one.spend).scaleb(-digits):f}"
    return RoleArrived(
        one.platform, one.role, one.asked, share.hits, share.of, share.low, share.high, spend, one.suffers
    )
