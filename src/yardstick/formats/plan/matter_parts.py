"""What was said of matters, in the plan (R30)."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from yardstick.core.base.words import fold
from yardstick.core.plan.gathering_phase import SaidOfMatter

from .part_fields import Day, Name, Word, described_field
from .section import GATHER, RecordPart, Section
from .what_changes import SHOWN


class SaidOfMatterPart(RecordPart):
    """What was said of a matter: whose it is, and whether it may stay."""

    core = SaidOfMatter

    kind: Name = described_field("The kind of matter.", "order_twice")
    object: Word = described_field(
        "What it is about, its parts with / between them.", "ticket / visitor_id:p7", default=""
    )
    first_day: Day | None = described_field("Its first day.", "2026-05-04", default=None)
    accepted_reason: Word = described_field("Why it may stay; empty: it is open.", "two cabins, same price", default="")
    accepted_until: Day | None = described_field("The last day it may stay.", "2026-08-01", default=None)
    accepted_rows: Annotated[int, Field(ge=0, le=1_000_000_000)] | None = described_field(
        "Rows it had then; at twice as many it is open again.", "2", default=None
    )
    whose: Word = described_field("Who sees to it.", "Maren", default="")
    note: Word = described_field("What else is to be known.", "asked the till's maker", default="")


def _key(part: SaidOfMatterPart) -> list[str]:
    return [f"{part.kind} {fold(part.object)} {part.first_day or ''}"]


MATTER = Section(
    "matter",
    SaidOfMatterPart,
    plan_field="said_of_matters",
    title="Said of matters",
    one="matter",
    purpose="Matters that were accepted or given to somebody.",
    columns=("kind", "object", "accepted_reason", "accepted_until", "whose"),
    place=GATHER,
    changes=SHOWN,
    once=(("what is said of", _key),),
)
