"""Breakdowns: which row of a report each credit, touch and spend row stands in (R12, R18, formats.md)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .channels import Arrival, ChannelRules
from .columns import Flags, Ints
from .days import day_text
from .ground import Ground
from .labels import Labels
from .settings import Settings, SettingsError
from .touch_columns import TOUCH_FIELDS
from .trails import Trails
from .words import collapse, fold, same_as

FIELDS = (*TOUCH_FIELDS, "goal", "day")
"""Fields a report can be broken down by."""
NOT_BUILT = (
    "group",
    "ad",
    "keyword",
    "placement",
    "item",
    "audience",
    "landing_page",
    "product",
    "device",
    "week",
    "month",
)
NAMED, UNTAGGED, NO_TRAIL, NO_TOUCH_SPEND, UNDIVIDED = BUCKETS = (
    "named",
    "untagged",
    "no_trail",
    "no_touch_spend",
    "undivided",
)
UNKNOWN = -1


def check_fields(by: tuple[str, ...]) -> tuple[str, ...]:
    """The fields of a breakdown, if they are known.

    Raises
    ------
    SettingsError
        If a field is unknown or not built, stands twice, or there are not one or two of them.
    """
    for name in by:
        if name in NOT_BUILT or name.startswith("extra:"):
            raise SettingsError(f"a breakdown by {name} is not built yet; built are {', '.join(FIELDS)}")
        if name not in FIELDS:
            raise SettingsError(f"a breakdown by {name!r} is unknown; fields are {', '.join(FIELDS)}")
    if len(set(by)) != len(by) or not 1 <= len(by) <= 2:
        raise SettingsError(f"cannot break down by {','.join(by)}: name one field, or two different ones with a comma")
    return by


@dataclass(frozen=True)
class Axis:
    """One field of a breakdown: the number each thing has in it, and what the numbers show.

    Attributes
    ----------
    elements : (k,) int64, one per trail element
    touches : (n,) int64 or None, one per touch; None where a touch alone has no value of the field (goal)
    spend : (s,) int64, one per spend row; `UNKNOWN` where it cannot be told
    shown : what to show per number; number 0 is the empty value
    """

    elements: Ints
    touches: Ints | None
    spend: Ints
    shown: list[str]


def lay_axis(name: str, ground: Ground, trails: Trails, in_range: Flags, spend_rows: Flags, settings: Settings) -> Axis:
    """Put one field under a report.

    Parameters
    ----------
    name : one of `FIELDS`
    ground, trails : the data and the trails shown
    in_range : (n_touches,) bool, touches whose day is in the report range
    spend_rows : (s,) bool, spend rows that count and whose day is in the range
    settings : platforms, channel rules
    """
    if name == "day":
        return _day_axis(ground, trails)
    if name == "goal":
        return _goal_axis(ground, trails)
    labels = ground.touches.fields[name]
    touches = labels.codes[: ground.touches.count]
    if name == "campaign":
        spend = ground.spend_campaign
    else:
        spend = _spend_by_touches(ground, touches, in_range)
        spend = _spend_by_platform(name, labels, spend, ground, settings)
    return Axis(labels.codes[trails.touch], touches, np.where(spend_rows, spend, UNKNOWN), labels.shown)


def _day_axis(ground: Ground, trails: Trails) -> Axis:
    conversion_day = ground.conversions.day[trails.conversion][trails.owner()]
    spend_day = ground.tables.spend.ints("day")
    days = np.unique(np.concatenate([conversion_day, ground.touches.day, spend_day]))

    def number(of: Ints) -> Ints:
        return np.searchsorted(days, of) + 1

    return Axis(
        number(conversion_day),
        number(ground.touches.day),
        number(spend_day),
        ["", *(day_text(d) for d in days.tolist())],
    )


def _goal_axis(ground: Ground, trails: Trails) -> Axis:
    names = sorted(set(ground.conversions.goal.values))
    number = np.array([names.index(v) + 1 for v in ground.conversions.goal.values], np.int64)
    goal = number[ground.conversions.goal.codes] if len(ground.conversions) else np.empty(0, np.int64)
    spend = np.full(len(ground.spend_campaign), UNKNOWN, np.int64)
    return Axis(goal[trails.conversion][trails.owner()], None, spend, ["", *names])


def _spend_by_touches(ground: Ground, touches: Ints, in_range: Flags) -> Ints:
    """The value all touches in the range of a spend row's campaign agree on, else `UNKNOWN`."""
    campaign = ground.touches.fields["campaign"]
    of_touch = campaign.codes[: ground.touches.count][in_range]
    values = touches[in_range]
    size = len(campaign.keys)
    low = np.full(size, np.iinfo(np.int64).max, np.int64)
    high = np.full(size, -1, np.int64)
    np.minimum.at(low, of_touch, values)
    np.maximum.at(high, of_touch, values)
    agreed = np.where(low == high, high, UNKNOWN)
    return agreed[ground.spend_campaign]


def _spend_by_platform(name: str, labels: Labels, spend: Ints, ground: Ground, settings: Settings) -> Ints:
    """Spend of platforms that are set stands where the setting says, before what the touches agree on."""
    same = fold if name == "channel" else same_as(settings.fold)
    number = {key: i for i, key in enumerate(labels.keys)}
    rules = ChannelRules(settings)
    platform = ground.tables.spend.text("platform")
    out = spend.copy()
    for setting in settings.platforms:
        mine = platform.test(lambda v, want=fold(setting.name): fold(v) == want)  # type: ignore[misc]
        if not mine.any():
            continue
        if name == "channel":
            if setting.medium:
                _by_rules(out, mine, setting.source, setting.medium, rules, number, labels, ground)
            continue
        value = collapse(setting.source if name == "source" else setting.medium)
        if value:
            out[mine] = _number_of(value, same(value), number, labels)
    return out


def _by_rules(
    out: Ints,
    mine: Flags,
    source: str,
    medium: str,
    rules: ChannelRules,
    number: dict[str, int],
    labels: Labels,
    ground: Ground,
) -> None:
    campaigns = ground.touches.fields["campaign"].shown
    for code in np.unique(ground.spend_campaign[mine]).tolist():
        arrival = Arrival(collapse(source), collapse(medium), campaigns[code], True, False, "", "")
        channel = rules.classify(arrival).name
        rows = mine & (ground.spend_campaign == code)
        out[rows] = _number_of(collapse(channel), fold(channel), number, labels)


def _number_of(shown: str, key: str, number: dict[str, int], labels: Labels) -> int:
    """Number of a value, a new one at the end where no touch has it."""
    if key not in number:
        number[key] = len(labels.shown)
        labels.shown.append(shown)
    return number[key]
