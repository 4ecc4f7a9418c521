"""The records of the plan as they stand in settings.toml. Each field says in one line what goes in it, with an example."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from yardstick.core import channels
from yardstick.core.legends import ROLES
from yardstick.core.mail import Sender
from yardstick.core.patterns import Dialect, DialectSlot, OwnSlot, Pattern
from yardstick.core.settings import (
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
    Rename,
    default_goal,
)

from .cells import BadCell, decimal_cell, minor_digits


def exact_decimal(value: object) -> Decimal:
    """A decimal as written: from text or from TOML's number, never through a binary float."""
    if isinstance(value, bool) or not isinstance(value, int | str | Decimal):
        raise ValueError("write it as a number")
    if isinstance(value, Decimal | int):
        return Decimal(value)
    try:
        parts = decimal_cell(value.strip())
    except BadCell as problem:
        raise ValueError(str(problem)) from None
    if parts is None:
        raise ValueError("write it as a number")
    return Decimal(parts[0]).scaleb(-parts[1])


def _day(value: object) -> object:
    return value.strip() if isinstance(value, str) else value


def _currency(value: object) -> object:
    if not isinstance(value, str):
        raise ValueError("write it as a three-letter code")
    code = value.strip().upper()
    if code:
        try:
            minor_digits(code)
        except BadCell as problem:
            raise ValueError(str(problem)) from None
    return code


def _word(value: object) -> object:
    return value.strip() if isinstance(value, str) else value


Exact = Annotated[Decimal, BeforeValidator(exact_decimal), Field(allow_inf_nan=False)]
Positive = Annotated[Exact, Field(gt=0)]
NotNegative = Annotated[Exact, Field(ge=0)]
Days = Annotated[Decimal, BeforeValidator(exact_decimal), Field(ge=0, le=36_500, allow_inf_nan=False)]
Day = Annotated[date, BeforeValidator(_day)]
Currency = Annotated[str, BeforeValidator(_currency)]
Word = Annotated[str, BeforeValidator(_word)]
Name = Annotated[str, BeforeValidator(_word), Field(min_length=1)]
Referrer = Literal["pass on", "host only", "withhold"]
LevelName = Literal["group", "ad", "keyword", "placement", "item", "audience"]


def said(text: str, example: str = "", **more: Any) -> Any:
    """A field with the line that explains it and an example."""
    return Field(default=more.pop("default", ...), description=text, examples=[example] if example else None, **more)


class Part(BaseModel):
    """A record, or a piece of one; unknown names are refused, so that a misspelt one is not lost in silence."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True, serialize_by_alias=True)


class CampaignPart(Part):
    """A campaign, known before its first link."""

    name: Name = said("The campaign as it stands in spend files and reports.", "Spring Whale Boats")
    code: Word = said("Short and safe to show outsiders; links carry it in place of the name.", "swb-26", default="")
    plain_name: Word = said("What reports show; inside only, never in a link.", "Whale season opener", default="")
    remark: Word = said("Anything worth knowing; inside only.", "second year, new pictures", default="")
    starts: Day | None = said("First day; empty for an ongoing campaign.", "2026-09-01", default=None)
    ends: Day | None = said("Last day; empty for an ongoing campaign.", "2026-11-30", default=None)
    owner: Word = said("Who answers for it.", "Maren", default="")
    budget: NotNegative | None = said("What it may cost in all, in the home currency.", "12000.00", default=None)
    goal: Word = said("The goal it works for.", "ticket", default="")
    target_roas: Positive | None = said("Its own target, value per unit of spend.", "4.0", default=None)
    target_cost_per_lead: Positive | None = said("Its own target, in the home currency.", "60.00", default=None)
    state: Literal["draft", "approved", "stopped"] = said(
        "Whether it may run; whether it does run follows from its days and arrivals.", "approved", default="draft"
    )
    host: Word = said("The host its links lead to; empty for any of your own.", "www.lunnick.example", default="")
    referrer: Referrer | None = said(
        "What its short links tell pages of where the visitor comes from.", "host only", default=None
    )
    ids: list[Word] = said(
        "Its ids on ad platforms; arrivals and spend with one of them are its own.", "q-101", default=[]
    )
    vouchers: list[Word] = said(
        "Voucher and spoken codes; a lead or order that names one is its own.", "WHALE26", default=[]
    )
    expected_leads: NotNegative | None = said("Leads it should bring.", "40", default=None)
    expected_value: NotNegative | None = said("Value it should bring, in the home currency.", "30000.00", default=None)
    expected_reason: Word = said("Why so much.", "last spring, plus the new pier", default="")
    locked_on: Day | None = said(
        "The day the expectation was locked; from then on it stays.", "2026-08-20", default=None
    )

    def plain(self) -> Campaign:
        """As far as it changes figures."""
        ids, vouchers = tuple(i for i in self.ids if i), tuple(v for v in self.vouchers if v)
        return Campaign(
            self.name, self.code, self.plain_name, ids, vouchers, self.target_roas, self.target_cost_per_lead
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
        """As far as it changes figures."""
        return Level(self.level, self.id, self.name)


class RenamePart(Part):
    """A value that is another from a day on; two values renamed to one are merged. Raw values stay."""

    field: Name = said(
        "campaign, source, medium, group, ad, keyword, placement, item, audience or extra:NAME.", "source"
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
    separator: Annotated[str, Field(min_length=1)] = said("What stands between the parts.", "_", default="_")
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

    field: Name = said("What is looked at.", "source", json_schema_extra={"options": list(channels.FIELDS)})
    op: Name = said(
        "How; matches takes a regular expression.",
        "begins with",
        json_schema_extra={"options": [*channels.OPERATORS, *channels.NEGATIONS]},
    )
    value: str | bool | list[str] | None = said(
        "What it is held against, one a line; none for is empty.", "p-", default=None
    )

    def plain(self) -> Condition:
        """The condition."""
        value = self.value
        values = () if value is None else tuple(value) if isinstance(value, list) else (str(value),)
        return Condition(self.field, self.op, values)


class ChannelPart(Part):
    """A channel rule of the workspace's own, asked before the built-in list; the first that fits wins."""

    name: Name = said("The channel it gives.", "Partners")
    when: Annotated[list[ConditionPart], Field(min_length=1)] = said("Conditions; all must hold.")

    def plain(self) -> ChannelRule:
        """The rule."""
        return ChannelRule(self.name, tuple(c.plain() for c in self.when))


class LegendPart(BaseModel):
    """How one source's tags are to be read from a day on: field or extra value -> role."""

    model_config = ConfigDict(extra="allow", populate_by_name=True, serialize_by_alias=True)

    source: Name = said("The source, as its links carry it.", "ostrel")
    since: Day | None = said("First day it holds; empty for always.", "2026-01-01", default=None, alias="from")

    def plain(self) -> Legend:
        """The legend."""
        roles = []
        for field, role in (self.model_extra or {}).items():
            if not isinstance(role, str):
                raise ValueError(f"{field}: a role is one of {', '.join(ROLES)}, or extra:NAME")
            if role.strip():
                roles.append((field.strip().removeprefix("utm_"), role.strip()))
        return Legend(self.source, self.since, tuple(roles))


class GoalPart(Part):
    """A kind of conversion, or a version of one from a day on."""

    name: Name = said("The goal as it stands in the data; lead rows have the goal lead.", "ticket")
    since: Day | None = said(
        "First day of this version; empty for the first. Earlier conversions keep the version of their day.",
        "2026-07-01", default=None, alias="from",
    )  # fmt: skip
    kind: Literal["lead", "sale"] | None = said("Whether it is a lead or a sale.", "sale", default=None)
    category: Word = said("A word of your own to group goals by.", "bookings", default="")
    count: Literal["every", "one", "one_per_day", "one_per_touch"] | None = said(
        "Which records of one person count.", "every", default=None
    )
    value: Literal["total", "net"] | None = said("net = total without tax and shipping.", "net", default=None)
    fixed_value: NotNegative | None = said("Each is worth this, whatever its record says.", "30.00", default=None)
    default_value: NotNegative | None = said("Worth this, where the record has no total.", "25.00", default=None)
    currency: Currency = said("Of these two values; empty for the home currency.", "AUD", default="")
    click_days: Days | None = said("Its own look-back for clicks, in days.", "60", default=None)
    watch_days: Days | None = said("Its own look-back for watches, in days.", "3", default=None)
    view_days: Days | None = said("Its own look-back for views, in days.", "1", default=None)
    good_stages: list[Word] = said(
        "A lead in one of these stages is good, as is one marked good.", "quoted", default=[]
    )
    yardstick: Word = said("The yardstick the board opens with.", "linear", default="")

    def plain(self) -> Goal:
        """The goal, what is left out as usual for its name."""
        usual = default_goal(self.name)
        return Goal(
            self.name,
            self.kind or usual.kind,
            self.count or usual.count,
            self.value or usual.value,
            self.default_value,
            self.click_days,
            self.watch_days,
            self.view_days,
            self.fixed_value,
            tuple(s for s in self.good_stages if s),
            self.since,
            self.yardstick,
            self.currency,
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
        variants = (Page(f"{self.name}: {v.name}", v.address) for v in self.variants)
        return (Page(self.name, self.address), *variants)


class OtherCostPart(Part):
    """A cost that no platform reports, spread evenly over its days."""

    campaign: Name = said("The campaign that bears it.", "Spring Whale Boats")
    kind: Word = said("fee, production, hours, messages, or a word of your own.", "production", default="")
    cost: NotNegative = said("The whole cost.", "900.00")
    currency: Currency = said("Empty for the home currency.", "AUD", default="")
    first: Day = said("First day it is spread over.", "2026-03-01", alias="from")
    last: Day = said("Last day it is spread over.", "2026-03-31", alias="to")

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
    price: NotNegative = said("Price of one click.", "0.35")
    currency: Currency = said("Empty for the home currency.", "AUD", default="")
    first: Day | None = said("First day it holds; empty for always.", "2026-03-01", default=None, alias="from")
    last: Day | None = said("Last day it holds; empty for always.", "2026-03-31", default=None, alias="to")

    def plain(self) -> ClickPrice:
        """The price."""
        return ClickPrice(
            self.campaign, self.price, self.source, self.medium, self.term, self.content, self.currency,
            self.first, self.last,
        )  # fmt: skip


class SlotPart(Part):
    """One slot an ad platform fills at the click."""

    name: Name = said("Its name in the platform's own spelling.", "adgroup")
    means: Name = said("What it stands for; our patterns name it so.", "group-name")
    levels: list[Literal["account", "campaign", "group"]] = said(
        "Where it may be used; empty for anywhere.", "group", default=[]
    )
    example: Word = said("A value to preview with.", "Whale search", default="")


class DialectPart(Part):
    """How one ad platform writes its slots. Text in them that was never filled is read as empty."""

    platform: Name = said("The ad platform.", "Quorrin")
    opens: Name = said("What stands before a slot's name.", "{=")
    closes: Name = said("What stands after it.", "=}")
    slots: list[SlotPart] = said("The slots it knows.", default=[])

    def plain(self) -> Dialect:
        """The dialect."""
        slots = (DialectSlot(s.name, s.means, tuple(s.levels), s.example) for s in self.slots)
        return Dialect(self.platform, self.opens, self.closes, tuple(slots))


class PlacePart(Part):
    """A place where links are put: which box takes them, and how long they may be there."""

    name: Name = said("The place, as the link sheet names it.", "Ostrel feed ad")
    box: Word = said("Which box of it takes the address.", "Destination", default="")
    leave: Word = said("What must not be touched there.", "the box Display address", default="")
    longest: Annotated[int, Field(gt=20, le=100_000)] | None = said(
        "How many bytes an address may have there.", "1024", default=None
    )
    asked_by: Word = said("Who puts it there.", "Tove", default="")


class PresetPart(Part):
    """Cells to fill rows of the link sheet with."""

    name: Name = said("What it is called.", "Ostrel feed")
    source: Word = said("Source.", "ostrel", default="")
    medium: Word = said("Medium.", "paid-social", default="")
    campaign: Word = said("Campaign.", "Midnight Boat", default="")
    term: Word = said("Term.", "feed night", default="")
    content: Word = said("Content.", "night-a", default="")
    placement: Word = said("Place.", "Ostrel feed ad", default="")
    page: Word = said("Landing page.", "Night boat", default="")


class StorePart(Part):
    """A shop for apps or other place beyond your site, where a link ends; only clicks can be counted there."""

    host: Name = said("Its host.", "apps.tidegate.example")
    id_in: Word = said("The parameter that holds the app's id; empty: the last part of the path.", "id", default="")
    id_kind: Literal["number", "reverse domain"] = said("How its ids look.", "reverse domain", default="number")


class TagFields(Part):
    """Texts for the tag fields; slots are written (:name:)."""

    source: Word = said("Source.", "quorrin", default="")
    medium: Word = said("Medium.", "cpc", default="")
    campaign: Word = said("Campaign.", "(:campaign-name:)", default="")
    term: Word = said("Term.", "(:keyword:)", default="")
    content: Word = said("Content.", "(:group-name:)-(:ad-name:)", default="")
    id: Word = said("Id.", "(:campaign-id:)", default="")

    def texts(self) -> dict[str, str]:
        """By field, those that are filled."""
        texts = {name: getattr(self, name) for name in ("source", "medium", "campaign", "term", "content", "id")}
        return {name: text for name, text in texts.items() if text}


class PatternPart(TagFields):
    """An address pattern of an ad platform's account, campaign or group; the nearer level wins field by field."""

    platform: Name = said("The ad platform.", "Quorrin")
    level: Literal["account", "campaign", "group"] = said("Which level it is set at.", "account")
    name: Word = said("The campaign or group it is for; empty for any.", "Midnight Boat Search", default="")
    kind: Word = said("The kind of campaign it is for; empty for any.", "search", default="")

    def plain(self) -> Pattern:
        """The pattern."""
        return Pattern(self.platform, self.level, self.name, self.kind, self.texts())


class OwnSlotPart(Part):
    """A slot of your own: what it stands for in one campaign or group."""

    platform: Name = said("The ad platform.", "Quorrin")
    level: Literal["campaign", "group"] = said("Which level it is set at.", "campaign")
    name: Name = said("The campaign or group.", "Midnight Boat Search")
    slot: Name = said("Its name; patterns write it (:offer:).", "offer")
    value: Name = said("What it stands for.", "half-fare")

    def plain(self) -> OwnSlot:
        """The slot."""
        return OwnSlot(self.platform, self.level, self.name, self.slot, self.value)


class SenderPart(TagFields):
    """How the mails of one sender are tagged: slots are (:list:), (:series:) and (:message:)."""

    name: Name = said("The mail sender.", "Ellivane")
    kind: Literal["one-off", "series"] = said("One-off mails, or automated series.", "one-off", default="one-off")

    def plain(self) -> Sender:
        """The sender."""
        return Sender(self.name, self.kind, self.texts())


class PlatformPart(Part):
    """Where the spend of an ad platform stands in breakdowns, and the zone of its account's days."""

    name: Name = said("The platform, as spend files have it.", "Quorrin")
    source: Word = said("Source its spend stands under.", "quorrin", default="")
    medium: Word = said("Medium its spend stands under.", "cpc", default="")
    time_zone: Word = said("Zone of its days; empty for the workspace's.", "Asia/Tokyo", default="")

    def plain(self) -> Platform:
        """The platform."""
        return Platform(self.name, self.source, self.medium, self.time_zone)


SECTIONS: dict[str, type[BaseModel]] = {
    "campaign": CampaignPart,
    "level": LevelPart,
    "goal": GoalPart,
    "channel": ChannelPart,
    "legend": LegendPart,
    "rename": RenamePart,
    "naming": NamingPart,
    "allowed": AllowedPart,
    "landing_page": LandingPagePart,
    "other_cost": OtherCostPart,
    "click_price": ClickPricePart,
    "platform": PlatformPart,
    "dialect": DialectPart,
    "place": PlacePart,
    "store": StorePart,
    "preset": PresetPart,
    "pattern": PatternPart,
    "own_slot": OwnSlotPart,
    "sender": SenderPart,
}
"""Lists of records in settings.toml."""
