"""The command `yardstick credit` on small worlds, as somebody at a terminal runs it."""

from __future__ import annotations

import csv
import json
from dataclasses import dataclass
from pathlib import Path

from typer.testing import CliRunner

from worlds import csv_bytes
from yardstick.cli import app


@dataclass
class Answer:
    """What the command wrote."""

    code: int
    said: str
    rows: list[dict[str, str]]
    credits: list[dict[str, str]]
    findings: list[dict[str, str]]
    rejected: list[dict[str, str]]
    summary: dict

    def row(self, yardstick: str, value: str, by: str = "campaign", bucket: str = "named") -> dict[str, str]:
        """One row of the report."""
        (found,) = [r for r in self.rows if (r["yardstick"], r["bucket"], r[by]) == (yardstick, bucket, value)]
        return found


def credit(folder: Path, world: dict[str, list[dict[str, str]]], settings: str = "", *words: str) -> Answer:
    """Write a world into a folder and run the command on it."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, rows in world.items():
        (folder / f"{name}.csv").write_bytes(csv_bytes(name, rows))
    (folder / "settings.toml").write_text(settings)
    out = folder / "out"
    done = CliRunner().invoke(
        app, ["credit", str(folder), "--out", str(out), "--settings", str(folder / "settings.toml"), *words]
    )
    assert done.exception is None or isinstance(done.exception, SystemExit), done.exception

    def read(name: str) -> list[dict[str, str]]:
        path = out / name
        return list(csv.DictReader(path.open(newline=""))) if path.exists() else []

    said = out / "summary.json"
    return Answer(
        done.exit_code,
        done.output,
        *(read(f"{name}.csv") for name in ("result", "credits", "findings", "rejected")),
        json.loads(said.read_text()) if said.exists() else {},
    )
