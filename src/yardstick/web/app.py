"""The web application."""

from __future__ import annotations

import os
import threading
from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import asynccontextmanager, suppress
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles

from yardstick import __version__
from yardstick.stations.desk import Desk, now
from yardstick.stations.gather import Loader
from yardstick.stations.mark import Sheets
from yardstick.stations.placing import Placing
from yardstick.stations.short_links import ShortLinks
from yardstick.stations.weigh import Weighing
from yardstick.store.clicks import ClickRecorder, take_in_spool
from yardstick.store.database import AWAY, connect

from . import gather, health, mark, plan, weigh
from .errors import answer_problems, problem
from .guards import guard
from .short_links import ShortLinkDoor
from .state import State

FRONT_END = Path(__file__).parents[3] / "frontend" / "dist"


def create(
    url: str,
    home: Path,
    workspace: str,
    front_end: Path = FRONT_END,
    resolve: Mapping[str, str] | None = None,
    clock: Callable[[], int] = now,
) -> FastAPI:
    """Build the application.

    Parameters
    ----------
    url : SQLAlchemy address of the database
    home : the app's data folder (snapshots, uploads)
    workspace : name of the workspace it serves
    front_end : folder of the built front end
    resolve : host -> host:port for test visits, where a stand-in takes a host's place
    clock : gives the present instant, microseconds since 1970 in UTC
    """
    desk = Desk(connect(url), home, workspace, clock)
    loader, sheets = Loader(desk), Sheets(desk)
    spool = home / f"clicks-{workspace}.jsonl"
    recorder = Once(lambda: ClickRecorder(desk.engine, desk.workspace, spool))

    @asynccontextmanager
    async def life(_: FastAPI) -> AsyncIterator[None]:
        # Without the database Weigh still answers from the snapshot; the health check says that it is away.
        with suppress(*AWAY):
            desk.wake()
            take_in_spool(desk.engine, desk.workspace, spool)
        yield
        loader.close()
        if recorder.made is not None:
            recorder.made.close()
        desk.engine.dispose()

    app = FastAPI(title="Yardstick Trail", version=__version__, lifespan=life, docs_url=None, redoc_url=None)
    app.state.yardstick = State(desk, loader, Weighing(desk.snapshots), sheets, Placing(desk, sheets, resolve or {}))
    guard(app)
    answer_problems(app)
    for router in (health.router, plan.router, mark.router, gather.router, weigh.router):
        app.include_router(router)
    _serve(app, front_end)
    app.add_middleware(ShortLinkDoor, links=ShortLinks(sheets), recorder=recorder)
    return app


class Once:
    """Makes something when it is first asked for."""

    def __init__(self, make: Callable[[], ClickRecorder]) -> None:
        self._make, self._lock = make, threading.Lock()
        self.made: ClickRecorder | None = None

    def __call__(self) -> ClickRecorder:
        if self.made is None:
            with self._lock:
                self.made = self.made or self._make()
        return self.made


def from_environment() -> FastAPI:
    """The application as the start command wants it."""
    names = ("YARDSTICK_DATABASE", "YARDSTICK_HOME", "YARDSTICK_WORKSPACE")
    url, home, workspace = (os.environ[name] for name in names)
    pairs = (pair.partition("=") for pair in os.environ.get("YARDSTICK_STANDINS", "").split(",") if pair)
    return create(url, Path(home), workspace, resolve={host: there for host, _, there in pairs})


def _serve(app: FastAPI, front_end: Path) -> None:
    """Serve the built front end; every other path is one of its views."""
    if (front_end / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=front_end / "assets"))

    @app.get("/{path:path}", include_in_schema=False, response_model=None)
    def page(path: str):  # type: ignore[no-untyped-def]
        if path.startswith("api/") or not (front_end / "index.html").is_file():
            return problem(404, "not_found", f"There is nothing at /{path}.")
        file = (front_end / path).resolve()
        wanted = file if path and file.is_file() and front_end.resolve() in file.parents else front_end / "index.html"
        return FileResponse(wanted, headers={"Cache-Control": "no-cache"})
