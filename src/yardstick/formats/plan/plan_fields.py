"""What each field of the plan's records is, for whoever draws a form or a table of them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from yardstick.core.reading.legends import ROLES
from yardstick.core.reading.tags import FIELDS

from .general_settings import GeneralSettings
from .sections import SECTIONS


@dataclass(frozen=True)
class PlanField:
    """One field of a record.

    Attributes
    ----------
    name : as in settings.toml
    kind : text, day, number, choice, words, yes or no, records (a list), group (one record)
    options : what a choice may be, or what a text often is
    required : whether it must be filled
    text, example : the line that says what goes in it, and an example
    usual : what holds where it is empty; empty where nothing does
    fields : of the records inside it
    changes : what it changes, as a sentence; empty for fields inside records, whose list says it
    """

    name: str
    kind: str
    options: tuple[str, ...]
    required: bool
    text: str
    example: str
    fields: tuple[PlanField, ...] = ()
    usual: str = ""
    changes: str = ""


def fields_of(section: str, extra_values: tuple[str, ...] = ()) -> tuple[PlanField, ...]:
    """The fields of a section's records.

    Parameters
    ----------
    section : key of `SECTIONS`
    extra_values : parameters that legends may give a role to, besides the six fields
    """
    declared = SECTIONS[section]
    fields = _of_model(declared.part)
    if section == "legend":
        fields += tuple(_role(f"utm_{name}") for name in FIELDS) + tuple(_role(name) for name in extra_values)
    return tuple(replace(field, changes=declared.except_for.get(field.name, declared.changes)) for field in fields)


def general_fields() -> tuple[PlanField, ...]:
    """The settings that are no lists of records, those people change most first; days of the report have their own
    place."""
    return tuple(
        replace(field, changes=_changed(GeneralSettings.model_fields[field.name]))
        for field in _of_model(GeneralSettings)
        if field.name not in ("report_from", "report_to")
    )


def _changed(field: FieldInfo) -> str:
    extra = field.json_schema_extra
    return str(extra["changes"]) if isinstance(extra, dict) else ""


def _role(name: str) -> PlanField:
    return PlanField(name, "choice", (*ROLES,), False, "What it carries for this source.", "group")


def _of_model(model: type[BaseModel]) -> tuple[PlanField, ...]:
    # What a record shares with others comes after what it is called.
    shared = {name for base in model.__bases__ for name in getattr(base, "model_fields", {})}
    shared = set() if "name" in shared else shared
    named = sorted(model.model_fields.items(), key=lambda item: item[0] in shared)
    return tuple(_field(field.alias or name, field) for name, field in named)


def _field(name: str, field: FieldInfo) -> PlanField:
    kind, options, inner = _kind(field.annotation)
    extra = field.json_schema_extra
    pair = extra.get("pair") if isinstance(extra, dict) else None
    if isinstance(pair, dict):
        inner = tuple(_of_pair(name, said) for name, said in pair.items())
    offered = extra.get("options") if isinstance(extra, dict) else None
    if isinstance(offered, list):
        kind, options = "choice", tuple(str(option) for option in offered)
    suggested = extra.get("suggested") if isinstance(extra, dict) else None
    if isinstance(suggested, list):
        options = tuple(str(option) for option in suggested)
    example = str(field.examples[0]) if field.examples else ""
    usual = "" if field.is_required() else _usual(field.get_default(call_default_factory=True))
    return PlanField(name, kind, options, field.is_required(), field.description or "", example, inner, usual)


def _usual(default: Any) -> str:
    if isinstance(default, bool):
        return "yes" if default else "no"
    if isinstance(default, list | tuple):
        return ", ".join(default) if all(isinstance(one, str) for one in default) else ""
    return "" if default is None or isinstance(default, BaseModel | dict) else str(default)


def _of_pair(name: str, said: Any) -> PlanField:
    """A field of a table of TOML in a record, which a form has as one record a name."""
    text, example = said
    kind = "number" if name == "weight" else "text"
    return PlanField(name, kind, (), name in ("column", "channel", "weight"), str(text), str(example))


def _kind(annotation: Any) -> tuple[str, tuple[str, ...], tuple[PlanField, ...]]:
    origin = get_origin(annotation)
    if origin is Annotated:
        return _kind(get_args(annotation)[0])
    if origin in (Union, UnionType):
        kinds = [a for a in get_args(annotation) if a is not NoneType]
        # A condition's value may be one word or several; a list of words writes both.
        listed = next((a for a in kinds if get_origin(a) is list), None)
        return _kind(listed or kinds[0])
    if origin is Literal:
        return "choice", tuple(str(a) for a in get_args(annotation)), ()
    if origin is list:
        (item,) = get_args(annotation)
        if _is_model(item):
            return "records", (), _of_model(item)
        _, options, _ = _kind(item)
        return "words", options, ()
    if origin is dict:
        return "records", (), ()
    if annotation is bool:
        return "yes or no", (), ()
    if _is_model(annotation):
        return "group", (), _of_model(annotation)
    if annotation is date:
        return "day", (), ()
    return ("number" if annotation in (Decimal, int) else "text"), (), ()


def _is_model(annotation: Any) -> bool:
    return isinstance(annotation, type) and issubclass(annotation, BaseModel)
