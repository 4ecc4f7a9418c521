"""A made-up ad platform: it keeps ads with address patterns, fills its slots at the click, and sends the click on.

PUT  /ads/NAME       {"address": pattern, "opens": "{=", "closes": "=}", "values": {"grp": "whale all"}}
GET  /click/NAME     302 to the address with every slot it knows filled, percent-encoded
GET  /ads            the ads as JSON
"""

from __future__ import annotations

import argparse
import json
import re
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import quote


class Platform(ThreadingHTTPServer):
    """The platform, with the ads of this run."""

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


class Request(BaseHTTPRequestHandler):
    """One request."""

    server: Platform
    protocol_version = "HTTP/1.1"

    def do_PUT(self) -> None:
        name = self.path.removeprefix("/ads/")
        self.server.ads[name] = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        self._answer(204, b"")

    def do_GET(self) -> None:
        if self.path == "/ads":
            self._answer(200, json.dumps(self.server.ads).encode())
            return
        ad = self.server.ads.get(self.path.removeprefix("/click/"))
        if ad is None:
            self._answer(404, b"no such ad")
            return
        self.send_response(302)
        self.send_header("Location", filled(ad))
        self.send_header("Content-Length", "0")
        self.end_headers()

    def _answer(self, status: int, body: bytes) -> None:
        self.send_response(status)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: object) -> None:
        """Say nothing: the terminal belongs to the app."""


def main() -> None:
    """Serve until the process is ended."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, required=True)
    Platform(parser.parse_args().port).serve_forever()


if __name__ == "__main__":
    main()
