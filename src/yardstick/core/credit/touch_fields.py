"""What a report can be broken down by, as far as a touch carries it: each field labelled when it is first asked for."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from ..base.axis_numbers import UNKNOWN
from ..base.columns import Flags, Ints, Text
from ..base.labels import Labels, Spelled, Spellings, label, spellings
from ..base.latest import Latest
from ..base.report_fields import VARIANT, VISIT_FIELDS
from ..base.tables import Table
from ..base.words import collapse, fold
from ..costs.clicks import campaigns_of
from ..costs.levels import LEVELS
from ..costs.spend import Costs
from ..plan.reading_phase import Reading
from ..plan.renamed_rows import rename_rows
from ..reading.arrivals import Arrivals
from ..reading.pages import page_key, page_text
from ..reading.roles import RoleTable

OWN_COLUMN = {"group": "ad_group", "ad": "ad", "keyword": "keyword", "placement": "placement"}
"""Fields for which a spend row has a column of its own."""
OTHER_CHANNELS = "Other channels"
assert set(OWN_COLUMN.values()) == set(LEVELS)


@dataclass(frozen=True)
class _Field:
    labels: Labels
    spend: Ints | None


class TouchSpellings:
    """Values per field over touches, then captured sets, as far as no spend is asked.

    Parameters
    ----------
    visits : table
    arrivals, roles : as read before
    channels : (visits + sets,) text
    first_visit : (touches,) int64
    counts : (visits + sets,) bool, rows whose spelling counts as use (R2)
    reading : names, pages, folding
    """

    def __init__(
        self, visits: Table, arrivals: Arrivals, roles: RoleTable, channels: Text, first_visit: Ints, counts: Flags,
        reading: Reading,
    ) -> None:  # fmt: skip
        self._visits, self._arrivals, self._roles = visits, arrivals, roles
        self._channels, self._counts, self._reading = channels, counts, reading
        sets = np.arange(roles.visits, len(roles.kind))
        self._number = np.concatenate([first_visit, sets])
        self._made: dict[str, Spellings] = {}
        self._campaigns = Latest()
        self.extras = roles.extras()

    def same(self, name: str) -> Callable[[str], str]:
        """When two values of a field are one."""
        return fold if name in ("channel", "landing_page") else self._reading.names.same

    def spelled(self, name: str, names: Mapping[str, str]) -> Spellings:
        """The values of a field.

        Parameters
        ----------
        name : of the field
        names : campaign name by compared id (R19)
        """
        if name == "campaign":
            return self._campaigns.get(names, lambda: self._spell(name, names))
        if name not in self._made:
            self._made[name] = self._spell(name, names)
        return self._made[name]

    def _spell(self, name: str, names: Mapping[str, str]) -> Spellings:
        rows = rename_rows(self._reading.names, name, self._rows(name, names), self._roles.day)
        return spellings(Spelled(rows, self._counts), self.same(name), collapse).take(self._number)

    def _rows(self, name: str, names: Mapping[str, str]) -> Text:
        if name == "channel":
            return self._channels
        if name in VISIT_FIELDS:
            of_visits = self._visits.text("device") if name == "device" else self._pages(name == VARIANT)
            return Text.join([of_visits, Text.blank(len(self._roles.kind) - self._roles.visits)])
        return campaigns_of(self._roles, names, self._reading) if name == "campaign" else self._roles.text(name)

    def _pages(self, variants: bool) -> Text:
        """Landing pages under their names; or the variants alone, other pages being empty."""
        named = {page_key(p.address): p.name for p in self._reading.pages if p.variant or not variants}
        # An address of a path alone is known by the path of a page.
        by_path = {f"/{key.partition('/')[2]}": name for key, name in named.items() if not key.startswith("/")}
        shown = []
        for reading in self._arrivals.readings:
            key = page_key(reading.page)
            name = named.get(key) or ("" if reading.host else by_path.get(key, ""))
            shown.append(name or ("" if variants else page_text(reading.page)))
        return Text.of(shown).take(self._arrivals.url) if len(self._arrivals.url) else Text.blank(0)


class TouchFields:
    """Labels per field over touches, then captured sets; numbers are common to touches, sets and spend rows.

    Parameters
    ----------
    rows : the values of touches and captured sets
    spend : table
    costs : as read before
    platforms : source, medium and channel of spend rows whose platform is set (`spend_tags.platform_columns`)
    reading : names
    """

    def __init__(
        self, rows: TouchSpellings, spend: Table, costs: Costs, platforms: Mapping[str, Text], reading: Reading
    ) -> None:
        self._rows, self._spend, self._costs, self._platforms, self._reading = rows, spend, costs, platforms, reading
        self._made: dict[str, _Field] = {}
        self.extras = rows.extras

    def __getitem__(self, name: str) -> Labels:
        """Labels of a field over touches, then captured sets."""
        return self._field(name).labels

    def spend(self, name: str) -> Ints | None:
        """(s,) int64: each spend row's own number in a field, `UNKNOWN` where its column is empty; None without one."""
        return self._field(name).spend

    def _field(self, name: str) -> _Field:
        if name not in self._made:
            self._made[name] = self._make(name)
        return self._made[name]

    def _make(self, name: str) -> _Field:
        names, same = self._reading.names, self._rows.same(name)
        main, own = self._rows.spelled(name, self._costs.names), self._own_column(name)
        if own is None:
            return _Field(label(main)[0], None)
        own = own if name == "campaign" else rename_rows(names, name, own, self._spend.ints("day"))
        labels, spend = label(main, spellings(Spelled(own, self._costs.accepted), same, collapse))
        if name != "campaign":
            return _Field(labels, np.where(own.filled(), spend, UNKNOWN))
        plain = {same(c.name): c.plain_name for c in self._reading.named_campaigns if c.plain_name}
        shown = [plain.get(key, text) for key, text in zip(labels.keys, labels.shown, strict=True)]
        return _Field(Labels(labels.codes, labels.keys, shown), spend)

    def _own_column(self, name: str) -> Text | None:
        if name == "campaign":
            return self._costs.campaign
        if name in self._platforms:
            return self._platforms[name]
        return self._spend.text(OWN_COLUMN[name]).map(collapse) if name in OWN_COLUMN else None
