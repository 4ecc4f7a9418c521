"""What the page of a record tells: one lead, order or deal with all that became of it (R8 to R10, R20, R22, R32).

Instants are ISO 8601 text in UTC, days ISO 8601 dates, amounts in a record's own currency decimal text, so that these
records can be shown as they are.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class ValueStep(StrEnum):
    """Steps from what a record states to what it is worth, in the order in which they are taken (R10, R20)."""

    STATED = "stated"
    REFUNDED = "refunded"
    TAX = "tax"
    SHIPPING = "shipping"
    FLOOR = "floor"
    DEFAULT = "default"
    FIXED = "fixed"
    RATE = "rate"


class Apart(StrEnum):
    """Why a record is in no figure (R9, R10, R22)."""

    TEST = "test"
    QUARANTINED = "quarantined"
    CANCELLED = "cancelled"
    WORD = "word"
    COUNTED_ELSEWHERE = "counted_elsewhere"
    NO_EVENT = "no_event"
    OUTSIDE = "outside"


class Without(StrEnum):
    """Why a touch of a record's people is not in its trail (R11, R13)."""

    AFTER = "after"
    WINDOW = "window"
    PREVIOUS = "previous"
    DIRECT = "direct"
    VIEW = "view"


@dataclass(frozen=True)
class WorthStep:
    """One step of a value: an amount with its sign, in its currency, and what it was taken from or by.

    Steps in the record's own currency add up to what is converted; `rate` states the sum in the home currency, and the
    rate and its day in `by`.
    """

    step: ValueStep
    amount: str
    currency: str
    by: str = ""


@dataclass(frozen=True)
class RecordCredit:
    """What a touch gets of a record under one yardstick; `value` in minor units of the home currency."""

    yardstick: str
    share: float
    value: int


@dataclass(frozen=True)
class RecordTouch:
    """A touch of a record's people, in its trail or not.

    Attributes
    ----------
    days_before : days from the touch to the record, less than 0 where it came later
    captured : whether the form or a code brought it, and no visit
    without : why it is not in the trail; None where it is
    credits : under every yardstick that credits touches
    """

    at: str
    days_before: float
    kind: str
    campaign: str
    source: str
    medium: str
    channel: str
    why: str
    captured: bool
    tagged: bool
    without: Without | None
    credits: tuple[RecordCredit, ...]
    visit_id: str
    file: str
    line: int


@dataclass(frozen=True)
class RecordRow:
    """A row about a record: what of, when, and its filled cells; `said` is by column, `load` the load it came with."""

    table: str
    at: str
    said: dict[str, str]
    file: str
    line: int
    load: int | None


@dataclass(frozen=True)
class RecordPage:
    """Everything that is known of one record.

    Attributes
    ----------
    table, id, goal, kind : which it is, and what of
    at, day : when it came, and the day that reports set it on; empty where it has none
    word, stage, owner : what it is now
    apart : why it is in no figure; None where it counts
    by : the rule, word or day that `apart` goes by
    good, new : of counted ones, whether it is good, and its person's first sale
    value : minor units of the home currency
    worth : the steps to it
    reason : of leads, why there is a source (R32)
    look_back : days back that clicks, views and watches of it count
    touches : of its people, in the order of time, those of its trail among them
    outside : how many more touches there are than are listed
    yardsticks : names, in the order of credits
    rows : statuses, refunds, lines and contacts
    file, line, load : where the record stands, and the load it came with
    """

    table: str
    id: str
    goal: str
    kind: str
    at: str
    day: str
    word: str
    stage: str
    owner: str
    apart: Apart | None
    by: str
    good: bool
    new: bool
    value: int
    worth: tuple[WorthStep, ...]
    reason: str
    look_back: tuple[float, ...]
    touches: tuple[RecordTouch, ...]
    outside: int
    yardsticks: tuple[str, ...]
    rows: tuple[RecordRow, ...]
    file: str
    line: int
    load: int | None
