"""Who may ask: only this machine's own browser. There is no sign-in yet, so a foreign Host or Origin is refused."""

from __future__ import annotations

from collections.abc import Awaitable, Callable
from urllib.parse import urlsplit

from fastapi import FastAPI, Request, Response

from .errors import problem

LOCAL = ("127.0.0.1", "localhost", "[::1]", "::1")
POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; "
    "frame-ancestors 'none'; base-uri 'self'; form-action 'self'"
)


def guard(app: FastAPI) -> None:
    """Refuse foreign requests and tell the browser what a page may do."""

    @app.middleware("http")
    async def check(request: Request, go_on: Callable[[Request], Awaitable[Response]]) -> Response:
        host = urlsplit("//" + request.headers.get("host", "")).hostname or ""
        origin = request.headers.get("origin")
        if host not in LOCAL:
            return problem(403, "foreign_host", f"This app answers on this machine only, not as {host!r}.")
        if origin is not None and not _same_origin(origin, request):
            return problem(403, "foreign_origin", "Another site may not use this app.")
        answer = await go_on(request)
        answer.headers["Content-Security-Policy"] = POLICY
        answer.headers["X-Content-Type-Options"] = "nosniff"
        answer.headers["Referrer-Policy"] = "same-origin"
        return answer


def _same_origin(origin: str, request: Request) -> bool:
    return urlsplit(origin).netloc == request.headers.get("host", "")
