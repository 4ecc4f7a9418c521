"""Weigh over HTTP. Nothing here touches the database."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Query, Response

from yardstick.core.report.judged import is_judged
from yardstick.formats.sheets import KINDS, Kind
from yardstick.stations import board_files
from yardstick.stations.board_rows import Verdicts, Wanted
from yardstick.stations.findings import findings_file
from yardstick.stations.trace_files import trace_file
from yardstick.stations.weigh import Question

from .exports import file_of
from .schemas import PROBLEMS, BoardOut, CertaintyOut, FindingsOut, TraceOut
from .shown import board_out, certainty_out, findings_out, trace_out
from .state import AtHand

router = APIRouter(prefix="/weigh", tags=["weigh"], responses=PROBLEMS)


def _question(
    by: str = "campaign",
    report_from: Annotated[date | None, Query(alias="from")] = None,
    report_to: Annotated[date | None, Query(alias="to")] = None,
    click_days: Annotated[Decimal | None, Query(ge=0, le=36500)] = None,
    yardstick: str = "",
    where: Annotated[list[str] | None, Query(max_length=20)] = None,
    panel: Annotated[list[str] | None, Query(max_length=20)] = None,
) -> Question:
    return Question(by, report_from, report_to, click_days, yardstick, tuple(where or ()), tuple(panel or ()))


Asked = Annotated[Question, Depends(_question)]
First = Annotated[int, Query(ge=0)]
Most = Annotated[int, Query(ge=1, le=1000)]
Rows = Literal["conversions", "spend", "touches", "openings", "states"]


def _wanted(
    sort: str = "spend",
    descending: bool = True,
    find: str = "",
    verdict: str = "",
    measure: Literal["value", "leads"] = "value",
    few: bool = False,
    columns: Annotated[list[str] | None, Query(max_length=40)] = None,
) -> Wanted:
    return Wanted(sort, descending, find, verdict, measure, few, tuple(columns or ()))


Shown = Annotated[Wanted, Depends(_wanted)]


@router.get("/board")
def board(at_hand: AtHand, question: Asked, shown: Shown) -> BoardOut:
    """The ruler board, its rows in the order asked for; those that Find does not find are marked."""
    board = at_hand.weighing.board(question, at_hand.desk.clock())
    return board_out(board, shown, _verdicts(at_hand, question, shown), at_hand.desk.behind)


def _verdicts(at_hand: AtHand, question: Question, shown: Wanted) -> Verdicts:
    return at_hand.weighing.verdict_words(question, shown.measure) if shown.asks_for_verdicts else {}


@router.get("/certainty")
def certainty(at_hand: AtHand, question: Asked) -> CertaintyOut:
    """How sure the figures of a board are: intervals, verdicts over the panel, how much has come by now."""
    _, chosen = at_hand.weighing.result(question)
    return certainty_out(*at_hand.weighing.certainty(question), chosen)


@router.get("/values")
def values(at_hand: AtHand, question: Asked, field: str) -> list[str]:
    """Values of a field, the most met first, to filter by."""
    return at_hand.weighing.values(question, field)


@router.get("/board.{kind}", response_class=Response)
def board_file(at_hand: AtHand, question: Asked, shown: Shown, kind: Kind) -> Response:
    """The board as a file: the rows shown, in the order shown, with all that was asked."""
    found = at_hand.weighing.board(question, at_hand.desk.clock())
    certainty = at_hand.weighing.certainty(question) if is_judged(found.question.by.split(",")) else None
    verdicts = _verdicts(at_hand, question, shown)
    name, content = board_files.board_file(found, shown, verdicts, certainty, at_hand.desk.name, kind)
    return file_of(at_hand, name, content, KINDS[kind])


@router.get("/findings")
def findings(
    at_hand: AtHand,
    question: Asked,
    code: str = "",
    find: Annotated[str, Query(max_length=500)] = "",
    first: First = 0,
    most: Most = 100,
) -> FindingsOut:
    """What is to be known of the rows behind a board, kind by kind, and the rows of one kind; without a code, of the
    first. A text to find leaves out rows without it."""
    result, _ = at_hand.weighing.result(question)
    return findings_out(result, code, find, first, most)


@router.get("/findings.{kind}", response_class=Response)
def findings_rows(at_hand: AtHand, question: Asked, kind: Kind, code: str = "") -> Response:
    """The findings of a board as a file, all of them, or those of one kind."""
    result, _ = at_hand.weighing.result(question)
    name, content = findings_file(question, result, code, at_hand.desk.name, kind)
    return file_of(at_hand, name, content, KINDS[kind])


@router.get("/trace")
def trace(
    at_hand: AtHand,
    question: Asked,
    bucket: str,
    figure: str,
    name: Annotated[list[str] | None, Query(max_length=2)] = None,
    first: First = 0,
    most: Most = 100,
) -> TraceOut:
    """What one figure of one row is made of; `name` is its value, or its two values in turn."""
    values = tuple(name or ("",))
    result, chosen, found = at_hand.weighing.trace(question, bucket, values, figure, first, most)
    return trace_out(result, found, chosen)


@router.get("/trace.{kind}", response_class=Response)
def trace_rows(
    at_hand: AtHand,
    question: Asked,
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
        lambda first, most: at_hand.weighing.trace(question, bucket, values, figure, first, most),
        rows,
        "-".join((figure, bucket, *values)),
        at_hand.desk.name,
        kind,
    )
    return file_of(at_hand, found, content, KINDS[kind])


@router.get("/trace/{part}.{kind}", response_class=Response)
def trace_part_rows(at_hand: AtHand, question: Asked, part: str, kind: Kind, rows: Rows = "conversions") -> Response:
    """One list of a trace of the tie line as a file, all of it."""
    found, content = trace_file(
        question,
        lambda first, most: at_hand.weighing.trace_part(question, part, first, most),
        rows,
        part,
        at_hand.desk.name,
        kind,
    )
    return file_of(at_hand, found, content, KINDS[kind])


@router.get("/trace/{part}")
def trace_part(at_hand: AtHand, question: Asked, part: str, first: First = 0, most: Most = 100) -> TraceOut:
    """What one part of the tie line is made of."""
    result, chosen, found = at_hand.weighing.trace_part(question, part, first, most)
    return trace_out(result, found, chosen)
