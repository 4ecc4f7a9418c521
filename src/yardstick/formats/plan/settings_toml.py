"""Settings as TOML, in and out."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable
from decimal import Decimal
from typing import Any

from pydantic import ValidationError, create_model

from yardstick.core.base.errors import SettingsError
from yardstick.core.plan.crediting_phase import Crediting
from yardstick.core.plan.plan import Plan, plan_of
from yardstick.core.reading.channels import ChannelRules
from yardstick.core.reading.legends import check_legends
from yardstick.core.report.fingerprint import figures_as_data
from yardstick.core.trails.quarantine import check_quarantine

from .general_settings import GeneralSettings
from .sections import SECTIONS
from .source_checks import check_sources

# A name of that many parts takes the reader of TOML quadratic time, and no setting has more than two.
# Begun at the beginning of a word only and never gone back in, so that it takes time in proportion to the text.
_DEEP = re.compile(rb"(?<![\w\"'-])(?:[\w\"'-]++[ \t]*+\.[ \t]*+){100}")


_LISTS: dict[str, Any] = {section.name: (list[section.part], []) for section in SECTIONS.values()}  # type: ignore[name-defined]
SettingsFile = create_model("SettingsFile", __base__=GeneralSettings, **_LISTS)
"""All that a settings file may hold: the general settings, and a list of records a section."""


def read_settings(content: bytes, file: str = "settings.toml") -> Plan:
    """The plan that a settings file states.

    Parameters
    ----------
    content : TOML, UTF-8
    file : its name, for messages

    Returns
    -------
    Plan

    Raises
    ------
    SettingsError
        If the text is no TOML, a name is unknown, a value is wrong, or a rule is not built; says which and where.
    """
    if _DEEP.search(content):
        raise SettingsError(f"{file}: not valid settings: nested far too deeply")
    try:
        data = tomllib.loads(content.decode("utf-8-sig"), parse_float=Decimal)
    except UnicodeDecodeError:
        raise SettingsError(f"{file}: not UTF-8: save the file as UTF-8") from None
    except tomllib.TOMLDecodeError as problem:
        raise SettingsError(f"{file}: not valid TOML: {problem}") from None
    except ValueError:
        raise SettingsError(f"{file}: not valid settings: a number in it has thousands of digits") from None
    except RecursionError:
        raise SettingsError(f"{file}: not valid settings: nested far too deeply") from None
    return plan_from(data, file)


def plan_from(data: dict[str, Any], file: str = "settings.toml") -> Plan:
    """The plan from the values a TOML file holds; see `read_settings`."""
    try:
        read = SettingsFile.model_validate(data)
    except ValidationError as problem:
        raise SettingsError(f"{file}: {_said_once(problem.errors())}") from None
    try:
        return _checked(read)
    except SettingsError as problem:
        raise SettingsError(f"{file}: {problem}") from None


MOST_WRONG = 20
"""Things that are wrong with settings that are told at once."""


def _said_once(errors: Iterable[Any]) -> str:
    """What is wrong; what is wrong alike in many records of a list stands once, with their number."""
    alike: dict[tuple[str, str], list[str]] = {}
    for error in errors:
        where = ".".join(str(part + 1) if isinstance(part, int) else str(part) for part in error["loc"])
        field = ".".join("*" if isinstance(part, int) else str(part) for part in error["loc"])
        alike.setdefault((field, _said(error)), []).append(where)
    said = []
    for (field, what), places in alike.items():
        of = field.partition(".*")[0]
        more = f" (and in {len(places) - 1:,} more of {of})" if len(places) > 1 else ""
        said.append(f"{places[0]}: {what}{more}")
    rest = [f"and {len(said) - MOST_WRONG:,} more"] if len(said) > MOST_WRONG else []
    return "; ".join([*said[:MOST_WRONG], *rest])


def _said(error: Any) -> str:
    if error["type"] == "extra_forbidden":
        return "unknown setting: check its spelling"
    return str(error["msg"]).removeprefix("Value error, ")


def _checked(read: GeneralSettings) -> Plan:
    lists = {name: getattr(read, name) for name in SECTIONS}
    values = read.values()
    yardsticks = [y.name for y in lists["yardstick"]] or [y.name for y in Crediting().yardsticks]
    read.check_panel(yardsticks)
    for name, section in SECTIONS.items():
        values[section.plan_field] = section.plain(lists[name])
        section.see_to(lists[name], yardsticks)
    # Marks of sources are marks, after those that the settings put in an order (R6).
    marks = [source.click_mark for source in values["sources"] if source.click_mark]
    values["click_marks"] = tuple(dict.fromkeys([*values["click_marks"], *marks]))
    values["slot_pairs"] = tuple((dialect.opens, dialect.closes) for dialect in values["dialects"])
    plan = plan_of(**values)
    check_sources(plan.gathering.sources)
    ChannelRules(plan.reading)
    check_legends(plan.reading)
    check_quarantine(plan.reading.quarantine)
    plan.reading.names.check()
    return plan


def settings_used(plan: Plan) -> dict[str, Any]:
    """The settings as used, in the names of the TOML file, as values that JSON can write."""
    data = figures_as_data(plan)
    data.pop("minor_digits")
    for section in SECTIONS.values():
        if section.plan_field in data:
            data[section.name] = [section.used(record) for record in data.pop(section.plan_field)]
    return {key: value for key, value in data.items() if value not in (None, [], ())}
