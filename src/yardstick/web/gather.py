"""Gather over HTTP."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator
from dataclasses import asdict, replace
from datetime import date
from itertools import chain
from typing import Annotated, Literal

from fastapi import APIRouter, File, Query, Response, UploadFile
from fastapi import Path as PathParameter
from fastapi.responses import StreamingResponse
from starlette.concurrency import run_in_threadpool

from yardstick.formats.results.csv_out import REJECTED_COLUMNS, rejected_rows
from yardstick.formats.results.sheets import Kind
from yardstick.stations.gather import read_otherwise as reading
from yardstick.stations.gather import rehearse_files, undo_loads
from yardstick.stations.gather import try_settings as settings_trial
from yardstick.stations.gather.invoices import (
    AccountMonth,
    DayOfInvoice,
    Invoice,
    account_months,
    read_invoice,
    type_invoice,
)
from yardstick.stations.gather.rehearse_file import FileRehearsal
from yardstick.stations.gather.rehearse_files import Rehearsal
from yardstick.stations.gather.sources import SourceNow, list_sources
from yardstick.stations.gather.undo_loads import Load
from yardstick.stations.gather.uploads import TableColumn, tables_there
from yardstick.stations.instance.pack_workspace import pack
from yardstick.stations.mark.audit_accounts import AdAudited, Audit, RoleArrived, landing_pages, read_audit
from yardstick.stations.weigh.question_words import file_name
from yardstick.stations.weigh.record_tables import RecordTable, record_table
from yardstick.stations.weigh.weigh_board import BoardQuestion
from yardstick.stations.workspace.reading_now import ReadingNow
from yardstick.store.database import AWAY
from yardstick.store.jobs import JobStage, JobState

from .exports import table_of
from .schemas import PROBLEMS, Id, Keep, ReadOtherwise, TypedInvoice
from .state import OpenWorkspace
from .trials import TrialOut, trial_out

EVENTS_EVERY_S = 0.25
Name = Annotated[str, PathParameter(pattern="^[A-Za-z0-9-]{1,60}$")]
Called = Annotated[str, Query(pattern="^[A-Za-z0-9-]{0,60}$")]

router = APIRouter(prefix="/gather", tags=["gather"], responses=PROBLEMS)


@router.post("/rehearsals")
def rehearse(opened: OpenWorkspace, files: Annotated[list[UploadFile], File()], called: Called = "") -> Rehearsal:
    """Read files and say what keeping them would do; nothing is changed.

    Under a name it can be followed and stopped.
    """
    return rehearse_files.rehearse(opened.desk, [(file.filename or "file", file.file) for file in files], called)


@router.get("/readings/{called}")
def reading_now(opened: OpenWorkspace, called: Name) -> ReadingNow:
    """How far the files are that are being read under a name."""
    return opened.desk.readings.at(called)


@router.post("/readings/{called}/stop")
def stop_reading(opened: OpenWorkspace, called: Name) -> ReadingNow:
    """Have the reading of files end; nothing of it is left."""
    opened.desk.readings.stop(called)
    return opened.desk.readings.at(called)


@router.get("/rehearsals/{token}")
def waiting(opened: OpenWorkspace, token: str) -> list[str]:
    """Names of the files of a rehearsal that were not kept yet."""
    return rehearse_files.waiting(opened.desk, token)


@router.post("/rehearsals/{token}/readings")
def read_otherwise(opened: OpenWorkspace, token: str, wanted: ReadOtherwise) -> FileRehearsal:
    """Rehearse one of the files again, read by another source, as a source yet to be remembered, or guessed anew."""
    return reading.read_otherwise(opened.desk, token, wanted.file, wanted.reading, wanted.called, wanted.answers)


@router.post("/rehearsals/{token}/settings/trial")
def try_settings(opened: OpenWorkspace, token: str) -> TrialOut:
    """What the settings among the files of a rehearsal would move on the rows that stand; nothing is kept."""
    return trial_out(settings_trial.try_settings(opened.desk, opened.weighing, token))


@router.get("/sources")
def sources(opened: OpenWorkspace) -> list[SourceNow]:
    """Every source: what it is, what arrived of it, and what is missing."""
    return list_sources(opened.desk)


@router.get("/sources.{kind}", response_class=Response)
def sources_file(opened: OpenWorkspace, kind: Kind) -> Response:
    """Every source as a file."""
    return table_of(opened, "sources", record_table(SourceNow, sources(opened), without=("loads",)), kind)


@router.get("/accounts")
def accounts(opened: OpenWorkspace) -> list[AccountMonth]:
    """Every month of every account: what its rows say, what its invoice says, and the difference."""
    return account_months(opened.weighing)


@router.get("/accounts.{kind}", response_class=Response)
def accounts_file(opened: OpenWorkspace, kind: Kind) -> Response:
    """Every month of every account as a file."""
    amounts = ("rows", "invoice", "difference")
    return table_of(opened, "accounts", record_table(AccountMonth, accounts(opened), decimals=amounts), kind)


@router.get("/invoices/{month}.{kind}", response_class=Response)
def invoice_file(opened: OpenWorkspace, month: str, kind: Kind, platform: str, account: str = "") -> Response:
    """The days of an account's month as a file."""
    found = read_invoice(opened.weighing, platform, account, month)
    table = record_table(DayOfInvoice, found.days, decimals=("amount", "met", "rest", "credits"))
    table = table.beside({"platform": platform, "account": account, "currency": found.currency})
    return table_of(opened, file_name("invoice", platform, account, month), table, kind)


@router.get("/invoices/{month}")
def invoice(opened: OpenWorkspace, month: str, platform: str, account: str = "") -> Invoice:
    """An account's month: the invoice beside what its rows say, and what became of them."""
    return read_invoice(opened.weighing, platform, account, month)


@router.put("/invoices/{month}")
def put_invoice(opened: OpenWorkspace, month: str, platform: str, billed: TypedInvoice, account: str = "") -> Invoice:
    """Keep what an invoice says; it can be undone as every load."""
    type_invoice(opened.desk, platform, account, month, billed.amount, billed.currency)
    return invoice(opened, month, platform, account)


@router.get("/audit")
def audit(
    opened: OpenWorkspace,
    report_from: Annotated[date | None, Query(alias="from")] = None,
    report_to: Annotated[date | None, Query(alias="to")] = None,
) -> Audit:
    """The address each ad will send people to and what is wrong with it, and which roles arrived in a range."""
    return read_audit(
        opened.weighing, BoardQuestion(report_from=report_from, report_to=report_to), landing_pages(opened.desk)
    )


@router.get("/audit.{kind}", response_class=Response)
def audit_file(
    opened: OpenWorkspace,
    kind: Kind,
    rows: Literal["ads", "roles"] = "ads",
    report_from: Annotated[date | None, Query(alias="from")] = None,
    report_to: Annotated[date | None, Query(alias="to")] = None,
) -> Response:
    """The ads, or the roles that arrived, as a file."""
    found = audit(opened, report_from, report_to)
    if rows == "ads":
        table = record_table(AdAudited, found.ads, decimals=("spend",))
    else:
        table = record_table(RoleArrived, found.coverage, decimals=("spend",))
    days = {"range_from": str(report_from or ""), "range_to": str(report_to or "")}
    return table_of(opened, file_name("audit", rows, *days.values()), table.beside(days), kind)


@router.get("/package.zip", response_class=StreamingResponse)
def package(opened: OpenWorkspace) -> StreamingResponse:
    """The whole workspace as a zipped tabular data package."""
    pieces = pack(opened.desk)
    # What goes wrong at the beginning is still said as everything else.
    first = next(pieces)
    head = {"Content-Disposition": f'attachment; filename="{opened.desk.name}.zip"'}
    return StreamingResponse(chain([first], pieces), media_type="application/zip", headers=head)


@router.get("/tables")
def tables(opened: OpenWorkspace) -> dict[str, list[TableColumn]]:
    """The tables that rows can go into, with their columns."""
    return tables_there()


@router.post("/loads", status_code=202)
def keep(opened: OpenWorkspace, wanted: Keep) -> JobState:
    """Start keeping the files of a rehearsal."""
    return job(opened, opened.loader.keep(wanted.token))


@router.get("/loads")
def loads(opened: OpenWorkspace) -> list[Load]:
    """All loads, the latest first."""
    return undo_loads.list_loads(opened.desk)


@router.post("/loads/{load}/undo")
def undo(opened: OpenWorkspace, load: Id) -> list[Load]:
    """Undo a load; the list of loads afterwards."""
    undo_loads.undo_load(opened.desk, load)
    return loads(opened)


@router.post("/loads/{load}/redo")
def redo(opened: OpenWorkspace, load: Id) -> list[Load]:
    """Bring back the rows of a load that was undone; the list of loads afterwards."""
    undo_loads.redo_load(opened.desk, load)
    return loads(opened)


@router.get("/loads.{kind}", response_class=Response)
def loads_file(opened: OpenWorkspace, kind: Kind) -> Response:
    """All loads as a file."""
    return table_of(opened, "loads", record_table(Load, loads(opened), without=("can_undo", "can_redo")), kind)


@router.get("/loads/{load}/rejected.{kind}", response_class=Response)
def rejected(opened: OpenWorkspace, load: Id, kind: Kind) -> Response:
    """The rejected rows of a load, with their reasons."""
    rows = [*rejected_rows(undo_loads.rejected_of(opened.desk, load))]
    table = RecordTable([*REJECTED_COLUMNS], rows, frozenset({"line"}))
    return table_of(opened, f"rejected-{load}", table, kind)


@router.get("/jobs/{job_id}")
def job(opened: OpenWorkspace, job_id: Id) -> JobState:
    """How far a job is."""
    return opened.loader.state(job_id)


@router.get("/jobs/{job_id}/events", response_class=StreamingResponse)
async def events(opened: OpenWorkspace, job_id: Id) -> StreamingResponse:
    """How far a job is, as server-sent events, each a job as JSON, until it has ended."""
    first = await run_in_threadpool(opened.loader.state, job_id)

    async def tell() -> AsyncIterator[str]:
        said, state = None, first
        while True:
            if state != said:
                said = state
                yield f"data: {json.dumps(asdict(state))}\n\n"
            if state.state != JobStage.RUNNING:
                return
            await asyncio.sleep(EVENTS_EVERY_S)
            try:
                state = await run_in_threadpool(opened.loader.state, job_id)
            except AWAY:
                # How it ended is on record, or will be found out: told as soon as the database answers.
                state = replace(state, doing="waiting for the database")

    return StreamingResponse(tell(), media_type="text/event-stream", headers={"Cache-Control": "no-store"})


@router.post("/jobs/{job_id}/stop")
def stop(opened: OpenWorkspace, job_id: Id) -> JobState:
    """Ask a job to stop; nothing of the file it is at will be kept."""
    opened.loader.stop(job_id)
    return job(opened, job_id)
