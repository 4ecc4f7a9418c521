"""What refers to a record of the plan by its name, and follows when it is called otherwise.

Arrivals, files and addresses outside still say the old name: it is written down as the same as the new one, from
always.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold

from .plan_document import Document

Record = dict[str, Any]
Texts = Mapping[str, str]
"""What a record was called, folded -> what it is called now."""


def _always(record: Mapping[str, Any]) -> bool:
    return True


@dataclass(frozen=True)
class Reference:
    """A field that names a record.

    Attributes
    ----------
    section, path : of the field; a list on the way stands for each of its records or words
    where : of which records it is
    """

    section: str
    path: tuple[str, ...]
    where: Callable[[Mapping[str, Any]], bool] = _always


@dataclass(frozen=True)
class Named:
    """How a kind of record is named.

    Attributes
    ----------
    names : its fields by which others may call it
    references : who does
    same_as : field of renames under which texts outside still say an old name, by field; a name in braces is the text
        of that field of the record
    links : columns of the link sheet that name it
    """

    names: tuple[str, ...]
    references: tuple[Reference, ...]
    same_as: Mapping[str, str]
    links: tuple[str, ...] = ()


def _level(name: str) -> Callable[[Mapping[str, Any]], bool]:
    return lambda record: record.get("level") == name


def _of(field: str) -> Callable[[Mapping[str, Any]], bool]:
    return lambda record: fold(str(record.get("field", ""))).removeprefix("utm_") == field


NAMED: dict[str, Named] = {
    "campaign": Named(
        ("name", "code", "plain_name"),
        (
            Reference("level", ("campaign",)),
            Reference("other_cost", ("campaign",)),
            Reference("click_price", ("campaign",)),
            Reference("rename", ("new",), _of("campaign")),
            Reference("legend", ("fixed", "campaign")),
            Reference("place", ("campaign",)),
            Reference("preset", ("campaign",)),
            Reference("pattern", ("name",), _level("campaign")),
            Reference("own_slot", ("name",), _level("campaign")),
        ),
        {"name": "campaign", "code": "campaign"},
        ("campaign",),
    ),
    "level": Named(
        ("name",),
        (
            Reference("level", ("under",)),
            *(
                Reference(section, ("name",), _level(level))
                for section in ("pattern", "own_slot")
                for level in ("group", "ad")
            ),
        ),
        {"name": "{level}"},
    ),
    "goal": Named(
        ("name",),
        (
            Reference("goal", ("name",)),
            Reference("goal", ("good_goal",)),
            Reference("campaign", ("goal",)),
            Reference("source", ("constant", "goal")),
            Reference("rename", ("new",), _of("goal")),
        ),
        {"name": "goal"},
    ),
    "landing_page": Named(("name",), (Reference("place", ("page",)), Reference("preset", ("page",))), {}, ("page",)),
    "place": Named(("name",), (Reference("preset", ("placement",)),), {}, ("placement",)),
    "yardstick": Named(("name",), (Reference("goal", ("yardstick",)), Reference("", ("panel",))), {}),
    "dialect": Named(("platform",), (Reference("pattern", ("platform",)), Reference("own_slot", ("platform",))), {}),
    "platform": Named(("name",), (Reference("level", ("platform",)),), {}),
}
"""By section, what is called by a name."""


@dataclass(frozen=True)
class Renamed:
    """One record that is called otherwise.

    Attributes
    ----------
    old, new : the record before and after
    texts : what it was called -> what stands in its place
    """

    section: str
    old: Record
    new: Record
    texts: Texts

    @property
    def said(self) -> str:
        """In one line, for the list of changes."""
        name = NAMED[self.section].names[0]
        old, new = str(self.old.get(name, "")), str(self.new.get(name, ""))
        return f"{old} renamed {new}" if old != new else f"{new} changed"


def renamed_in(
    section: str, before: Sequence[Record], after: Sequence[Record], was: Mapping[str, str]
) -> list[Renamed]:
    """The records of a section that are called otherwise.

    Parameters
    ----------
    before, after : all its records
    was : name now -> name before, as whoever changed it says; besides, a record that stands where one stood with all
        other fields the same is that one

    Returns
    -------
    list, in the order of `after`
    """
    named = NAMED.get(section)
    if named is None:
        return []
    key = named.names[0]
    there = {fold(str(record.get(key, ""))): record for record in before}
    now = {fold(str(record.get(key, ""))) for record in after}
    said = {fold(new): fold(old) for new, old in was.items()}
    out = []
    for place, record in enumerate(after):
        name = fold(str(record.get(key, "")))
        old = there.get(said.get(name, name))
        if old is None and len(before) == len(after) and _but(before[place], key) == _but(record, key):
            old = before[place]
            # It stands elsewhere now, and this is another.
            old = None if fold(str(old.get(key, ""))) in now else old
        if old is None:
            continue
        texts = _texts(named, old, record)
        if texts:
            out.append(Renamed(section, dict(old), dict(record), texts))
    return out


def _but(record: Record, key: str) -> Record:
    return {name: value for name, value in record.items() if name != key and value not in ("", None, [])}


def _texts(named: Named, old: Record, new: Record) -> dict[str, str]:
    name = str(new.get(named.names[0], ""))
    kept = {fold(str(new.get(field, ""))) for field in named.names}
    out = {}
    for field in named.names:
        was, now = str(old.get(field, "")), str(new.get(field, ""))
        if was and was != now and (fold(was) not in kept or field == named.names[0]):
            out[fold(was)] = now or name
    return out


def follow(document: Document, renamed: Renamed) -> tuple[Document, Counter[str]]:
    """The document with all that names a record naming it as it is called now, and its old names the same as the new.

    Parameters
    ----------
    document : with the record changed already

    Returns
    -------
    document
    counts : by section, how many of its records follow
    """
    counts: Counter[str] = Counter()
    named = NAMED[renamed.section]
    key = named.names[0]
    # A name that another record still has is still that one's.
    left = {fold(str(record.get(key, ""))) for record in document.records(renamed.section) if record != renamed.new}
    texts = {old: new for old, new in renamed.texts.items() if old not in left or renamed.section == "goal"}
    for section in dict.fromkeys(reference.section for reference in named.references):
        mine = [reference for reference in named.references if reference.section == section]
        if not section:
            general = document.general()
            now = {r.path[0]: _renamed(general.get(r.path[0]), texts) for r in mine}
            if any(value != general.get(name) for name, value in now.items()):
                document = document.with_general(now)
            continue
        records = document.records(section)
        out = [_followed(record, mine, texts) for record in records]
        if out != records:
            counts[section] += sum(a != b for a, b in zip(records, out, strict=True))
            document = document.with_records(section, out)
    return _same_as(document, renamed, named, texts), counts


def _followed(record: Record, references: Iterable[Reference], texts: Texts) -> Record:
    for reference in references:
        if reference.where(record):
            record = _at(record, reference.path, texts)
    return record


def _at(value: Any, path: tuple[str, ...], texts: Texts) -> Any:
    if not path:
        return _renamed(value, texts)
    if not isinstance(value, Mapping) or path[0] not in value:
        return value
    return {**value, path[0]: _at(value[path[0]], path[1:], texts)}


def _renamed(value: Any, texts: Texts) -> Any:
    if isinstance(value, list):
        return [_renamed(one, texts) for one in value]
    return texts.get(fold(value), value) if isinstance(value, str) else value


def _same_as(document: Document, renamed: Renamed, named: Named, texts: Texts) -> Document:
    """With the old names written down as the same as the new."""
    key = named.names[0]
    name = str(renamed.new.get(key, ""))
    # Goals are told apart as they are written.
    same = str if renamed.section == "goal" else fold
    records = document.records("rename")
    out = list(records)
    for source, field in named.same_as.items():
        field = field.format(**{"level": "", **renamed.new})
        was = str(renamed.old.get(source, ""))
        if not was or fold(was) not in texts or same(was) == same(name):
            continue
        out = [_pointed_on(r, texts) if _of(field)(r) else r for r in out]
        # What was once called otherwise and is called so again is no other name of itself.
        out = [r for r in out if not (_of(field)(r) and same(str(r["old"])) == same(str(r["new"])))]
        other = next((r for r in out if _of(field)(r) and same(str(r["old"])) == same(name)), None)
        if other is not None and source == key:
            raise SettingsError(
                f"{field} {name!r} is another name of {other['new']!r}, by its renames: remove that first, or choose "
                "another name"
            )
        out = [r for r in out if not (_of(field)(r) and not r.get("from") and fold(str(r["old"])) == fold(was))]
        out.append({"field": field, "old": was, "new": name})
    return document if out == records else document.with_records("rename", out)


def _pointed_on(record: Record, texts: Texts) -> Record:
    """A rename to what is called otherwise now."""
    new = texts.get(fold(str(record["new"])))
    return record if new is None else {**record, "new": new}
