"""Spend (R18) and how it joins the touches (R19)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

import numpy as np
import numpy.typing as npt

from ..base.columns import Amounts, Flags, Ints, Text, narrow
from ..base.distinct import distinct_columns
from ..base.limits import AMOUNT_BELOW
from ..base.money import FINE, TOO_LARGE, RateTable, to_home
from ..base.notes import Finding
from ..base.schema import SCHEMA
from ..base.tables import Table, blank_column
from ..base.words import collapse, fold, same_as
from ..plan.costing_phase import Money, Platform
from ..plan.reading_phase import Reading
from ..plan.renamed_rows import rename_rows
from .levels import Less, Levelled, Stated, count_levels, days_of_campaigns, level_of


@dataclass(frozen=True)
class Costs:
    """Spend rows in the home currency, each quantity of a campaign's day counted once.

    Attributes
    ----------
    cost, claimed_value : (n,) int64, minor units; 0 where the row does not count for it
    clicks, impressions : (n,) int64, likewise
    claimed_conversions : (n,) likewise
    estimated : (n,) bool, cost reckoned from clicks x click price
    rest : (n,) bool, rows for what a level reports beyond the deepest
    refused : (n,) int64, why a row cannot be weighed, `FINE` where it can (see `money.to_home`)
    counts : (n,) bool, accepted rows that count for something
    campaign : (n,) text, the campaign's name; rows with an id all carry the id's latest name
    names : campaign name by compared id, for the touches that carry the id (R19)
    findings : what was noticed
    """

    cost: Ints
    claimed_value: Ints
    clicks: Ints
    impressions: Ints
    claimed_conversions: Amounts
    estimated: Flags
    rest: Flags
    refused: Ints
    counts: Flags
    campaign: Text
    names: dict[str, str]
    findings: tuple[Finding, ...]

    @property
    def accepted(self) -> Flags:
        """(n,) bool, rows that can be weighed."""
        fine: Flags = self.refused == FINE
        return fine


def read_spend(
    table: Table, rates: RateTable, reading: Reading, money: Money, platforms: Sequence[Platform]
) -> tuple[Table, Costs]:
    """Turn spend rows into money of the home currency, each campaign's day counted once (R18-R20).

    Parameters
    ----------
    table : spend
    rates : for rows in other currencies
    reading : folding; ids, codes and renames of campaigns
    money : the home currency
    platforms : which of them report levels that add up

    Returns
    -------
    spend : the same rows, then one for each day of a campaign of which a level reports more than the deepest does
    costs : of all of them
    """
    home, minor_digits, same = money.home_currency, money.minor_digits, same_as(reading.fold)
    cost, estimated, large = original_cost(table)
    currency, days = table.text("currency"), table.ints("day")
    minor, refused = to_home(cost, currency, days, rates, home, minor_digits)
    said = table.amounts("claimed_value")
    claimed, claim_refused = to_home(said, currency, days, rates, home, minor_digits)
    refused = np.where(large, TOO_LARGE, np.where(refused != FINE, refused, claim_refused))
    accepted = refused == FINE
    # What the plan says of an id goes before what spend rows say.
    planned = {same(i): c.name for c in reading.named_campaigns for i in c.ids if same(i)}
    names = _names_by_id(table, accepted, same) | planned
    platform, account, ids, key = campaign_keys(table, accepted, same)
    by_id = ids.map(lambda v: names.get(v, ""))
    own = table.text("campaign")
    campaign = by_id.where(by_id.filled(), own) if len(table) else own
    campaign = rename_rows(reading.names, "campaign", campaign, days)

    clicks, seen = table.ints("clicks"), table.ints("impressions")
    conversions = table.amounts("claimed_conversions")
    quantities = {
        "cost": Stated(minor, accepted & cost.known, ~estimated, rounded=True),
        "clicks": Stated(clicks, accepted & (clicks >= 0)),
        "impressions": Stated(seen, accepted & (seen >= 0)),
        "claimed_conversions": Stated(conversions.units, accepted & conversions.known),
        "claimed_value": Stated(claimed, accepted & said.known, rounded=True),
    }
    adding = {fold(p.name) for p in platforms if p.levels == "add"}
    repeats = accepted & table.text("platform").test(lambda v: fold(v) not in adding)
    found = count_levels(level_of(table), lambda: days_of_campaigns(table, platform, account, key), repeats, quantities)
    effective = {
        name: np.concatenate([np.where(found.counts[name], stated.amount, 0), _rests(found, name)])
        for name, stated in quantities.items()
    }
    whose = np.concatenate([np.arange(len(table)), np.array([rest.row for rest in found.rests], np.int64)])
    is_rest = np.arange(len(whose)) >= len(table)
    units = effective["claimed_conversions"]
    return _with_rests(table, whose, len(found.rests)), Costs(
        cost=effective["cost"].astype(np.int64),
        claimed_value=effective["claimed_value"].astype(np.int64),
        clicks=effective["clicks"].astype(np.int64),
        impressions=effective["impressions"].astype(np.int64),
        claimed_conversions=Amounts(narrow(units.tolist()), conversions.decimals, np.ones(len(units), np.bool_)),
        estimated=estimated[whose] & ~is_rest,
        rest=is_rest,
        refused=refused[whose],
        counts=np.logical_or.reduce(list(found.counts.values()))[whose] | is_rest,
        campaign=campaign.take(whose),
        names=names,
        findings=tuple(_level_finding(table, less, home, conversions.decimals) for less in found.less),
    )


def _rests(found: Levelled, name: str) -> npt.NDArray[Any]:
    return narrow([rest.amounts.get(name, 0) for rest in found.rests])


def _with_rests(table: Table, whose: Ints, count: int) -> Table:
    """The table with rows for rests, each like the row it is named after but without finer fields or amounts."""
    if not count:
        return table
    rests = table.take(whose[len(table) :])
    blank = {c.name: blank_column(c.kind, count) for c in SCHEMA["spend"]}
    kept = ("day", "platform", "account", "campaign_id", "campaign")
    return table.joined(replace(rests, columns={n: rests.columns[n] if n in kept else c for n, c in blank.items()}))


def _level_finding(table: Table, less: Less, home: str, decimals: int) -> Finding:
    name, amount = table.text("campaign")[less.row], less.amount
    where = (table.file[less.row], int(table.line[less.row]))
    if less.quantity in ("cost", "claimed_value"):
        return Finding("several_levels", "warning", "spend", "", less.quantity, name, amount, home, *where)
    fewer = Decimal(amount).scaleb(-decimals) if less.quantity == "claimed_conversions" else amount
    said = f"{name}: {fewer} fewer"
    return Finding("several_levels", "warning", "spend", "", less.quantity, said, None, "", *where)


def campaign_keys(table: Table, accepted: Flags, same: Callable[[str], str]) -> tuple[Text, Text, Text, Text]:
    """Platform, account and campaign id of every row as compared, and what tells its campaign: an empty account is the
    platform's only one, a row without id takes the only one that its name has on that platform (R18)."""
    platform, account = table.text("platform").map(same), table.text("account").map(same)
    ids, name = table.text("campaign_id").map(same), table.text("campaign").map(same)
    pair = distinct_columns(np.stack([platform.codes, name.codes]).astype(np.int64))[1]
    ids = _only_one(ids, pair, accepted)
    key = Text(ids.codes, [f"id {v}" if v else "" for v in ids.values])
    key = key.where(key.filled(), name.map(lambda v: f"name {v}"))
    return platform, _only_one(account, platform.codes, accepted), ids, key


def _only_one(value: Text, of: npt.NDArray[Any], accepted: Flags) -> Text:
    """A column whose empty cells take the value of the other rows of their kind (n,), where these agree."""
    filled = value.filled()
    if filled.all() or not filled.any():
        return value
    size = int(of.max()) + 1
    low, high = np.full(size, len(value.values), np.int64), np.full(size, -1, np.int64)
    telling = filled & accepted
    np.minimum.at(low, of[telling], value.codes[telling])
    np.maximum.at(high, of[telling], value.codes[telling])
    told = np.where(low == high, high, -1)[of]
    return Text(np.where(~filled & (told >= 0), told, value.codes).astype(np.int32), value.values)


def original_cost(table: Table) -> tuple[Amounts, Flags, Flags]:
    """Cost as reported, or clicks x click price where there is none, in the row's own currency; which rows are
    estimated, and which of these are too large (R29)."""
    cost, price = table.amounts("cost"), table.amounts("click_price")
    clicks = table.ints("clicks")
    estimated = ~cost.known & price.known & (clicks >= 0)
    if not estimated.any():
        return cost, estimated, estimated
    decimals = max(cost.decimals, price.decimals)
    reckoned = price.at(decimals).astype(object) * clicks
    large = estimated & (reckoned >= AMOUNT_BELOW * 10**decimals).astype(np.bool_)
    exact = np.where(large, 0, np.where(estimated, reckoned, cost.at(decimals).astype(object)))
    return Amounts(narrow(exact.tolist()), decimals, cost.known | estimated), estimated, large


def _names_by_id(table: Table, accepted: Flags, same: Callable[[str], str]) -> dict[str, str]:
    """Campaign name by id: that of the latest day; of several the first in code point order."""
    latest: dict[str, tuple[int, str]] = {}
    ids, names, days = table.text("campaign_id"), table.text("campaign"), table.ints("day")
    for row in np.flatnonzero(accepted & ids.test(lambda v: bool(same(v)))).tolist():
        key, day, name = same(ids[row]), int(days[row]), collapse(names[row])
        if key not in latest or (-day, name) < (-latest[key][0], latest[key][1]):
            latest[key] = (day, name)
    return {key: name for key, (_, name) in latest.items()}
