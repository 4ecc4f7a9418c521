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

from yardstick.formats.csv_out import REJECTED_COLUMNS, rejected_rows
from yardstick.formats.sheets import Kind
from yardstick.stations import gather, rehearsals
from yardstick.stations.asked import file_name
from yardstick.stations.audits import AdAudited, Audit, RoleArrived, landing_pages, read_audit
from yardstick.stations.gather import Load
from yardstick.stations.invoices import (
    AccountMonth,
    DayOfInvoice,
    Invoice,
    account_months,
    read_invoice,
    type_invoice,
)
from yardstick.stations.packing import pack
from yardstick.stations.reading_now import ReadingNow
from yardstick.stations.record_tables import RecordTable, record_table
from yardstick.stations.rehearsals import FileRehearsal, Rehearsal
from yardstick.stations.sources import SourceNow, list_sources
from yardstick.stations.uploads import TableColumn, tables_there
from yardstick.stations.weigh import Question
from yardstick.store.database import AWAY
from yardstick.store.jobs import RUNNING, JobState

from .exports import table_of
from .schemas import PROBLEMS, Id, Keep, ReadOtherwise, TypedInvoice
from .state import AtHand

EVENTS_EVERY_S = 0.25
Name = Annotated[str, PathParameter(pattern="^[A-Za-z0-9-]{1,60}$")]
Called = Annotated[str, Query(pattern="^[A-Za-z0-9-]{0,60}$")]

router = APIRouter(prefix="/gather", tags=["gather"], responses=PROBLEMS)


@router.post("/rehearsals")
def rehearse(at_hand: AtHand, files: Annotated[list[UploadFile], File()], called: Called = "") -> Rehearsal:
    """Read files and say what keeping them would do; nothing is changed.

    Under a name it can be followed and stopped.
    """
    return rehearsals.rehearse(at_hand.desk, [(file.filename or "file", file.file) for file in files], called)


@router.get("/readings/{called}")
def reading_now(at_hand: AtHand, called: Name) -> ReadingNow:
    """How far the files are that are being read under a name."""
    return at_hand.desk.readings.at(called)


@router.post("/readings/{called}/stop")
def stop_reading(at_hand: AtHand, called: Name) -> ReadingNow:
    """Have the reading of files end; nothing of it is left."""
    at_hand.desk.readings.stop(called)
    return at_hand.desk.readings.at(called)


@router.get("/rehearsals/{token}")
def waiting(at_hand: AtHand, token: str) -> list[str]:
    """Names of the files of a rehearsal that were not kept yet."""
    return rehearsals.waiting(at_hand.desk, token)


@router.post("/rehearsals/{token}/readings")
def read_otherwise(at_hand: AtHand, token: str, wanted: ReadOtherwise) -> FileRehearsal:
    """Rehearse one of the files again, read by another source, as a source yet to be remembered, or guessed anew."""
    return rehearsals.read_otherwise(at_hand.desk, token, wanted.file, wanted.reading, wanted.called, wanted.answers)


@router.get("/sources")
def sources(at_hand: AtHand) -> list[SourceNow]:
    """Every source: what it is, what arrived of it, and what is missing."""
    return list_sources(at_hand.desk)


@router.get("/sources.{kind}", response_class=Response)
def sources_file(at_hand: AtHand, kind: Kind) -> Response:
    """Every source as a file."""
    return table_of(at_hand, "sources", record_table(SourceNow, sources(at_hand), without=("loads",)), kind)


@router.get("/accounts")
def accounts(at_hand: AtHand) -> list[AccountMonth]:
    """Every month of every account: what its rows say, what its invoice says, and the difference."""
    return account_months(at_hand.weighing)


@router.get("/accounts.{kind}", response_class=Response)
def accounts_file(at_hand: AtHand, kind: Kind) -> Response:
    """Every month of every account as a file."""
    amounts = ("rows", "invoice", "difference")
    return table_of(at_hand, "accounts", record_table(AccountMonth, accounts(at_hand), decimals=amounts), kind)


@router.get("/invoices/{month}.{kind}", response_class=Response)
def invoice_file(at_hand: AtHand, month: str, kind: Kind, platform: str, account: str = "") -> Response:
    """The days of an account's month as a file."""
    found = read_invoice(at_hand.weighing, platform, account, month)
    table = record_table(DayOfInvoice, found.days, decimals=("amount", "met", "rest", "credits"))
    table = table.beside({"platform": platform, "account": account, "currency": found.currency})
    return table_of(at_hand, file_name("invoice", platform, account, month), table, kind)


@router.get("/invoices/{month}")
def invoice(at_hand: AtHand, month: str, platform: str, account: str = "") -> Invoice:
    """An account's month: the invoice beside what its rows say, and what became of them."""
    return read_invoice(at_hand.weighing, platform, account, month)


@router.put("/invoices/{month}")
def put_invoice(at_hand: AtHand, month: str, platform: str, billed: TypedInvoice, account: str = "") -> Invoice:
    """Keep what an invoice says; it can be undone as every load."""
    type_invoice(at_hand.desk, platform, account, month, billed.amount, billed.currency)
    return invoice(at_hand, month, platform, account)


@router.get("/audit")
def audit(
    at_hand: AtHand,
    report_from: Annotated[date | None, Query(alias="from")] = None,
    report_to: Annotated[date | None, Query(alias="to")] = None,
) -> Audit:
    """The address each ad will send people to and what is wrong with it, and which roles arrived in a range."""
    return read_audit(
        at_hand.weighing, Question(report_from=report_from, report_to=report_to), landing_pages(at_hand.desk)
    )


@router.get("/audit.{kind}", response_class=Response)
def audit_file(
    at_hand: AtHand,
    kind: Kind,
    rows: Literal["ads", "roles"] = "ads",
    report_from: Annotated[date | None, Query(alias="from")] = None,
    report_to: Annotated[date | None, Query(alias="to")] = None,
) -> Response:
    """The ads, or the roles that arrived, as a file."""
    found = audit(at_hand, report_from, report_to)
    if rows == "ads":
        table = record_table(AdAudited, found.ads, decimals=("spend",))
    else:
        table = record_table(RoleArrived, found.coverage, decimals=("spend",))
    days = {"range_from": str(report_from or ""), "range_to": str(report_to or "")}
    return table_of(at_hand, file_name("audit", rows, *days.values()), table.beside(days), kind)


@router.get("/package.zip", response_class=StreamingResponse)
def package(at_hand: AtHand) -> StreamingResponse:
    """The whole workspace as a zipped tabular data package."""
    pieces = pack(at_hand.desk)
    # What goes wrong at the beginning is still said as everything else.
    first = next(pieces)
    head = {"Content-Disposition": f'attachment; filename="{at_hand.desk.name}.zip"'}
    return StreamingResponse(chain([first], pieces), media_type="application/zip", headers=head)


@router.get("/tables")
def tables(at_hand: AtHand) -> dict[str, list[TableColumn]]:
    """The tables that rows can go into, with their columns."""
    return tables_there()


@router.post("/loads", status_code=202)
def keep(at_hand: AtHand, wanted: Keep) -> JobState:
    """Start keeping the files of a rehearsal."""
    return job(at_hand, at_hand.loader.keep(wanted.token))


@router.get("/loads")
def loads(at_hand: AtHand) -> list[Load]:
    """All loads, the latest first."""
    return gather.list_loads(at_hand.desk)


@router.post("/loads/{load}/undo")
def undo(at_hand: AtHand, load: Id) -> list[Load]:
    """Undo a load; the list of loads afterwards."""
    gather.undo_load(at_hand.desk, load)
    return loads(at_hand)


@router.post("/loads/{load}/redo")
def redo(at_hand: AtHand, load: Id) -> list[Load]:
    """Bring back the rows of a load that was undone; the list of loads afterwards."""
    gather.redo_load(at_hand.desk, load)
    return loads(at_hand)


@router.get("/loads.{kind}", response_class=Response)
def loads_file(at_hand: AtHand, kind: Kind) -> Response:
    """All loads as a file."""
    return table_of(at_hand, "loads", record_table(Load, loads(at_hand), without=("can_undo", "can_redo")), kind)


@router.get("/loads/{load}/rejected.{kind}", response_class=Response)
def rejected(at_hand: AtHand, load: Id, kind: Kind) -> Response:
    """The rejected rows of a load, with their reasons."""
    rows = [*rejected_rows(gather.rejected_of(at_hand.desk, load))]
    table = RecordTable([*REJECTED_COLUMNS], rows, frozenset({"line"}))
    return table_of(at_hand, f"rejected-{load}", table, kind)


@router.get("/jobs/{job_id}")
def job(at_hand: AtHand, job_id: Id) -> JobState:
    """How far a job is."""
    return at_hand.loader.state(job_id)


@router.get("/jobs/{job_id}/events", response_class=StreamingResponse)
async def events(at_hand: AtHand, job_id: Id) -> StreamingResponse:
    """How far a job is, as server-sent events, each a job as JSON, until it has ended."""
    first = await run_in_threadpool(at_hand.loader.state, job_id)

    async def tell() -> AsyncIterator[str]:
        said, state = None, first
        while True:
            if state != said:
                said = state
                yield f"data: {json.dumps(asdict(state))}\n\n"
            if state.state != RUNNING:
                return
            await asyncio.sleep(EVENTS_EVERY_S)
            try:
                state = await run_in_threadpool(at_hand.loader.state, job_id)
            except AWAY:
                # How it ended is on record, or will be found out: told as soon as the database answers.
                state = replace(state, doing="waiting for the database")

    return StreamingResponse(tell(), media_type="text/event-stream", headers={"Cache-Control": "no-store"})


@router.post("/jobs/{job_id}/stop")
def stop(at_hand: AtHand, job_id: Id) -> JobState:
    """Ask a job to stop; nothing of the file it is at will be kept."""
    at_hand.loader.stop(job_id)
    return job(at_hand, job_id)
