"""What all rows of a workspace are read by, its home currency and time zone: who has said it, and what asks for it."""

from __future__ import annotations

import json
from collections.abc import Collection, Sequence
from contextlib import suppress
from pathlib import Path

from yardstick.core.base.errors import SettingsError
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.files.readers import holds_rows
from yardstick.formats.packages import Package
from yardstick.formats.plan.plan_document import Document
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.sources.questions.question import FileQuestion

from ..workspace.desk import Desk
from ..workspace.keep_locks import keep_locks

GROUND = ("home_currency", "time_zone")
MOST_SETTINGS = 16 * 1024 * 1024
"""Bytes of a settings file."""
ZONES = (
    *("UTC", "Europe/London", "Europe/Berlin", "America/New_York", "America/Los_Angeles", "Asia/Tokyo"),
    "Australia/Sydney",
)


class Unsaid(ValueError):
    """Nobody has said yet by what rows are read; the text says what is lacking."""


def settings_text(desk: Desk, name: str, path: Path) -> str:
    """A settings file as it is kept: with what the workspace was told all rows are read by, where the file does not say
    it. A file without a home currency makes no other of all amounts, and none bends an expectation that was locked.

    Raises
    ------
    SettingsError
        If it is far larger than settings can be, no settings, or bends a locked expectation; says what and where.
    """
    if path.stat().st_size > MOST_SETTINGS:
        raise SettingsError(f"{name}: larger than {MOST_SETTINGS:,} bytes: these are not settings")
    content = path.read_bytes()
    read_settings(content, name)
    text = content.decode("utf-8-sig")
    document = desk.kept_plan().document
    keep_locks(desk, document.records("campaign"), Document(text).records("campaign"))
    kept = document.general()
    lacking = [name for name in GROUND if name in kept]
    if lacking:
        stated = Document(text).general()
        lacking = [name for name in lacking if name not in stated]
    return "".join(f"{name} = {json.dumps(kept[name])}\n" for name in lacking) + text


def ground_in(desk: Desk, files: Sequence[tuple[str, Path]]) -> set[str]:
    """What of it (name, path) of files say themselves: settings as far as they go, a package all of it, for a workspace
    is packed as it was read; and all of it needs no word where no file has rows."""
    if not any(_has_rows(name) for name, _ in files):
        return {*GROUND}
    said: set[str] = set()
    for name, path in files:
        # What cannot be read says nothing, and is refused elsewhere.
        with suppress(FileProblem, SettingsError, OSError):
            if name.lower().endswith(".zip"):
                Package(name, path)
                said |= {*GROUND}
            elif name.lower().endswith(".toml"):
                said |= {*GROUND} & Document(settings_text(desk, name, path)).general().keys()
    return said


def _has_rows(name: str) -> bool:
    return holds_rows(name)


def ground_of(desk: Desk, said: Collection[str] = (), offered: Sequence[str] = ()) -> list[FileQuestion]:
    """What of it nobody has said.

    Parameters
    ----------
    desk : the workspace
    said : what files say themselves, see `ground_in`
    offered : currencies that stand in the files
    """
    known = {*desk.kept_plan().document.general(), *said}
    out = []
    if "home_currency" not in known:
        text = "In which currency are figures shown? Amounts without a currency are in it."
        out.append(FileQuestion("home_currency", text, list(dict.fromkeys(filter(None, offered))), free=True))
    if "time_zone" not in known:
        text = "In which time zone are days counted? Times without an offset are in it."
        out.append(FileQuestion("time_zone", text, list(ZONES), free=True))
    return out


def ask_for_ground(desk: Desk, files: Sequence[tuple[str, Path]]) -> None:
    """See that rows may be kept.

    Raises
    ------
    Unsaid
        If nobody has said by what they are read.
    """
    lacking = [question.field.replace("_", " ") for question in ground_of(desk, ground_in(desk, files))]
    if lacking:
        raise Unsaid(f"choose the {' and the '.join(lacking)} first, then keep the files")
