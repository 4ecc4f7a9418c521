"""What is open, over HTTP."""

from __future__ import annotations

from fastapi import APIRouter, Response
from pydantic import BaseModel

from yardstick.formats.results.sheets import Kind
from yardstick.stations.gather.matters import OpenMatter, besides_of, matters_table, open_matters

from .exports import table_of
from .schemas import PROBLEMS
from .state import OpenWorkspace

router = APIRouter(prefix="/matters", tags=["matters"], responses=PROBLEMS)


class MattersOut(BaseModel):
    """What is open or accepted, the largest stake first; money in minor units of the home currency. The days of the
    range are empty where it is open."""

    matters: list[OpenMatter]
    currency: str
    minor_digits: int
    time_zone: str
    fingerprint: str
    first_day: str
    last_day: str


@router.get("")
def matters(opened: OpenWorkspace, all_days: bool = False) -> MattersOut:
    """What is open or accepted, with the rows that each matter is made of; stakes are of the latest 13 whole weeks, of
    all days, or of the range of the settings."""
    result, found = open_matters(
        opened.weighing, besides_of(opened.desk, opened.placing), opened.desk.clock(), all_days
    )
    return MattersOut(
        matters=found,
        currency=result.plan.money.home_currency,
        minor_digits=result.plan.money.minor_digits,
        time_zone=result.plan.reading.time_zone,
        fingerprint=result.fingerprint,
        first_day=str(result.plan.reporting.report_from or ""),
        last_day=str(result.plan.reporting.report_to or ""),
    )


@router.get(".{kind}", response_class=Response)
def matters_file(opened: OpenWorkspace, kind: Kind) -> Response:
    """What is open as a file."""
    return table_of(
        opened,
        "matters",
        matters_table(opened.weighing, besides_of(opened.desk, opened.placing), opened.desk.clock()),
        kind,
    )
