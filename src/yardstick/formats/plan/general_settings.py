"""The settings that are no lists of records: each with its line, an example, its limits, and what it changes. What
holds where one is left out, the phase of the plan says."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.core.plan.costing_phase import Money
from yardstick.core.plan.counting_phase import Trailing, Window, Windows
from yardstick.core.plan.gathering_phase import Gathering
from yardstick.core.plan.linking_phase import Linking
from yardstick.core.plan.reading_phase import Reading
from yardstick.core.plan.reporting_phase import Reporting, Thresholds
from yardstick.core.reading.tags import FIELDS

from ..cells.cells import BadCell, minor_digits
from .part_fields import Day, Days, Exact, Instant, Positive, Referrer, SettingsPart, Word, check_zone, described_field
from .section import see_once
from .what_changes import FIGURES, FINDINGS, LINKS, SHOWN, VERDICTS


def _setting(text: str, example: str = "", changes: str = FIGURES, **more: Any) -> Any:
    extra = {"changes": changes, **more.pop("json_schema_extra", {})}
    return described_field(text, example, json_schema_extra=extra, **more)


Count = Annotated[int, Field(ge=0, le=1_000_000)]


class WindowPart(SettingsPart):
    """Look-back per kind of touch, in days."""

    click_days: Days = described_field("Look-back for clicks, in days; 30 as usual.", "30", default=Window.click_days)
    watch_days: Days = described_field("Look-back for watches, in days; 3 as usual.", "3", default=Window.watch_days)
    view_days: Days = described_field("Look-back for views, in days; 1 as usual.", "1", default=Window.view_days)

    def plain(self) -> Window:
        """The windows."""
        return Window(self.click_days, self.watch_days, self.view_days)


Share = Annotated[Exact, Field(gt=0, le=1)]
Span = Annotated[Exact, Field(gt=0, le=10_000)]


class ThresholdPart(SettingsPart):
    """What is a matter, a number a kind."""

    arrivals_fell: Share = described_field(
        "Arrivals per click below this share of the weeks before have fallen.", "0.5", default=Thresholds.arrivals_fell
    )
    capture_differs: Share = described_field(
        "A form differs where captured and seen source differ in more than this share of a week.",
        "0.5",
        default=Thresholds.capture_differs,
    )
    levels_differ: Share = described_field(
        "Levels of spend differ by more than this share of what counts.", "0.01", default=Thresholds.levels_differ
    )
    order_twice: Span = described_field(
        "Minutes within which a second order of one person and value may be a double.",
        "30",
        default=Thresholds.order_twice,
    )
    price_idle: Span = described_field(
        "Days without a click after which a price per click is idle.", "14", default=Thresholds.price_idle
    )

    def plain(self) -> Thresholds:
        """The thresholds."""
        return Thresholds(**{name: getattr(self, name) for name in ThresholdPart.model_fields})


class GeneralSettings(SettingsPart):
    """All settings but the lists of records, those people change most first."""

    home_currency: str = _setting("The currency all figures are in, three letters.", "AUD", default=Money.home_currency)
    time_zone: str = _setting(
        "The zone report days are in, an IANA name.", "Australia/Adelaide", default=Reading.time_zone
    )
    margin: Positive = _setting(
        "Share of value that is left after the goods; break-even is 1 / margin.", "0.4", default=Reporting.margin
    )
    target_roas: Positive | None = _setting(
        "Value per unit of spend that campaigns aim at.", "4.0", VERDICTS, default=Reporting.target_roas
    )
    target_cost_per_lead: Positive | None = _setting(
        "Cost per lead that campaigns aim at, in the home currency.",
        "60.00",
        VERDICTS,
        default=Reporting.target_cost_per_lead,
    )
    window: WindowPart = _setting(
        "How many days back from a conversion a touch can earn credit.", "30", default_factory=WindowPart
    )
    session_gap_minutes: Annotated[Exact, Field(ge=0, le=527_040)] = _setting(
        "A pause longer than this begins a new touch; 0 makes every visit one.",
        "30",
        default=Trailing.session_gap_minutes,
    )
    direct: Literal["keep", "yield"] = _setting(
        "keep: direct touches earn credit; yield: only where there is no other touch.", "keep", default=Windows.direct
    )
    views: Literal["keep", "yield"] = _setting(
        "keep: views and watches earn credit; yield: only where there is no click.", "keep", default=Windows.views
    )
    date_basis: Annotated[str, Field(pattern=r"^(conversion|touch|event:.*\S.*)$")] = _setting(
        "Whose day the range selects: of the conversion, of the touch, or of a word or stage, as event:won.",
        "conversion",
        default=Reporting.date_basis,
        json_schema_extra={"suggested": ["conversion", "touch", "event:updated"]},
    )
    cut_at_previous: bool = _setting(
        "Touches before a person's previous conversion of the goal earn nothing.",
        "false",
        default=Windows.cut_at_previous,
    )
    fold: bool = _setting("Spellings that differ only in case and spaces are one value.", "true", default=Reading.fold)
    click_marks: list[Word] = _setting(
        "Parameters in which ad platforms put the mark of a click, one a line.", "ckid", default=[]
    )
    extra_values: list[Word] = _setting(
        "Other parameters to keep as values of their own, one a line.", "size", default=[]
    )
    tag_parameters: list[Word] = _setting("Parameters of your own that count as tags, one a line.", "ad", default=[])
    test_parameter: Word = _setting(
        "An address that carries this parameter is a test record; empty for none.",
        "yt-test",
        default=Reading.test_parameter,
    )
    required_tags: list[Word] = _setting(
        "Tags that a link of ours must have, one a line.", "source", FINDINGS, default=list(Reading.required_tags)
    )
    own_hosts: list[Word] = _setting("Your own hosts, subdomains included, one a line.", "lunnick.example", default=[])
    pass_through_hosts: list[Word] = _setting(
        "Payment and booking hosts that count as no referrer, one a line.", "tillhouse.example", default=[]
    )
    search_sites: list[Word] = _setting(
        "Hosts whose untagged visits are organic search, one a line.", "findery.example", default=[]
    )
    social_sites: list[Word] = _setting(
        "Hosts whose untagged visits are social, one a line.", "gabboon.example", default=[]
    )
    channel_order: list[Word] = _setting(
        "Channels in the order reports show them, one a line.", "Paid search", SHOWN, default=[]
    )
    hidden_channels: list[Word] = _setting(
        "Channels that reports put together as Other channels, one a line.", "Referral", default=[]
    )
    panel: list[Word] = _setting(
        "Yardsticks the board draws beside the chosen one, one a line; without any, the usual four.",
        "linear",
        VERDICTS,
        default=[],
    )
    verdict_minimum: Count = _setting(
        "Credited conversions under linear below which nothing is said to pay or not.",
        "10",
        VERDICTS,
        default=Reporting.verdict_minimum,
    )
    mature_share: Annotated[Exact, Field(gt=0, le=1)] = _setting(
        "A range in which less than this share of its conversions has come is too early.",
        "0.9",
        VERDICTS,
        default=Reporting.mature_share,
    )
    mature_minimum: Count = _setting(
        "Credited conversions below which it cannot be told how late they come.",
        "30",
        VERDICTS,
        default=Reporting.mature_minimum,
    )
    identifier_limit: Count = _setting(
        "An identifier that stands with more than this many others joins nobody.",
        "50",
        default=Trailing.identifier_limit,
    )
    rate_days: Annotated[int, Field(ge=0, le=3_650)] = _setting(
        "How many days old an exchange rate may be.", "7", default=Money.rate_days
    )
    as_of: Instant = _setting(
        "The instant that decides which days are over, with its offset; empty for now.",
        "2026-03-05T14:30:00+01:00",
        default=Reporting.as_of,
    )
    short_base: Word = _setting(
        "Where short links begin, if not at this app's own address.",
        "https://go.lunnick.example",
        LINKS,
        default=Linking.short_base,
    )
    referrer: Referrer = _setting(
        "What short links tell pages about where the visitor comes from.",
        "as browsers do",
        LINKS,
        default=Linking.referrer,
    )
    value_case: Literal["any", "lower"] = _setting(
        "lower: a tag with a capital letter is a finding.", "lower", FINDINGS, default=Reading.value_case
    )
    value_spaces: Literal["any", "none"] = _setting(
        "none: a tag with a space is a finding; a hyphen mends it.", "none", FINDINGS, default=Reading.value_spaces
    )
    list_purpose: Word = _setting(
        "Lists of records name only people who agreed to this; any: to anything; empty: everybody.",
        "newsletter",
        SHOWN,
        default=Gathering.list_purpose,
    )
    paid_channels: list[Word] = _setting(
        "Channels whose touches are expected to have cost something, one a line.",
        "Paid search",
        FINDINGS,
        default=list(Reporting.paid_channels),
    )
    threshold: ThresholdPart = _setting(
        "From when on something is a matter.", "0.5", FINDINGS, default_factory=ThresholdPart
    )
    report_from: Day | None = _setting("First day of the report.", "2026-03-01", default=Reporting.report_from)
    report_to: Day | None = _setting("Last day of the report.", "2026-03-31", default=Reporting.report_to)

    def values(self) -> dict[str, Any]:
        """The plan's fields, by name.

        Raises
        ------
        SettingsError
            If two contradict each other, or a currency or zone is unknown.
        """
        home = self.home_currency.strip().upper()
        try:
            digits = minor_digits(home)
        except BadCell as problem:
            raise SettingsError(f"home_currency: {problem}") from None
        check_zone("time_zone", self.time_zone)
        if self.report_from and self.report_to and self.report_from > self.report_to:
            raise SettingsError("report_from is after report_to: swap them")
        self._check_tags()
        given = {name: getattr(self, name) for name in GeneralSettings.model_fields}
        given = {name: tuple(value) if isinstance(value, list) else value for name, value in given.items()}
        return given | {
            "home_currency": home,
            "minor_digits": digits,
            "window": self.window.plain(),
            "threshold": self.threshold.plain(),
            "test_parameter": self.test_parameter.strip(),
        }

    def _check_tags(self) -> None:
        see_once("the required tag", map(fold, self.required_tags))
        kept = {fold(name) for name in (*FIELDS, *self.extra_values, *self.tag_parameters)}
        for name in self.required_tags:
            if fold(name) not in kept:
                fields = ", ".join(FIELDS)
                raise SettingsError(
                    f"required_tags: unknown tag {name!r}; tags are {fields} and those of tag_parameters"
                )

    def check_panel(self, yardsticks: list[str]) -> None:
        """See that the panel names yardsticks that there are, each once.

        Raises
        ------
        SettingsError
            Names the one that is not.
        """
        see_once("the yardstick of the panel", self.panel)
        for name in self.panel:
            if name not in yardsticks:
                raise SettingsError(f"panel: there is no yardstick {name!r}; there are {', '.join(yardsticks)}")
