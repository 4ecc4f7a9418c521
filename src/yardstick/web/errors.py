"""Every problem becomes an answer that says what happened, what was kept and what to do."""

from __future__ import annotations

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic_core import PydanticSerializationError
from sqlalchemy.exc import DataError, StatementError
from starlette.exceptions import HTTPException

from yardstick.core.base.errors import SettingsError
from yardstick.core.report.trace import NoSuchFigure
from yardstick.formats.files.raw import FileProblem
from yardstick.stations.gather.ground_rules import Unsaid
from yardstick.stations.weigh.trace_files import TooMany
from yardstick.stations.weigh.weigh_board import NothingYet
from yardstick.stations.workspace.deadline import TooLong
from yardstick.stations.workspace.reading_now import ReadingStopped
from yardstick.stations.workspace.refusals import NotFound, Overtaken
from yardstick.store.database import AWAY, is_busy, is_full, is_locked, outcome
from yardstick.store.loading import CannotUndo
from yardstick.store.snapshots import PartsMissing

AWAY_MESSAGE = (
    "The database does not answer. What this asked for was not done, or not to its end; what was kept before is safe. "
    "Weigh still works; to load or undo, wait until it is back, then look at what stands."
)
UNSURE_MESSAGE = (
    "The database broke off just when this was to be kept, and did not say whether it was. Wait until it is back, then "
    "look at what stands before you repeat it."
)
KEPT_MESSAGE = "This was kept; only what followed it did not work ({}). Look at what stands; do not repeat it."
BUSY_MESSAGE = (
    "The app is busy with other changes of this or another workspace: nothing of this was kept. Wait a moment, then "
    "repeat."
)
FULL_MESSAGE = "The disk is full. Nothing of this was kept; what was kept before is safe. Make room, then repeat."
_KNOWN: dict[type[Exception], tuple[int, str]] = {
    SettingsError: (422, "wrong_setting"),
    FileProblem: (422, "unreadable_file"),
    TooLong: (422, "too_long"),
    ReadingStopped: (409, "stopped"),
    NoSuchFigure: (404, "no_such_figure"),
    TooMany: (422, "too_many_rows"),
    NotFound: (404, "not_found"),
    Unsaid: (409, "unsaid"),
    NothingYet: (404, "nothing_yet"),
    CannotUndo: (409, "cannot_undo"),
    Overtaken: (409, "overtaken"),
    PartsMissing: (503, "rows_missing"),
}


def answer_problems(app: FastAPI) -> None:
    """Register how problems are answered."""
    for kind, (status, code) in _KNOWN.items():
        app.add_exception_handler(kind, _said(status, code))
    for away in AWAY:
        app.add_exception_handler(away, _away)
    # A text that no database can hold: a NUL, half a character, a number beyond 64 bits.
    for unstorable in (DataError, StatementError, UnicodeError):
        app.add_exception_handler(unstorable, _unstorable)
    app.add_exception_handler(PydanticSerializationError, _unsayable)
    app.add_exception_handler(RecursionError, _too_deep)
    app.add_exception_handler(OSError, _disk)
    app.add_exception_handler(RequestValidationError, _wrong_request)
    app.add_exception_handler(HTTPException, _no_such_thing)
    app.add_exception_handler(Exception, _unforeseen)


def problem(status: int, code: str, message: str) -> JSONResponse:
    """An answer in the form of `schemas.Problem`."""
    return JSONResponse({"code": code, "message": _plain(message)}, status_code=status)


def _plain(message: str) -> str:
    return message.encode("utf-8", "backslashreplace").decode()


def _said(status: int, code: str):  # type: ignore[no-untyped-def]
    async def answer(_: Request, error: Exception) -> JSONResponse:
        return problem(status, code, str(error))

    return answer


def _what_stands(why: str) -> JSONResponse | None:
    """What has to be said in place of anything else where a change was kept, or may have been; None where none was."""
    so_far = outcome.get()
    if so_far is not None and so_far.kept:
        return problem(503, "kept", KEPT_MESSAGE.format(why))
    return problem(503, "unsure", UNSURE_MESSAGE) if so_far is not None and so_far.unsure else None


async def _away(_: Request, error: Exception) -> JSONResponse:
    stands = _what_stands("the disk is full" if is_full(error) else "the database does not answer")
    if stands is not None:
        return stands
    if is_full(error):
        return problem(507, "disk_full", FULL_MESSAGE)
    if is_busy(error):
        return problem(503, "busy", BUSY_MESSAGE)
    return problem(503, "database_away", AWAY_MESSAGE)


async def _unstorable(_: Request, error: Exception) -> JSONResponse:
    said = "This holds what cannot be stored: a NUL, half a character, or a number far too large. Remove it."
    return problem(422, "cannot_be_stored", said)


async def _unsayable(request: Request, error: Exception) -> JSONResponse:
    """An answer that would carry back half a character that came with the request."""
    if "surrogate" not in str(error):
        raise error
    return await _unstorable(request, error)


async def _too_deep(_: Request, error: Exception) -> JSONResponse:
    return problem(422, "wrong_request", "This is nested far too deeply: it is nothing this app writes or reads.")


async def _unforeseen(_: Request, error: Exception) -> JSONResponse:
    said = f"This did not work, and nobody thought of it ({type(error).__name__}). Look at what stands, then tell us."
    return _what_stands(type(error).__name__) or problem(500, "unforeseen", said)


async def _disk(_: Request, error: Exception) -> JSONResponse:
    stands = _what_stands(getattr(error, "strerror", "") or type(error).__name__)
    if stands is not None:
        return stands
    if is_full(error):
        return problem(507, "disk_full", FULL_MESSAGE)
    if is_locked(error):
        said = "The app's data folder cannot be written: nothing of this was kept. Give it its rights, then repeat."
        return problem(503, "folder_read_only", said)
    # What the system says, and none of its paths.
    said = getattr(error, "strerror", "") or type(error).__name__
    return problem(500, "disk_trouble", f"The disk does not do what it should ({said}): nothing of this was kept.")


async def _wrong_request(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    parts = [f"{'.'.join(str(p) for p in e['loc'][1:])}: {e['msg']}" for e in error.errors()]
    return problem(422, "wrong_request", "; ".join(parts))


async def _no_such_thing(request: Request, error: Exception) -> JSONResponse:
    """What the framework refuses by itself: a body that cannot be read, a path or a method nobody answers."""
    assert isinstance(error, HTTPException)
    said = {
        404: ("not_found", f"There is nothing at {request.url.path[:200]}."),
        405: ("wrong_method", f"{request.method} is not what {request.url.path[:200]} answers."),
    }.get(error.status_code, ("wrong_request", f"The request cannot be read: {error.detail}."))
    answer = problem(error.status_code, *said)
    answer.headers.update(error.headers or {})
    return answer
