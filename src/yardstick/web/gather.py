"""Gather over HTTP."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Response, UploadFile

from yardstick.formats.csv_out import REJECTED_COLUMNS, rejected_rows, table_text
from yardstick.stations import gather
from yardstick.store import jobs

from .schemas import PROBLEMS, JobOut, Keep, LoadOut, RehearsalOut
from .state import AtHand

router = APIRouter(prefix="/api/gather", tags=["gather"], responses=PROBLEMS)


@router.post("/rehearsals")
def rehearse(at_hand: AtHand, files: Annotated[list[UploadFile], File()]) -> RehearsalOut:
    """Read files and say what keeping them would do; nothing is changed."""
    read = [(file.filename or "file", file.file.read()) for file in files]
    return RehearsalOut.model_validate(gather.rehearse(at_hand.desk, read))


@router.post("/loads", status_code=202)
def keep(at_hand: AtHand, wanted: Keep) -> JobOut:
    """Start keeping the files of a rehearsal."""
    return job(at_hand, at_hand.loader.keep(wanted.token))


@router.get("/loads")
def loads(at_hand: AtHand) -> list[LoadOut]:
    """All loads, the latest first."""
    return [LoadOut.model_validate(load) for load in gather.list_loads(at_hand.desk)]


@router.post("/loads/{load}/undo")
def undo(at_hand: AtHand, load: int) -> list[LoadOut]:
    """Undo a load; the list of loads afterwards."""
    gather.undo_load(at_hand.desk, load)
    return loads(at_hand)


@router.get("/loads/{load}/rejected.csv", response_class=Response)
def rejected(at_hand: AtHand, load: int) -> Response:
    """The rejected rows of a load, with their reasons."""
    text = table_text(REJECTED_COLUMNS, rejected_rows(gather.rejected_of(at_hand.desk, load)))
    head = {"Content-Disposition": f'attachment; filename="rejected-{load}.csv"'}
    return Response(text, media_type="text/csv; charset=utf-8", headers=head)


@router.get("/jobs/{job_id}")
def job(at_hand: AtHand, job_id: int) -> JobOut:
    """How far a job is."""
    found = jobs.find(at_hand.desk.engine, at_hand.desk.workspace, job_id)
    if found is None:
        raise gather.NotFound("there is no such job")
    return JobOut.model_validate(found)


@router.post("/jobs/{job_id}/stop")
def stop(at_hand: AtHand, job_id: int) -> JobOut:
    """Ask a job to stop; nothing of the file it is at will be kept."""
    at_hand.loader.stop(job_id)
    return job(at_hand, job_id)
