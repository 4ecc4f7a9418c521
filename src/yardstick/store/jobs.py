"""Long work on record: how far it is, how it ended, whether a person asked to stop it."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import Engine, insert, select, update

from .models import Job

RUNNING, DONE, STOPPED, FAILED, INTERRUPTED = "running", "done", "stopped", "failed", "interrupted"


@dataclass(frozen=True)
class JobState:
    """A job as it can be shown."""

    id: int
    state: str
    doing: str
    rows_done: int
    rows_total: int
    message: str


def begin(engine: Engine, workspace: int, doing: str) -> int:
    """Put a new running job on record; returns its id."""
    with engine.begin() as connection:
        return connection.execute(
            insert(Job).values(workspace_id=workspace, state=RUNNING, doing=doing, message="").returning(Job.id)
        ).scalar_one()


def advance(engine: Engine, job: int, doing: str, rows_done: int, rows_total: int) -> None:
    """Say how far a job is. On a connection of its own, so that it shows before the work is committed."""
    with engine.begin() as connection:
        connection.execute(
            update(Job).where(Job.id == job).values(doing=doing, rows_done=rows_done, rows_total=rows_total)
        )


def end(engine: Engine, job: int, state: str, message: str) -> None:
    """Say how a job ended."""
    with engine.begin() as connection:
        connection.execute(update(Job).where(Job.id == job).values(state=state, message=message))


def find(engine: Engine, workspace: int, job: int) -> JobState | None:
    """A job of a workspace, None if there is none of that id."""
    with engine.connect() as connection:
        found = connection.execute(select(Job).where(Job.id == job, Job.workspace_id == workspace)).one_or_none()
    if found is None:
        return None
    return JobState(found.id, found.state, found.doing, found.rows_done, found.rows_total, found.message)


def close_interrupted(engine: Engine, workspace: int) -> None:
    """Say of jobs that a crash cut off that nothing of the file they were at was kept."""
    with engine.begin() as connection:
        connection.execute(
            update(Job)
            .where(Job.workspace_id == workspace, Job.state == RUNNING)
            .values(
                state=INTERRUPTED,
                message="The app stopped in the middle. Nothing of that file was kept: load it again.",
            )
        )
