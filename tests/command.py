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


@dataclass
class Done:
    """How a command ended, and what it printed."""

    returncode: int
    stdout: str
    stderr: str


def run(*words: str | Path, stdin: str | None = None) -> Done:
    """Run the command in this process: it starts in no time, and a fault of it is one of the test."""
    done = CliRunner().invoke(app, [*map(str, words)], input=stdin)
    if done.exception is not None and not isinstance(done.exception, SystemExit):
        raise done.exception
    return Done(done.exit_code, done.stdout, done.stderr)


def credit(folder: Path, world: dict[str, list[dict[str, str]]], settings: str = "", *words: str) -> Answer:
    """Write a world into a folder and run the command on it."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, rows in world.items():
        (folder / f"{name}.csv").write_bytes(csv_bytes(name, rows))
    (folder / "settings.toml").write_text(settings)
    out = folder / "out"
    done = run("credit", folder, "--out", out, "--settings", folder / "settings.toml", *words)

    def read(name: str) -> list[dict[str, str]]:
        path = out / name
        return list(csv.DictReader(path.open(newline=""))) if path.exists() else []

    said = out / "summary.json"
    result, credits, findings, rejected = (
        read(f"{name}.csv") for name in ("result", "credits", "findings", "rejected")
    )
    return Answer(
        done.returncode,
        done.stdout + done.stderr,
        result,
        credits,
        findings,
        rejected,
        json.loads(said.read_text()) if said.exists() else {},
    )
