"""Plan over HTTP."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Body, Path, Response, UploadFile
from pydantic import BaseModel

from yardstick.core.report.breakdown import Breakdown
from yardstick.formats.results.sheets import KINDS, Kind
from yardstick.stations.plan import change_plan, exchange_lists, preview_legends, preview_plan, share_rules
from yardstick.stations.plan.change_plan import PlanNow
from yardstick.stations.plan.exchange_lists import How, ListRehearsal
from yardstick.stations.plan.plan_edits import PlanEdit, general_edit, records_edit
from yardstick.stations.plan.preview_legends import LegendPreview
from yardstick.stations.plan.preview_plan import Branch, Came, RuleCount, Tried
from yardstick.stations.plan.share_rules import SharedList
from yardstick.stations.plan.try_plan import try_edit
from yardstick.stations.weigh.weigh_board import BoardQuestion, NothingYet

from .exports import file_of
from .schemas import PROBLEMS
from .state import OpenWorkspace
from .trials import TrialOut, TriedState, trial_out

router = APIRouter(prefix="/plan", tags=["plan"], responses=PROBLEMS)

SectionName = Annotated[str, Path(pattern="^[a-z_]+$")]
Record = dict[str, Any]


class Records(BaseModel):
    """All records of a section, the plan they were made on, what was done, the trial that was looked at, and of records
    that are called otherwise the name now -> the name before."""

    basis: int
    records: list[Record]
    what: str = ""
    was: dict[str, str] = {}
    tried: TriedState = ""


class General(BaseModel):
    """Settings that are no lists, null brings a default back; and the trial that was looked at."""

    basis: int
    values: Record
    tried: TriedState = ""


Rules = Literal["channel", "shared_channel"]


class Try(BaseModel):
    """An arrival to ask the channel rules about; without rules, those that are kept."""

    url: str
    referrer: str = ""
    rules: list[Record] | None = None
    section: Rules = "channel"


class Takeover(BaseModel):
    """The version of the shared rules that was looked at, the plan they come into, the trial that was looked at."""

    version: int
    basis: int
    tried: TriedState = ""


@router.get("")
def read(opened: OpenWorkspace) -> PlanNow:
    """The plan as it stands."""
    return change_plan.read_plan(opened.desk)


@router.put("/sections/{section}")
def change_records(opened: OpenWorkspace, section: str, wanted: Records) -> PlanNow:
    """Make a list of records the section's, as one change."""
    change_plan.keep_edit(opened.desk, _records_edit(opened, section, wanted), wanted.basis, wanted.tried)
    return read(opened)


@router.post("/sections/{section}/trial")
def try_records(opened: OpenWorkspace, section: str, wanted: Records) -> TrialOut:
    """What making a list of records the section's would move; nothing is kept."""
    return trial_out(try_edit(opened.desk, opened.weighing, _records_edit(opened, section, wanted), wanted.basis))


def _records_edit(opened: OpenWorkspace, section: str, wanted: Records) -> PlanEdit:
    return records_edit(opened.desk, section, wanted.records, wanted.what, wanted.was, merges=True)


@router.get("/sections/{section}.{kind}", response_class=Response)
def section_file(opened: OpenWorkspace, section: SectionName, kind: Kind) -> Response:
    """The records of a section as a file."""
    return file_of(opened, f"{section}.{kind}", exchange_lists.section_file(opened.desk, section, kind), KINDS[kind])


@router.post("/sections/{section}/file/rehearsal")
def rehearse_file(opened: OpenWorkspace, section: SectionName, file: UploadFile) -> ListRehearsal:
    """What the rows of a file would do to the section: how many are new, changed, the same; nothing is kept."""
    return exchange_lists.rehearse_section(opened.desk, section, file.filename or "file", file.file.read())


@router.post("/sections/{section}/file")
def ingest(
    opened: OpenWorkspace, section: SectionName, file: UploadFile, how: How = "replace", tried: TriedState = ""
) -> PlanNow:
    """Take the rows of a file into the section by adding, updating or replacing, as one change."""
    change_plan.keep_edit(opened.desk, *_file_edit(opened, section, file, how), tried)
    return read(opened)


@router.post("/sections/{section}/file/trial")
def try_file(opened: OpenWorkspace, section: SectionName, file: UploadFile, how: How = "replace") -> TrialOut:
    """What taking the rows of a file into the section would move; nothing is kept."""
    return trial_out(try_edit(opened.desk, opened.weighing, *_file_edit(opened, section, file, how)))


def _file_edit(opened: OpenWorkspace, section: str, file: UploadFile, how: How) -> tuple[PlanEdit, int]:
    return exchange_lists.file_edit(opened.desk, section, file.filename or "file", file.file.read(), how)


@router.put("/general")
def change_general(opened: OpenWorkspace, wanted: General) -> PlanNow:
    """Change settings that are no lists."""
    change_plan.keep_edit(opened.desk, general_edit(wanted.values), wanted.basis, wanted.tried)
    return read(opened)


@router.post("/general/trial")
def try_general(opened: OpenWorkspace, wanted: General) -> TrialOut:
    """What changing settings that are no lists would move; nothing is kept."""
    return trial_out(try_edit(opened.desk, opened.weighing, general_edit(wanted.values), wanted.basis))


@router.post("/undo")
def undo(opened: OpenWorkspace) -> PlanNow:
    """Undo the latest change that stands."""
    change_plan.undo_plan(opened.desk)
    return read(opened)


@router.get("/settings.toml", response_class=Response)
def settings_toml(opened: OpenWorkspace) -> Response:
    """The settings as TOML, for the command line."""
    return file_of(opened, "settings.toml", opened.desk.settings_text(), "application/toml; charset=utf-8")


@router.post("/channels/try")
def try_channel(opened: OpenWorkspace, asked: Try) -> Tried:
    """Which channel rule takes an arrival, and why."""
    return preview_plan.try_channel(opened.desk, asked.url, asked.referrer, asked.rules, asked.section)


@router.post("/channels/rehearsal")
def rehearse_channels(
    opened: OpenWorkspace, rules: Annotated[list[Record], Body()], section: Rules = "channel"
) -> list[RuleCount]:
    """How many real visits each rule takes, before and after a change."""
    return preview_plan.rehearse_channels(opened.desk, rules, section)


@router.get("/shared-rules")
def shared(opened: OpenWorkspace) -> SharedList:
    """The channel rules that workspaces share, beside this one's copy."""
    return share_rules.read_shared(opened.desk)


@router.put("/shared-rules/{version}")
def share_own_rules(opened: OpenWorkspace, version: int) -> SharedList:
    """Make this workspace's copy the shared list, on top of a version."""
    share_rules.share_rules(opened.desk, version)
    return shared(opened)


@router.delete("/shared-rules/{version}")
def withdraw_rules(opened: OpenWorkspace, version: int) -> SharedList:
    """Take back the list this workspace shared last."""
    share_rules.withdraw_rules(opened.desk, version)
    return shared(opened)


@router.post("/shared-rules/take-over")
def take_over(opened: OpenWorkspace, wanted: Takeover) -> PlanNow:
    """Make the shared list this workspace's copy, as one change."""
    edit = share_rules.take_over_edit(opened.desk, wanted.version)
    change_plan.keep_edit(opened.desk, edit, wanted.basis, wanted.tried)
    return read(opened)


@router.post("/shared-rules/take-over/trial")
def try_take_over(opened: OpenWorkspace, wanted: Takeover) -> TrialOut:
    """What making the shared list this workspace's copy would move; nothing is kept."""
    edit = share_rules.take_over_edit(opened.desk, wanted.version)
    return trial_out(try_edit(opened.desk, opened.weighing, edit, wanted.basis))


@router.post("/legends/preview")
def preview_legend(opened: OpenWorkspace, record: Annotated[Record, Body()]) -> LegendPreview:
    """What a legend would do to its source's real visits."""
    return preview_legends.preview_legend(opened.desk, record)


@router.get("/tree")
def tree(opened: OpenWorkspace) -> list[Branch]:
    """Accounts, campaigns and the levels under them, as spend files show them."""
    return preview_plan.level_tree(opened.desk)


@router.get("/came")
def came(opened: OpenWorkspace) -> list[Came]:
    """What each campaign of the plan brought on its own days, beside what was expected of it."""
    try:
        result, chosen = opened.weighing.result(BoardQuestion(Breakdown(("campaign", "day"))))
    except NothingYet:
        return []
    return preview_plan.expected_against_came(result.rows, opened.desk.plan(), chosen)
