"""A connection that does not say what it wants is given up: its head must come within a few seconds."""

from __future__ import annotations

import asyncio
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_S = 20.0


class PatientProtocol(H11Protocol):
    """HTTP as the server speaks it, but for the wait for a head that never ends."""

    _late: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        """Begin to wait for the first head."""
        super().connection_made(transport)
        self._wait()

    def data_received(self, data: bytes) -> None:
        """Stop waiting once a head is whole; wait again where a next one has begun."""
        super().data_received(data)
        if self.cycle is not None and not self.cycle.response_complete:
            self._come()
        elif self._late is None:
            self._wait()

    def connection_lost(self, exc: Exception | None) -> None:
        """Nothing is waited for any more."""
        self._come()
        super().connection_lost(exc)

    def _wait(self) -> None:
        self._late = asyncio.get_running_loop().call_later(HEAD_S, self._give_up)

    def _come(self) -> None:
        if self._late is not None:
            self._late.cancel()
            self._late = None

    def _give_up(self) -> None:
        self._late = None
        if self.cycle is None or self.cycle.response_complete:
            self.transport.close()
