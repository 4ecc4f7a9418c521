"""Whether the app is well."""

from __future__ import annotations

import platform

from fastapi import APIRouter
from fastapi.responses import JSONResponse

from yardstick import __version__
from yardstick.store.database import AWAY, version

from .schemas import Health
from .state import Instance

router = APIRouter(prefix="/api", tags=["health"])


@router.get("/health", response_model=Health, responses={503: {"model": Health}})
def health(instance: Instance) -> JSONResponse:
    """Versions and the state of the database: 200 when it answers, 503 when it is away."""
    said = {"app": __version__, "python": platform.python_version(), "workspaces": sorted(instance.opened)}
    try:
        return JSONResponse(said | {"database": "ok"} | version(instance.engine))
    except AWAY:
        return JSONResponse(said | {"database": "away"}, status_code=503)
