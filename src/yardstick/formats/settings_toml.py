"""Settings as TOML, in and out."""

from __future__ import annotations

import tomllib
from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError

from yardstick.core.channels import ChannelRules
from yardstick.core.fingerprint import settings_as_data
from yardstick.core.settings import (
    BUILT_RULES,
    KNOWN_RULES,
    ChannelRule,
    Condition,
    Goal,
    Platform,
    Settings,
    SettingsError,
    Window,
    Yardstick,
    default_goal,
)

from .cells import BadCell, decimal_cell, minor_digits


def _decimal(value: object) -> Decimal:
    """A decimal as written: from text or from TOML's number, never through a binary float."""
    if isinstance(value, bool) or not isinstance(value, int | str | Decimal):
        raise ValueError("write it as a number")
    if isinstance(value, Decimal | int):
        return Decimal(value)
    try:
        parts = decimal_cell(value.strip())
    except BadCell as problem:
        raise ValueError(str(problem)) from None
    if parts is None:
        raise ValueError("write it as a number")
    return Decimal(parts[0]).scaleb(-parts[1])


def _day(value: object) -> object:
    return value.strip() if isinstance(value, str) else value


Exact = Annotated[Decimal, BeforeValidator(_decimal), Field(allow_inf_nan=False)]
Days = Annotated[Decimal, BeforeValidator(_decimal), Field(ge=0, le=36_500, allow_inf_nan=False)]
Day = Annotated[date, BeforeValidator(_day)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", populate_by_name=True)


class _Window(_Part):
    click_days: Days = Decimal(30)
    watch_days: Days = Decimal(3)
    view_days: Days = Decimal(1)


class _Goal(_Part):
    name: Annotated[str, Field(min_length=1)]
    kind: Literal["lead", "sale"] | None = None
    count: Literal["every", "one", "one_per_day", "one_per_touch"] | None = None
    value: Literal["total", "net"] | None = None
    default_value: Annotated[Exact, Field(ge=0)] | None = None
    click_days: Days | None = None
    watch_days: Days | None = None
    view_days: Days | None = None

    def plain(self) -> Goal:
        name = self.name.strip()
        usual = default_goal(name)
        return Goal(
            name,
            self.kind or usual.kind,
            self.count or usual.count,
            self.value or usual.value,
            self.default_value,
            self.click_days,
            self.watch_days,
            self.view_days,
        )


class _Condition(_Part):
    field: str
    op: str
    value: str | bool | list[str] | None = None

    def plain(self) -> Condition:
        value = self.value
        values = () if value is None else tuple(value) if isinstance(value, list) else (str(value),)
        return Condition(self.field, self.op, values)


class _Channel(_Part):
    name: Annotated[str, Field(min_length=1)]
    when: Annotated[list[_Condition], Field(min_length=1)]


class _Platform(_Part):
    name: Annotated[str, Field(min_length=1)]
    source: str = ""
    medium: str = ""
    time_zone: str = ""


class _Yardstick(_Part):
    name: Annotated[str, Field(min_length=1)]
    rule: str
    by: Literal["campaign", "channel"] | None = None

    def plain(self) -> Yardstick:
        if self.rule not in KNOWN_RULES:
            raise SettingsError(
                f"yardstick {self.name!r}: unknown rule {self.rule!r}; built are {', '.join(BUILT_RULES)}"
            )
        if self.by is not None and self.rule != "fair_share":
            raise SettingsError(f"yardstick {self.name!r}: 'by' belongs to fair_share, not to {self.rule}")
        return Yardstick(self.name, self.rule, self.by or "campaign")


class _File(_Part):
    home_currency: str = "EUR"
    time_zone: str = "UTC"
    report_from: Day | None = None
    report_to: Day | None = None
    session_gap_minutes: Annotated[Exact, Field(ge=0, le=527_040)] = Decimal(30)
    direct: Literal["keep", "yield"] = "keep"
    views: Literal["keep", "yield"] = "keep"
    cut_at_previous: bool = False
    date_basis: Literal["conversion", "touch"] = "conversion"
    fold: bool = True
    margin: Annotated[Exact, Field(gt=0)] = Decimal(1)
    target_roas: Annotated[Exact, Field(gt=0)] | None = None
    target_cost_per_lead: Annotated[Exact, Field(gt=0)] | None = None
    own_hosts: list[str] = []
    pass_through_hosts: list[str] = []
    search_sites: list[str] = []
    social_sites: list[str] = []
    click_marks: list[str] = []
    extra_values: list[str] = []
    window: _Window = _Window()
    goal: list[_Goal] = []
    channel: list[_Channel] = []
    legend: list[dict[str, Any]] = []
    platform: list[_Platform] = []
    yardstick: list[_Yardstick] = []


def read_settings(content: bytes, file: str = "settings.toml") -> Settings:
    """Read settings.

    Parameters
    ----------
    content : TOML, UTF-8
    file : its name, for messages

    Returns
    -------
    Settings

    Raises
    ------
    SettingsError
        If the text is no TOML, a name is unknown, a value is wrong, or a rule is not built; says which and where.
    """
    try:
        data = tomllib.loads(content.decode("utf-8-sig"), parse_float=Decimal)
    except UnicodeDecodeError:
        raise SettingsError(f"{file}: not UTF-8: save the file as UTF-8") from None
    except tomllib.TOMLDecodeError as problem:
        raise SettingsError(f"{file}: not valid TOML: {problem}") from None
    return settings_from(data, file)


def settings_from(data: dict[str, Any], file: str = "settings.toml") -> Settings:
    """Settings from the values a TOML file holds; see `read_settings`."""
    _name_what_is_not_built(data, file)
    try:
        read = _File.model_validate(data)
    except ValidationError as problem:
        raise SettingsError(f"{file}: " + "; ".join(_said(e) for e in problem.errors())) from None
    try:
        return _checked(read)
    except SettingsError as problem:
        raise SettingsError(f"{file}: {problem}") from None


def _said(error: Any) -> str:
    where = ".".join(str(part + 1) if isinstance(part, int) else str(part) for part in error["loc"])
    if error["type"] == "extra_forbidden":
        return f"{where}: unknown setting: check its spelling"
    return f"{where}: {error['msg'].removeprefix('Value error, ')}"


def _name_what_is_not_built(data: dict[str, Any], file: str) -> None:
    if data.get("legend"):
        raise SettingsError(f"{file}: legend: legends (R3) are not built yet: leave the table out")
    if data.get("date_basis") == "touch":
        raise SettingsError(f'{file}: date_basis: the touch basis (R22) is not built yet: use "conversion"')
    for entry in data.get("yardstick") or []:
        rule = entry.get("rule") if isinstance(entry, dict) else None
        if rule in KNOWN_RULES and rule not in BUILT_RULES:
            raise SettingsError(
                f"{file}: yardstick {entry.get('name', '')!r}: the rule {rule} is not built yet; "
                f"built are {', '.join(BUILT_RULES)}"
            )


def _checked(read: _File) -> Settings:
    home = read.home_currency.strip().upper()
    try:
        digits = minor_digits(home)
    except BadCell as problem:
        raise SettingsError(f"home_currency: {problem}") from None
    for where, zone in [("time_zone", read.time_zone), *((f"platform {p.name!r}", p.time_zone) for p in read.platform)]:
        if zone or where == "time_zone":
            _check_zone(where, zone)
    if read.report_from and read.report_to and read.report_from > read.report_to:
        raise SettingsError("report_from is after report_to: swap them")
    yardsticks = tuple(y.plain() for y in read.yardstick) or Settings().yardsticks
    for what, names in (
        ("yardstick", [y.name for y in yardsticks]),
        ("goal", [g.name.strip() for g in read.goal]),
        ("platform", [p.name for p in read.platform]),
    ):
        twice = sorted({n for n in names if names.count(n) > 1})
        if twice:
            raise SettingsError(f"{what} {twice[0]!r} stands twice: give each a name of its own")
    settings = Settings(
        home_currency=home,
        minor_digits=digits,
        time_zone=read.time_zone,
        report_from=read.report_from,
        report_to=read.report_to,
        session_gap_minutes=read.session_gap_minutes,
        direct=read.direct,
        views=read.views,
        cut_at_previous=read.cut_at_previous,
        date_basis=read.date_basis,
        fold=read.fold,
        margin=read.margin,
        target_roas=read.target_roas,
        target_cost_per_lead=read.target_cost_per_lead,
        own_hosts=tuple(read.own_hosts),
        pass_through_hosts=tuple(read.pass_through_hosts),
        search_sites=tuple(read.search_sites),
        social_sites=tuple(read.social_sites),
        click_marks=tuple(read.click_marks),
        extra_values=tuple(read.extra_values),
        window=Window(read.window.click_days, read.window.watch_days, read.window.view_days),
        goals=tuple(g.plain() for g in read.goal),
        channels=tuple(ChannelRule(c.name.strip(), tuple(w.plain() for w in c.when)) for c in read.channel),
        platforms=tuple(Platform(p.name, p.source, p.medium, p.time_zone) for p in read.platform),
        yardsticks=yardsticks,
    )
    ChannelRules(settings)
    return settings


def _check_zone(where: str, zone: str) -> None:
    try:
        ZoneInfo(zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise SettingsError(
            f"{where}: unknown time zone {zone!r}: use an IANA name such as Australia/Adelaide"
        ) from None


def settings_used(settings: Settings) -> dict[str, Any]:
    """The settings as used, in the names of the TOML file, as values that JSON can write."""
    data = settings_as_data(settings)
    data.pop("minor_digits")
    for plural in ("goals", "channels", "platforms", "yardsticks"):
        data[plural.removesuffix("s")] = data.pop(plural)
    for channel in data["channel"]:
        channel["when"] = [{"field": c["field"], "op": c["op"], "value": c["values"]} for c in channel["when"]]
    return {key: value for key, value in data.items() if value not in (None, [], ())}
