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

from .sections import SECTIONS
from .settings_toml import SettingsFile
from .what_changes import what_changes


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
    fields = _of_model(SECTIONS[section])
    if section == "legend":
        fields += tuple(_role(f"utm_{name}") for name in FIELDS) + tuple(_role(name) for name in extra_values)
    return tuple(replace(field, changes=what_changes(section, field.name)) for field in fields)


def general_fields() -> tuple[PlanField, ...]:
    """The settings that are no lists of records, those people change most first."""
    known = {field.name: field for field in _of_model(SettingsFile)}
    out = []
    for name, (text, example) in _GENERAL_SAID.items():
        found = known[name]
        changes = what_changes("", name)
        out.append(PlanField(name, found.kind, found.options, False, text, example, found.fields, found.usual, changes))
    return tuple(out)


_GENERAL_SAID = {
    "home_currency": ("The currency all figures are in, three letters.", "AUD"),
    "time_zone": ("The zone report days are in, an IANA name.", "Australia/Adelaide"),
    "margin": ("Share of value that is left after the goods; break-even is 1 / margin.", "0.4"),
    "target_roas": ("Value per unit of spend that campaigns aim at.", "4.0"),
    "target_cost_per_lead": ("Cost per lead that campaigns aim at, in the home currency.", "60.00"),
    "window": ("How many days back from a conversion a touch can earn credit.", "30"),
    "session_gap_minutes": ("A pause longer than this begins a new touch; 0 makes every visit one.", "30"),
    "direct": ("keep: direct touches earn credit; yield: only where there is no other touch.", "keep"),
    "views": ("keep: views and watches earn credit; yield: only where there is no click.", "keep"),
    "date_basis": (
        "Whose day the range selects: of the conversion, of the touch, or of a word or stage, as event:won.",
        "conversion",
    ),
    "cut_at_previous": ("Touches before a person's previous conversion of the goal earn nothing.", "false"),
    "fold": ("Spellings that differ only in case and spaces are one value.", "true"),
    "click_marks": ("Parameters in which ad platforms put the mark of a click, one a line.", "ckid"),
    "extra_values": ("Other parameters to keep as values of their own, one a line.", "size"),
    "tag_parameters": ("Parameters of your own that count as tags, one a line.", "ad"),
    "test_parameter": ("An address that carries this parameter is a test record; empty for none.", "yt-test"),
    "required_tags": ("Tags that a link of ours must have, one a line.", "source"),
    "own_hosts": ("Your own hosts, subdomains included, one a line.", "lunnick.example"),
    "pass_through_hosts": ("Payment and booking hosts that count as no referrer, one a line.", "tillhouse.example"),
    "search_sites": ("Hosts whose untagged visits are organic search, one a line.", "findery.example"),
    "social_sites": ("Hosts whose untagged visits are social, one a line.", "gabboon.example"),
    "channel_order": ("Channels in the order reports show them, one a line.", "Paid search"),
    "hidden_channels": ("Channels that reports put together as Other channels, one a line.", "Referral"),
    "panel": ("Yardsticks the board draws beside the chosen one, one a line; without any, the usual four.", "linear"),
    "verdict_minimum": ("Credited conversions under linear below which nothing is said to pay or not.", "10"),
    "mature_share": ("A range in which less than this share of its conversions has come is too early.", "0.9"),
    "mature_minimum": ("Credited conversions below which it cannot be told how late they come.", "30"),
    "short_base": ("Where short links begin, if not at this app's own address.", "https://go.lunnick.example"),
    "referrer": ("What short links tell pages about where the visitor comes from.", "as browsers do"),
    "value_case": ("lower: a tag with a capital letter is a finding.", "lower"),
    "value_spaces": ("none: a tag with a space is a finding; a hyphen mends it.", "none"),
}
"""Every setting of `GENERAL`."""


def _role(name: str) -> PlanField:
    return PlanField(name, "choice", (*ROLES,), False, "What it carries for this source.", "group")


def _of_model(model: type[BaseModel]) -> tuple[PlanField, ...]:
    # What a record shares with others comes after what it is called.
    shared = {name for base in model.__bases__ for name in getattr(base, "model_fields", {})}
    named = sorted(model.model_fields.items(), key=lambda item: item[0] in shared)
    return tuple(_field(field.alias or name, field) for name, field in named)


def _field(name: str, field: FieldInfo) -> PlanField:
    kind, options, inner = _kind(field.annotation)
    extra = field.json_schema_extra
    pair = extra.get("pair") if isinstance(extra, dict) else None
    if isinstance(pair, dict):
        inner = tuple(PlanField(name, "text", (), name == "column", *_two(said)) for name, said in pair.items())
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


def _two(said: Any) -> tuple[str, str]:
    text, example = said
    return str(text), str(example)


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
        # A table of TOML in a record: one record a name.
        weight = PlanField("weight", "number", (), True, "How much a touch of it weighs.", "0.5")
        return "records", (), (PlanField("channel", "text", (), True, "Its name.", "Email"), weight)
    if annotation is bool:
        return "yes or no", (), ()
    if _is_model(annotation):
        return "group", (), _of_model(annotation)
    if annotation is date:
        return "day", (), ()
    return ("number" if annotation in (Decimal, int) else "text"), (), ()


def _is_model(annotation: Any) -> bool:
    return isinstance(annotation, type) and issubclass(annotation, BaseModel)
