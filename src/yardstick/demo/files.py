"""The demo world as files: the tables, the settings, and the ledger of troubles."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from pathlib import Path

from yardstick.core.base.schema import SCHEMA
from yardstick.formats.results.csv_out import table_text

from .ledger import Trouble
from .links import links_to_check
from .plan import demo_settings
from .reports import report_files
from .troubles import make_troubled_world
from .world import World, make_clean_world

LEDGER_COLUMNS = ("kind", "table", "rows", "money", "currency", "story", "ids")


def world_files(world: World) -> list[tuple[str, bytes]]:
    """(name, content) of every file of a world that can be loaded."""
    reports, left = report_files(world.spend)
    tables: dict[str, Sequence[Mapping[str, str]]] = {**world.tables(), "spend": left}
    files = [*reports, *((f"{name}.csv", _table(name, rows).encode()) for name, rows in tables.items() if rows)]
    return [*files, ("settings.toml", demo_settings().encode())]


def _table(name: str, rows: Sequence[Mapping[str, str]]) -> str:
    columns = [c.called for c in SCHEMA[name] if any(r.get(c.called) for r in rows)]
    return table_text(columns, ([row.get(c, "") for c in columns] for row in rows))


def ledger_text(ledger: list[Trouble]) -> str:
    """The ledger of troubles as CSV."""
    lines = ([t.kind, t.table, str(len(t.rows)), str(t.money), t.currency, t.story, "; ".join(t.rows)] for t in ledger)
    return table_text(LEDGER_COLUMNS, lines)


def write_world(folder: Path, troubled: bool) -> None:
    """Write the demo world's files into a folder, with the ledger if it is the troubled one.

    Parameters
    ----------
    folder : made if missing
    troubled : the troubled twin, or the clean world
    """
    folder.mkdir(parents=True, exist_ok=True)
    world = make_clean_world()
    ledger: list[Trouble] = []
    if troubled:
        world, ledger = make_troubled_world(world)
    files = world_files(world)
    if troubled:
        files.append(("ledger-of-troubles.csv", ledger_text(ledger).encode()))
    files.append(("links-to-check.txt", "\n".join([*links_to_check(), ""]).encode()))
    for name, content in files:
        part = folder / (name + ".part")
        part.write_bytes(content)
        os.replace(part, folder / name)
