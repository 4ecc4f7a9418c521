"""What every request has at hand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Request

from yardstick.stations.desk import Desk
from yardstick.stations.gather import Loader
from yardstick.stations.mark import Sheets
from yardstick.stations.placing import Placing
from yardstick.stations.weigh import Weighing


@dataclass(frozen=True)
class State:
    """The workspace, the loader that changes it, the weighing that only reads its snapshots, and the link sheet."""

    desk: Desk
    loader: Loader
    weighing: Weighing
    sheets: Sheets
    placing: Placing


def _state(request: Request) -> State:
    state: State = request.app.state.yardstick
    return state


AtHand = Annotated[State, Depends(_state)]
