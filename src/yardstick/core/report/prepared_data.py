"""The ground: everything about the rows that no window, range or yardstick changes.

Reading tags, finding people and touches and turning money into the home currency is the long part of a weighing. It
depends on the data and on a few settings only, so it is done once and kept while an analyst changes the rest.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..base.columns import NO_INSTANT, Amounts, Flags, Ints, Text, total
from ..base.day_numbers import day_text
from ..base.days import NO_DAY, local_days
from ..base.identifier_columns import normalised
from ..base.identifiers import email_id, phone_id, plain_id
from ..base.latest import Latest
from ..base.limits import AMOUNT_BELOW
from ..base.money import FINE, TOO_LARGE, RateTable
from ..base.notes import Finding, Rejected
from ..base.schema import CANCELLED, CLICK, ROW_ID, TEST
from ..base.tables import Table, Tables
from ..base.words import Slots, fold
from ..costs.clicks import CLICK_PRICES, Clicks, price_clicks
from ..costs.further_costs import with_further_costs
from ..costs.spend import Costs, original_cost, read_spend
from ..credit.touch_columns import TouchColumns, lay_touches
from ..plan.costing_phase import Costing, Money
from ..plan.counting_phase import Goal, Trailing
from ..plan.reading_phase import Reading
from ..plan.renamed_rows import rename_rows
from ..reading.arrivals import Arrivals, name_findings, read_arrivals, reading_findings
from ..reading.captured import Captured, read_captured
from ..reading.roles import RoleTable, lay_roles
from ..trails.buckets import KnownBy, known_by
from ..trails.deals import Contacts, find_contacts
from ..trails.goals import Conversions, record_values, version_of
from ..trails.lines import OrderLines, lines_of
from ..trails.people import EMAIL, LEAD, MARK, PHONE, VISITOR, Identified, find_people
from ..trails.present import event_instants, present_of
from ..trails.quarantine import quarantined, quarantined_visits
from ..trails.refunds import refunded_if_standing, refunded_of
from ..trails.standing import rows_that_stand
from ..trails.touches import find_touches
from .unrated import Unrated, unrated_rows

MINUTE_US = 60_000_000


@dataclass(frozen=True)
class Quarantine:
    """Which rows are kept out of every figure as test records (R9)."""

    visits: Flags
    leads: Flags
    conversions: Flags


@dataclass(frozen=True)
class PreparedData:
    """See the module's text.

    `spend` are the spend rows with those of further costs; `spend_campaign` are the numbers of their campaigns in
    `touches.fields`; `known_by` are the identifiers of everyone who converted, `contacts` the further people of deals,
    `lines` what orders are of, `spend_touch` (s,) the touch that a spend row stands with, -1 for none, `latest` what
    was laid on it for the last question.
    """

    tables: Tables
    spend: Table
    quarantine: Quarantine
    rejected: tuple[Rejected, ...]
    unrated: tuple[Unrated, ...]
    findings: tuple[Finding, ...]
    arrivals: Arrivals
    roles: RoleTable
    touches: TouchColumns
    captured: Captured
    conversions: Conversions
    goals: tuple[Goal, ...]
    quarantined_value: int
    costs: Costs
    spend_campaign: Ints
    known_by: KnownBy
    contacts: Contacts
    lines: OrderLines
    spend_touch: Ints
    latest: Latest = field(default_factory=Latest, compare=False)


def prepare_data(tables: Tables, reading: Reading, trailing: Trailing, costing: Costing, money: Money) -> PreparedData:
    """Read every row once (R1-R10, R17-R20).

    Parameters
    ----------
    tables : the data
    reading, trailing, costing, money : the parts of the plan it depends on

    Returns
    -------
    Ground

    Raises
    ------
    SettingsError
        If a channel rule cannot be understood.
    """
    same, slots = reading.names.same, Slots(reading.slot_pairs)
    home = money.home_currency
    rates = RateTable(tables.rates, home, money.rate_days)
    notes: list[Finding] = []
    visits, leads, sales = tables.visits, tables.leads, tables.conversions

    visit_rows = rows_that_stand(visits, np.zeros(len(visits), np.bool_))
    visits = _only(visits, visit_rows.rows)
    standing = _standing_orders(sales, tables, rates, reading, trailing, money) if len(tables.refunds) else None
    refunded = refunded_of(sales, tables.refunds, home, standing)
    none = Amounts.unknown(len(leads))
    goals, leads, lead_worth = _worth(leads, tables.statuses, none, rates, reading, trailing, money)
    more, sales, sale_worth = _worth(sales, tables.statuses, refunded.amount, rates, reading, trailing, money)
    notes += [*visit_rows.findings, *lead_worth.findings, *sale_worth.findings, *refunded.findings]
    version = np.concatenate([lead_worth.version, sale_worth.version + len(goals)])
    goals += more
    tables = replace(tables, visits=visits, leads=leads, conversions=sales)
    arrivals = read_arrivals(visits, reading)
    tests = quarantined_visits(visits, arrivals, reading)
    quarantine = Quarantine(tests, lead_worth.quarantined, sale_worth.quarantined)
    notes += reading_findings(visits, arrivals, ~quarantine.visits)
    notes += name_findings(visits, arrivals, ~quarantine.visits, reading)
    identified = _identified(tables, arrivals, quarantine, slots)
    people = find_people(identified, trailing.identifier_limit)
    for kind, value, count in people.shared:
        notes.append(Finding("shared_identifier", "warning", "", value, kind, str(count)))

    captured = read_captured(leads, sales, same, slots, reading.named_campaigns)
    roles = lay_roles(visits, arrivals, captured, reading)
    gap = int(trailing.session_gap_minutes * MINUTE_US)
    is_click = visits.ints("kind") == CLICK
    found = find_touches(
        np.flatnonzero(~quarantine.visits), people.person[0], visits.ints("occurred_at"), visits.text("visit_id"),
        is_click, arrivals.signature, gap,
    )  # fmt: skip
    spend, bad_costs = with_further_costs(tables.spend, tables.other_costs, costing, home)
    spend, costs = read_spend(spend, rates, reading, money, costing.platforms)
    by_click = np.flatnonzero(is_click[found.visit])
    clicked = Clicks(by_click, found.visit[by_click], roles.day[found.visit[by_click]], found.at[by_click])
    priced = price_clicks(clicked, spend, costs, arrivals, roles, visits, rates, costing, reading, money)
    spend, costs = priced.spend, priced.costs
    notes[:0] = [*costs.findings, *priced.findings]
    rejected = [*lead_worth.rejected, *bad_costs, *sale_worth.rejected, *refunded.rejected]
    rejected += priced.rejected
    rejected += refused_rows(spend, np.where(costs.rest, FINE, costs.refused), spend.ints("day"), home)
    of_spend = np.where(costs.rest, FINE, costs.refused)
    unrated = [*lead_worth.unrated, *sale_worth.unrated]
    unrated += [Unrated("spend", CLICK_PRICES, "", *one) for one in priced.unrated]
    unrated += unrated_rows(spend, original_cost(spend)[0], of_spend, spend.ints("day"), home)
    # A set counts unless its own row is quarantined.
    held_back = np.concatenate([np.repeat(quarantine.leads, 2), quarantine.leads, quarantine.conversions])
    counts = np.concatenate([~quarantine.visits, captured.filled & ~held_back])
    touches = lay_touches(visits, spend, found, counts, arrivals, captured, roles, costs, reading, costing.platforms)

    eligible = np.concatenate(
        [
            ~quarantine.leads & lead_worth.counts,
            ~quarantine.conversions & sale_worth.counts,
        ]
    )
    goal_text = Text.join([_goal_names(leads, lead_worth.day, reading), _goal_names(sales, sale_worth.day, reading)])
    conversions = Conversions(
        is_lead_row=np.arange(len(leads) + len(sales)) < len(leads),
        row=np.concatenate([np.arange(len(leads)), np.arange(len(sales))]),
        id=Text.join([leads.text("lead_id").trimmed(), sales.text("conversion_id").trimmed()]),
        goal=goal_text,
        version=version,
        person=np.concatenate(people.person[1:]),
        at=np.concatenate([leads.ints("occurred_at"), sales.ints("occurred_at")]),
        day=np.concatenate([lead_worth.day, sale_worth.day]),
        value=np.concatenate([lead_worth.value, sale_worth.value]),
        good=np.concatenate([_good_leads(leads, lead_worth, goals), sale_worth.good]),
        eligible=eligible,
        report_day=np.concatenate([lead_worth.report_day, sale_worth.report_day]),
        names_lead=_named_leads(leads, sales, eligible[: len(leads)]),
        word=Text.join([lead_worth.word, sale_worth.word]),
        stage=Text.join([lead_worth.stage, sale_worth.stage]),
        owner=Text.join([lead_worth.owner, sale_worth.owner]),
        self_reported=np.concatenate([leads.text("self_reported").filled(), np.zeros(len(sales), np.bool_)]),
    )
    lines = lines_of(tables.order_lines, sales, len(leads))
    notes += lines.findings
    contacts = find_contacts(
        tables.deal_contacts, conversions.id, conversions.is_lead_row, conversions.person, identified, people
    )
    notes += _goal_findings(conversions, trailing.counted_goals)
    return PreparedData(
        tables,
        spend,
        quarantine,
        tuple(rejected),
        tuple(unrated),
        tuple(notes),
        arrivals,
        roles,
        touches,
        captured,
        conversions,
        goals,
        total(sale_worth.value[quarantine.conversions]) + total(lead_worth.value[quarantine.leads]),
        costs,
        touches.fields.spend("campaign"),  # type: ignore[arg-type]
        known_by(identified, people),
        contacts,
        lines,
        priced.touch,
    )


def _good_leads(leads: Table, worth: _Worth, goals: tuple[Goal, ...]) -> Flags:
    good = leads.flags("is_good") | worth.good
    for number, goal in enumerate(goals):
        if goal.good_stages:
            stages = {fold(stage) for stage in goal.good_stages}
            in_stage = worth.stage.test(lambda v, wanted=stages: fold(v) in wanted)  # type: ignore[misc]
            good |= in_stage & (worth.version == number)
    return good


@dataclass(frozen=True)
class _Worth:
    """What the standing rows of leads or conversions are now and are worth, and what was noticed on the way."""

    version: Ints
    day: Ints
    report_day: Ints
    value: Ints
    stage: Text
    word: Text
    owner: Text
    counts: Flags
    good: Flags
    quarantined: Flags
    rejected: list[Rejected]
    unrated: list[Unrated]
    findings: tuple[Finding, ...]


def _worth(
    table: Table,
    statuses: Table,
    refunded: Amounts,
    rates: RateTable,
    reading: Reading,
    trailing: Trailing,
    money: Money,
) -> tuple[tuple[Goal, ...], Table, _Worth]:
    """The goals of a table's rows, the rows that stand, what they are now, and their worth (R9, R10, R20).

    Whether a row can be accepted depends on a rate, so all rows are valued before one per id is chosen.
    """
    home, digits = money.home_currency, money.minor_digits
    days = local_days(table.ints("occurred_at"), reading.time_zone)
    goals, version = version_of(_goal_names(table, days, reading), days, trailing)
    now = present_of(table, statuses)
    value, refused = record_values(table, now.total, refunded, goals, version, days, rates, home, digits)
    own = table.flags("is_test") if "is_test" in table.columns else np.zeros(len(table), np.bool_)
    tests = quarantined(table, own | now.word.test(lambda word: word == TEST), reading)
    # A test record is in quarantine whether it could be accepted or not.
    refused = np.where(tests, FINE, refused)
    means = {fold(said.word): said.means for said in trailing.status_words}
    of_goal = [goals[number].currency for number in version.tolist()]
    standing = rows_that_stand(table, refused != FINE)
    rows = standing.rows
    rejected = refused_rows(table, refused, days, home, of_goal)
    unrated = unrated_rows(table, now.total, refused, days, home, of_goal)
    word = now.word.take(rows)
    event = trailing.event
    counts = word.test(
        lambda text: bool(event and text == event) or (text != CANCELLED and means.get(text) != "does not count")
    )
    report_day = days
    if event:
        instants = event_instants(table, statuses, event)
        there = instants != NO_INSTANT
        report_day = np.where(there, local_days(np.where(there, instants, 0), reading.time_zone), NO_DAY)
    good = word.test(lambda text: means.get(text) == "good")
    findings = (*standing.findings, *_unlisted(table, rows[~tests[rows]], now.word, means))
    worth = _Worth(
        version[rows],
        days[rows],
        report_day[rows],
        value[rows],
        now.stage.take(rows),
        word,
        now.owner.take(rows),
        counts,
        good,
        tests[rows],
        rejected,
        unrated,
        findings,
    )
    return goals, _only(table, rows), worth


def _standing_orders(
    sales: Table, tables: Tables, rates: RateTable, reading: Reading, trailing: Trailing, money: Money
) -> Ints:
    """Rows of conversions that stand, each with what would have been given back of it if it stood (R10, R20)."""
    days = local_days(sales.ints("occurred_at"), reading.time_zone)
    goals, version = version_of(_goal_names(sales, days, reading), days, trailing)
    home, digits = money.home_currency, money.minor_digits
    now, refunded = present_of(sales, tables.statuses), refunded_if_standing(sales, tables.refunds, home)
    _, refused = record_values(sales, now.total, refunded, goals, version, days, rates, home, digits)
    tests = quarantined(sales, now.word.test(lambda word: word == TEST), reading)
    return rows_that_stand(sales, np.where(tests, False, refused != FINE)).rows


def _unlisted(table: Table, rows: Ints, word: Text, means: Mapping[str, str]) -> list[Finding]:
    """Status words that nobody gave a meaning, each once, where it first stands."""
    listed = ("", "ok", CANCELLED, TEST)
    unknown = word.test(lambda text: text not in listed and text not in means)[rows]
    out: dict[str, Finding] = {}
    for row in rows[unknown].tolist():
        if word[row] not in out:
            where = (table.file[row], int(table.line[row]))
            name = table.text(ROW_ID[table.name])[row].strip()
            out[word[row]] = Finding("unlisted_status", "note", table.name, name, "status", word[row], None, "", *where)
    return list(out.values())


def _only(table: Table, rows: Ints) -> Table:
    return table if len(rows) == len(table) else table.take(rows)


def _goal_names(table: Table, days: Ints, reading: Reading) -> Text:
    """(n,) text: the goal each row of leads or conversions converts, as it is called on its day."""
    if table.name == "leads":
        return Text(np.zeros(len(table), np.int32), ["lead"])
    return rename_rows(reading.names, "goal", table.text("goal").map(str.strip), days)


def refused_rows(
    table: Table, refused: Ints, days: Ints, home: str, of_goal: Sequence[str] | None = None
) -> list[Rejected]:
    """Rows whose amount, or the value their goal gives them, cannot be weighed (R20, R29).

    Parameters
    ----------
    refused : (n,) int64, see `money.to_home`
    days : (n,) int64, the day a rate was looked for
    home : home currency
    of_goal : currency of the value that each row's goal gives it
    """
    out = []
    for row in np.flatnonzero(refused != FINE).tolist():
        code = "" if table.name == "leads" else table.text("currency")[row]
        code = of_goal[row] if of_goal and code in ("", home) else code
        column = "currency"
        reason = f"no rate {code} to {home} for {day_text(int(days[row]))} or the 7 days before: add it to rates"
        if refused[row] == TOO_LARGE:
            column = "cost" if table.name == "spend" else "total"
            reason = f"{AMOUNT_BELOW:,} {home} or more: correct the amount, the count or the rate"
        out.append(Rejected(table.name, table.file[row], int(table.line[row]), column, code, reason))
    return out


def _identified(tables: Tables, arrivals: Arrivals, quarantine: Quarantine, slots: Slots) -> list[Identified]:
    def of(column: Text, normal: Callable[[str], str]) -> Text:
        return normalised(column, normal, slots)

    def rows(table: Table, joins: Flags) -> Identified:
        columns = {
            VISITOR: of(table.text("visitor_id"), plain_id),
            EMAIL: of(table.text("email"), email_id),
            PHONE: of(table.text("phone"), phone_id),
            LEAD: of(table.text("lead_id"), plain_id),
            MARK: of(table.text("click_id"), plain_id),
        }
        return Identified(joins, columns)

    visits = tables.visits
    of_visits = {
        VISITOR: of(visits.text("visitor_id"), plain_id),
        EMAIL: of(visits.text("email"), email_id),
        MARK: normalised(arrivals.mark, plain_id, slots),
    }
    return [
        Identified(~quarantine.visits, of_visits),
        rows(tables.leads, ~quarantine.leads),
        rows(tables.conversions, ~quarantine.conversions),
    ]


def _named_leads(leads: Table, sales: Table, lead_eligible: Flags) -> Ints:
    """Row of the lead whose captured sets may serve each conversion (R8): its own, or the one named in `lead_id`."""
    ids = leads.text("lead_id").map(plain_id)
    row_of = {ids[row]: row for row in np.flatnonzero(lead_eligible).tolist() if ids[row]}
    named = sales.text("lead_id").map(plain_id)
    table = np.array([row_of.get(v, -1) for v in named.values], np.int64)
    own = np.where(lead_eligible, np.arange(len(leads)), -1)
    return np.concatenate([own, table[named.codes] if len(sales) else np.empty(0, np.int64)])


def _goal_findings(conversions: Conversions, goals: Sequence[Goal]) -> list[Finding]:
    if not goals:
        return []
    named = {goal.name for goal in goals}
    used = set(conversions.goal.codes.tolist())
    return [
        Finding("unlisted_goal", "note", "conversions", "", "goal", name)
        for code, name in enumerate(conversions.goal.values)
        if code in used and name not in named
    ]
