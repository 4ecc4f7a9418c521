"""Whether a file that has a source's columns is that source's: another platform's report may have them, too."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import PurePath

from yardstick.core.base.words import fold
from yardstick.core.plan.plan import Plan

from ...cells.plain_words import plain_words
from .look import Look
from .question import Asking, FileQuestion, Record, said
from .structure import platform_named

NEW, SAME = "a new source, ", "the same source"


def called_anew(file: str, plan: Plan) -> str:
    """A name for a new source, by the name of its file."""
    words = "".join(" " if c.isdigit() or c in "_.-" else c for c in PurePath(file).stem)
    base = " ".join(words.split()) or "export"
    taken = {fold(source.name) for source in plan.gathering.sources}
    name, number = base, 2
    while fold(name) in taken:
        name, number = f"{base} {number}", number + 1
    return name


def _ask(look: Look, record: Record, plan: Plan) -> Iterable[FileQuestion]:
    if not look.known:
        return
    why = look.strange
    platform = str(record.get("constant", {}).get("platform", ""))
    named = platform_named([PurePath(look.file).stem, *look.above], plan)
    if platform and named and fold(named) != fold(platform):
        why = why or f"It names {named}, and {record['name']} is of {platform}."
    total = str(record.get("total", ""))
    words = {plain_words(row.said) for row in look.sums if row.said}
    if total and words and plain_words(total) not in " ".join(words) and look.strange:
        why = f"{why} Its sums are called {' and '.join(sorted(words))[:60]}, those of {record['name']} {total}."
    if why and not said(record, "new"):
        text = f"{why} Is it from another source than {record['name']}?"
        yield FileQuestion("new", text, [f"{NEW}{called_anew(look.file, plan)}", SAME])


def _put(record: Record, field: str, answer: str) -> Record:
    if not answer.startswith(NEW):
        return record
    constant = {name: text for name, text in record.get("constant", {}).items() if name not in ("platform", "account")}
    gone = ("answers", "account", "total", "starts", "ends", "click_mark", "dialect")
    return {k: v for k, v in record.items() if k not in gone} | {"name": answer.removeprefix(NEW), "constant": constant}


ASKING = Asking(("new",), _ask, _put)
