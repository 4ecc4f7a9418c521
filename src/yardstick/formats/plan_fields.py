"""What each field of the plan's records is, for whoever draws a form or a table of them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from yardstick.core.legends import ROLES
from yardstick.core.tags import FIELDS

from .plan_parts import SECTIONS


@dataclass(frozen=True)
class PlanField:
    """One field of a record.

    Attributes
    ----------
    name : as in settings.toml
    kind : text, day, number, choice, words, records
    options : what a choice may be
    required : whether it must be filled
    text, example : the line that says what goes in it, and an example
    fields : of the records inside it
    """

    name: str
    kind: str
    options: tuple[str, ...]
    required: bool
    text: str
    example: str
    fields: tuple[PlanField, ...] = ()


def fields_of(section: str, extra_values: tuple[str, ...] = ()) -> tuple[PlanField, ...]:
    """The fields of a section's records.

    Parameters
    ----------
    section : key of `SECTIONS`
    extra_values : parameters that legends may give a role to, besides the six fields
    """
    fields = _of_model(SECTIONS[section])
    if section == "legend":
        fields += tuple(_role(f"utm_{name}") for name in FIELDS) + tuple(_role(name) for name in extra_values)
    return fields


def _role(name: str) -> PlanField:
    text = f"What {name} carries for this source; empty for its usual role."
    return PlanField(name, "choice", (*ROLES, "extra:item"), False, text, "group")


def _of_model(model: type[BaseModel]) -> tuple[PlanField, ...]:
    return tuple(_field(field.alias or name, field) for name, field in model.model_fields.items())


def _field(name: str, field: FieldInfo) -> PlanField:
    kind, options, inner = _kind(field.annotation)
    example = str(field.examples[0]) if field.examples else ""
    return PlanField(name, kind, options, field.is_required(), field.description or "", example, inner)


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
        if isinstance(item, type) and issubclass(item, BaseModel):
            return "records", (), _of_model(item)
        _, options, _ = _kind(item)
        return "words", options, ()
    if annotation is date:
        return "day", (), ()
    return ("number" if annotation is Decimal else "text"), (), ()
