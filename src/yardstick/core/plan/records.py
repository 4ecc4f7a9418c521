"""The records of a plan, as plain frozen values. Defaults are those of the rules."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal


@dataclass(frozen=True)
class Window:
    """Look-back per kind of touch, in days of 24 hours (R11)."""

    click_days: Decimal = Decimal(30)
    watch_days: Decimal = Decimal(3)
    view_days: Decimal = Decimal(1)


@dataclass(frozen=True)
class Goal:
    """A kind of conversion (R10), or one version of it.

    Attributes
    ----------
    value : "total" or "net"
    default_value : where a record says nothing
    fixed_value : whatever the record says
    currency : of both; empty = the home currency, else converted at the rate of the conversion's day
    click_days, watch_days, view_days : own windows; None = the general one
    good_stages : a lead in one of these stages is good, as is one marked `is_good`
    good_goal, good_days : a lead is good, too, when its person has a counted conversion of that goal within these days
    since : the first day of this version; None = from the beginning. A conversion is read by the version of its day
    yardstick : the yardstick the board opens with; empty = linear
    """

    name: str
    kind: str
    count: str
    value: str = "net"
    default_value: Decimal | None = None
    click_days: Decimal | None = None
    watch_days: Decimal | None = None
    view_days: Decimal | None = None
    fixed_value: Decimal | None = None
    good_stages: tuple[str, ...] = ()
    since: date | None = None
    yardstick: str = ""
    currency: str = ""
    good_goal: str = ""
    good_days: Decimal = Decimal(30)


@dataclass(frozen=True)
class GoalWindow:
    """The own windows of one version of a goal, in days; None = the general one."""

    name: str
    since: date | None
    click_days: Decimal | None
    watch_days: Decimal | None
    view_days: Decimal | None


@dataclass(frozen=True)
class Condition:
    """One condition of a channel rule: a field, an operator, and the value or values it is held against."""

    field: str
    op: str
    values: tuple[str, ...] = ()


@dataclass(frozen=True)
class QuarantineRule:
    """Conditions under which a record is a test record (R9); all must hold."""

    when: tuple[Condition, ...]


@dataclass(frozen=True)
class RecordState:
    """A record that was taken out or put back by hand (R9): "quarantined" or "counted"."""

    table: str
    id: str
    state: str


@dataclass(frozen=True)
class StatusWord:
    """What a status word means (R10): "counts", "does not count" or "good"."""

    word: str
    means: str


@dataclass(frozen=True)
class ChannelRule:
    """A channel's name and the conditions that must all hold (R5)."""

    name: str
    when: tuple[Condition, ...]


@dataclass(frozen=True)
class Legend:
    """How the tags of some arrivals are to be read from a day on (R3).

    Attributes
    ----------
    when : conditions that must all hold; none = every arrival
    since : its first day; None = from the beginning. Of legends with equal conditions the latest that has begun holds
    roles : pairs of field or extra value, and role
    fixed : pairs of role and the text that fills it
    until : its last day; a version that has ended ends its legend
    """

    when: tuple[Condition, ...]
    since: date | None
    roles: tuple[tuple[str, str], ...]
    fixed: tuple[tuple[str, str], ...] = ()
    until: date | None = None


@dataclass(frozen=True)
class Rename:
    """A value of a field that is another from a day on; two values renamed to one are merged. Raw values stay."""

    field: str
    old: str
    new: str
    since: date | None = None


@dataclass(frozen=True)
class Naming:
    """How the values of a field are put together: parts with a separator, each a column `extra:NAME` of its own.

    Attributes
    ----------
    field : source, medium, campaign, term, content, id or an extra value
    parts : names of the parts, in order
    allowed : per part, the words it may be; empty = any
    """

    field: str
    separator: str
    parts: tuple[str, ...]
    allowed: tuple[tuple[str, ...], ...] = ()


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
class Page:
    """A landing page, or a variant of one: its address without query, and the name reports show."""

    name: str
    address: str
    variant: bool = False


@dataclass(frozen=True)
class OtherCost:
    """A cost that no platform reports, spread evenly over its days, both inclusive (R18)."""

    first: date
    last: date
    campaign: str
    kind: str
    cost: Decimal
    currency: str = ""


@dataclass(frozen=True)
class ClickPrice:
    """What a click on a link costs between two days, both inclusive. A tag left empty holds for any value (R18)."""

    campaign: str
    price: Decimal
    source: str = ""
    medium: str = ""
    term: str = ""
    content: str = ""
    currency: str = ""
    first: date | None = None
    last: date | None = None


@dataclass(frozen=True)
class Platform:
    """Where the spend of an ad platform stands in breakdowns, the zone of its account's days, what kind it is (R5):
    search, social, panels, video, or unknown; and whether its levels repeat each other or add up (R18)."""

    name: str
    source: str = ""
    medium: str = ""
    time_zone: str = ""
    kind: str = ""
    levels: str = "repeat"


@dataclass(frozen=True)
class Yardstick:
    """A rule for sharing credit, under a name.

    `by` is the kind of player of fair_share; `params` are the numbers stated of position, decay and custom, by name,
    and `channels` the weights of custom by channel (R14).
    """

    name: str
    rule: str
    by: str = "campaign"
    params: tuple[tuple[str, Decimal], ...] = ()
    channels: tuple[tuple[str, Decimal], ...] = ()


def default_goal(name: str) -> Goal:
    """What a goal is when the settings say nothing about it."""
    return Goal(name, "lead", "one") if name == "lead" else Goal(name, "sale", "every")
