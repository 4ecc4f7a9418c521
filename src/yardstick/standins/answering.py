"""What all stand-ins are: servers on loopback that answer briefly and say nothing to the terminal."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer


class Answering(BaseHTTPRequestHandler):
    """One request."""

    protocol_version = "HTTP/1.1"

    def answer(self, status: int, body: bytes, kind: str = "text/plain") -> None:
        """Send a whole answer."""
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def send_on(self, where: str, status: int = 301) -> None:
        """Send whoever asks to another address."""
        self.send_response(status)
        self.send_header("Location", where)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, format: str, *args: object) -> None:
        """Say nothing: the terminal belongs to the app."""


def serve(server: Callable[[int], ThreadingHTTPServer]) -> None:
    """Serve at the port that the command names, until the process is ended."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, required=True)
    server(parser.parse_args().port).serve_forever()
