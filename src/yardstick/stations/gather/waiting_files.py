"""Files that wait to be kept: each in a folder with its name, how it is to be read, and the rows that were read.

Names of these folders carry nothing but the order in which the files were given.
"""

from __future__ import annotations

import json
import shutil
from collections.abc import Collection, Mapping
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any, BinaryIO

from yardstick.core.plan.gathering_phase import Source
from yardstick.formats.files.readers import holds_rows
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.formats.sources.questions.question import FileQuestion
from yardstick.store.whole_files import read_whole, write_whole

LONGEST_NAME = 200
"""Bytes that the name of a file is cut to."""
Record = dict[str, Any]


@dataclass(frozen=True)
class UploadReading:
    """How one file is read.

    Attributes
    ----------
    record : a source as settings have it; None where its columns have our names
    open : whether something has to be said before rows are kept by it
    asked : what was asked when it was guessed at
    open_fields : what the open questions are about
    """

    record: Record | None = None
    open: bool = False
    asked: tuple[FileQuestion, ...] = ()
    open_fields: tuple[str, ...] = ()

    @property
    def part(self) -> SourcePart | None:
        """The source by which it is read."""
        return None if self.record is None else SourcePart.model_validate(self.record)

    @property
    def source(self) -> Source | None:
        """The source by which it is read, as readers take it."""
        part = self.part
        return None if part is None else part.plain()


BY_ITS_NAMES = UploadReading()
"""Of a file whose columns have our names."""
NAME, CONTENT, READING, PREPARED = "name.json", "content", "reading.json", ".rows"
"""What is in the folder of a file: its name, itself, how it is read, and by table folders of rows that were read."""


def put_file(folder: Path, number: int, name: str, content: BinaryIO) -> Path:
    """Put a file down among those of a rehearsal.

    Parameters
    ----------
    folder : of the rehearsal
    number : which of its files it is
    name : as `plain_name` makes it
    content : read to its end

    Returns
    -------
    Path
        where its content lies
    """
    mine = folder / f"{number:04d}"
    mine.mkdir()
    with (mine / CONTENT).open("wb") as there:
        shutil.copyfileobj(content, there, 1 << 20)
    write_whole(mine / NAME, json.dumps(name).encode())
    return mine / CONTENT


def uploaded(folder: Path) -> list[tuple[str, Path]]:
    """(name, path of the content) of the files of a rehearsal, in the order in which they were given."""
    out = []
    for mine in sorted(folder.iterdir()):
        name = read_whole(mine / NAME)
        if name is not None:
            out.append((str(json.loads(name)), mine / CONTENT))
    return out


def folder_of(path: Path) -> Path:
    """The folder of the rehearsal that a file is one of, by where its content lies."""
    return path.parent.parent


def reading_of(path: Path) -> UploadReading:
    """How a file of a rehearsal is read: what was shown is what will be kept."""
    content = read_whole(path.with_name(READING))
    if content is None:
        return UploadReading(None, open=True)
    settled: Mapping[str, Any] = json.loads(content)
    return UploadReading(
        settled["record"],
        settled["open"],
        tuple(FileQuestion(**one) for one in settled.get("asked", ())),
        tuple(settled.get("fields", ())),
    )


def choose(path: Path, reading: UploadReading) -> None:
    """Settle how a file of a rehearsal is read. Two people's answers about two files never take each other back."""
    settled: Record = {"record": reading.record, "open": reading.open, "asked": [asdict(one) for one in reading.asked]}
    settled["fields"] = list(reading.open_fields)
    write_whole(path.with_name(READING), json.dumps(settled).encode())


def prepared_of(path: Path, table: str) -> Path:
    """Where the rows of a file lie as its rehearsal read them: one file may hold rows of several tables."""
    return path.with_name(f"{table}{PREPARED}")


def plain_name(name: str) -> str:
    """The name of a file as it is kept: without folders, in text that can be stored, and of a length one can read."""
    plain = Path(name.replace("\x00", "")).name or "file"
    while len(plain.encode("utf-8", "replace")) > LONGEST_NAME:
        stem, dot, ending = plain.rpartition(".")
        plain = (stem[:-8] or ending[:-8]) + (dot + ending if stem[:-8] and len(ending) < 10 else "")
    return plain.encode("utf-8", "replace").decode()


def take_ready(folder: Path, job: int) -> tuple[Path, int]:
    """Move the files of a rehearsal about which nothing is left to say, so that nobody keeps them twice.

    Parameters
    ----------
    folder : of the rehearsal
    job : that is to keep them

    Returns
    -------
    tuple
        (folder they are in, how many files still ask)
    """
    taken = folder.with_name(f"{folder.name}-kept-{job}")
    taken.mkdir()
    asking = 0
    for name, path in uploaded(folder):
        reading = reading_of(path) if holds_rows(name) else None
        if reading is not None and reading.open:
            # What can only be refused asks nothing.
            asking += bool(reading.record is not None)
            continue
        path.parent.rename(taken / path.parent.name)
    if not asking:
        shutil.rmtree(folder, ignore_errors=True)
    return taken, asking


def put_back(taken: Path, folder: Path, kept: Collection[str]) -> bool:
    """Give the files that a stopped job did not keep whole back to their rehearsal.

    Parameters
    ----------
    taken, folder : where they are, and where they were
    kept : names of those that were kept

    Returns
    -------
    bool
        whether it could be done
    """
    try:
        folder.mkdir(exist_ok=True)
        for name, path in uploaded(taken):
            if name not in kept:
                path.parent.rename(folder / path.parent.name)
    except OSError:
        return False
    return True
