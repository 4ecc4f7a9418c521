"""The workspaces of the instance over HTTP."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel

from .schemas import PROBLEMS
from .state import Instance

router = APIRouter(prefix="/api/workspaces", tags=["workspaces"], responses=PROBLEMS)


class NewWorkspace(BaseModel):
    """The name of a new workspace: small letters, digits and hyphens."""

    name: str


@router.get("")
def names(instance: Instance) -> list[str]:
    """Names of all workspaces."""
    return instance.names()


@router.post("", status_code=201)
def make(instance: Instance, wanted: NewWorkspace) -> list[str]:
    """Begin a workspace; one of that name is left as it is."""
    instance.make(wanted.name)
    return instance.names()
