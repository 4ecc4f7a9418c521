"""Weigh over HTTP. Nothing here touches the database."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Query, Response

from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.verdicts import VerdictCode
from yardstick.formats.results.sheets import KINDS, Kind
from yardstick.stations.weigh import board_files
from yardstick.stations.weigh.board_rows import Verdicts, Wanted
from yardstick.stations.weigh.findings import findings_file
from yardstick.stations.weigh.trace_files import trace_file
from yardstick.stations.weigh.weigh_board import BoardQuestion

from .exports import file_of
from .schemas import PROBLEMS, BoardOut, CertaintyOut, FindingsOut, FoundOut, PersonOut, RecordOut, TraceOut
from .shown import board_out, certainty_out, findings_out, person_out, record_out, trace_out
from .state import OpenWorkspace

router = APIRouter(prefix="/weigh", tags=["weigh"], responses=PROBLEMS)


def _question(
    by: str = "campaign",
    report_from: Annotated[date | None, Query(alias="from")] = None,
    report_to: Annotated[date | None, Query(alias="to")] = None,
    click_days: Annotated[Decimal | None, Query(ge=0, le=36500)] = None,
    yardstick: str = "",
    where: Annotated[list[str] | None, Query(max_length=20)] = None,
    panel: Annotated[list[str] | None, Query(max_length=20)] = None,
) -> BoardQuestion:
    filters, names = tuple(where or ()), tuple(panel or ())
    return BoardQuestion(Breakdown.read(by), report_from, report_to, click_days, yardstick, filters, names)


QuestionParams = Annotated[BoardQuestion, Depends(_question)]
First = Annotated[int, Query(ge=0)]
Limit = Annotated[int, Query(ge=1, le=1000)]
RowId = Annotated[str, Query(min_length=1, max_length=500)]
Rows = Literal["conversions", "spend", "touches", "openings", "states"]


def _wanted(
    sort: str = "spend",
    descending: bool = True,
    find: str = "",
    verdict: VerdictCode | None = None,
    measure: Literal["value", "leads"] = "value",
    rulers_only: bool = False,
    columns: Annotated[list[str] | None, Query(max_length=40)] = None,
) -> Wanted:
    return Wanted(sort, descending, find, verdict, measure, rulers_only, tuple(columns or ()))


Shown = Annotated[Wanted, Depends(_wanted)]


@router.get("/board")
def board(opened: OpenWorkspace, question: QuestionParams, shown: Shown) -> BoardOut:
    """The ruler board, its rows in the order asked for; those that Find does not find are marked."""
    board = opened.weighing.board(question, opened.desk.clock())
    return board_out(board, shown, _verdicts(opened, question, shown), opened.desk.behind)


def _verdicts(opened: OpenWorkspace, question: BoardQuestion, shown: Wanted) -> Verdicts:
    return opened.weighing.verdict_words(question, shown.measure) if shown.asks_for_verdicts else {}


@router.get("/certainty")
def certainty(opened: OpenWorkspace, question: QuestionParams) -> CertaintyOut:
    """How sure the figures of a board are: intervals, verdicts over the panel, how much has come by now."""
    _, chosen = opened.weighing.result(question)
    return certainty_out(*opened.weighing.certainty(question), chosen)


@router.get("/values")
def values(opened: OpenWorkspace, question: QuestionParams, field: str) -> list[str]:
    """Values of a field, the most met first, to filter by."""
    return opened.weighing.values(question, field)


@router.get("/board.{kind}", response_class=Response)
def board_file(opened: OpenWorkspace, question: QuestionParams, shown: Shown, kind: Kind) -> Response:
    """The board as a file: the rows shown, in the order shown, with all that was asked."""
    found = opened.weighing.board(question, opened.desk.clock())
    certainty = opened.weighing.certainty(question) if question.by.is_judged else None
    verdicts = _verdicts(opened, question, shown)
    name, content = board_files.board_file(found, shown, verdicts, certainty, opened.desk.name, kind)
    return file_of(opened, name, content, KINDS[kind])


@router.get("/findings")
def findings(
    opened: OpenWorkspace,
    question: QuestionParams,
    code: str = "",
    find: Annotated[str, Query(max_length=500)] = "",
    first: First = 0,
    limit: Limit = 100,
) -> FindingsOut:
    """What is to be known of the rows behind a board, kind by kind, and the rows of one kind; without a code, of the
    first. A text to find leaves out rows without it."""
    result, _ = opened.weighing.result(question)
    return findings_out(result, code, find, first, limit)


@router.get("/findings.{kind}", response_class=Response)
def findings_rows(opened: OpenWorkspace, question: QuestionParams, kind: Kind, code: str = "") -> Response:
    """The findings of a board as a file, all of them, or those of one kind."""
    result, _ = opened.weighing.result(question)
    name, content = findings_file(question, result, code, opened.desk.name, kind)
    return file_of(opened, name, content, KINDS[kind])


@router.get("/record")
def record(
    opened: OpenWorkspace,
    question: QuestionParams,
    table: Literal["leads", "conversions"],
    id: RowId,
) -> RecordOut:
    """One lead, order or deal: its worth step by step, the touches of its people and what they get, what counts it."""
    result, chosen, page = opened.weighing.record(question, table, id)
    loads = {load for load in (page.load, *(row.load for row in page.rows)) if load is not None}
    return record_out(result, chosen, page, opened.desk.loads_came(loads))


@router.get("/person")
def person(
    opened: OpenWorkspace, question: QuestionParams, table: Literal["visits", "leads", "conversions"], id: RowId
) -> PersonOut:
    """The person of a row: its identifiers with the row that joined each, its visits and records in order of time."""
    return person_out(*opened.weighing.person(question, table, id))


@router.get("/find")
def find(
    opened: OpenWorkspace,
    text: Annotated[str, Query(max_length=200)] = "",
    minutes: Annotated[int, Query(ge=0, le=1440)] = 0,
) -> FoundOut:
    """Records by an id, order number, e-mail address, phone, code, name or the token of a test; people stay masked.
    With minutes, what came within so many before now."""
    records, number = (
        opened.weighing.find_recent(minutes, opened.desk.clock()) if minutes else opened.weighing.find(text)
    )
    return FoundOut(records=records, number=number)


@router.get("/trace")
def trace(
    opened: OpenWorkspace,
    question: QuestionParams,
    bucket: str,
    figure: str,
    name: Annotated[list[str] | None, Query(max_length=2)] = None,
    first: First = 0,
    limit: Limit = 100,
) -> TraceOut:
    """What one figure of one row is made of; `name` is its value, or its two values in turn."""
    values = tuple(name or ("",))
    result, chosen, found = opened.weighing.trace(question, bucket, values, figure, first, limit)
    return trace_out(result, found, chosen)


@router.get("/trace.{kind}", response_class=Response)
def trace_rows(
    opened: OpenWorkspace,
    question: QuestionParams,
    bucket: str,
    figure: str,
    kind: Kind,
    rows: Rows = "conversions",
    name: Annotated[list[str] | None, Query(max_length=2)] = None,
) -> Response:
    """One list of a trace as a file, all of it."""
    values = tuple(name or ("",))
    found, content = trace_file(
        question,
        lambda first, limit: opened.weighing.trace(question, bucket, values, figure, first, limit),
        rows,
        "-".join((figure, bucket, *values)),
        opened.desk.name,
        kind,
    )
    return file_of(opened, found, content, KINDS[kind])


@router.get("/trace/{part}.{kind}", response_class=Response)
def trace_part_rows(
    opened: OpenWorkspace, question: QuestionParams, part: str, kind: Kind, rows: Rows = "conversions"
) -> Response:
    """One list of a trace of the tie line as a file, all of it."""
    found, content = trace_file(
        question,
        lambda first, limit: opened.weighing.trace_part(question, part, first, limit),
        rows,
        part,
        opened.desk.name,
        kind,
    )
    return file_of(opened, found, content, KINDS[kind])


@router.get("/trace/{part}")
def trace_part(
    opened: OpenWorkspace, question: QuestionParams, part: str, first: First = 0, limit: Limit = 100
) -> TraceOut:
    """What one part of the tie line is made of."""
    result, chosen, found = opened.weighing.trace_part(question, part, first, limit)
    return trace_out(result, found, chosen)
