"""What every request has at hand: the workspace it names, with its stations."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from yardstick.stations.instance.open_workspaces import AtWork, Workspaces


def all_workspaces(request: Request) -> Workspaces:
    """The workspaces of this instance."""
    workspaces: Workspaces = request.app.state.workspaces
    return workspaces


def _opened(request: Request) -> AtWork:
    return all_workspaces(request).at(request.path_params["workspace"])


OpenWorkspace = Annotated[AtWork, Depends(_opened)]
Instance = Annotated[Workspaces, Depends(all_workspaces)]
