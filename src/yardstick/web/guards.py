"""Who may ask, and how much they may send: only this machine's own browser, up to a limit that holds while it comes.

There is no sign-in yet, so a foreign Host or Origin is refused. Every answer carries the same security headers,
refusals too.
"""

from __future__ import annotations

import os
import re
from collections.abc import Awaitable, Callable, MutableMapping
from typing import Any
from urllib.parse import urlsplit

from fastapi.responses import JSONResponse

from yardstick.core.base.errors import SettingsError

from .errors import problem

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
UPLOAD_LIMIT = 4 * 1024**3
_SIZE = re.compile(r"(\d{1,15})\s*(|KiB|MiB|GiB)", re.IGNORECASE)


def upload_limit() -> int:
    """Bytes that one request may bring: `YARDSTICK_UPLOAD_LIMIT`, such as `500 MiB`; 4 GiB as usual.

    Raises
    ------
    SettingsError
        If what is said there is no size.
    """
    said = os.environ.get("YARDSTICK_UPLOAD_LIMIT", "").strip()
    if not said:
        return UPLOAD_LIMIT
    found = _SIZE.fullmatch(said)
    if found is None:
        raise SettingsError(f"YARDSTICK_UPLOAD_LIMIT: {said!r} is no size: write it as bytes, or as 500 MiB")
    return int(found[1]) * {"": 1, "kib": 2**10, "mib": 2**20, "gib": 2**30}[found[2].lower()]


class _TooLarge(Exception):
    """More came than may come."""


class Guard:
    """Refuses foreign and oversized requests, and tells the browser what a page may do.

    Parameters
    ----------
    app : what it guards
    limit : bytes that one request may bring
    """

    def __init__(self, app: Asgi, limit: int) -> None:
        self._app, self._limit = app, limit

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        begun = over = False

        async def answer(message: Message) -> None:
            nonlocal begun
            if over and not begun:
                # Whoever reads the body makes something else of our stop; what is so is said below.
                return
            if message["type"] == "http.response.start":
                begun = True
                message["headers"] = [*message.get("headers", []), *HEADERS]
            await send(message)

        refused = self._refusal(dict(scope["headers"]))
        if refused is not None:
            await refused(scope, receive, answer)
            return
        came = 0

        async def counted() -> Message:
            nonlocal came, over
            message = await receive()
            came += len(message.get("body", b""))
            if came > self._limit:
                over = True
                raise _TooLarge
            return message

        try:
            await self._app(scope, counted, answer)
        except Exception:
            if not over:
                raise
        if over and not begun:
            over = False
            await self._too_large()(scope, receive, answer)

    def _refusal(self, headers: dict[bytes, bytes]) -> JSONResponse | None:
        host = headers.get(b"host", b"").decode("latin-1")
        origin = headers.get(b"origin")
        if _host_of("//" + host) not in LOCAL:
            return problem(403, "foreign_host", f"This app answers on this machine only, not as {host[:100]!r}.")
        if origin is not None and _netloc_of(origin.decode("latin-1")) != host:
            return problem(403, "foreign_origin", "Another site may not use this app.")
        length = headers.get(b"content-length", b"0")
        if not length.isdigit():
            return problem(400, "wrong_request", "The length of the request is no number.")
        return self._too_large() if int(length) > self._limit else None

    def _too_large(self) -> JSONResponse:
        said = f"More than {self._limit:,} bytes at once: nothing was kept. Send less, or set YARDSTICK_UPLOAD_LIMIT."
        return problem(413, "too_large", said)


def _host_of(address: str) -> str:
    try:
        return urlsplit(address).hostname or ""
    except ValueError:
        return ""


def _netloc_of(address: str) -> str:
    try:
        return urlsplit(address).netloc
    except ValueError:
        return ""
