"""What is open, over HTTP."""

from __future__ import annotations

from fastapi import APIRouter, Response
from pydantic import BaseModel

from yardstick.formats.results.sheets import Kind
from yardstick.stations.gather.matters import OpenMatter, matters_table, open_matters

from .exports import table_of
from .schemas import PROBLEMS
from .state import OpenWorkspace

router = APIRouter(prefix="/matters", tags=["matters"], responses=PROBLEMS)


class MattersOut(BaseModel):
    """What is open, the largest stake first; money in minor units of the home currency."""

    matters: list[OpenMatter]
    currency: str
    minor_digits: int
    time_zone: str
    fingerprint: str


@router.get("")
def matters(opened: OpenWorkspace) -> MattersOut:
    """What is open, with the rows that each matter is made of."""
    result, found = open_matters(opened.weighing, opened.desk.clock())
    return MattersOut(
        matters=found,
        currency=result.plan.money.home_currency,
        minor_digits=result.plan.money.minor_digits,
        time_zone=result.plan.reading.time_zone,
        fingerprint=result.fingerprint,
    )


@router.get(".{kind}", response_class=Response)
def matters_file(opened: OpenWorkspace, kind: Kind) -> Response:
    """What is open as a file."""
    return table_of(opened, "matters", matters_table(opened.weighing, opened.desk.clock()), kind)
