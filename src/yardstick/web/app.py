"""The web application: one process serves all workspaces, each under `/api/w/{workspace}`."""

from __future__ import annotations

import os
from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import asynccontextmanager, suppress
from pathlib import Path
from urllib.parse import quote

from fastapi import FastAPI, Request
from fastapi.responses import FileResponse, RedirectResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy.exc import SQLAlchemyError

from yardstick.alone import collect_rarely, leave_pandas_out, use_system_memory
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.version import VERSION
from yardstick.stations.instance.open_workspaces import Workspaces
from yardstick.stations.mark.short_links import AllShortLinks
from yardstick.stations.workspace.desk import now
from yardstick.store.clicks import ClickRecorder
from yardstick.store.database import connect, connect_alone
from yardstick.store.folder_lock import FolderHeld, FolderLock

from . import coverage, gather, health, mark, matters, plan, records, selfcheck, standing, weigh, workspaces
from .compressing import Compress
from .errors import answer_problems, problem
from .guards import Guard
from .limits import upload_limit
from .short_links import ShortLinkDoor

_INSTALLED = Path(__file__).parent / "front_end"
FRONT_END = _INSTALLED if _INSTALLED.is_dir() else Path(__file__).parents[3] / "frontend" / "dist"
"""The built front end: inside the package where it was installed from a wheel, else beside the sources."""


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
    workspace : name of the workspace that is opened first; made if there is none
    front_end : folder of the built front end
    resolve : host -> host:port for test visits, where a stand-in takes a host's place
    clock : gives the present instant, microseconds since 1970 in UTC
    """
    home.mkdir(parents=True, exist_ok=True)
    links = AllShortLinks(connect_alone(url), home, clock)
    every = Workspaces(connect(url), home, clock, resolve=resolve or {}, links_changed=links.forget)
    recorder = ClickRecorder(connect_alone(url), home / "clicks.jsonl")

    @asynccontextmanager
    async def life(_: FastAPI) -> AsyncIterator[None]:
        with suppress(SQLAlchemyError):
            every.make(workspace)
        yield
        recorder.close()
        links.close()
        app.state.probe.dispose()
        every.close()

    app = FastAPI(title="Yardstick Trail", version=VERSION, lifespan=life, docs_url=None, redoc_url=None)
    inner = workspace_api(every)
    app.state.workspaces, app.state.first = every, workspace
    app.state.recorder, app.state.links, app.state.probe = recorder, links, connect_alone(url)
    answer_problems(app)
    app.include_router(health.router)
    app.include_router(workspaces.router)
    app.mount("/api/w/{workspace}", inner)
    _serve(app, front_end)
    app.add_middleware(Compress)
    app.add_middleware(Guard, limit=upload_limit())
    app.add_middleware(ShortLinkDoor, links=links, recorder=recorder)
    return app


def workspace_api(every: Workspaces) -> FastAPI:
    """What can be asked of one workspace: an application of its own, with a document of its own."""
    inner = FastAPI(title="Yardstick Trail, one workspace", version=VERSION, docs_url=None, redoc_url=None)
    inner.state.workspaces = every
    answer_problems(inner)
    for part in (plan, mark, gather, records, coverage, matters, weigh, selfcheck, standing):
        inner.include_router(part.router)
    return inner


def from_environment() -> FastAPI:
    """The application as the start command wants it."""
    names = ("YARDSTICK_DATABASE", "YARDSTICK_HOME", "YARDSTICK_WORKSPACE")
    url, home, workspace = (os.environ[name] for name in names)
    pairs = (pair.partition("=") for pair in os.environ.get("YARDSTICK_STANDINS", "").split(",") if pair)
    os.umask(0o077)
    leave_pandas_out()
    use_system_memory()
    try:
        lock = FolderLock(Path(home), os.environ.get("YARDSTICK_ADDRESS", "a web server"))
        app = create(url, Path(home), workspace, resolve={host: there for host, _, there in pairs})
    except (SettingsError, FolderHeld) as wrong:
        raise SystemExit(str(wrong)) from None
    # Held for as long as the process lives.
    app.state.lock = lock
    collect_rarely()
    return app


def _serve(app: FastAPI, front_end: Path) -> None:
    """Serve the built front end; every other path is one of its views."""
    if (front_end / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=front_end / "assets"))

    @app.get("/{path:path}", include_in_schema=False, response_model=None)
    def page(request: Request, path: str):  # type: ignore[no-untyped-def]
        if path.startswith("api/") or not (front_end / "index.html").is_file():
            return problem(404, "not_found", f"There is nothing at /{path[:200]}.")
        file = _file_in(front_end, path)
        if file is None and not path.startswith("w/"):
            query = f"?{request.url.query}" if request.url.query else ""
            return RedirectResponse(f"/w/{app.state.first}/{quote(path)}{query}", 307)
        return FileResponse(file or front_end / "index.html", headers={"Cache-Control": "no-cache"})


def _file_in(folder: Path, path: str) -> Path | None:
    """A file of a folder; None where the path names none, whatever it is made of."""
    try:
        file = (folder / path).resolve()
        return file if path and file.is_file() and folder.resolve() in file.parents else None
    except (ValueError, OSError):
        # A NUL, a name longer than file systems take.
        return None
