"""Whether the app is well."""

from __future__ import annotations

import platform
from functools import partial

from anyio import CapacityLimiter, to_thread
from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse

from yardstick.core.base.version import VERSION
from yardstick.store.database import AWAY, version

from .schemas import Health
from .state import Instance

router = APIRouter(prefix="/api", tags=["health"])
_ONE = CapacityLimiter(1)
"""Whoever asks how the app is waits for no thread and no connection that the app itself may have used up."""


@router.get("/health", response_model=Health, responses={503: {"model": Health}})
async def health(request: Request, instance: Instance) -> JSONResponse:
    """Versions and the state of the database: 200 when it answers, 503 when it is away; which workspaces are open, and
    what is the matter with those whose figures are behind."""
    said: dict[str, object] = {"app": VERSION, "python": platform.python_version()}
    said |= {"workspaces": sorted(instance.opened), "behind": instance.behind()}
    try:
        found = await to_thread.run_sync(partial(version, request.app.state.probe), limiter=_ONE)
        return JSONResponse(said | {"database": "ok"} | found)
    except AWAY:
        return JSONResponse(said | {"database": "away"}, status_code=503)
