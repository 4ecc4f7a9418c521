"""The plan as one document: settings.toml in, changed record by record, settings.toml out."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping, Sequence
from datetime import date
from decimal import Decimal
from functools import cache
from typing import Any

import tomli_w
from pydantic import ValidationError

from yardstick.core.base.errors import SettingsError
from yardstick.core.plan.plan import Plan
from yardstick.core.reading.tags import FIELDS

from .general_settings import GeneralSettings
from .sections import SECTIONS
from .settings_toml import plan_from

Record = dict[str, Any]
GENERAL = tuple(name for name in GeneralSettings.model_fields if name not in ("report_from", "report_to"))
"""Settings of the plan that are no lists of records."""

_TAG_NAME = {name: f"utm_{name}" for name in FIELDS if name != "source"}
_FIELD_NAME = {tag: name for name, tag in _TAG_NAME.items()}


class Document:
    """The settings of a workspace as plain values, in the names of the TOML file.

    Parameters
    ----------
    text : TOML

    Notes
    -----
    What a person wrote beside the records (comments, the order of keys) is not kept once a record is changed.
    """

    def __init__(self, text: str) -> None:
        self._data: dict[str, Any] = tomllib.loads(text, parse_float=Decimal)

    def records(self, section: str) -> list[Record]:
        """The records of a section, values as JSON can carry them: days and decimals as text.

        A legend's fields go by their `utm_` names, so that the field `source` is told apart from the legend's source.
        """
        exact = _decimals(section)
        # A number that TOML holds as one reads as it would after a file or a form: 60 and "60" are one.
        records = [
            {name: str(value) if name in exact and type(value) is int else value for name, value in record.items()}
            for record in (_plain(record) for record in self._data.get(section, []))
        ]
        if section == "legend":
            return [{_TAG_NAME.get(name, name): value for name, value in record.items()} for record in records]
        return records

    def general(self) -> Record:
        """The settings that are no lists of records, where they are set."""
        return {name: _plain(self._data[name]) for name in GENERAL if name in self._data}

    def with_records(self, section: str, records: Sequence[Mapping[str, Any]]) -> Document:
        """The document with another list of records; empty fields are left out."""
        out = Document("")
        out._data = dict(self._data)
        kept = [_typed(section, record) for record in records]
        if section == "legend":
            kept = [{_FIELD_NAME.get(name, name): value for name, value in record.items()} for record in kept]
        if kept:
            out._data[section] = kept
        else:
            out._data.pop(section, None)
        return out

    def with_general(self, values: Mapping[str, Any]) -> Document:
        """The document with other settings; a value of None takes one out, so that its default holds."""
        out = Document("")
        out._data = dict(self._data)
        for name, value in values.items():
            if name not in GENERAL:
                raise SettingsError(f"{name}: unknown setting: check its spelling")
            kept = _filled({name: value})
            try:
                typed = GeneralSettings.model_validate(kept).model_dump(include={name}, by_alias=True)
                kept = _as_typed(kept, _plain(typed))
            except ValidationError:
                # The plan says what is wrong with it.
                pass
            out._data.pop(name, None)
            out._data |= kept
        return out

    def plan(self) -> Plan:
        """The plan it gives.

        Raises
        ------
        SettingsError
            If a record is wrong or two contradict each other; says which and where.
        """
        return plan_from(self._data, "plan")

    def text(self) -> str:
        """The document as TOML."""
        tables = {k: v for k, v in self._data.items() if isinstance(v, dict) or k in SECTIONS}
        rest = {k: v for k, v in self._data.items() if k not in tables}
        return tomli_w.dumps(_for_toml(rest) | _for_toml(tables))


@cache
def _decimals(section: str) -> frozenset[str]:
    """Fields of a section's records that hold decimals, which are written as text."""
    fields = SECTIONS[section].part.model_fields.items() if section in SECTIONS else ()
    return frozenset(field.alias or name for name, field in fields if "Decimal" in str(field.annotation))


def _plain(value: Any) -> Any:
    if isinstance(value, Mapping):
        return {k: _plain(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_plain(v) for v in value]
    if isinstance(value, Decimal):
        return format(value, "f")
    if isinstance(value, date):
        return value.isoformat()
    return value


def _typed(section: str, record: Mapping[str, Any]) -> Record:
    """A record with its fields typed, whichever door it came through: a number typed into a form comes as text. One
    that is wrong stays as it is, so that the plan says what is wrong with it."""
    # In a source spaces between digits and parts of a column mean something.
    given = dict(record) if section == "source" else _filled(record)
    try:
        part = SECTIONS[section].part.model_validate(given)
    except ValidationError:
        return given
    out: Record = _plain(part.model_dump(exclude_unset=True, exclude_defaults=section == "source", by_alias=True))
    return out if section == "source" else _as_typed(given, out)


def _as_typed(given: Any, typed: Any) -> Any:
    """What was given, with whole numbers and yes or no as such; decimals stay as they are written."""
    if isinstance(given, Mapping) and isinstance(typed, Mapping):
        return {name: _as_typed(value, typed.get(name)) for name, value in given.items()}
    if isinstance(given, list) and isinstance(typed, list) and len(given) == len(typed):
        return [_as_typed(one, other) for one, other in zip(given, typed, strict=True)]
    return typed if isinstance(given, str) and isinstance(typed, int) else given


def _filled(record: Mapping[str, Any]) -> Record:
    """A record without its empty fields, and its records without theirs."""
    out: Record = {}
    for name, value in record.items():
        kept = value.strip() if isinstance(value, str) else value
        if isinstance(kept, list):
            kept = [_filled(v) if isinstance(v, Mapping) else v for v in kept]
            kept = [v for v in kept if v not in ("", {}, None)]
        if isinstance(kept, Mapping):
            kept = _filled(kept)
        if kept not in ("", None, [], {}):
            out[name] = kept
    return out


def _for_toml(value: Any) -> Any:
    """Decimals as text, so that they come back as written."""
    if isinstance(value, dict):
        return {k: _for_toml(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [_for_toml(v) for v in value]
    return format(value, "f") if isinstance(value, Decimal) else value
