"""Weigh over HTTP. Nothing here touches the database."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response

from yardstick.stations.board_rows import Wanted
from yardstick.stations.weigh import Question

from .exports import CSV, file_of
from .schemas import PROBLEMS, BoardOut, CertaintyOut, TraceOut
from .shown import board_out, certainty_out, trace_out
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


def _wanted(sort: str = "spend", descending: bool = True, find: str = "") -> Wanted:
    return Wanted(sort, descending, find)


Shown = Annotated[Wanted, Depends(_wanted)]


@router.get("/board")
def board(at_hand: AtHand, question: Asked, shown: Shown) -> BoardOut:
    """The ruler board, its rows in the order asked for; those that Find does not find are marked."""
    return board_out(at_hand.weighing.board(question, at_hand.desk.clock()), shown)


@router.get("/certainty")
def certainty(at_hand: AtHand, question: Asked) -> CertaintyOut:
    """How sure the figures of a board are: intervals, verdicts over the panel, how much has come by now."""
    return certainty_out(*at_hand.weighing.certainty(question))


@router.get("/values")
def values(at_hand: AtHand, question: Asked, field: str) -> list[str]:
    """Values of a field, the most met first, to filter by."""
    return at_hand.weighing.values(question, field)


@router.get("/board.csv", response_class=Response)
def board_csv(at_hand: AtHand, question: Asked, shown: Shown) -> Response:
    """The board as CSV: the rows shown, in the order shown."""
    found = at_hand.weighing.board(question, at_hand.desk.clock())
    text = at_hand.weighing.board_csv(found, shown, at_hand.desk.name)
    return file_of(at_hand, f"board-{found.fingerprint}.csv", text, CSV)


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


@router.get("/trace/{part}")
def trace_part(at_hand: AtHand, question: Asked, part: str, first: First = 0, most: Most = 100) -> TraceOut:
    """What one part of the tie line is made of."""
    result, chosen, found = at_hand.weighing.trace_part(question, part, first, most)
    return trace_out(result, found, chosen)
