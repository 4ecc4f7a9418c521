"""The plan: everything a weighing depends on besides the data, frozen, typed, split by the step that asks for it.

What a step depends on is the type of its argument, so what it gave can be kept for as long as that part stays equal.
"""

from __future__ import annotations

from dataclasses import dataclass, field, fields, replace
from datetime import date
from decimal import Decimal
from functools import cached_property
from typing import Any

from ..base.words import fold
from .campaigns import Names
from .link_records import AS_BROWSERS, Dialect, OwnSlot, Pattern, Place, Preset, Sender, Store
from .records import (
    Campaign,
    CampaignNames,
    ChannelRule,
    ClickPrice,
    Goal,
    GoalWindow,
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
    Window,
    Yardstick,
    default_goal,
)
from .source_records import Source

BUILT_RULES = ("first", "last", "last_marked", "linear", "position", "decay", "custom", "fair_share", "removal")
"""Yardstick rules that are built, in the order in which they are shown."""
REMOVAL = "removal"
"""The rule that credits states, not touches (R16)."""
USUAL_RULES = ("first", "last", "last_marked", "linear", "position", "decay", "fair_share", "removal")
"""Those that a plan has without any in the settings, under their own names: a rule that is new is not among them until
somebody says so here."""
PANEL = ("first", "last", "linear", "fair_share")
"""Yardsticks that the board draws beside the chosen one, as far as they are there, unless the settings name others."""
CONVERSION, TOUCH, EVENT = "conversion", "touch", "event:"
"""Date bases (R22): whose day the range selects; after the last a word or stage follows."""
USUALLY_REQUIRED = ("source", "medium", "campaign")
"""Tags that every link of ours must have, unless the settings say otherwise."""


@dataclass(frozen=True)
class Money:
    """The home currency, the decimals of its minor unit (ISO 4217), and how many days old a rate may be (R20)."""

    home_currency: str = "EUR"
    minor_digits: int = 2
    rate_days: int = 7


@dataclass(frozen=True)
class Reading:
    """How what comes is read: hosts, parameters, legends, channels, names (R1-R5, R8)."""

    time_zone: str = "UTC"
    fold: bool = True
    own_hosts: tuple[str, ...] = ()
    pass_through_hosts: tuple[str, ...] = ()
    search_sites: tuple[str, ...] = ()
    social_sites: tuple[str, ...] = ()
    click_marks: tuple[str, ...] = ()
    extra_values: tuple[str, ...] = ()
    tag_parameters: tuple[str, ...] = ()
    required_tags: tuple[str, ...] = USUALLY_REQUIRED
    slot_pairs: tuple[tuple[str, str], ...] = ()
    channels: tuple[ChannelRule, ...] = ()
    shared_channels: tuple[ChannelRule, ...] = ()
    legends: tuple[Legend, ...] = ()
    renames: tuple[Rename, ...] = ()
    namings: tuple[Naming, ...] = ()
    allowed: tuple[tuple[str, tuple[str, ...]], ...] = ()
    value_case: str = "any"
    value_spaces: str = "any"
    named_campaigns: tuple[CampaignNames, ...] = ()
    platform_kinds: tuple[tuple[str, str, str], ...] = ()
    named_levels: tuple[Level, ...] = ()
    pages: tuple[Page, ...] = ()
    quarantine: tuple[QuarantineRule, ...] = ()
    records: tuple[RecordState, ...] = ()
    test_parameter: str = "yt-test"

    @cached_property
    def names(self) -> Names:
        """Which campaign, source, group... a text means on a day."""
        return Names(self.fold, self.renames, self.named_campaigns, self.named_levels)


@dataclass(frozen=True)
class Trailing:
    """What makes touches and conversions of rows (R6, R7, R10): how many others an identifier may stand with, the pause
    between touches, goals without windows, what status words mean, and the word or stage on whose day records stand,
    folded (R22; empty: on their own)."""

    session_gap_minutes: Decimal = Decimal(30)
    identifier_limit: int = 50
    counted_goals: tuple[Goal, ...] = ()
    status_words: tuple[StatusWord, ...] = ()
    event: str = ""

    def versions_of(self, name: str) -> tuple[Goal, ...]:
        """The versions of a goal, the earliest first, or its default (R10): `lead` (lead, one), others (sale, every).

        Before the first version begins, that version holds.
        """
        mine = [goal for goal in self.counted_goals if goal.name == name]
        return tuple(sorted(mine, key=lambda g: g.since or date.min)) or (default_goal(name),)


USUAL = Window()


@dataclass(frozen=True)
class Windows:
    """Which touches a trail has (R11, R13)."""

    window: Window = USUAL
    goal_windows: tuple[GoalWindow, ...] = ()
    direct: str = "keep"
    views: str = "keep"
    cut_at_previous: bool = False


@dataclass(frozen=True)
class Costing:
    """What things cost (R18, R19): platforms, and costs that no platform reports."""

    platforms: tuple[Platform, ...] = ()
    other_costs: tuple[OtherCost, ...] = ()
    click_prices: tuple[ClickPrice, ...] = ()


@dataclass(frozen=True)
class Crediting:
    """The yardsticks (R14-R16)."""

    yardsticks: tuple[Yardstick, ...] = tuple(Yardstick(rule, rule) for rule in USUAL_RULES)


@dataclass(frozen=True)
class Reporting:
    """What a report shows and what it is held against (R5, R22-R25); `as_of` is the instant, with its offset, that
    decides which days are over (R21), empty for the present one."""

    report_from: date | None = None
    report_to: date | None = None
    date_basis: str = "conversion"
    margin: Decimal = Decimal(1)
    target_roas: Decimal | None = None
    target_cost_per_lead: Decimal | None = None
    channel_order: tuple[str, ...] = ()
    hidden_channels: tuple[str, ...] = ()
    panel: tuple[str, ...] = ()
    verdict_minimum: int = 10
    mature_share: Decimal = Decimal("0.9")
    mature_minimum: int = 30
    as_of: str = ""


@dataclass(frozen=True)
class Linking:
    """What links are built from."""

    referrer: str = AS_BROWSERS
    short_base: str = ""
    dialects: tuple[Dialect, ...] = ()
    places: tuple[Place, ...] = ()
    stores: tuple[Store, ...] = ()
    presets: tuple[Preset, ...] = ()
    patterns: tuple[Pattern, ...] = ()
    own_slots: tuple[OwnSlot, ...] = ()
    senders: tuple[Sender, ...] = ()


@dataclass(frozen=True)
class Gathering:
    """Where rows come from. No figure hangs on it: how a row was read is settled when it is kept."""

    sources: tuple[Source, ...] = ()


@dataclass(frozen=True)
class Plan:
    """One state of a workspace's plan. See docs/formats.md for each field.

    Attributes
    ----------
    campaigns, goals, levels : as the plan states them; the phases hold what each step needs of them
    money, reading, trailing, windows, costing, crediting, reporting, linking, gathering : by step
    """

    campaigns: tuple[Campaign, ...] = ()
    goals: tuple[Goal, ...] = ()
    levels: tuple[Level, ...] = ()
    money: Money = Money()
    reading: Reading = Reading()
    trailing: Trailing = Trailing()
    windows: Windows = Windows()
    costing: Costing = Costing()
    crediting: Crediting = Crediting()
    reporting: Reporting = Reporting()
    linking: Linking = field(default_factory=Linking)
    gathering: Gathering = Gathering()

    def campaign_of(self, text: str, day: int | None = None) -> Campaign | None:
        """The one answer to which campaign a text means.

        Parameters
        ----------
        text : a name, code or plain name, or a value that was renamed to one
        day : days since 1970; renames that have begun by then hold, without a day all of them

        Returns
        -------
        Campaign, None if the plan has none of that name
        """
        return self._by_name.get(self.reading.names.meant("campaign", text, day))

    @cached_property
    def _by_name(self) -> dict[str, Campaign]:
        return {self.reading.names.same(c.name): c for c in self.campaigns}

    @cached_property
    def figures(self) -> tuple[object, ...]:
        """All that figures depend on; equal for plans that give the same figures."""
        targets = tuple((c.name, c.target_roas, c.target_cost_per_lead) for c in self.campaigns)
        phases = (self.money, self.reading, self.trailing, self.windows, self.costing, self.crediting, self.reporting)
        return (*phases, self.goals, targets)

    def phases(self) -> tuple[Any, ...]:
        """Every phase, in the order of the way of a row."""
        return tuple(getattr(self, name) for name in _PHASES)

    def flat(self) -> dict[str, Any]:
        """Every field by its name, whatever its phase; `plan_of` makes the same plan of it."""
        values: dict[str, Any] = {"campaigns": self.campaigns, "goals": self.goals, "levels": self.levels}
        for phase in self.phases():
            values |= {f.name: getattr(phase, f.name) for f in fields(phase)}
        return {name: value for name, value in values.items() if name not in _DERIVED}

    @property
    def panel(self) -> tuple[str, ...]:
        """Names of the yardsticks that the board draws and verdicts ask (R25): those the settings name, else the usual
        four, else the first four there are."""
        names = [yardstick.name for yardstick in self.crediting.yardsticks]
        return self.reporting.panel or tuple(n for n in PANEL if n in names) or tuple(names[:4])

    @property
    def usual_yardstick(self) -> str:
        """The yardstick that board and command show where nobody chose one.

        That of the first goal which names one, else the linear one, else the first there is."""
        there = {yardstick.name: yardstick for yardstick in self.crediting.yardsticks}
        of_goals = [goal.yardstick for goal in self.goals if goal.yardstick in there]
        linear = [name for name, yardstick in there.items() if yardstick.rule == "linear"]
        return next(iter([*of_goals, *linear, *there]))

    def having(self, **changes: Any) -> Plan:
        """The plan with other values of some fields, named as in `plan_of`."""
        return plan_of(**self.flat() | changes)


_PHASES: dict[str, type] = {
    "money": Money,
    "reading": Reading,
    "trailing": Trailing,
    "windows": Windows,
    "costing": Costing,
    "crediting": Crediting,
    "reporting": Reporting,
    "linking": Linking,
    "gathering": Gathering,
}
_PHASE_OF = {f.name: name for name, phase in _PHASES.items() for f in fields(phase)}
_DERIVED = ("event", "platform_kinds", "named_campaigns", "named_levels", "counted_goals", "goal_windows")
"""Fields that `plan_of` works out of the campaigns, levels and goals."""


_OUTSIDE_COUNTING: dict[str, Any] = {"click_days": None, "watch_days": None, "view_days": None, "yardstick": ""}
"""What of a goal does not bear on which records count and what they are worth."""


def plan_of(
    campaigns: tuple[Campaign, ...] = (), goals: tuple[Goal, ...] = (), levels: tuple[Level, ...] = (), **values: Any
) -> Plan:
    """A plan from its fields by name, whatever the phase they stand in.

    Raises
    ------
    TypeError
        If a field is unknown.
    """
    values |= {
        "event": fold(str(values.get("date_basis", "")).partition(EVENT)[2]),
        "platform_kinds": tuple((p.source, p.medium, p.kind) for p in values.get("platforms", ())),
        "named_campaigns": tuple(c.names() for c in campaigns),
        "named_levels": tuple(Level(v.level, v.id, v.name) for v in levels),
        "counted_goals": tuple(
            replace(g, click_days=None, watch_days=None, view_days=None, yardstick="") for g in goals
        ),
        "goal_windows": tuple(GoalWindow(g.name, g.since, g.click_days, g.watch_days, g.view_days) for g in goals),
    }
    phases: dict[str, dict[str, Any]] = {}
    for name, value in values.items():
        if name not in _PHASE_OF:
            raise TypeError(f"a plan has no field {name!r}")
        phases.setdefault(_PHASE_OF[name], {})[name] = value
    return Plan(campaigns, goals, levels, **{name: _PHASES[name](**given) for name, given in phases.items()})
