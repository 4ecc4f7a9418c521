"""Made-up ad platforms: they keep ads with address patterns, fill their slots at the click, and send the click on.

PUT  /ads/NAME       {"address": pattern, "opens": "{=", "closes": "=}", "values": {"grp": "whale all"}}
GET  /ads            the ads as JSON
GET  /               the ads as a page, each with the address of a click on it
GET  /click/NAME     302 to the address with every slot the platform knows filled, percent-encoded
POST /click/NAME     {"clicks": 3, "through": "127.0.0.1:8080"}: the platform sends visitors there itself
"""

from __future__ import annotations

import html
import http.client
import json
import re
from http.server import ThreadingHTTPServer
from urllib.parse import quote, urlsplit

from .answering import Answering, serve

PAGE = "<!doctype html><title>Ads</title><h1>Ads</h1><ul>{ads}</ul>"


class PlatformServer(ThreadingHTTPServer):
    """The platforms, with the ads of this run."""

    daemon_threads = True

    def __init__(self, port: int) -> None:
        super().__init__(("127.0.0.1", port), Request)
        self.ads: dict[str, dict[str, object]] = {}


def filled(ad: dict[str, object]) -> str:
    """The address of an ad with its slots filled; a slot the platform does not know stays as it is."""
    opens, closes = str(ad["opens"]), str(ad["closes"])
    values = ad["values"]
    assert isinstance(values, dict)

    def fill(match: re.Match[str]) -> str:
        value = values.get(match.group(1))
        return match.group() if value is None else quote(str(value), safe="")

    return re.sub(re.escape(opens) + "(.*?)" + re.escape(closes), fill, str(ad["address"]))


def send_visitor(address: str, through: str) -> int:
    """Open an address as a visitor who clicked; `through` is the host:port that answers for its host."""
    parts = urlsplit(address)
    connection = http.client.HTTPConnection(through, timeout=10)
    try:
        path = (parts.path or "/") + ("?" + parts.query if parts.query else "")
        connection.request("GET", path, headers={"Host": parts.netloc, "Referer": "https://ads.quorrin.example/"})
        return connection.getresponse().status
    finally:
        connection.close()


class Request(Answering):
    """One request."""

    server: PlatformServer

    def do_PUT(self) -> None:  # noqa: N802
        self.server.ads[self.path.removeprefix("/ads/")] = json.loads(self._body())
        self.answer(204, b"")

    def do_GET(self) -> None:  # noqa: N802
        if self.path == "/ads":
            self.answer(200, json.dumps(self.server.ads).encode(), "application/json")
            return
        if self.path == "/":
            host = html.escape(self.headers.get("Host", ""))
            lines = (f"<li>{html.escape(name)}: http://{host}/click/{quote(name)}</li>" for name in self.server.ads)
            self.answer(200, PAGE.format(ads="".join(lines)).encode(), "text/html; charset=utf-8")
            return
        ad = self._ad()
        if ad is not None:
            self.send_on(filled(ad), 302)

    def do_POST(self) -> None:  # noqa: N802
        asked = json.loads(self._body())
        ad = self._ad()
        if ad is not None:
            answers = [send_visitor(filled(ad), asked["through"]) for _ in range(asked["clicks"])]
            self.answer(200, json.dumps(answers).encode(), "application/json")

    def _ad(self) -> dict[str, object] | None:
        ad = self.server.ads.get(urlsplit(self.path).path.removeprefix("/click/"))
        if ad is None:
            self.answer(404, b"no such ad")
        return ad

    def _body(self) -> bytes:
        return self.rfile.read(int(self.headers["Content-Length"]))


if __name__ == "__main__":
    serve(PlatformServer)
