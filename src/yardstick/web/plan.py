"""Plan over HTTP."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Body, Path, Response, UploadFile
from pydantic import BaseModel

from yardstick.formats.plan_document import Document
from yardstick.formats.sheets import KINDS
from yardstick.stations import plan, plan_previews
from yardstick.stations.plan import PlanNow
from yardstick.stations.plan_previews import Branch, Came, LegendPreview, RuleCount, Tried
from yardstick.stations.weigh import NothingYet, Question

from .schemas import PROBLEMS
from .state import AtHand

router = APIRouter(prefix="/api/plan", tags=["plan"], responses=PROBLEMS)

SectionName = Annotated[str, Path(pattern="^[a-z_]+$")]
Record = dict[str, Any]


class Records(BaseModel):
    """All records of a section, the plan they were made on, and what was done."""

    basis: int
    records: list[Record]
    what: str = ""


class General(BaseModel):
    """Settings that are no lists; null brings a default back."""

    basis: int
    values: Record


class Try(BaseModel):
    """An arrival to ask the channel rules about; without rules, those that are kept."""

    url: str
    referrer: str = ""
    rules: list[Record] | None = None


@router.get("")
def read(at_hand: AtHand) -> PlanNow:
    """The plan as it stands."""
    return plan.read_plan(at_hand.desk)


@router.put("/sections/{section}")
def change_records(at_hand: AtHand, section: str, wanted: Records) -> PlanNow:
    """Make a list of records the section's, as one change."""
    plan.change_records(at_hand.desk, section, wanted.records, wanted.basis, wanted.what)
    return read(at_hand)


@router.get("/sections/{section}.{kind}", response_class=Response)
def section_file(at_hand: AtHand, section: SectionName, kind: Literal["csv", "xlsx"]) -> Response:
    """The records of a section as a file."""
    head = {"Content-Disposition": f'attachment; filename="{section}.{kind}"'}
    return Response(plan.section_file(at_hand.desk, section, kind), media_type=KINDS[kind], headers=head)


@router.post("/sections/{section}/file")
def take_in(at_hand: AtHand, section: SectionName, file: UploadFile) -> PlanNow:
    """Make the rows of a file the section's records, as one change."""
    plan.take_in_section(at_hand.desk, section, file.filename or "file", file.file.read())
    return read(at_hand)


@router.put("/general")
def change_general(at_hand: AtHand, wanted: General) -> PlanNow:
    """Change settings that are no lists."""
    plan.change_general(at_hand.desk, wanted.values, wanted.basis)
    return read(at_hand)


@router.post("/undo")
def undo(at_hand: AtHand) -> PlanNow:
    """Undo the latest change that stands."""
    plan.undo_plan(at_hand.desk)
    return read(at_hand)


@router.get("/settings.toml", response_class=Response)
def settings_toml(at_hand: AtHand) -> Response:
    """The settings as TOML, for the command line."""
    head = {"Content-Disposition": 'attachment; filename="settings.toml"'}
    return Response(plan.plan_text(at_hand.desk), media_type="application/toml; charset=utf-8", headers=head)


@router.post("/channels/try")
def try_channel(at_hand: AtHand, asked: Try) -> Tried:
    """Which channel rule takes an arrival, and why."""
    return plan_previews.try_channel(at_hand.desk, asked.url, asked.referrer, asked.rules)


@router.post("/channels/rehearsal")
def rehearse_channels(at_hand: AtHand, rules: Annotated[list[Record], Body()]) -> list[RuleCount]:
    """How many real visits each rule takes, before and after a change."""
    return plan_previews.rehearse_channels(at_hand.desk, rules)


@router.post("/legends/preview")
def preview_legend(at_hand: AtHand, record: Annotated[Record, Body()]) -> LegendPreview:
    """What a legend would do to its source's real visits."""
    return plan_previews.preview_legend(at_hand.desk, record)


@router.get("/tree")
def tree(at_hand: AtHand) -> list[Branch]:
    """Accounts, campaigns and the levels under them, as spend files show them."""
    return plan_previews.level_tree(at_hand.desk)


@router.get("/came")
def came(at_hand: AtHand) -> list[Came]:
    """What each campaign of the plan brought on its own days, beside what was expected of it."""
    document = Document(plan.plan_text(at_hand.desk))
    try:
        result, chosen = at_hand.weighing.result(Question(by="campaign,day"))
    except NothingYet:
        return []
    return plan_previews.expected_against_came(result.rows, document, chosen)
