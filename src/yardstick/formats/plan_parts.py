"""The records of the plan as they stand in settings.toml. Each field says in one line what goes in it, with an example."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from yardstick.core.base import conditions
from yardstick.core.base.words import collapse
from yardstick.core.plan.records import (
    Campaign,
    ChannelRule,
    ClickPrice,
    Condition,
    Goal,
    Legend,
    Level,
    Naming,
    OtherCost,
    Page,
    Platform,
    QuarantineRule,
    RecordState,
    Rename,
    StatusWord,
    default_goal,
)
from yardstick.core.reading.asking import ASKED
from yardstick.core.reading.legends import ROLES
from yardstick.core.reading.tags import FIELDS
from yardstick.core.trails.quarantine import FIELDS as JUDGED

from .part_fields import (
    CostDay,
    Currency,
    Day,
    Days,
    LevelName,
    Name,
    NotNegative,
    OpenAmount,
    OpenDay,
    Part,
    Positive,
    Price,
    Referrer,
    Separator,
    Word,
    said,
)


class CampaignPart(Part):
    """A campaign, known before its first link."""

    name: Name = said("The campaign as it stands in spend files and reports.", "Spring Whale Boats")
    code: Word = said("Short and safe to show outsiders; links carry it in place of the name.", "swb-26", default="")
    plain_name: Word = said("What reports show; inside only, never in a link.", "Whale season opener", default="")
    remark: Word = said("Anything worth knowing.", "second year, new pictures", default="")
    starts: Day | None = said(
        "First day; empty for an ongoing campaign. What came is counted from it.", "2026-09-01", default=None
    )
    ends: Day | None = said(
        "Last day; empty for an ongoing campaign. What came is counted up to it, links have ended after it.",
        "2026-11-30",
        default=None,
    )
    owner: Word = said("Who answers for it: whom Placing names where a link must be mended.", "Maren", default="")
    budget: NotNegative | None = said(
        "What it may cost in all, in the home currency: it stands beside its spend.",
        "12000.00",
        default=None,
    )
    goal: Word = said("The goal it works for.", "ticket", default="")
    target_roas: Positive | None = said(
        "Its own target, value per unit of spend: its second notch, and what its verdict is held against.",
        "4.0",
        default=None,
    )
    target_cost_per_lead: Positive | None = said(
        "Its own target, in the home currency: what its verdict by leads is held against.", "60.00", default=None
    )
    state: Literal["draft", "approved", "stopped"] = said(
        "A draft's links are not to be placed; stopped is there to be read.",
        "draft",
        default="approved",
    )
    host: Word = said("The host its links lead to; empty for any of your own.", "www.lunnick.example", default="")
    referrer: Referrer | None = said(
        "What its short links tell pages of where the visitor comes from.", "host", default=None
    )
    ids: list[Word] = said(
        "Its ids on ad platforms; arrivals and spend with one of them are its own.", "q-101", default=[]
    )
    vouchers: list[Word] = said(
        "Voucher and spoken codes; a lead or order that names one is its own.", "WHALE26", default=[]
    )
    expected_leads: NotNegative | None = said(
        "Leads it should bring: they stand beside those that came.", "40", default=None
    )
    expected_value: NotNegative | None = said(
        "Value it should bring, in the home currency: it stands beside the value that came.",
        "30000.00",
        default=None,
    )
    expected_reason: Word = said("Why so much; to be read.", "last spring, plus the new pier", default="")
    locked_on: Day | None = said(
        "The day the expectation was locked; from then on it stays.", "2026-08-20", default=None
    )

    def plain(self) -> Campaign:
        """As far as figures and links depend on it."""
        return Campaign(
            name=self.name,
            code=self.code,
            plain_name=self.plain_name,
            ids=tuple(i for i in self.ids if i),
            vouchers=tuple(v for v in self.vouchers if v),
            target_roas=self.target_roas,
            target_cost_per_lead=self.target_cost_per_lead,
            starts=self.starts,
            ends=self.ends,
            host=self.host,
            referrer=self.referrer or "",
            state=self.state,
            owner=self.owner,
        )


class LevelPart(Part):
    """One entry of the tree under a campaign: a platform's id beside the name people know it by."""

    campaign: Name = said("The campaign it is under.", "Spring Whale Boats")
    level: LevelName = said("Which level of the tree it is.", "ad")
    id: Word = said("The platform's id, as links and spend files carry it.", "83015", default="")
    name: Name = said("The name reports show in place of the id.", "Humpback at dawn")
    platform: Word = said("The ad platform.", "Quorrin", default="")
    account: Word = said("The account on it.", "q-main", default="")
    under: Word = said("The entry above it, if any.", "Whale search, exact", default="")
    text: Word = said("For an ad: what it says.", "See them from the foredeck", default="")
    picture: Word = said("For an ad: name of its picture.", "humpback-dawn.jpg", default="")

    def plain(self) -> Level:
        """As far as figures and links depend on it."""
        return Level(self.level, self.id, self.name, self.campaign, self.text, self.picture)


class RenamePart(Part):
    """A value that is another from a day on; two values renamed to one are merged. Raw values stay."""

    field: Name = said(
        "campaign, source, medium, group, ad, keyword, placement, item, audience, goal or extra:NAME.", "source"
    )
    old: Name = said("The value as it came.", "ostrell")
    new: Name = said("The value it is to be.", "ostrel")
    since: Day | None = said("First day it holds; empty for always.", "2026-03-01", default=None, alias="from")

    def plain(self) -> Rename:
        """The rename."""
        return Rename(self.field, self.old, self.new, self.since)


class NamePartPart(Part):
    """One part of a naming pattern."""

    name: Name = said("Its name; a breakdown by extra:NAME shows it.", "audience")
    allowed: list[Word] = said("The words it may be; empty for any.", "families", default=[])


class NamingPart(Part):
    """How values of a field are put together; its parts become columns."""

    field: Name = said("source, medium, campaign, term, content, id or an extra value.", "content")
    separator: Separator = said("What stands between the parts; write space for a space.", "_", default="_")
    parts: Annotated[list[NamePartPart], Field(min_length=1)] = said("The parts in order.")

    def plain(self) -> Naming:
        """The pattern."""
        return Naming(
            self.field.removeprefix("utm_"),
            self.separator,
            tuple(p.name for p in self.parts),
            tuple(tuple(w for w in p.allowed if w) for p in self.parts),
        )


class AllowedPart(Part):
    """The words a field may be. Any other word in a link or an arrival is a finding."""

    field: Name = said("source, medium, campaign, term, content, id or an extra value.", "source")
    words: Annotated[list[Name], Field(min_length=1)] = said("The words.", "quorrin")


class ConditionPart(Part):
    """One condition of a channel rule."""

    field: Name = said(
        "What is looked at: a field, parameter:NAME or extra:NAME.",
        "source",
        json_schema_extra={"suggested": list(ASKED)},
    )
    op: Name = said(
        "How; matches takes a regular expression.",
        "begins with",
        json_schema_extra={"options": [*conditions.OFFERED]},
    )
    value: str | bool | list[str] | None = said(
        "What it is held against, one a line; none for is there and is empty.", "p-", default=None
    )

    def plain(self) -> Condition:
        """The condition."""
        value = self.value
        values = () if value is None else tuple(value) if isinstance(value, list) else (str(value),)
        return Condition(self.field, self.op, values)


class ChannelPart(Part):
    """A channel rule of the workspace's own, or one it shares with others; the first that fits wins."""

    name: Name = said("The channel it gives.", "Partners")
    when: Annotated[list[ConditionPart], Field(min_length=1)] = said("Conditions; all must hold.")

    def plain(self) -> ChannelRule:
        """The rule."""
        return ChannelRule(self.name, tuple(c.plain() for c in self.when))


class FixedPart(BaseModel):
    """Roles that a legend fills with one text, whatever the address says; `extra:NAME` too."""

    model_config = ConfigDict(extra="allow")

    channel: Word = said("The channel.", "Paid social", default="")
    source: Word = said("The source.", "ostrel", default="")
    medium: Word = said("The medium.", "cpc", default="")
    campaign: Word = said("The campaign.", "Spring Whale Boats", default="")
    group: Word = said("The group.", "Families", default="")
    ad: Word = said("The ad.", "Humpback", default="")
    keyword: Word = said("The keyword.", "ferry", default="")
    placement: Word = said("The placement.", "feed", default="")
    item: Word = said("What the ad promotes.", "year card", default="")
    audience: Word = said("Whom it is shown to.", "families", default="")

    def plain(self) -> tuple[tuple[str, str], ...]:
        """Pairs of role and text."""
        given = {name: getattr(self, name) for name in type(self).model_fields} | (self.model_extra or {})
        for role, text in given.items():
            if not isinstance(text, str):
                raise ValueError(f"{role}: a role is filled with a text")
        return tuple((role, collapse(text)) for role, text in given.items() if text.strip())


class LegendPart(BaseModel):
    """How the tags of a source, or of arrivals that fit conditions, are to be read from a day on."""

    model_config = ConfigDict(extra="allow", populate_by_name=True, serialize_by_alias=True)

    source: Word = said("The source, as its links carry it; empty where conditions say more.", "ostrel", default="")
    when: list[ConditionPart] = said("Conditions; all must hold. None and no source: every arrival.", default=[])
    since: Day | None = said("First day it holds; empty for always.", "2026-01-01", default=None, alias="from")
    until: OpenDay = said("Last day it holds; empty for as long as nothing else is said.", "2026-03-31", default=None)
    fixed: FixedPart = said("Roles that one text fills, whatever the address says.", default_factory=FixedPart)

    def plain(self) -> Legend:
        """The legend."""
        roles = []
        for field, role in (self.model_extra or {}).items():
            if not isinstance(role, str):
                raise ValueError(f"{field}: a role is one of {', '.join(ROLES)}, or extra:NAME")
            if role.strip():
                roles.append((_field_of(field.strip()), role.strip()))
        when = [Condition("source", "is", (self.source,))] if self.source else []
        when += [stated.plain() for stated in self.when]
        return Legend(tuple(when), self.since, tuple(roles), self.fixed.plain(), self.until)


def _field_of(name: str) -> str:
    """A tag of the six goes by its field, every other name by itself."""
    short = name.removeprefix("utm_")
    return short if short in FIELDS else name


class QuarantineConditionPart(ConditionPart):
    """One condition of a quarantine rule."""

    field: Name = said(
        "What is looked at: a field, or parameter:NAME.", "email_host", json_schema_extra={"suggested": list(JUDGED)}
    )


class QuarantinePart(Part):
    """A rule that takes test records out of every figure; they stay visible."""

    when: Annotated[list[QuarantineConditionPart], Field(min_length=1)] = said("Conditions; all must hold.")

    def plain(self) -> QuarantineRule:
        """The rule."""
        return QuarantineRule(tuple(stated.plain() for stated in self.when))


class RecordPart(Part):
    """A record that somebody took out or put back, whatever the rules say."""

    table: Literal["visits", "leads", "conversions"] = said("The table it is in.", "leads")
    id: Name = said("Its id.", "L-17")
    state: Literal["quarantined", "counted"] = said("Taken out, or put back.", "quarantined")

    def plain(self) -> RecordState:
        """The record's state."""
        return RecordState(self.table, self.id, self.state)


class StatusPart(Part):
    """What a status word of leads and conversions means."""

    word: Name = said("The word, as records carry it.", "lost")
    means: Literal["counts", "does not count", "good"] = said("What it means.", "does not count")

    def plain(self) -> StatusWord:
        """The word."""
        return StatusWord(self.word, self.means)


class GoalPart(Part):
    """A kind of conversion, or a version of one from a day on."""

    name: Name = said("The goal as it stands in the data; lead rows have the goal lead.", "ticket")
    since: Day | None = said(
        "First day of this version; empty for the first. Earlier conversions keep the version of their day.",
        "2026-07-01", default=None, alias="from",
    )  # fmt: skip
    kind: Literal["lead", "sale"] | None = said("Whether it is a lead or a sale.", "sale", default=None)
    category: Word = said("A word of your own for kinds of goals.", "bookings", default="")
    count: Literal["every", "one", "one_per_day", "one_per_touch"] | None = said(
        "Which records of one person count.", "every", default=None
    )
    value: Literal["total", "net"] | None = said("net = total without tax and shipping.", "net", default=None)
    fixed_value: OpenAmount = said("Each is worth this, whatever its record says.", "30.00", default=None)
    default_value: NotNegative | None = said("Worth this, where the record has no total.", "25.00", default=None)
    currency: Currency = said("Of these two values; empty for the home currency.", "AUD", default="")
    click_days: Days | None = said("Its own look-back for clicks, in days.", "60", default=None)
    watch_days: Days | None = said("Its own look-back for watches, in days.", "3", default=None)
    view_days: Days | None = said("Its own look-back for views, in days.", "1", default=None)
    good_stages: list[Word] = said(
        "A lead in one of these stages is good, as is one marked good.", "quoted", default=[]
    )
    good_goal: Word = said("A lead is good when its person converts to this goal later.", "ticket", default="")
    good_days: Days = said("Within so many days after the lead.", "30", default=Decimal(30))
    yardstick: Word = said("The yardstick the board opens with.", "linear", default="")

    def plain(self) -> Goal:
        """The goal, what is left out as usual for its name."""
        usual = default_goal(self.name)
        return Goal(
            name=self.name,
            kind=self.kind or usual.kind,
            count=self.count or usual.count,
            value=self.value or usual.value,
            default_value=self.default_value,
            click_days=self.click_days,
            watch_days=self.watch_days,
            view_days=self.view_days,
            fixed_value=self.fixed_value,
            good_stages=tuple(s for s in self.good_stages if s),
            since=self.since,
            yardstick=self.yardstick,
            currency=self.currency,
            good_goal=self.good_goal,
            good_days=self.good_days,
        )


class VariantPart(Part):
    """A variant of a split test."""

    name: Name = said("What tells it apart.", "B, short form")
    address: Name = said("Its own address.", "https://www.lunnick.example/boats-b")


class LandingPagePart(Part):
    """A landing page; reports show its name in place of its address."""

    name: Name = said("The name reports show.", "Boats")
    address: Name = said("Where it is; query and closing slash do not matter.", "https://www.lunnick.example/boats")
    kind: Literal["straight to the offer", "one page", "several steps"] = said(
        "How the visitor comes to the offer.", "one page", default="one page"
    )
    variants: list[VariantPart] = said("Variants of a split test, each a row of its own.", default=[])

    def plain(self) -> tuple[Page, ...]:
        """The page and its variants."""
        variants = (Page(f"{self.name}: {v.name}", v.address, True) for v in self.variants)
        return (Page(self.name, self.address), *variants)


class OtherCostPart(Part):
    """A cost that no platform reports, spread evenly over its days."""

    campaign: Name = said("The campaign that bears it.", "Spring Whale Boats")
    kind: Word = said("fee, production, hours, messages, or a word of your own.", "production", default="")
    cost: NotNegative = said("The whole cost.", "900.00")
    currency: Currency = said("Empty for the home currency.", "AUD", default="")
    first: CostDay = said("First day it is spread over.", "2026-03-01", alias="from")
    last: CostDay = said("Last day it is spread over.", "2026-03-31", alias="to")

    def plain(self) -> OtherCost:
        """The cost."""
        return OtherCost(self.first, self.last, self.campaign, self.kind, self.cost, self.currency)


class ClickPricePart(Part):
    """What a click on a link costs; arrivals through the link times the price are its estimated cost."""

    campaign: Name = said("The campaign in the link.", "Pier Posters")
    source: Word = said("Source in the link; empty for any.", "islandnotes", default="")
    medium: Word = said("Medium in the link; empty for any.", "banner", default="")
    term: Word = said("Term in the link; empty for any.", "island boat", default="")
    content: Word = said("Content in the link; empty for any.", "spring", default="")
    price: Price = said("Price of one click.", "0.35")
    currency: Currency = said("Empty for the home currency.", "AUD", default="")
    first: Day | None = said("First day it holds; empty for always.", "2026-03-01", default=None, alias="from")
    last: Day | None = said("Last day it holds; empty for always.", "2026-03-31", default=None, alias="to")

    def plain(self) -> ClickPrice:
        """The price."""
        return ClickPrice(
            self.campaign, self.price, self.source, self.medium, self.term, self.content, self.currency,
            self.first, self.last,
        )  # fmt: skip


class PlatformPart(Part):
    """Where the spend of an ad platform stands in breakdowns, and the zone of its account's days."""

    name: Name = said("The platform, as spend files have it.", "Quorrin")
    source: Word = said("Source its spend stands under.", "quorrin", default="")
    medium: Word = said("Medium its spend stands under.", "cpc", default="")
    time_zone: Word = said("Zone of its days; empty for the workspace's.", "Asia/Tokyo", default="")
    kind: Literal["", "search", "social", "panels", "video"] = said(
        "What its cpc, ppc and paid arrivals are.", "search", default=""
    )

    levels: Literal["repeat", "add"] = said(
        "Rows of a campaign beside those of its groups: repeat them, or add to them.", "add", default="repeat"
    )

    def plain(self) -> Platform:
        """The platform."""
        return Platform(self.name, self.source, self.medium, self.time_zone, self.kind, self.levels)
