"""What a form says a field changes is so: what is said to change no figure changes nothing that figures depend on."""

from __future__ import annotations

import json

import pytest

from yardstick.core.report.fingerprint import figures_as_data
from yardstick.formats.plan.plan_document import Document
from yardstick.formats.plan.plan_fields import fields_of, general_fields
from yardstick.formats.plan.sections import SECTIONS
from yardstick.formats.plan.what_changes import (
    FIGURES,
    FILES,
    FINDINGS,
    LINKS,
    NOTHING,
    SHOWN,
    VERDICTS,
    WITHOUT_FIGURES,
)

NONE = Document('home_currency = "EUR"\n')
FILLED = {"store": {"host": "apps.tidegate.example"}, "yardstick": {"name": "late", "rule": "first"}}
"""What records need besides their required fields."""


def value_of(field, other=False):
    """A value that fits a field."""
    if field.kind == "records":
        return [{inner.name: value_of(inner) for inner in field.fields if inner.required or inner.example}]
    if field.kind == "group":
        return {inner.name: value_of(inner) for inner in field.fields if inner.example}
    if field.kind == "words":
        return [field.example or "a"]
    if field.kind == "yes or no":
        return field.usual != "yes"
    if field.kind == "choice":
        return [option for option in field.options if option and option != field.usual][-1 if other else 0]
    return field.example or {"number": "3", "day": "2026-03-02"}.get(field.kind, "x")


def figures(section, record):
    return json.dumps(figures_as_data(NONE.with_records(section, [record]).plan()), sort_keys=True)


def with_and_without(section, field):
    """What figures depend on, without a field and with it."""
    record = FILLED.get(section) or {one.name: value_of(one) for one in fields_of(section) if one.required}
    if field.required:
        other = f"{value_of(field)}2" if field.kind == "text" else value_of(field, other=True)
        return figures(section, record), figures(section, record | {field.name: other})
    return figures(section, record), figures(section, record | {field.name: value_of(field)})


@pytest.mark.parametrize(
    "section", [s for s in SECTIONS if s not in ("quarantine", "channel", "shared_channel", "legend")]
)
def test_what_is_said_to_change_no_figure_changes_none(section):
    tried = 0
    for field in fields_of(section):
        if field.changes in WITHOUT_FIGURES:
            try:
                before, after = with_and_without(section, field)
            except ValueError:
                # It needs others beside it; which these are is its section's own matter.
                continue
            assert before == after, field.name
            tried += 1
    said = [field for field in fields_of(section) if field.changes in WITHOUT_FIGURES]
    assert tried >= len(said) * 3 // 4


@pytest.mark.parametrize(
    ("section", "name"),
    [
        *(("campaign", name) for name in ("name", "code", "ids", "vouchers")),
        *(("level", name) for name in ("id", "name")),
        *(("goal", name) for name in ("name", "kind", "click_days", "yardstick")),
        *(("rename", name) for name in ("old", "new", "from")),
        *(("platform", name) for name in ("source", "time_zone", "levels")),
        *(("click_price", name) for name in ("source", "from")),
        *(("dialect", "opens"), ("source", "click_mark"), ("landing_page", "address")),
    ],
)
def test_what_is_said_to_change_figures_does(section, name):
    (field,) = (field for field in fields_of(section) if field.name == name)
    assert field.changes == FIGURES
    before, after = with_and_without(section, field)
    assert before != after


def test_every_field_of_every_form_says_what_it_changes():
    fields = [*general_fields(), *(field for section in SECTIONS for field in fields_of(section))]
    known = {FIGURES, VERDICTS, FINDINGS, LINKS, FILES, SHOWN, NOTHING}
    assert {field.changes for field in fields} == known
