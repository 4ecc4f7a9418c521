"""What stands now: asked every few seconds by every window, so that none goes on with what another has changed."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel

from yardstick.store import jobs
from yardstick.store.jobs import JobStage, JobState
from yardstick.store.states import last_change_of

from .state import OpenWorkspace

router = APIRouter(prefix="/now", tags=["now"])


class Now(BaseModel):
    """What a window compares with what it shows.

    Attributes
    ----------
    data : name of the data that stand (R27)
    plan : number of the latest change of the plan
    running : loads at work, the latest first
    """

    data: str
    plan: int
    running: list[JobState]


@router.get("")
def now(opened: OpenWorkspace) -> Now:
    """What stands, and what is being loaded, in whichever window it was begun."""
    desk = opened.desk
    with desk.engine.connect() as connection:
        plan = last_change_of(connection, desk.workspace, "settings")
    at_work = [opened.loader.state(job) for job in jobs.running(desk.engine, desk.workspace)]
    current = desk.snapshots.current()
    return Now(
        data=current.data if current else "", plan=plan, running=[j for j in at_work if j.state == JobStage.RUNNING]
    )
