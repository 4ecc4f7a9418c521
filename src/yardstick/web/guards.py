"""Who may ask, and how much they may send: only this machine's own browser, up to a limit that holds while it comes.

There is no sign-in yet, so a foreign Host or Origin is refused. Every answer carries the same security headers,
refusals too.
"""

from __future__ import annotations

import asyncio
from collections.abc import Awaitable, Callable, MutableMapping
from typing import Any
from urllib.parse import urlsplit

from fastapi.responses import JSONResponse

from yardstick.store.database import Outcome, outcome

from .errors import problem
from .limits import GRACE_S, MOST_BRACKETS, brackets_in, is_too_slow, limit_of

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
Asgi = Callable[[Scope, Receive, Send], Awaitable[None]]

LOCAL = ("127.0.0.1", "localhost", "::1")
POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "frame-ancestors 'none'; base-uri 'self'; form-action 'self'"
)
HEADERS = (
    (b"content-security-policy", POLICY.encode()),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"same-origin"),
)


class _GivenUp(Exception):
    """More came than may come, or too slowly."""


class Guard:
    """Refuses foreign, oversized and endless requests, and tells the browser what a page may do.

    Parameters
    ----------
    app : what it guards
    limit : bytes that one request with files of rows may bring; every other door has less (see `limits.limit_of`)
    """

    def __init__(self, app: Asgi, limit: int) -> None:
        self._app, self._limit = app, limit

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        begun = False
        given_up: JSONResponse | None = None

        async def answer(message: Message) -> None:
            nonlocal begun
            if given_up is not None and not begun:
                # Whoever reads the body makes something else of our stop; what is so is said below.
                return
            if message["type"] == "http.response.start":
                begun = True
                message["headers"] = [*message.get("headers", []), *HEADERS]
            await send(message)

        limit = limit_of(scope["path"], self._limit)
        refused = _refusal(scope["scheme"], dict(scope["headers"]), limit)
        if refused is not None:
            await refused(scope, receive, answer)
            return
        body = _Body(receive, scope["path"], limit)
        outcome.set(Outcome())

        async def counted() -> Message:
            nonlocal given_up
            message = await body.next()
            if body.refused is not None:
                given_up = body.refused
                raise _GivenUp
            return message

        try:
            await self._app(scope, counted, answer)
        except Exception:
            if given_up is None:
                raise
        if given_up is not None and not begun:
            said, given_up = given_up, None
            await said(scope, receive, answer)


class _Body:
    """A body as it comes. `refused` says why no more of it is waited for."""

    def __init__(self, receive: Receive, path: str, limit: int) -> None:
        self._receive, self._path, self._limit = receive, path, limit
        self._came, self._brackets, self._whole = 0, 0, False
        self._since = asyncio.get_running_loop().time()
        self.refused: JSONResponse | None = None

    async def next(self) -> Message:
        if self._whole:
            # What comes now is that the visitor has gone, whenever that may be.
            return await self._receive()
        try:
            message = await asyncio.wait_for(self._receive(), GRACE_S)
        except TimeoutError:
            self.refused = _too_slow()
            return {}
        piece = message.get("body", b"")
        self._came += len(piece)
        self._brackets += brackets_in(piece, self._path)
        self._whole = not message.get("more_body", False)
        if self._came > self._limit:
            self.refused = _too_large(self._limit)
        elif self._brackets > MOST_BRACKETS:
            said = f"More than {MOST_BRACKETS:,} lists and records at once: nothing was kept. Send less."
            self.refused = problem(413, "too_large", said)
        elif not self._whole and is_too_slow(self._came, asyncio.get_running_loop().time() - self._since):
            self.refused = _too_slow()
        return message


def _refusal(scheme: str, headers: dict[bytes, bytes], limit: int) -> JSONResponse | None:
    host = headers.get(b"host", b"").decode("latin-1")
    origin = headers.get(b"origin")
    if _host_of("//" + host) not in LOCAL:
        return problem(403, "foreign_host", f"This app answers on this machine only, not as {host[:100]!r}.")
    if origin is not None and origin.decode("latin-1") != f"{scheme}://{host}":
        return problem(403, "foreign_origin", "Another site may not use this app.")
    length = headers.get(b"content-length", b"0")
    if not length.isdigit():
        return problem(400, "wrong_request", "The length of the request is no number.")
    return _too_large(limit) if int(length[:20]) > limit else None


def _too_large(limit: int) -> JSONResponse:
    said = (
        f"More than {limit:,} bytes at once: nothing was kept. Send less; "
        "how much files of rows may bring is set with YARDSTICK_UPLOAD_LIMIT."
    )
    return problem(413, "too_large", said)


def _too_slow() -> JSONResponse:
    return problem(408, "too_slow", "The request came too slowly and was given up: nothing was kept. Send it again.")


def _host_of(address: str) -> str:
    try:
        return urlsplit(address).hostname or ""
    except ValueError:
        return ""
