"""Long work on record: how it ended. The word about what was kept is written in the transaction that kept it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from sqlalchemy import Connection, Engine, func, insert, select, update

from .models import Job


class JobStage(StrEnum):
    """How far a job came."""

    RUNNING = "running"
    DONE = "done"
    STOPPED = "stopped"
    FAILED = "failed"
    INTERRUPTED = "interrupted"


@dataclass(frozen=True)
class JobState:
    """A job as it can be shown. `rate` in rows a second, `seconds_left` None where that cannot be said."""

    id: int
    state: JobStage
    doing: str
    rows_done: int
    rows_total: int
    message: str
    rate: int
    seconds_left: float | None


def begin(engine: Engine, workspace: int, doing: str) -> int:
    """Put a new running job on record; returns its id."""
    with engine.begin() as connection:
        return connection.execute(
            insert(Job)
            .values(workspace_id=workspace, state=JobStage.RUNNING, doing=doing, message="")
            .returning(Job.id)
        ).scalar_one()


def say(connection: Connection, job: int, state: JobStage, message: str) -> None:
    """Say how far a job came, in the transaction of `connection`."""
    connection.execute(update(Job).where(Job.id == job).values(state=state, message=message))


def end(engine: Engine, job: int, state: JobStage, why: str, then: str) -> None:
    """Say how a job ended that did not come to its end.

    What it kept is taken from the record, where it was written with the rows: a commit whose answer was lost counts,
    and a job that is done stays so.
    """
    said = func.coalesce(func.nullif(Job.message, ""), "kept nothing")
    with engine.begin() as connection:
        connection.execute(
            update(Job)
            .where(Job.id == job, Job.state == JobStage.RUNNING)
            .values(state=state, message=func.concat(why, "; ", said, "; ", then))
        )


def find(engine: Engine, workspace: int, job: int) -> JobState | None:
    """A job of a workspace, None if there is none of that id."""
    with engine.connect() as connection:
        found = connection.execute(select(Job).where(Job.id == job, Job.workspace_id == workspace)).one_or_none()
    if found is None:
        return None
    return JobState(
        found.id,
        JobStage(JobStage(found.state)),
        found.doing,
        found.rows_done,
        found.rows_total,
        found.message,
        0,
        None,
    )


def running(engine: Engine, workspace: int) -> list[int]:
    """Ids of the jobs of a workspace that are at work, the latest first."""
    with engine.connect() as connection:
        found = (
            select(Job.id).where(Job.workspace_id == workspace, Job.state == JobStage.RUNNING).order_by(Job.id.desc())
        )
        return list(connection.scalars(found))


def close_interrupted(engine: Engine, workspace: int) -> None:
    """Say of jobs that a crash cut off what they had kept: its names were written with the rows themselves."""
    said = func.coalesce(func.nullif(Job.message, ""), "kept nothing")
    with engine.begin() as connection:
        connection.execute(
            update(Job)
            .where(Job.workspace_id == workspace, Job.state == JobStage.RUNNING)
            .values(
                state=JobStage.INTERRUPTED,
                message=func.concat(
                    "The app stopped in the middle: ", said, ". Nothing of any other file was kept: load those again."
                ),
            )
        )
