"""Settings as TOML, in and out."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable
from decimal import Decimal
from typing import Annotated, Any, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import Field, ValidationError

from yardstick.core.base.errors import SettingsError
from yardstick.core.plan.plan import USUALLY_REQUIRED, Crediting, Plan, plan_of
from yardstick.core.plan.records import Legend, Window
from yardstick.core.reading.channels import ChannelRules
from yardstick.core.reading.legends import check_legends
from yardstick.core.reading.tags import FIELDS
from yardstick.core.report.fingerprint import figures_as_data
from yardstick.core.trails.quarantine import check_quarantine

from .cells import BadCell, minor_digits
from .link_parts import DialectPart, OwnSlotPart, PatternPart, PlacePart, PresetPart, SenderPart, StorePart
from .part_fields import Day, Days, Exact, Instant, Positive, Referrer, SettingsPart, Word, described_field
from .plan_checks import check_plan
from .plan_parts import (
    AllowedPart,
    CampaignPart,
    ChannelPart,
    ClickPricePart,
    GoalPart,
    LandingPagePart,
    LegendPart,
    LevelPart,
    NamingPart,
    OtherCostPart,
    PlatformPart,
    QuarantinePart,
    RecordPart,
    RenamePart,
    StatusPart,
)
from .source_checks import check_sources
from .source_parts import SourcePart
from .yardstick_parts import YardstickPart

# A name of that many parts takes the reader of TOML quadratic time, and no setting has more than two.
# Begun at the beginning of a word only and never gone back in, so that it takes time in proportion to the text.
_DEEP = re.compile(rb"(?<![\w\"'-])(?:[\w\"'-]++[ \t]*+\.[ \t]*+){100}")


class _Window(SettingsPart):
    click_days: Days = described_field("Look-back for clicks, in days; 30 as usual.", "30", default=Decimal(30))
    watch_days: Days = described_field("Look-back for watches, in days; 3 as usual.", "3", default=Decimal(3))
    view_days: Days = described_field("Look-back for views, in days; 1 as usual.", "1", default=Decimal(1))


class SettingsFile(SettingsPart):
    home_currency: str = "EUR"
    time_zone: str = "UTC"
    report_from: Day | None = None
    report_to: Day | None = None
    session_gap_minutes: Annotated[Exact, Field(ge=0, le=527_040)] = Decimal(30)
    direct: Literal["keep", "yield"] = "keep"
    views: Literal["keep", "yield"] = "keep"
    cut_at_previous: bool = False
    date_basis: Annotated[
        str,
        Field(
            pattern=r"^(conversion|touch|event:.*\S.*)$",
            json_schema_extra={"suggested": ["conversion", "touch", "event:updated"]},
        ),
    ] = "conversion"
    fold: bool = True
    margin: Positive = Decimal(1)
    target_roas: Positive | None = None
    target_cost_per_lead: Positive | None = None
    own_hosts: list[Word] = []
    pass_through_hosts: list[Word] = []
    search_sites: list[Word] = []
    social_sites: list[Word] = []
    click_marks: list[Word] = []
    extra_values: list[Word] = []
    tag_parameters: list[Word] = []
    test_parameter: Word = "yt-test"
    required_tags: list[Word] = list(USUALLY_REQUIRED)
    window: _Window = _Window()
    referrer: Referrer = "as browsers do"
    short_base: Word = ""
    value_case: Literal["any", "lower"] = "any"
    value_spaces: Literal["any", "none"] = "any"
    channel_order: list[Word] = []
    hidden_channels: list[Word] = []
    panel: list[Word] = []
    verdict_minimum: Annotated[int, Field(ge=0, le=1_000_000)] = 10
    mature_share: Annotated[Exact, Field(gt=0, le=1)] = Decimal("0.9")
    mature_minimum: Annotated[int, Field(ge=0, le=1_000_000)] = 30
    identifier_limit: Annotated[int, Field(ge=0, le=1_000_000)] = 50
    rate_days: Annotated[int, Field(ge=0, le=3_650)] = 7
    as_of: Instant = ""
    campaign: list[CampaignPart] = []
    level: list[LevelPart] = []
    goal: list[GoalPart] = []
    status: list[StatusPart] = []
    quarantine: list[QuarantinePart] = []
    record: list[RecordPart] = []
    channel: list[ChannelPart] = []
    shared_channel: list[ChannelPart] = []
    legend: list[LegendPart] = []
    rename: list[RenamePart] = []
    naming: list[NamingPart] = []
    allowed: list[AllowedPart] = []
    landing_page: list[LandingPagePart] = []
    other_cost: list[OtherCostPart] = []
    click_price: list[ClickPricePart] = []
    platform: list[PlatformPart] = []
    dialect: list[DialectPart] = []
    place: list[PlacePart] = []
    store: list[StorePart] = []
    preset: list[PresetPart] = []
    pattern: list[PatternPart] = []
    own_slot: list[OwnSlotPart] = []
    sender: list[SenderPart] = []
    yardstick: list[YardstickPart] = []
    source: list[SourcePart] = []


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


def _checked(read: SettingsFile) -> Plan:
    home = read.home_currency.strip().upper()
    try:
        digits = minor_digits(home)
    except BadCell as problem:
        raise SettingsError(f"home_currency: {problem}") from None
    for where, zone in [
        ("time_zone", read.time_zone),
        *((f"platform {p.name!r}", p.time_zone) for p in read.platform),
        *((f"source {s.name!r}", s.time_zone) for s in read.source),
    ]:
        if zone or where == "time_zone":
            _check_zone(where, zone)
    if read.report_from and read.report_to and read.report_from > read.report_to:
        raise SettingsError("report_from is after report_to: swap them")
    yardsticks = tuple(y.plain() for y in read.yardstick) or Crediting().yardsticks
    check_plan(read, [y.name for y in yardsticks])
    plan = plan_of(
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
        # Marks of sources are marks, after those that the settings put in an order (R6).
        click_marks=tuple(dict.fromkeys([*read.click_marks, *(s.click_mark for s in read.source if s.click_mark)])),
        extra_values=tuple(read.extra_values),
        tag_parameters=tuple(read.tag_parameters),
        required_tags=tuple(read.required_tags),
        window=Window(read.window.click_days, read.window.watch_days, read.window.view_days),
        goals=tuple(g.plain() for g in read.goal),
        status_words=tuple(s.plain() for s in read.status),
        quarantine=tuple(q.plain() for q in read.quarantine),
        records=tuple(r.plain() for r in read.record),
        test_parameter=read.test_parameter.strip(),
        channels=tuple(c.plain() for c in read.channel),
        shared_channels=tuple(c.plain() for c in read.shared_channel),
        platforms=tuple(p.plain() for p in read.platform),
        legends=tuple(_legend(entry) for entry in read.legend),
        renames=tuple(r.plain() for r in read.rename),
        namings=tuple(n.plain() for n in read.naming),
        allowed=tuple((a.field.removeprefix("utm_"), tuple(a.words)) for a in read.allowed),
        value_case=read.value_case,
        value_spaces=read.value_spaces,
        campaigns=tuple(c.plain() for c in read.campaign),
        levels=tuple(v.plain() for v in read.level),
        pages=tuple(page for p in read.landing_page for page in p.plain()),
        other_costs=tuple(c.plain() for c in read.other_cost),
        click_prices=tuple(c.plain() for c in read.click_price),
        slot_pairs=tuple((d.opens, d.closes) for d in read.dialect),
        referrer=read.referrer,
        short_base=read.short_base,
        dialects=tuple(d.plain() for d in read.dialect),
        places=tuple(p.plain() for p in read.place),
        stores=tuple(s.plain() for s in read.store),
        presets=tuple(p.plain() for p in read.preset),
        patterns=tuple(p.plain() for p in read.pattern),
        own_slots=tuple(s.plain() for s in read.own_slot),
        senders=tuple(s.plain() for s in read.sender),
        channel_order=tuple(read.channel_order),
        hidden_channels=tuple(read.hidden_channels),
        panel=tuple(read.panel),
        verdict_minimum=read.verdict_minimum,
        mature_share=read.mature_share,
        mature_minimum=read.mature_minimum,
        identifier_limit=read.identifier_limit,
        rate_days=read.rate_days,
        as_of=read.as_of,
        yardsticks=yardsticks,
        sources=tuple(s.plain() for s in read.source),
    )
    check_sources(plan.gathering.sources)
    ChannelRules(plan.reading)
    check_legends(plan.reading)
    check_quarantine(plan.reading.quarantine)
    plan.reading.names.check()
    return plan


def _legend(entry: LegendPart) -> Legend:
    try:
        return entry.plain()
    except ValueError as problem:
        raise SettingsError(f"legend {entry.source!r}: {problem}" if entry.source else f"legend: {problem}") from None


def _check_zone(where: str, zone: str) -> None:
    try:
        ZoneInfo(zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise SettingsError(
            f"{where}: unknown time zone {zone!r}: use an IANA name such as Australia/Adelaide"
        ) from None


def settings_used(plan: Plan) -> dict[str, Any]:
    """The settings as used, in the names of the TOML file, as values that JSON can write."""
    data = figures_as_data(plan)
    data.pop("minor_digits")
    for plural, name in _ENTRIES.items():
        data[name] = data.pop(plural)
    for yardstick in data["yardstick"]:
        yardstick |= dict(yardstick.pop("params"))
        weights = dict(yardstick.pop("channels"))
        yardstick |= {"channel": weights} if weights else {}
    for rule in (*data["channel"], *data["shared_channel"], *data["legend"], *data["quarantine"]):
        rule["when"] = [{"field": c["field"], "op": c["op"], "value": c["values"]} for c in rule["when"]]
    for legend in data["legend"]:
        legend["fixed"] = dict(legend["fixed"])
        legend |= {f"utm_{name}" if name in FIELDS else name: role for name, role in legend.pop("roles")}
    return {key: value for key, value in data.items() if value not in (None, [], ())}


_ENTRIES = {
    "campaigns": "campaign",
    "channels": "channel",
    "click_prices": "click_price",
    "goals": "goal",
    "legends": "legend",
    "levels": "level",
    "namings": "naming",
    "other_costs": "other_cost",
    "pages": "landing_page",
    "platforms": "platform",
    "quarantine": "quarantine",
    "records": "record",
    "status_words": "status",
    "renames": "rename",
    "shared_channels": "shared_channel",
    "yardsticks": "yardstick",
}
