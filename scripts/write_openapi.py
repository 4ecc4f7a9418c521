"""Writes the server's OpenAPI document, from which the front end's client is generated; --check only compares."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from yardstick.web.app import create

TARGET = Path(__file__).resolve().parent.parent / "frontend" / "openapi.json"


def main() -> int:
    """Write or compare the document; returns the exit code."""
    with tempfile.TemporaryDirectory() as home:
        app = create("postgresql+psycopg://nobody@127.0.0.1:1/none", Path(home), "none")
    text = json.dumps(app.openapi(), indent=2, ensure_ascii=False) + "\n"
    if "--check" in sys.argv:
        if TARGET.read_text() != text:
            print("frontend/openapi.json is not what the server says: run `make api`", file=sys.stderr)
            return 1
        return 0
    TARGET.write_text(text)
    return 0


if __name__ == "__main__":
    sys.exit(main())
