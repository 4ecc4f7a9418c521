"""The self-check over HTTP: the same for every workspace."""

from __future__ import annotations

from functools import cache
from threading import Lock

from fastapi import APIRouter, Response

from yardstick.formats.results.sheets import Kind
from yardstick.stations.instance.check_program import Worked, selfcheck
from yardstick.stations.weigh.record_tables import record_table

from .exports import table_of
from .schemas import PROBLEMS
from .state import OpenWorkspace

_WORKING = Lock()
_worked_once = cache(selfcheck)

router = APIRouter(tags=["selfcheck"], responses=PROBLEMS)


@router.get("/selfcheck")
def examples() -> list[Worked]:
    """Worked and published examples of the rules, computed by this program since it started."""
    with _WORKING:
        return _worked_once()


@router.get("/selfcheck.{kind}", response_class=Response)
def examples_file(opened: OpenWorkspace, kind: Kind) -> Response:
    """The same as a file."""
    return table_of(opened, "selfcheck", record_table(Worked, examples()), kind)
