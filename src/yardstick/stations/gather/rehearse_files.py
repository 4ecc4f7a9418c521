"""Rehearsals: what keeping files would do; they wait under a token, and nothing else is changed."""

from __future__ import annotations

import secrets
import shutil
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import BinaryIO

from yardstick.formats.files.readers import holds_rows
from yardstick.formats.files.workbooks import reading_once
from yardstick.formats.sources.questions.question import FileQuestion
from yardstick.formats.sources.sourcing import Ambiguous

from ..workspace.desk import Desk
from ..workspace.reading_now import ReadingStopped
from .ground_rules import ground_in, ground_of
from .rehearse_file import FileRehearsal, guessed, refused, rehearse_file, which
from .uploads import classify_uploads
from .waiting_files import choose, plain_name, put_file, uploaded


@dataclass
class Rehearsal:
    """What would happen to a set of files; `token` keeps them. `first` is asked of a workspace whose home currency or
    time zone nobody has said yet: all else is read by them."""

    token: str
    files: list[FileRehearsal]
    first: list[FileQuestion] = field(default_factory=list)


def rehearse(desk: Desk, files: Sequence[tuple[str, BinaryIO]], called: str = "") -> Rehearsal:
    """Read files and say what keeping them would do. Nothing is changed; the files wait under a token.

    Parameters
    ----------
    desk : the workspace
    files : (name, content)
    called : the name by which `desk.readings` says how far it is, and by which it is stopped

    Returns
    -------
    Rehearsal, files in the order given

    Raises
    ------
    ReadingStopped
        If somebody stopped it; nothing is left of it.
    """
    desk.sweep_uploads()
    token = secrets.token_hex(12)
    folder = desk.uploads / token
    folder.mkdir(parents=True)
    with desk.readings.reading(called):
        try:
            return _rehearse(desk, token, folder, files)
        except ReadingStopped:
            shutil.rmtree(folder, ignore_errors=True)
            raise


def waiting(desk: Desk, token: str) -> list[str]:
    """Names of the files of a rehearsal that were not kept, in the order given; none where it is over."""
    folder = desk.uploads / token
    return [name for name, _ in uploaded(folder)] if token.isalnum() and folder.is_dir() else []


@reading_once()
def _rehearse(desk: Desk, token: str, folder: Path, files: Sequence[tuple[str, BinaryIO]]) -> Rehearsal:
    named = [(plain_name(name), content) for name, content in files]
    paths = [(name, put_file(folder, i, name, content)) for i, (name, content) in enumerate(named)]
    given, problems, by = classify_uploads(desk, paths)
    said: dict[Path, FileRehearsal] = {}
    for file in given:
        choose(file.path, file.reading)
        said[file.path] = rehearse_file(desk, file, by)
    seen: set[str] = set()
    for name, path in paths:
        if path not in said:
            problem = problems[path]
            table = holds_rows(name) and name not in seen
            if isinstance(problem, Ambiguous):
                said[path] = which(desk, name, path, by, problem)
            else:
                as_meant = guessed(desk, name, path, by) if table else None
                said[path] = as_meant or refused(name, str(problem))
        seen.add(name)
    found = [said[path] for _, path in paths]
    offered = [one.reading.currency for one in found if one.reading is not None]
    offered += [money.currency for one in found for money in one.money]
    return Rehearsal(token, found, ground_of(desk, ground_in(desk, paths), offered))
