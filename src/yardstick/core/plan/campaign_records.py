"""What campaigns and other things of the plan are called, as plain frozen values."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal


@dataclass(frozen=True)
class CampaignNames:
    """What a campaign is known by: all of it that reading depends on.

    Attributes
    ----------
    name : the campaign of the report
    code : what stands in links instead of the name; arrivals under it are the campaign's
    plain_name : what reports show; empty = the name
    ids : its ids on platforms; arrivals and spend with one of them are the campaign's
    vouchers : voucher and spoken codes it owns (R8)
    """

    name: str
    code: str = ""
    plain_name: str = ""
    ids: tuple[str, ...] = ()
    vouchers: tuple[str, ...] = ()


DRAFT = "draft"
"""The state of a campaign whose links are not to be placed yet."""


@dataclass(frozen=True)
class Campaign(CampaignNames):
    """A campaign of the plan.

    Attributes
    ----------
    target_roas, target_cost_per_lead : its own targets; None = the general ones
    starts, ends : its days, both inclusive; None = open
    host : the host its links lead to; empty = any of the workspace's own
    referrer : what its short links tell of where the visitor comes from; empty = as the plan says in general
    state : draft, approved or stopped
    owner : who answers for it
    """

    target_roas: Decimal | None = None
    target_cost_per_lead: Decimal | None = None
    starts: date | None = None
    ends: date | None = None
    host: str = ""
    referrer: str = ""
    state: str = "approved"
    owner: str = ""

    @property
    def in_links(self) -> str:
        """The one value that links to it carry."""
        return self.code or self.name

    @property
    def shown(self) -> str:
        """The name reports show."""
        return self.plain_name or self.name

    def names(self) -> CampaignNames:
        """What it is known by, and nothing else."""
        return CampaignNames(self.name, self.code, self.plain_name, self.ids, self.vouchers)


@dataclass(frozen=True)
class Level:
    """One entry of the level tree under a campaign: a platform's id for a group, an ad, a keyword..., and its name.

    `campaign`, `text` and `picture` are what an ad is shown with.
    """

    level: str
    id: str
    name: str
    campaign: str = ""
    text: str = ""
    picture: str = ""


@dataclass(frozen=True)
class Rename:
    """A value of a field that is another from a day on; two values renamed to one are merged. Raw values stay."""

    field: str
    old: str
    new: str
    since: date | None = None
