"""The ground: everything about the rows that no window, range or yardstick changes.

Reading tags, finding people and touches and turning money into the home currency is the long part of a weighing. It
depends on the data and on a few settings only, so it is done once and kept while an analyst changes the rest.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .arrivals import Arrivals, read_arrivals, reading_findings
from .captured import Captured, read_captured
from .columns import Flags, Ints, Text
from .days import day_text, local_days
from .goals import Conversions, conversion_values, default_minor
from .money import RateTable
from .notes import Finding, Rejected
from .people import EMAIL, LEAD, MARK, PHONE, VISITOR, Identified, email_id, find_people, phone_id, plain_id
from .settings import Goal, Settings
from .spend import Costs, read_spend
from .tables import CANCELLED, TEST, Table, Tables
from .touch_columns import TouchColumns, lay_touches
from .words import same_as


@dataclass(frozen=True)
class Quarantine:
    """Which rows are kept out of every figure as test records (R9)."""

    visits: Flags
    leads: Flags
    conversions: Flags


@dataclass(frozen=True)
class Ground:
    """See the module's text. `spend_campaign` are the numbers of the spend rows' campaigns in `touches.fields`."""

    tables: Tables
    quarantine: Quarantine
    rejected: tuple[Rejected, ...]
    findings: tuple[Finding, ...]
    arrivals: Arrivals
    touches: TouchColumns
    captured: Captured
    conversions: Conversions
    goals: tuple[Goal, ...]
    quarantined_value: int
    costs: Costs
    spend_campaign: Ints


def lay_ground(tables: Tables, settings: Settings) -> Ground:
    """Read every row once (R1-R10, R17-R20).

    Parameters
    ----------
    tables : the data
    settings : of these only currency, zone, folding, sites, marks, session gap, channel rules, and the goals but for
        their windows matter here

    Returns
    -------
    Ground

    Raises
    ------
    SettingsError
        If a channel rule cannot be understood.
    """
    same = same_as(settings.fold)
    home, digits = settings.home_currency, settings.minor_digits
    rates = RateTable(tables.rates, home)
    notes: list[Finding] = []
    visits, leads, sales = tables.visits, tables.leads, tables.conversions

    costs = read_spend(tables.spend, rates, home, digits, same)
    notes += costs.findings
    quarantine = Quarantine(
        visits.flags("is_test"),
        leads.flags("is_test") | (leads.ints("status") == TEST),
        sales.ints("status") == TEST,
    )
    goal_text = Text.join([Text(np.zeros(len(leads), np.int32), ["lead"]), sales.text("goal").map(str.strip)])
    goals = tuple(settings.goal(name) for name in goal_text.values)
    sale_days = local_days(sales.ints("occurred_at"), settings.time_zone)
    sale_goal = goal_text.codes[len(leads) :].astype(np.int64)
    sale_value, no_rate = conversion_values(sales, goals, sale_goal, sale_days, rates, home, digits)
    no_rate &= ~quarantine.conversions
    rejected = _no_rate_rows(sales, no_rate, sale_days, home) + _no_rate_rows(
        tables.spend, ~costs.accepted, tables.spend.ints("day"), home
    )

    arrivals = read_arrivals(visits, settings)
    notes += reading_findings(visits, arrivals, ~quarantine.visits)

    people = find_people(
        [
            Identified(
                ~quarantine.visits,
                {
                    VISITOR: visits.text("visitor_id").map(plain_id),
                    EMAIL: visits.text("email").map(email_id),
                    MARK: arrivals.mark.map(plain_id),
                },
            ),
            Identified(~quarantine.leads, _identifiers(leads)),
            Identified(~(quarantine.conversions | no_rate), _identifiers(sales)),
        ]
    )
    for kind, value, count in people.shared:
        notes.append(Finding("shared_identifier", "warning", "", value, kind, str(count)))

    captured = read_captured(leads, same)
    touches, spend_campaign = lay_touches(
        visits, ~quarantine.visits, people.person[0], arrivals, captured, ~quarantine.leads, costs, settings
    )
    lead_value = np.full(len(leads), default_minor(settings.goal("lead"), digits), np.int64)
    eligible = np.concatenate(
        [
            ~quarantine.leads & (leads.ints("status") != CANCELLED),
            ~(quarantine.conversions | no_rate) & (sales.ints("status") != CANCELLED),
        ]
    )
    conversions = Conversions(
        is_lead_row=np.arange(len(leads) + len(sales)) < len(leads),
        row=np.concatenate([np.arange(len(leads)), np.arange(len(sales))]),
        id=Text.join([leads.text("lead_id").map(str.strip), sales.text("conversion_id").map(str.strip)]),
        goal=goal_text,
        person=np.concatenate(people.person[1:]),
        at=np.concatenate([leads.ints("occurred_at"), sales.ints("occurred_at")]),
        day=np.concatenate([local_days(leads.ints("occurred_at"), settings.time_zone), sale_days]),
        value=np.concatenate([lead_value, sale_value]),
        good=np.concatenate([leads.flags("is_good"), np.zeros(len(sales), np.bool_)]),
        eligible=eligible,
        names_lead=_named_leads(leads, sales, eligible[: len(leads)]),
    )
    notes += _goal_findings(conversions, settings)
    return Ground(
        tables,
        quarantine,
        tuple(rejected),
        tuple(notes),
        arrivals,
        touches,
        captured,
        conversions,
        goals,
        int(sale_value[quarantine.conversions].sum()) + int(lead_value[quarantine.leads].sum()),
        costs,
        spend_campaign,
    )


def _no_rate_rows(table: Table, rows: Flags, days: Ints, home: str) -> list[Rejected]:
    out = []
    for row in np.flatnonzero(rows).tolist():
        code, day = table.text("currency")[row], day_text(int(days[row]))
        reason = f"no rate {code} to {home} for {day} or the 7 days before: add it to rates"
        out.append(Rejected(table.name, table.file[row], int(table.line[row]), "currency", code, reason))
    return out


def _identifiers(table: Table) -> dict[int, Text]:
    return {
        VISITOR: table.text("visitor_id").map(plain_id),
        EMAIL: table.text("email").map(email_id),
        PHONE: table.text("phone").map(phone_id),
        LEAD: table.text("lead_id").map(plain_id),
        MARK: table.text("click_id").map(plain_id),
    }


def _named_leads(leads: Table, sales: Table, lead_eligible: Flags) -> Ints:
    """Row of the lead whose captured sets may serve each conversion (R8): its own, or the one named in `lead_id`."""
    ids = leads.text("lead_id").map(plain_id)
    row_of = {ids[row]: row for row in np.flatnonzero(lead_eligible).tolist() if ids[row]}
    named = sales.text("lead_id").map(plain_id)
    table = np.array([row_of.get(v, -1) for v in named.values], np.int64)
    own = np.where(lead_eligible, np.arange(len(leads)), -1)
    return np.concatenate([own, table[named.codes] if len(sales) else np.empty(0, np.int64)])


def _goal_findings(conversions: Conversions, settings: Settings) -> list[Finding]:
    if not settings.goals:
        return []
    named = settings.goals_by_name()
    used = set(conversions.goal.codes.tolist())
    return [
        Finding("unlisted_goal", "note", "conversions", "", "goal", name)
        for code, name in enumerate(conversions.goal.values)
        if code in used and name not in named
    ]
