"""Files that leave the app: their names say which workspace they are from."""

from __future__ import annotations

from fastapi import Response

from yardstick.stations.workspaces import AtWork

CSV = "text/csv; charset=utf-8"


def file_of(at_hand: AtWork, name: str, content: str | bytes, media_type: str) -> Response:
    """A file to take away, named after the workspace and what it holds."""
    head = {"Content-Disposition": f'attachment; filename="{at_hand.desk.name}-{name}"'}
    return Response(content, media_type=media_type, headers=head)
