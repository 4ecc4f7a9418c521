"""What counts: goals, status words, and test records, as written in settings.toml."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.identifiers import IDENTIFIER_KINDS, stated_identifier
from yardstick.core.base.schema import CANCELLED, TEST
from yardstick.core.base.words import fold
from yardstick.core.plan.counting_phase import Goal, StatusWord, default_goal
from yardstick.core.plan.reading_phase import QuarantineRule, RecordState, Separation
from yardstick.core.trails.quarantine import FIELDS as JUDGED

from .condition_parts import ConditionPart, when_as_written
from .part_fields import Currency, Day, Days, Name, NotNegative, OpenAmount, OpenDay, Word, described_field
from .section import RecordPart, Section
from .what_changes import NOTHING


class GoalPart(RecordPart):
    """A kind of conversion, or a version of one from a day on."""

    core = Goal

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
    good_days: Days = described_field("Within so many days after the lead.", "30", default=Goal.good_days)
    yardstick: Word = described_field("The yardstick the board opens with.", "linear", default="")

    def plain(self) -> Any:
        """The goal, what is left out as usual for its name."""
        usual = default_goal(self.name)
        left_out = {name: getattr(usual, name) for name in ("kind", "count", "value") if getattr(self, name) is None}
        return RecordPart.plain(self.model_copy(update=left_out))


class StatusPart(RecordPart):
    """What a status word of leads and conversions means."""

    core = StatusWord

    word: Name = described_field("The word, as records carry it.", "lost")
    means: Literal["counts", "does not count", "good"] = described_field("What it means.", "does not count")


class QuarantineConditionPart(ConditionPart):
    """One condition of a quarantine rule."""

    field: Name = described_field(
        "What is looked at: a field, or parameter:NAME.", "email_host", json_schema_extra={"suggested": list(JUDGED)}
    )


class QuarantinePart(RecordPart):
    """A rule that takes test records out of every figure; they stay visible."""

    core = QuarantineRule

    when: Annotated[list[QuarantineConditionPart], Field(min_length=1)] = described_field(
        "Conditions; all must be met."
    )


class RecordByHandPart(RecordPart):
    """A record that somebody took out or put back, whatever the rules say."""

    core = RecordState

    table: Literal["visits", "leads", "conversions"] = described_field("The table it is in.", "leads")
    id: Name = described_field("Its id.", "L-17")
    state: Literal["quarantined", "counted"] = described_field("Taken out, or put back.", "quarantined")


class SeparatePart(RecordPart):
    """Two identifiers that are not one person: on rows that carry both the second identifies nobody."""

    core = Separation

    first: Name = described_field("One of the two, kind:value; it stays.", "visitor_id:v-1")
    second: Name = described_field(
        "The other; rows that carry both lose it. Kinds: visitor_id, email, phone, lead_id, click_id.",
        "email:desk@mail.example",
    )
    since: OpenDay = described_field(
        "First day of rows it holds for; empty for always.", "2026-03-01", default=None, alias="from"
    )


def _check_goals(parts: Sequence[GoalPart], yardsticks: Sequence[str]) -> None:
    kinds: dict[str, str] = {}
    seen: set[tuple[str, date | None]] = set()
    for goal in parts:
        if (goal.name, goal.since) in seen:
            when = f" from {goal.since}" if goal.since else ""
            raise SettingsError(
                f"goal {goal.name!r}{when} appears twice: give each a name of its own, or a day of its own"
            )
        seen.add((goal.name, goal.since))
        kind = goal.plain().kind
        if kinds.setdefault(goal.name, kind) != kind:
            raise SettingsError(f"goal {goal.name!r} is a lead in one version and a sale in another: choose one")
        if goal.yardstick and goal.yardstick not in yardsticks:
            known = ", ".join(yardsticks)
            raise SettingsError(f"goal {goal.name!r}: there is no yardstick {goal.yardstick!r}; there are {known}")


GOAL = Section(
    "goal",
    GoalPart,
    plan_field="goals",
    title="Goals",
    one="goal",
    purpose="What counts as a conversion, which records count, and what each is worth, from which day on.",
    columns=("name", "from", "kind", "count", "value", "fixed_value", "default_value", "click_days"),
    except_for={"category": NOTHING},
    check=_check_goals,
)


def _check_status(parts: Sequence[StatusPart], _: Sequence[str]) -> None:
    for part in parts:
        if fold(part.word) in (CANCELLED, TEST):
            raise SettingsError(f"status: {part.word!r} has its meaning already: it never counts")


STATUS = Section(
    "status",
    StatusPart,
    plan_field="status_words",
    title="Status words",
    one="status word",
    purpose="What a word in the status of a lead or order means. A word that is not here counts.",
    columns=("word", "means"),
    once=(("the status word", lambda part: [fold(part.word)]),),
    check=_check_status,
)


QUARANTINE = Section(
    "quarantine",
    QuarantinePart,
    plan_field="quarantine",
    title="Quarantine rules",
    one="quarantine rule",
    purpose="Records that fit are tests: they stay visible and stand in no figure.",
    columns=("when",),
    used=when_as_written,
)


RECORD = Section(
    "record",
    RecordByHandPart,
    plan_field="records",
    title="Records by hand",
    one="record",
    purpose="Records taken out as tests, or put back, whatever the rules say.",
    columns=("table", "id", "state"),
    once=(("the record", lambda part: [f"{part.table} {part.id}"]),),
)


def _identifiers_of(part: SeparatePart) -> tuple[tuple[int, str], tuple[int, str]]:
    return stated_identifier(part.first), stated_identifier(part.second)


def _check_separations(parts: Sequence[SeparatePart], _: Sequence[str]) -> None:
    seen: set[frozenset[tuple[int, str]]] = set()
    for part in parts:
        try:
            first, second = _identifiers_of(part)
        except ValueError as problem:
            raise SettingsError(f"separate: {problem}") from None
        if first[0] == second[0]:
            kind = IDENTIFIER_KINDS[first[0]]
            raise SettingsError(f"separate: {part.first!r} and {part.second!r} are both {kind}: no row carries two")
        if frozenset((first, second)) in seen:
            raise SettingsError(f"separate: {part.first!r} and {part.second!r} appear twice: keep one")
        seen.add(frozenset((first, second)))


SEPARATE = Section(
    "separate",
    SeparatePart,
    plan_field="separations",
    title="Separated people",
    one="separation",
    purpose="Two identifiers that are not one person, such as a visitor and the address of a shared desk.",
    columns=("first", "second", "from"),
    check=_check_separations,
)
