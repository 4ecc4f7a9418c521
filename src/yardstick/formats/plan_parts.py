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
    Positive,
    Price,
    Referrer,
    Separator,
    SettingsPart,
    Word,
    described_field,
)


class CampaignPart(SettingsPart):
    """A campaign, known before its first link."""

    name: Name = described_field("The campaign as it stands in spend files and reports.", "Spring Whale Boats")
    code: Word = described_field(
        "Short and safe to show outsiders; links carry it in place of the name.", "swb-26", default=""
    )
    plain_name: Word = described_field(
        "What reports show; inside only, never in a link.", "Whale season opener", default=""
    )
    remark: Word = described_field("Anything worth knowing.", "second year, new pictures", default="")
    starts: Day | None = described_field(
        "First day; empty for an ongoing campaign. What came is counted from it.", "2026-09-01", default=None
    )
    ends: Day | None = described_field(
        "Last day; empty for an ongoing campaign. What came is counted up to it, links have ended after it.",
        "2026-11-30",
        default=None,
    )
    owner: Word = described_field(
        "Who answers for it: whom Placing names where a link must be mended.", "Maren", default=""
    )
    budget: NotNegative | None = described_field(
        "What it may cost in all, in the home currency: it stands beside its spend.",
        "12000.00",
        default=None,
    )
    goal: Word = described_field("The goal it works for.", "ticket", default="")
    target_roas: Positive | None = described_field(
        "Its own target, value per unit of spend: its second notch, and what its verdict is measured against.",
        "4.0",
        default=None,
    )
    target_cost_per_lead: Positive | None = described_field(
        "Its own target, in the home currency: what its verdict by leads is measured against.", "60.00", default=None
    )
    state: Literal["draft", "approved", "stopped"] = described_field(
        "A draft's links must not be placed; stopped is a note for readers.",
        "draft",
        default="approved",
    )
    host: Word = described_field(
        "The host its links lead to; empty for any of your own.", "www.lunnick.example", default=""
    )
    referrer: Referrer | None = described_field(
        "What its short links tell pages about where the visitor comes from.", "host", default=None
    )
    ids: list[Word] = described_field(
        "Its ids on ad platforms; arrivals and spend with one of them are its own.", "q-101", default=[]
    )
    vouchers: list[Word] = described_field(
        "Voucher and spoken codes; a lead or order that names one is its own.", "WHALE26", default=[]
    )
    expected_leads: NotNegative | None = described_field(
        "Leads it should bring: they stand beside those that came.", "40", default=None
    )
    expected_value: NotNegative | None = described_field(
        "Value it should bring, in the home currency: it stands beside the value that came.",
        "30000.00",
        default=None,
    )
    expected_reason: Word = described_field("Why so much; to be read.", "last spring, plus the new pier", default="")
    locked_on: Day | None = described_field(
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


class LevelPart(SettingsPart):
    """One entry of the tree under a campaign: a platform's id beside the name people know it by."""

    campaign: Name = described_field("The campaign it is under.", "Spring Whale Boats")
    level: LevelName = described_field("Which level of the tree it is.", "ad")
    id: Word = described_field("The platform's id, as links and spend files carry it.", "83015", default="")
    name: Name = described_field("The name reports show in place of the id.", "Humpback at dawn")
    platform: Word = described_field("The ad platform.", "Quorrin", default="")
    account: Word = described_field("The account on it.", "q-main", default="")
    under: Word = described_field("The entry above it, if any.", "Whale search, exact", default="")
    text: Word = described_field("For an ad: what it says.", "See them from the foredeck", default="")
    picture: Word = described_field("For an ad: name of its picture.", "humpback-dawn.jpg", default="")

    def plain(self) -> Level:
        """As far as figures and links depend on it."""
        return Level(self.level, self.id, self.name, self.campaign, self.text, self.picture)


class RenamePart(SettingsPart):
    """A value that is another from a day on; two values renamed to one are merged. Raw values stay."""

    field: Name = described_field(
        "campaign, source, medium, group, ad, keyword, placement, item, audience, goal or extra:NAME.", "source"
    )
    old: Name = described_field("The value as it came.", "ostrell")
    new: Name = described_field("The value it becomes.", "ostrel")
    since: Day | None = described_field(
        "First day it holds; empty for always.", "2026-03-01", default=None, alias="from"
    )

    def plain(self) -> Rename:
        """The rename."""
        return Rename(self.field, self.old, self.new, self.since)


class NamePartPart(SettingsPart):
    """One part of a naming pattern."""

    name: Name = described_field("Its name; a breakdown by extra:NAME shows it.", "audience")
    allowed: list[Word] = described_field("The words it may be; empty for any.", "families", default=[])


class NamingPart(SettingsPart):
    """How values of a field are put together; its parts become columns."""

    field: Name = described_field("source, medium, campaign, term, content, id or an extra value.", "content")
    separator: Separator = described_field("What stands between the parts; write space for a space.", "_", default="_")
    parts: Annotated[list[NamePartPart], Field(min_length=1)] = described_field("The parts in order.")

    def plain(self) -> Naming:
        """The pattern."""
        return Naming(
            self.field.removeprefix("utm_"),
            self.separator,
            tuple(p.name for p in self.parts),
            tuple(tuple(w for w in p.allowed if w) for p in self.parts),
        )


class AllowedPart(SettingsPart):
    """The words a field may be. Any other word in a link or an arrival is a finding."""

    field: Name = described_field("source, medium, campaign, term, content, id or an extra value.", "source")
    words: Annotated[list[Name], Field(min_length=1)] = described_field("The words.", "quorrin")


class ConditionPart(SettingsPart):
    """One condition of a channel rule."""

    field: Name = described_field(
        "What is looked at: a field, parameter:NAME or extra:NAME.",
        "source",
        json_schema_extra={"suggested": list(ASKED)},
    )
    op: Name = described_field(
        "How; matches takes a regular expression.",
        "begins with",
        json_schema_extra={"options": [*conditions.OFFERED]},
    )
    value: str | bool | list[str] | None = described_field(
        "What it is compared with, one on each line; none for is there and is empty.", "p-", default=None
    )

    def plain(self) -> Condition:
        """The condition."""
        value = self.value
        values = () if value is None else tuple(value) if isinstance(value, list) else (str(value),)
        return Condition(self.field, self.op, values)


class ChannelPart(SettingsPart):
    """A channel rule of the workspace's own, or one it shares with others; the first that fits wins."""

    name: Name = described_field("The channel it gives.", "Partners")
    when: Annotated[list[ConditionPart], Field(min_length=1)] = described_field("Conditions; all must be met.")

    def plain(self) -> ChannelRule:
        """The rule."""
        return ChannelRule(self.name, tuple(c.plain() for c in self.when))


class FixedPart(BaseModel):
    """Roles that a legend fills with one text, whatever the address says; `extra:NAME` too."""

    model_config = ConfigDict(extra="allow")

    channel: Word = described_field("The channel.", "Paid social", default="")
    source: Word = described_field("The source.", "ostrel", default="")
    medium: Word = described_field("The medium.", "cpc", default="")
    campaign: Word = described_field("The campaign.", "Spring Whale Boats", default="")
    group: Word = described_field("The group.", "Families", default="")
    ad: Word = described_field("The ad.", "Humpback", default="")
    keyword: Word = described_field("The keyword.", "ferry", default="")
    placement: Word = described_field("The placement.", "feed", default="")
    item: Word = described_field("What the ad promotes.", "year card", default="")
    audience: Word = described_field("Whom it is shown to.", "families", default="")

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

    source: Word = described_field(
        "The source, as its links carry it; empty where conditions say more.", "ostrel", default=""
    )
    when: list[ConditionPart] = described_field(
        "Conditions; all must be met. None and no source: every arrival.", default=[]
    )
    since: Day | None = described_field(
        "First day it holds; empty for always.", "2026-01-01", default=None, alias="from"
    )
    until: OpenDay = described_field(
        "Last day it holds; empty for as long as nothing else is said.", "2026-03-31", default=None
    )
    fixed: FixedPart = described_field(
        "Roles that one text fills, whatever the address says.", default_factory=FixedPart
    )

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

    field: Name = described_field(
        "What is looked at: a field, or parameter:NAME.", "email_host", json_schema_extra={"suggested": list(JUDGED)}
    )


class QuarantinePart(SettingsPart):
    """A rule that takes test records out of every figure; they stay visible."""

    when: Annotated[list[QuarantineConditionPart], Field(min_length=1)] = described_field(
        "Conditions; all must be met."
    )

    def plain(self) -> QuarantineRule:
        """The rule."""
        return QuarantineRule(tuple(stated.plain() for stated in self.when))


class RecordPart(SettingsPart):
    """A record that somebody took out or put back, whatever the rules say."""

    table: Literal["visits", "leads", "conversions"] = described_field("The table it is in.", "leads")
    id: Name = described_field("Its id.", "L-17")
    state: Literal["quarantined", "counted"] = described_field("Taken out, or put back.", "quarantined")

    def plain(self) -> RecordState:
        """The record's state."""
        return RecordState(self.table, self.id, self.state)


class StatusPart(SettingsPart):
    """What a status word of leads and conversions means."""

    word: Name = described_field("The word, as records carry it.", "lost")
    means: Literal["counts", "does not count", "good"] = described_field("What it means.", "does not count")

    def plain(self) -> StatusWord:
        """The word."""
        return StatusWord(self.word, self.means)


class GoalPart(SettingsPart):
    """A kind of conversion, or a version of one from a day on."""

    name: Name = described_field("The goal as it stands in the data; lead rows have the goal lead.", "ticket")
    since: Day | None = described_field(
        "First day of this version; empty for the first. Earlier conversions keep the version of their day.",
        "2026-07-01", default=None, alias="from",
    )  # fmt: skip
    kind: Literal["lead", "sale"] | None = described_field("Whether it is a lead or a sale.", "sale", default=None)
    category: Word = described_field("A word of your own for kinds of goals.", "bookings", default="")
    count: Literal["every", "one", "one_per_day", "one_per_touch"] | None = described_field(
        "Which records of one person count.", "every", default=None
    )
    value: Literal["total", "net"] | None = described_field(
        "net = total without tax and shipping.", "net", default=None
    )
    fixed_value: OpenAmount = described_field("Each is worth this, whatever its record says.", "30.00", default=None)
    default_value: NotNegative | None = described_field(
        "Worth this, where the record has no total.", "25.00", default=None
    )
    currency: Currency = described_field("Of these two values; empty for the home currency.", "AUD", default="")
    click_days: Days | None = described_field("Its own look-back for clicks, in days.", "60", default=None)
    watch_days: Days | None = described_field("Its own look-back for watches, in days.", "3", default=None)
    view_days: Days | None = described_field("Its own look-back for views, in days.", "1", default=None)
    good_stages: list[Word] = described_field(
        "A lead in one of these stages is good, as is one marked good.", "quoted", default=[]
    )
    good_goal: Word = described_field(
        "A lead is good when its person converts to this goal later.", "ticket", default=""
    )
    good_days: Days = described_field("Within so many days after the lead.", "30", default=Decimal(30))
    yardstick: Word = described_field("The yardstick the board opens with.", "linear", default="")

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


class VariantPart(SettingsPart):
    """A variant of a split test."""

    name: Name = described_field("What tells it apart.", "B, short form")
    address: Name = described_field("Its own address.", "https://www.lunnick.example/boats-b")


class LandingPagePart(SettingsPart):
    """A landing page; reports show its name in place of its address."""

    name: Name = described_field("The name reports show.", "Boats")
    address: Name = described_field(
        "Where it is; query and closing slash do not matter.", "https://www.lunnick.example/boats"
    )
    kind: Literal["straight to the offer", "one page", "several steps"] = described_field(
        "How the visitor comes to the offer.", "one page", default="one page"
    )
    variants: list[VariantPart] = described_field("Variants of a split test, each a row of its own.", default=[])

    def plain(self) -> tuple[Page, ...]:
        """The page and its variants."""
        variants = (Page(f"{self.name}: {v.name}", v.address, True) for v in self.variants)
        return (Page(self.name, self.address), *variants)


class OtherCostPart(SettingsPart):
    """A cost that no platform reports, spread evenly over its days."""

    campaign: Name = described_field("The campaign that bears it.", "Spring Whale Boats")
    kind: Word = described_field("fee, production, hours, messages, or a word of your own.", "production", default="")
    cost: NotNegative = described_field("The whole cost.", "900.00")
    currency: Currency = described_field("Empty for the home currency.", "AUD", default="")
    first: CostDay = described_field("First day it is spread over.", "2026-03-01", alias="from")
    last: CostDay = described_field("Last day it is spread over.", "2026-03-31", alias="to")

    def plain(self) -> OtherCost:
        """The cost."""
        return OtherCost(self.first, self.last, self.campaign, self.kind, self.cost, self.currency)


class ClickPricePart(SettingsPart):
    """What a click on a link costs; arrivals through the link times the price are its estimated cost."""

    campaign: Name = described_field("The campaign in the link.", "Pier Posters")
    source: Word = described_field("Source in the link; empty for any.", "islandnotes", default="")
    medium: Word = described_field("Medium in the link; empty for any.", "banner", default="")
    term: Word = described_field("Term in the link; empty for any.", "island boat", default="")
    content: Word = described_field("Content in the link; empty for any.", "spring", default="")
    price: Price = described_field("Price of one click.", "0.35")
    currency: Currency = described_field("Empty for the home currency.", "AUD", default="")
    first: Day | None = described_field(
        "First day it holds; empty for always.", "2026-03-01", default=None, alias="from"
    )
    last: Day | None = described_field("Last day it holds; empty for always.", "2026-03-31", default=None, alias="to")

    def plain(self) -> ClickPrice:
        """The price."""
        return ClickPrice(
            self.campaign, self.price, self.source, self.medium, self.term, self.content, self.currency,
            self.first, self.last,
        )  # fmt: skip


class PlatformPart(SettingsPart):
    """Where the spend of an ad platform stands in breakdowns, and the zone of its account's days."""

    name: Name = described_field("The platform, as spend files have it.", "Quorrin")
    source: Word = described_field("Source its spend stands under.", "quorrin", default="")
    medium: Word = described_field("Medium its spend stands under.", "cpc", default="")
    time_zone: Word = described_field("Zone of its days; empty for the workspace's.", "Asia/Tokyo", default="")
    kind: Literal["", "search", "social", "panels", "video"] = described_field(
        "What its cpc, ppc and paid arrivals are.", "search", default=""
    )

    levels: Literal["repeat", "add"] = described_field(
        "Rows of a campaign beside those of its groups: repeat them, or add to them.", "add", default="repeat"
    )

    def plain(self) -> Platform:
        """The platform."""
        return Platform(self.name, self.source, self.medium, self.time_zone, self.kind, self.levels)
