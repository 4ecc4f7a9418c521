"""The links of a package, and the clicks on them, into a workspace."""

from __future__ import annotations

import json
from collections.abc import Callable, Collection, Sequence
from datetime import datetime

from sqlalchemy import Connection, insert

from yardstick.core.base.errors import SettingsError
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.packages import CLICK_COLUMNS, CLICKS, LINK_COLUMNS, LINKS, MOST_LINKS, Package

from .links import RowChange, change_rows
from .models import ShortClick
from .short_codes import claim_codes

CheckRows = Callable[[Sequence[RowChange]], None]
LONGEST = 200_000
"""Characters of a cell of a click: more than any address that a server takes."""


def read_links(connection: Connection, workspace: int, package: Package, check: CheckRows) -> dict[str, str]:
    """Take the links of a package, their short codes with them.

    Parameters
    ----------
    connection, workspace, package : see `packages.read_package`
    check : raises `SettingsError` for rows that no sheet can hold

    Returns
    -------
    dict from short code to the workspace that has it already; its links come without it, since it may stand in print
    """
    links: list[dict[str, str]] = []
    for some in package.table(LINKS, LINK_COLUMNS):
        links += some
        if len(links) > MOST_LINKS:
            raise FileProblem(f"{LINKS}: more than {MOST_LINKS:,} links: no sheet holds as many")
    try:
        ordered = sorted(links, key=lambda row: row["place"])
        changes = [RowChange(row["key"], _cells(row["cells"])) for row in ordered]
        check(changes)
    except SettingsError as problem:
        raise FileProblem(f"{LINKS}: {problem}") from None
    except (ValueError, TypeError, RecursionError):
        raise FileProblem(f"{LINKS}: a row of it cannot be read: write the package out anew") from None
    if not changes:
        return {}
    taken = claim_codes(connection, workspace, {c.cells["short"] for c in changes if c.cells and c.cells.get("short")})
    changes = [_without(change, taken) for change in changes]
    change_rows(connection, workspace, [], changes, LINKS)
    return taken


def _cells(text: str) -> dict[str, str]:
    cells = dict(json.loads(text))
    if not all(isinstance(value, str) for value in cells.values()):
        raise ValueError("cells")
    return cells


def _without(change: RowChange, taken: Collection[str]) -> RowChange:
    cells = dict(change.cells or {})
    if cells.get("short") in taken:
        del cells["short"]
    return RowChange(change.key, cells)


def read_clicks(connection: Connection, workspace: int, package: Package, taken: Collection[str]) -> None:
    """Take the clicks on the links of a package, but for those on short codes that another workspace has.

    Parameters
    ----------
    connection, workspace, package : see `packages.read_package`
    taken : those codes
    """
    for some in package.table(CLICKS, CLICK_COLUMNS):
        rows = []
        for row in some:
            try:
                at = datetime.fromisoformat(row["clicked_at"])
            except ValueError:
                at = None
            if at is None or at.tzinfo is None or any(len(c) > LONGEST or "\0" in c for c in row.values()):
                raise FileProblem(f"{CLICKS}: a row of it cannot be read: write the package out anew")
            if row["code"] not in taken:
                rows.append({**row, "clicked_at": at, "workspace_id": workspace})
        if rows:
            connection.execute(insert(ShortClick), rows)
