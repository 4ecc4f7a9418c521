"""Goals, status words and windows: what makes touches and conversions of rows, and which touches a trail has
(R6, R7, R10-R13)."""

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
class StatusWord:
    """What a status word means (R10): "counts", "does not count" or "good"."""

    word: str
    means: str


def default_goal(name: str) -> Goal:
    """What a goal is when the settings say nothing about it."""
    return Goal(name, "lead", "one") if name == "lead" else Goal(name, "sale", "every")


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
