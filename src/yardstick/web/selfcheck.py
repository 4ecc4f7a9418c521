"""The self-check over HTTP: the same for every workspace."""

from __future__ import annotations

from fastapi import APIRouter

from yardstick.stations.selfcheck import Worked, selfcheck

from .schemas import PROBLEMS

router = APIRouter(tags=["selfcheck"], responses=PROBLEMS)


@router.get("/selfcheck")
def examples() -> list[Worked]:
    """Worked and published examples of the rules, computed now by this program."""
    return selfcheck()
