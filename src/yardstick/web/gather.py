"""Gather over HTTP."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Response, UploadFile

from yardstick.formats.csv_out import REJECTED_COLUMNS, rejected_rows, table_text
from yardstick.stations import gather
from yardstick.stations.gather import Load, Rehearsal
from yardstick.store import jobs
from yardstick.store.jobs import JobState

from .exports import CSV, file_of
from .schemas import PROBLEMS, Keep
from .state import AtHand

router = APIRouter(prefix="/gather", tags=["gather"], responses=PROBLEMS)


@router.post("/rehearsals")
def rehearse(at_hand: AtHand, files: Annotated[list[UploadFile], File()]) -> Rehearsal:
    """Read files and say what keeping them would do; nothing is changed."""
    read = [(file.filename or "file", file.file.read()) for file in files]
    return gather.rehearse(at_hand.desk, read)


@router.post("/loads", status_code=202)
def keep(at_hand: AtHand, wanted: Keep) -> JobState:
    """Start keeping the files of a rehearsal."""
    return job(at_hand, at_hand.loader.keep(wanted.token))


@router.get("/loads")
def loads(at_hand: AtHand) -> list[Load]:
    """All loads, the latest first."""
    return gather.list_loads(at_hand.desk)


@router.post("/loads/{load}/undo")
def undo(at_hand: AtHand, load: int) -> list[Load]:
    """Undo a load; the list of loads afterwards."""
    gather.undo_load(at_hand.desk, load)
    return loads(at_hand)


@router.get("/loads/{load}/rejected.csv", response_class=Response)
def rejected(at_hand: AtHand, load: int) -> Response:
    """The rejected rows of a load, with their reasons."""
    text = table_text(REJECTED_COLUMNS, rejected_rows(gather.rejected_of(at_hand.desk, load)))
    return file_of(at_hand, f"rejected-{load}.csv", text, CSV)


@router.get("/jobs/{job_id}")
def job(at_hand: AtHand, job_id: int) -> JobState:
    """How far a job is."""
    found = jobs.find(at_hand.desk.engine, at_hand.desk.workspace, job_id)
    if found is None:
        raise gather.NotFound("there is no such job")
    return found


@router.post("/jobs/{job_id}/stop")
def stop(at_hand: AtHand, job_id: int) -> JobState:
    """Ask a job to stop; nothing of the file it is at will be kept."""
    at_hand.loader.stop(job_id)
    return job(at_hand, job_id)
