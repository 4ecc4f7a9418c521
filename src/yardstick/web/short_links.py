"""Short links, `/~/code`: the click is put on record, then the visitor is sent on to a stored address and no other.

They stand before everything else the app does with a request, so that a click waits for nothing but its record.
"""

from __future__ import annotations

from collections.abc import Awaitable, Callable, MutableMapping
from datetime import UTC, datetime
from typing import Any

from yardstick.stations.mark.short_links import AllShortLinks
from yardstick.store.clicks import Click, ClickRecorder

from .guards import HEADERS

Scope = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]
Asgi = Callable[[Scope, Receive, Send], Awaitable[None]]
PREFIX = "/~/"
GONE = b"There is no such short link. It may have been removed from the link sheet."
NOT_YET = b"The links cannot be read yet. Try again in a moment."


class ShortLinkDoor:
    """Answers `/~/code`; hands every other request on.

    Parameters
    ----------
    app : the rest of the app
    links : code -> where it leads, over all workspaces
    recorder : puts clicks on record
    """

    def __init__(self, app: Asgi, links: AllShortLinks, recorder: ClickRecorder) -> None:
        self._app, self._links, self._recorder = app, links, recorder

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or not scope["path"].startswith(PREFIX):
            await self._app(scope, receive, send)
            return
        if scope["method"] not in ("GET", "HEAD"):
            await _answer(send, 405, [(b"allow", b"GET, HEAD")], b"")
            return
        # What follows the code fills the link's chosen extra value; a / alone says nothing.
        code, _, rest = scope["path"][len(PREFIX) :].partition("/")
        target, sure = self._links.at_hand(code), True
        if target is None:
            target, sure = await self._links.look_up(code)
        if target is None:
            status, text = (404, GONE) if sure else (503, NOT_YET)
            await _answer(send, status, [(b"content-type", b"text/plain; charset=utf-8")], text)
            return
        target = target.called_with(scope["query_string"].decode("latin-1"), rest)
        if scope["method"] == "GET":
            headers = dict(scope["headers"])
            referrer, agent = (headers.get(name, b"").decode("latin-1") for name in (b"referer", b"user-agent"))
            at = datetime.now(UTC).isoformat()
            click = Click(target.code, at, target.url, target.shown(referrer), agent, target.workspace)
            await self._recorder.record(click)
        head = [
            (b"location", target.url.encode("latin-1")),
            (b"referrer-policy", target.policy.encode()),
            (b"cache-control", b"no-store"),
        ]
        await _answer(send, 302, head, b"")


async def _answer(send: Send, status: int, headers: list[tuple[bytes, bytes]], body: bytes) -> None:
    length = (b"content-length", str(len(body)).encode())
    # A link's own referrer policy beats the usual one.
    own = {name for name, _ in headers}
    usual = [header for header in HEADERS if header[0] not in own]
    await send({"type": "http.response.start", "status": status, "headers": [*headers, length, *usual]})
    await send({"type": "http.response.body", "body": body})
