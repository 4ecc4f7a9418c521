"""Files that leave the app: their names say which workspace they are from."""

from __future__ import annotations

from fastapi import Response

from yardstick.formats.results.sheets import KINDS
from yardstick.stations.instance.open_workspaces import AtWork
from yardstick.stations.weigh.record_tables import RecordTable


def file_of(opened: AtWork, name: str, content: str | bytes, media_type: str) -> Response:
    """A file to take away, named after the workspace and what it holds, and where its figures are behind, so."""
    behind = "behind-" if opened.desk.behind else ""
    head = {"Content-Disposition": f'attachment; filename="{opened.desk.name}-{behind}{name}"'}
    return Response(content, media_type=media_type, headers=head)


def table_of(opened: AtWork, name: str, table: RecordTable, kind: str) -> Response:
    """A table to take away."""
    return file_of(opened, f"{name}.{kind}", table.file(kind), KINDS[kind])
