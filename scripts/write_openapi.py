"""Writes what the front end takes from Python: the server's OpenAPI documents, of which its clients are generated, and
what is declared once (`web.declared`); --check only compares."""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from yardstick.web.app import create, workspace_api
from yardstick.web.declared import declared

FRONT_END = Path(__file__).resolve().parent.parent / "frontend"


def main() -> int:
    """Write or compare the documents; returns the exit code."""
    with tempfile.TemporaryDirectory() as home:
        app = create("postgresql+psycopg://nobody@127.0.0.1:1/none", Path(home), "none")
        documents = {"openapi.json": workspace_api(app.state.workspaces), "openapi-instance.json": app}
        texts = {n: json.dumps(a.openapi(), indent=2, ensure_ascii=False) + "\n" for n, a in documents.items()}
        app.state.recorder.close()
    texts["src/api/declared.ts"] = declared()
    for name, text in texts.items():
        target = FRONT_END / name
        if "--check" not in sys.argv:
            target.write_text(text)
        elif not target.exists() or target.read_text() != text:
            print(f"frontend/{name} is not what the server says: run `make api`", file=sys.stderr)
            return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
