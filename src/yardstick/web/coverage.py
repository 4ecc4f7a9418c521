"""Coverage over HTTP."""

from __future__ import annotations

from fastapi import APIRouter, Response
from pydantic import BaseModel

from yardstick.core.settling.coverage import CoverageShare
from yardstick.formats.results.sheets import Kind
from yardstick.stations.gather.coverage import coverage_table, covered
from yardstick.stations.gather.joined_people import JoinedPeople, joined_people

from .exports import table_of
from .schemas import PROBLEMS
from .state import OpenWorkspace
from .weigh import QuestionParams

router = APIRouter(prefix="/coverage", tags=["coverage"], responses=PROBLEMS)


@router.get("/people")
def people(opened: OpenWorkspace) -> JoinedPeople:
    """By which identifiers people were joined, the largest persons, and identifiers with most others."""
    return joined_people(opened.weighing)


class CoverageOut(BaseModel):
    """Every share of a range; amounts in minor units of the home currency."""

    shares: list[CoverageShare]
    currency: str
    minor_digits: int
    fingerprint: str


@router.get("")
def coverage(opened: OpenWorkspace, question: QuestionParams) -> CoverageOut:
    """How much of visits, leads, conversions, value and spend is tied together, and since when."""
    result, shares = covered(opened.weighing, question)
    return CoverageOut(
        shares=shares,
        currency=result.plan.money.home_currency,
        minor_digits=result.plan.money.minor_digits,
        fingerprint=result.fingerprint,
    )


@router.get(".{kind}", response_class=Response)
def coverage_file(opened: OpenWorkspace, question: QuestionParams, kind: Kind) -> Response:
    """The same as a file."""
    return table_of(opened, "coverage", coverage_table(opened.weighing, question), kind)
