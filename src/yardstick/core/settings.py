"""The settings of a weighing, as plain values. Defaults are those of the rules."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

BUILT_RULES = ("first", "last", "last_marked", "linear", "fair_share")
"""Yardstick rules that are built, in the order in which they are shown."""
KNOWN_RULES = ("first", "last", "last_marked", "linear", "position", "decay", "custom", "fair_share", "removal")


class SettingsError(ValueError):
    """A setting is wrong or asks for a rule that is not built. The text says which and what to do."""


@dataclass(frozen=True)
class Window:
    """Look-back per kind of touch, in days of 24 hours (R11)."""

    click_days: Decimal = Decimal(30)
    watch_days: Decimal = Decimal(3)
    view_days: Decimal = Decimal(1)


@dataclass(frozen=True)
class Goal:
    """A kind of conversion (R10). `default_value` is in the home currency; a window of None is the general one."""

    name: str
    kind: str
    count: str
    value: str = "net"
    default_value: Decimal | None = None
    click_days: Decimal | None = None
    watch_days: Decimal | None = None
    view_days: Decimal | None = None


@dataclass(frozen=True)
class Condition:
    """One condition of a channel rule: a field, an operator, and the value or values it is held against."""

    field: str
    op: str
    values: tuple[str, ...] = ()


@dataclass(frozen=True)
class ChannelRule:
    """A channel's name and the conditions that must all hold (R5)."""

    name: str
    when: tuple[Condition, ...]


@dataclass(frozen=True)
class Platform:
    """Where the spend of an ad platform stands in breakdowns, and the zone of its account's days."""

    name: str
    source: str = ""
    medium: str = ""
    time_zone: str = ""


@dataclass(frozen=True)
class Yardstick:
    """A rule for sharing credit, under a name. `by` is the kind of player of fair_share."""

    name: str
    rule: str
    by: str = "campaign"


@dataclass(frozen=True)
class Settings:
    """Everything a weighing depends on besides the data. See docs/formats.md for each field."""

    home_currency: str = "EUR"
    minor_digits: int = 2
    time_zone: str = "UTC"
    report_from: date | None = None
    report_to: date | None = None
    session_gap_minutes: Decimal = Decimal(30)
    direct: str = "keep"
    views: str = "keep"
    cut_at_previous: bool = False
    date_basis: str = "conversion"
    fold: bool = True
    margin: Decimal = Decimal(1)
    target_roas: Decimal | None = None
    target_cost_per_lead: Decimal | None = None
    own_hosts: tuple[str, ...] = ()
    pass_through_hosts: tuple[str, ...] = ()
    search_sites: tuple[str, ...] = ()
    social_sites: tuple[str, ...] = ()
    click_marks: tuple[str, ...] = ()
    extra_values: tuple[str, ...] = ()
    window: Window = Window()
    goals: tuple[Goal, ...] = ()
    channels: tuple[ChannelRule, ...] = ()
    platforms: tuple[Platform, ...] = ()
    yardsticks: tuple[Yardstick, ...] = tuple(Yardstick(rule, rule) for rule in BUILT_RULES)

    def goal(self, name: str) -> Goal:
        """The goal of that name as set, or its default (R10): `lead` (lead, one), any other (sale, every)."""
        return self.goals_by_name().get(name) or default_goal(name)

    def goals_by_name(self) -> Mapping[str, Goal]:
        """Goals that are set, by name."""
        return {goal.name: goal for goal in self.goals}


def default_goal(name: str) -> Goal:
    """What a goal is when the settings say nothing about it."""
    return Goal(name, "lead", "one") if name == "lead" else Goal(name, "sale", "every")
