"""Plan over HTTP."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Body, Path, Response, UploadFile
from pydantic import BaseModel

from yardstick.formats.sheets import KINDS, Kind
from yardstick.stations import legend_previews, plan, plan_files, plan_previews, shared_rules
from yardstick.stations.legend_previews import LegendPreview
from yardstick.stations.plan import PlanNow
from yardstick.stations.plan_files import How, ListRehearsal
from yardstick.stations.plan_previews import Branch, Came, RuleCount, Tried
from yardstick.stations.shared_rules import SharedList
from yardstick.stations.weigh import NothingYet, Question

from .exports import file_of
from .schemas import PROBLEMS
from .state import AtHand

router = APIRouter(prefix="/plan", tags=["plan"], responses=PROBLEMS)

SectionName = Annotated[str, Path(pattern="^[a-z_]+$")]
Record = dict[str, Any]


class Records(BaseModel):
    """All records of a section, the plan they were made on, what was done, and of records that are called otherwise the
    name now -> the name before."""

    basis: int
    records: list[Record]
    what: str = ""
    was: dict[str, str] = {}


class General(BaseModel):
    """Settings that are no lists; null brings a default back."""

    basis: int
    values: Record


Rules = Literal["channel", "shared_channel"]


class Try(BaseModel):
    """An arrival to ask the channel rules about; without rules, those that are kept."""

    url: str
    referrer: str = ""
    rules: list[Record] | None = None
    section: Rules = "channel"


class Takeover(BaseModel):
    """The version of the shared rules that was looked at, and the plan they come into."""

    version: int
    basis: int


@router.get("")
def read(at_hand: AtHand) -> PlanNow:
    """The plan as it stands."""
    return plan.read_plan(at_hand.desk)


@router.put("/sections/{section}")
def change_records(at_hand: AtHand, section: str, wanted: Records) -> PlanNow:
    """Make a list of records the section's, as one change."""
    plan.change_records(at_hand.desk, section, wanted.records, wanted.basis, wanted.what, wanted.was, merges=True)
    return read(at_hand)


@router.get("/sections/{section}.{kind}", response_class=Response)
def section_file(at_hand: AtHand, section: SectionName, kind: Kind) -> Response:
    """The records of a section as a file."""
    return file_of(at_hand, f"{section}.{kind}", plan_files.section_file(at_hand.desk, section, kind), KINDS[kind])


@router.post("/sections/{section}/file/rehearsal")
def rehearse_file(at_hand: AtHand, section: SectionName, file: UploadFile) -> ListRehearsal:
    """What the rows of a file would do to the section: how many are new, changed, the same; nothing is kept."""
    return plan_files.rehearse_section(at_hand.desk, section, file.filename or "file", file.file.read())


@router.post("/sections/{section}/file")
def take_in(at_hand: AtHand, section: SectionName, file: UploadFile, how: How = "replace") -> PlanNow:
    """Take the rows of a file into the section by adding, updating or replacing, as one change."""
    plan_files.take_in_section(at_hand.desk, section, file.filename or "file", file.file.read(), how)
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
    return file_of(at_hand, "settings.toml", at_hand.desk.settings_text(), "application/toml; charset=utf-8")


@router.post("/channels/try")
def try_channel(at_hand: AtHand, asked: Try) -> Tried:
    """Which channel rule takes an arrival, and why."""
    return plan_previews.try_channel(at_hand.desk, asked.url, asked.referrer, asked.rules, asked.section)


@router.post("/channels/rehearsal")
def rehearse_channels(
    at_hand: AtHand, rules: Annotated[list[Record], Body()], section: Rules = "channel"
) -> list[RuleCount]:
    """How many real visits each rule takes, before and after a change."""
    return plan_previews.rehearse_channels(at_hand.desk, rules, section)


@router.get("/shared-rules")
def shared(at_hand: AtHand) -> SharedList:
    """The channel rules that workspaces share, beside this one's copy."""
    return shared_rules.read_shared(at_hand.desk)


@router.put("/shared-rules/{version}")
def share_rules(at_hand: AtHand, version: int) -> SharedList:
    """Make this workspace's copy the shared list, on top of a version."""
    shared_rules.share_rules(at_hand.desk, version)
    return shared(at_hand)


@router.delete("/shared-rules/{version}")
def withdraw_rules(at_hand: AtHand, version: int) -> SharedList:
    """Take back the list this workspace shared last."""
    shared_rules.withdraw_rules(at_hand.desk, version)
    return shared(at_hand)


@router.post("/shared-rules/take-over")
def take_over(at_hand: AtHand, wanted: Takeover) -> PlanNow:
    """Make the shared list this workspace's copy, as one change."""
    shared_rules.take_over(at_hand.desk, wanted.version, wanted.basis)
    return read(at_hand)


@router.post("/legends/preview")
def preview_legend(at_hand: AtHand, record: Annotated[Record, Body()]) -> LegendPreview:
    """What a legend would do to its source's real visits."""
    return legend_previews.preview_legend(at_hand.desk, record)


@router.get("/tree")
def tree(at_hand: AtHand) -> list[Branch]:
    """Accounts, campaigns and the levels under them, as spend files show them."""
    return plan_previews.level_tree(at_hand.desk)


@router.get("/came")
def came(at_hand: AtHand) -> list[Came]:
    """What each campaign of the plan brought on its own days, beside what was expected of it."""
    try:
        result, chosen = at_hand.weighing.result(Question(by="campaign,day"))
    except NothingYet:
        return []
    return plan_previews.expected_against_came(result.rows, at_hand.desk.plan(), chosen)
