"""Rehearsals: what keeping files would do, worked out by comparing hashes with what stands; nothing is written but the
files themselves, which wait under a token."""

from __future__ import annotations

import secrets
import shutil
from collections.abc import Sequence
from contextlib import ExitStack
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
import numpy.typing as npt

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.notes import Finding, Rejected
from yardstick.formats.intake import COUNTS, MOST_SHOWN, Counts, Intake, take_in
from yardstick.formats.keyed import GROUPED, Keys, among, stand
from yardstick.formats.raw import FileProblem, shown
from yardstick.formats.readers import open_table
from yardstick.formats.settings_toml import read_settings
from yardstick.store.snapshots import TableState

from .desk import Desk

ORDER = (
    *("settings", "rates", "spend", "other_costs", "visits", "leads", "conversions", "refunds", "statuses"),
    *("deal_contacts", "order_lines"),
)
SAMPLE_ROWS = 5
LONGEST_NAME = 200
MOST_SETTINGS = 16 * 1024 * 1024


@dataclass(kw_only=True)
class FileRehearsal(Counts):
    """What would happen to one file if it were kept; `problem` says why nothing would.

    `lost` are rows of replaced days that have no counterpart in the file.
    """

    file: str
    table: str
    problem: str
    lost: int
    columns: list[str]
    extra: list[str]
    sample: list[list[str]]
    rejected_rows: list[Rejected]
    findings: list[Finding]


@dataclass
class Rehearsal:
    """What would happen to a set of files; `token` keeps them."""

    token: str
    files: list[FileRehearsal]


@dataclass(frozen=True)
class GivenFile:
    """A file that can be read: settings, or the rows of a table."""

    name: str
    table: str
    path: Path


def rehearse(desk: Desk, files: Sequence[tuple[str, BinaryIO]]) -> Rehearsal:
    """Read files and say what keeping them would do. Nothing is changed; the files wait under a token.

    Parameters
    ----------
    desk : the workspace
    files : (name, content)

    Returns
    -------
    Rehearsal, files in the order given
    """
    token = secrets.token_hex(12)
    folder = desk.uploads / token
    folder.mkdir(parents=True)
    paths = []
    for i, (name, content) in enumerate(files):
        path = folder / f"{i:03d}-{short_name(name)}"
        with path.open("wb") as there:
            shutil.copyfileobj(content, there, 1 << 20)
        paths.append((name, path))
    given, problems, zone = sort_out(desk, paths)
    states = desk.states()
    said: dict[str, FileRehearsal] = {}
    for file in given:
        try:
            said[file.name] = _settings(desk, file) if file.table == "settings" else _rows(file, zone, states)
        except FileProblem as problem:
            problems[file.name] = str(problem)
    # Of two files with one name only the first was read, so only the first takes what was said of it.
    out = [said.pop(name) if name in said else _refused(name, problems[name]) for name, _ in paths]
    return Rehearsal(token, out)


def short_name(name: str) -> str:
    """The name of a file as it can be stored: without folders, and not longer than a file system takes."""
    plain = Path(name.replace("\x00", "")).name or "file"
    while len(plain.encode("utf-8", "replace")) > LONGEST_NAME:
        stem, dot, ending = plain.rpartition(".")
        plain = (stem[:-8] or ending[:-8]) + (dot + ending if stem[:-8] and len(ending) < 10 else "")
    return plain.encode("utf-8", "replace").decode()


def sort_out(desk: Desk, paths: Sequence[tuple[str, Path]]) -> tuple[list[GivenFile], dict[str, str], str]:
    """Which files can be used, in loading order; why the others cannot; and the time zone of times without offset."""
    given: list[GivenFile] = []
    problems: dict[str, str] = {}
    zone = desk.plan().reading.time_zone
    for name, path in paths:
        if name in problems or any(f.name == name for f in given):
            problems[name] = f"{name}: two files have this name: rename one"
        elif name.lower().endswith(".toml"):
            try:
                zone = read_settings(settings_bytes(path), name).reading.time_zone
                given.append(GivenFile(name, "settings", path))
            except SettingsError as problem:
                problems[name] = str(problem)
        else:
            try:
                with path.open("rb") as stream:
                    given.append(GivenFile(name, open_table(name, stream).header.table, path))
            except FileProblem as problem:
                problems[name] = str(problem)
    # Rows are ordered by the names of the files they came in (R20).
    return sorted(given, key=lambda f: (ORDER.index(f.table), f.name)), problems, zone


def settings_bytes(path: Path) -> bytes:
    """The content of a settings file.

    Raises
    ------
    SettingsError
        If it is far larger than settings can be.
    """
    if path.stat().st_size > MOST_SETTINGS:
        raise SettingsError(f"{path.name[4:]}: larger than {MOST_SETTINGS:,} bytes: these are no settings")
    return path.read_bytes()


def _rows(file: GivenFile, zone: str, states: dict[str, TableState]) -> FileRehearsal:
    with ExitStack() as opened:
        stream = opened.enter_context(file.path.open("rb"))
        reader = open_table(file.name, stream)
        taken = take_in(reader, zone, lambda rows, done: None, lambda batch, keys: None, SAMPLE_ROWS)
    state = states.get(file.table)
    lost = compare(file.table, taken, state)
    return _described(file, taken, lost, list(reader.header.columns), list(reader.header.extra))


def _described(file: GivenFile, taken: Intake, lost: int, columns: list[str], extra: list[str]) -> FileRehearsal:
    return FileRehearsal(
        file=file.name,
        table=file.table,
        problem="",
        lost=lost,
        columns=columns,
        extra=extra,
        sample=[[shown(cell) for cell in row] for row in taken.sample],
        rejected_rows=taken.rejected,
        findings=taken.findings[:MOST_SHOWN],
        **asdict(taken.counts),
    )


def _settings(desk: Desk, file: GivenFile) -> FileRehearsal:
    kept = desk.kept_plan()
    text = file.path.read_bytes().decode("utf-8-sig")
    counts = settings_counts(kept.version, kept.text if kept.version else None, text)
    return _described(file, Intake(counts), 0, [], [])


def settings_counts(version: int, before: str | None, text: str) -> Counts:
    """What keeping settings does: they are one row that is new, replaces another or is just that."""
    same = before == text
    return Counts.of(read=1, new=int(not version), replaced=int(bool(version) and not same), unchanged=int(same))


def _refused(file: str, problem: str) -> FileRehearsal:
    counts: dict[str, Any] = dict.fromkeys((*COUNTS, "lost"), 0)
    empty: dict[str, Any] = {"columns": [], "extra": [], "sample": [], "rejected_rows": [], "findings": []}
    return FileRehearsal(file=file, table="", problem=problem, **counts, **empty)


def compare(table: str, taken: Intake, state: TableState | None) -> int:
    """Say of every accepted row of a file whether it is new, replaces another, is unchanged or repeated.

    Parameters
    ----------
    table : name
    taken : the file; its counts are filled in
    state : the rows that stand, None if there are none

    Returns
    -------
    int
        Rows that stand and would not any more, without a row of their key in the file.
    """
    keys, counts = taken.keys, taken.counts
    one = np.ones(len(keys), np.int64)
    alone = stand(table, keys, one)
    counts.repeated = int(alone.repeated.sum())
    kept = alone.counts
    if state is None or not len(keys):
        first = alone.ordinal == 0
        if table in GROUPED:
            counts.new, counts.replaced = int(kept.sum()), 0
        else:
            counts.new, counts.replaced = int((kept & first).sum()), int((kept & ~first).sum())
        counts.unchanged = 0
        return 0
    standing = state.standing.counts
    there = state.keys if standing.all() else state.keys.take(standing)
    if table in GROUPED:
        return _compare_groups(keys, kept, there, counts)
    return _compare_ids(table, keys, kept, there, counts)


def _compare_ids(table: str, keys: Keys, kept: npt.NDArray[np.bool_], there: Keys, counts: Counts) -> int:
    known = among(there.key[:, 0], keys.key[:, 0])
    before = there.take(known)
    both = Keys.join([before, keys])
    number = np.concatenate([np.zeros(len(before), np.int64), np.ones(len(keys), np.int64)])
    found = stand(table, both, number)
    mine = slice(len(before), None)
    again = found.repeated[mine] & kept
    counts.unchanged = int(again.sum())
    first = found.ordinal[mine] == 0
    counts.new = int((kept & ~again & first).sum())
    counts.replaced = int((kept & ~again & ~first).sum())
    return 0


def _compare_groups(keys: Keys, kept: npt.NDArray[np.bool_], there: Keys, counts: Counts) -> int:
    """Whole groups are the same, replaced, or new."""
    groups, which = np.unique(np.concatenate([keys.group[kept], there.group]), return_inverse=True)
    mine, theirs = which[: int(kept.sum())], which[int(kept.sum()) :]
    size = len(groups)
    # A multiset of digests is told by its size and the sums of two of their words, modulo 2^64.
    sums = []
    for part, digest in ((mine, keys.digest[kept]), (theirs, there.digest)):
        one, two = np.zeros(size, np.uint64), np.zeros(size, np.uint64)
        np.add.at(one, part, digest[:, 0])
        np.add.at(two, part, digest[:, 1])
        sums.append((np.bincount(part, minlength=size), one, two))
    (rows, a, b), (rows_there, c, d) = sums
    same = (rows == rows_there) & (a == c) & (b == d)
    counts.unchanged = int(rows[same].sum())
    new = (rows_there == 0) & (rows > 0)
    counts.new = int(rows[new].sum())
    changed = (rows > 0) & ~same & ~new
    counts.replaced = int(rows[changed].sum())
    return int(np.maximum(rows_there - rows, 0)[changed].sum())
