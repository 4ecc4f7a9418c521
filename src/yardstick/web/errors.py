"""Every problem becomes an answer that says what happened, what was kept and what to do."""

from __future__ import annotations

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse

from yardstick.core.base.errors import SettingsError
from yardstick.core.report.trace import NoSuchFigure
from yardstick.formats.csv_in import FileProblem
from yardstick.stations.gather import NotFound
from yardstick.stations.plan import Overtaken
from yardstick.stations.weigh import NothingYet
from yardstick.store.database import AWAY
from yardstick.store.loading import CannotUndo

AWAY_MESSAGE = (
    "The database does not answer. Nothing was changed, and what was loaded is safe. "
    "Weigh still works; to load or undo, start the app again."
)
_KNOWN: dict[type[Exception], tuple[int, str]] = {
    SettingsError: (422, "wrong_setting"),
    FileProblem: (422, "unreadable_file"),
    NoSuchFigure: (404, "no_such_figure"),
    NotFound: (404, "not_found"),
    NothingYet: (404, "nothing_yet"),
    CannotUndo: (409, "cannot_undo"),
    Overtaken: (409, "overtaken"),
}


def answer_problems(app: FastAPI) -> None:
    """Register how problems are answered."""
    for kind, (status, code) in _KNOWN.items():
        app.add_exception_handler(kind, _said(status, code))
    for kind in AWAY:
        app.add_exception_handler(kind, _away)
    app.add_exception_handler(RequestValidationError, _wrong_request)


def problem(status: int, code: str, message: str) -> JSONResponse:
    """An answer in the form of `schemas.Problem`."""
    return JSONResponse({"code": code, "message": message}, status_code=status)


def _said(status: int, code: str):  # type: ignore[no-untyped-def]
    async def answer(_: Request, error: Exception) -> JSONResponse:
        return problem(status, code, str(error))

    return answer


async def _away(_: Request, error: Exception) -> JSONResponse:
    return problem(503, "database_away", AWAY_MESSAGE)


async def _wrong_request(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    parts = [f"{'.'.join(str(p) for p in e['loc'][1:])}: {e['msg']}" for e in error.errors()]
    return problem(422, "wrong_request", "; ".join(parts))
