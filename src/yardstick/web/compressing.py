"""Answers are compressed where that makes them smaller: no files that are compressed already, nothing that comes bit by
bit."""

from __future__ import annotations

from collections.abc import Awaitable, Callable, MutableMapping
from typing import Any

from starlette.middleware.gzip import GZipMiddleware

Scope = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]
Asgi = Callable[[Scope, Receive, Send], Awaitable[None]]
WHOLE = (".zip", ".xlsx", ".parquet", ".png", ".woff2", ".woff", ".ico", "/events")
"""Ends of paths that are answered as they are."""
LEAST = 1_000
"""Bytes below which nothing is gained."""


class Compress:
    """Compresses answers of the app behind it.

    Parameters
    ----------
    app : the rest of the app
    """

    def __init__(self, app: Asgi) -> None:
        self._plain, self._small = app, GZipMiddleware(app, minimum_size=LEAST, compresslevel=6)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        whole = scope["type"] != "http" or scope["path"].endswith(WHOLE)
        await (self._plain if whole else self._small)(scope, receive, send)
