"""What a trace lists: records of what a figure is made of, down to the line of the file each row came from.

Instants are ISO 8601 text in UTC, days ISO 8601 dates, so that these records can be shown as they are.
"""

from __future__ import annotations

from dataclasses import dataclass

from .trace_states import TracedState


@dataclass(frozen=True)
class TracedTouch:
    """One touch of a trail and what it got, in minor units; `here` tells whether it stands in the traced figure."""

    visit_id: str
    at: str
    kind: str
    campaign: str
    source: str
    medium: str
    channel: str
    why: str
    captured: bool
    tagged: bool
    here: bool
    share: float
    value: int
    file: str
    line: int


@dataclass(frozen=True)
class TracedConversion:
    """One conversion: its trail, and the share and value of it that stand in the figure. Money in minor units."""

    id: str
    table: str
    goal: str
    at: str
    value: int
    share_here: float
    value_here: int
    good: bool
    file: str
    line: int
    touches: tuple[TracedTouch, ...]


@dataclass(frozen=True)
class TracedSpend:
    """One spend row. `cost` in minor units of the home currency, `original` as reported."""

    day: str
    platform: str
    account: str
    campaign: str
    level: str
    original: str
    currency: str
    estimated: bool
    cost: int
    impressions: int
    clicks: int
    claimed_value: int
    file: str
    line: int


@dataclass(frozen=True)
class Opening:
    """A part of the untagged credit: where those touches came from and where they landed (R12)."""

    channel: str
    referrer_host: str
    landing_page: str
    touches: int
    share: float
    value: int


@dataclass(frozen=True)
class Trace:
    """What a figure is made of. The totals are over all rows; the lists hold one page of them. `states` are those whose
    credit stands in it, under yardsticks that credit states in place of touches (R16)."""

    share: float
    value: int
    spend: int
    conversion_count: int
    spend_count: int
    touch_count: int
    conversions: tuple[TracedConversion, ...]
    spend_rows: tuple[TracedSpend, ...]
    touches: tuple[TracedTouch, ...]
    openings: tuple[Opening, ...]
    states: tuple[TracedState, ...] = ()
