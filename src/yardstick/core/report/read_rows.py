"""What every row says, as far as no cost is asked: tags, people, touches, records and what these are worth.

Reading tags and finding people and touches is the long part of a weighing. No cost moves any of it, so that a change of
costs begins after it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..base.columns import Amounts, Flags, Ints, Text, total
from ..base.day_numbers import MINUTE_US
from ..base.identifiers import plain_id
from ..base.latest import Latest
from ..base.money import RateTable
from ..base.notes import Finding, Rejected
from ..base.schema import CLICK
from ..base.tables import Table, Tables
from ..base.words import Slots, fold
from ..credit.touch_columns import ReadTouches, lay_touches
from ..plan.costing_phase import Money
from ..plan.counting_phase import Goal, Trailing
from ..plan.reading_phase import Reading
from ..reading.arrivals import Arrivals, name_findings, read_arrivals, reading_findings
from ..reading.captured import Captured, read_captured
from ..reading.roles import RoleTable, lay_roles
from ..trails.buckets import KnownBy, known_by
from ..trails.deals import Contacts, find_contacts
from ..trails.goals import Conversions
from ..trails.identified_rows import identified_rows
from ..trails.lines import OrderLines, lines_of
from ..trails.people import Identified, People, find_people
from ..trails.quarantine import quarantined_visits
from ..trails.refunds import refunded_of
from ..trails.standing import rows_that_stand
from ..trails.touches import Touches, find_touches
from .record_worth import Worth, goal_names, only, standing_orders, worth_of
from .unrated import Unrated


@dataclass(frozen=True)
class Quarantine:
    """Which rows are kept out of every figure as test records (R9)."""

    visits: Flags
    leads: Flags
    conversions: Flags


@dataclass(frozen=True)
class Known:
    """What people and touches are worked out of, and these.

    Attributes
    ----------
    given : the data as they came
    asked : what of the plan they depend on besides
    rows : which rows of leads and conversions stand
    people : whose they are
    gap, signature : microseconds and what tells touches apart, see `find_touches`
    touches : of these people
    """

    given: Tables
    asked: tuple[object, ...]
    rows: tuple[Ints, Ints]
    people: People
    gap: int
    signature: Ints
    touches: Touches


@dataclass(frozen=True)
class ReadRows:
    """See the module's text.

    Attributes
    ----------
    tables : the data, of visits, leads and conversions the rows that stand
    quarantine, arrivals, roles, touches, captured, conversions, goals : what was read
    identified : which identifiers stand on the rows of visits, leads and conversions
    known_by : the identifiers of everyone who converted
    contacts : the further people of deals
    lines : what orders are of
    stated, refunded : of leads and of conversions, what each is said to be worth now and what was given back of it
    rates : for amounts in other currencies
    known : what it was read from, and what is worked out of it alone, for the next reading of the same rows
    rejected_leads, rejected_sales, unrated, findings : what was noticed on the way
    quarantined_value : minor units
    latest_counted, latest_trails, latest_touches : what was made of it for the last question
    """

    tables: Tables
    quarantine: Quarantine
    arrivals: Arrivals
    roles: RoleTable
    touches: ReadTouches
    captured: Captured
    conversions: Conversions
    goals: tuple[Goal, ...]
    identified: tuple[Identified, ...]
    known_by: KnownBy
    contacts: Contacts
    lines: OrderLines
    stated: tuple[Amounts, Amounts]
    refunded: tuple[Amounts, Amounts]
    rates: RateTable
    known: Known
    rejected_leads: tuple[Rejected, ...]
    rejected_sales: tuple[Rejected, ...]
    unrated: tuple[Unrated, ...]
    findings: tuple[Finding, ...]
    quarantined_value: int
    latest_counted: Latest = field(default_factory=Latest, compare=False)
    latest_trails: Latest = field(default_factory=Latest, compare=False)
    latest_touches: Latest = field(default_factory=Latest, compare=False)


def read_rows(
    tables: Tables, reading: Reading, trailing: Trailing, money: Money, before: ReadRows | None = None
) -> ReadRows:
    """Read every row but those of costs once (R1-R10, R20).

    Parameters
    ----------
    tables : the data
    reading, trailing, money : the parts of the plan it depends on
    before : an earlier reading; of the same data, people and touches serve again where nothing they depend on moved

    Raises
    ------
    SettingsError
        If a channel rule cannot be understood.
    """
    same, slots = reading.names.same, Slots(reading.slot_pairs)
    home = money.home_currency
    rates = RateTable(tables.rates, home, money.rate_days)
    notes: list[Finding] = []
    given, visits, leads, sales = tables, tables.visits, tables.leads, tables.conversions

    visit_rows = rows_that_stand(visits, np.zeros(len(visits), np.bool_))
    visits = only(visits, visit_rows.rows)
    standing = standing_orders(sales, tables, rates, reading, trailing, money) if len(tables.refunds) else None
    refunded = refunded_of(sales, tables.refunds, home, standing)
    none = Amounts.unknown(len(leads))
    goals, leads, lead_worth = worth_of(leads, tables.statuses, none, rates, reading, trailing, money)
    more, sales, sale_worth = worth_of(sales, tables.statuses, refunded.amount, rates, reading, trailing, money)
    notes += [*visit_rows.findings, *lead_worth.findings, *sale_worth.findings, *refunded.findings]
    version = np.concatenate([lead_worth.version, sale_worth.version + len(goals)])
    goals += more
    tables = replace(tables, visits=visits, leads=leads, conversions=sales)
    arrivals = read_arrivals(visits, reading)
    tests = quarantined_visits(visits, arrivals, reading)
    quarantine = Quarantine(tests, lead_worth.quarantined, sale_worth.quarantined)
    notes += reading_findings(visits, arrivals, ~quarantine.visits)
    notes += name_findings(visits, arrivals, ~quarantine.visits, reading)
    joins = (~quarantine.visits, ~quarantine.leads, ~quarantine.conversions)
    identified = identified_rows(tables, arrivals.mark, joins, reading)
    asked = (reading.slot_pairs, reading.click_marks, trailing.identifier_limit, _separated_by(reading))
    rows = (lead_worth.rows, sale_worth.rows)
    known = before.known if before and _same_people(before, given, asked, rows, quarantine) else None
    people = find_people(identified, trailing.identifier_limit) if known is None else known.people
    for kind, value, count in people.shared:
        notes.append(Finding("shared_identifier", "warning", "", value, kind, str(count)))

    captured = read_captured(leads, sales, same, slots, reading.named_campaigns)
    roles = lay_roles(visits, arrivals, captured, reading)
    gap = int(trailing.session_gap_minutes * MINUTE_US)
    if known and known.gap == gap and np.array_equal(known.signature, arrivals.signature):
        found = known.touches
    else:
        found = find_touches(
            np.flatnonzero(~quarantine.visits), people.person[0], visits.ints("occurred_at"), visits.text("visit_id"),
            visits.ints("kind") == CLICK, arrivals.signature, gap,
        )  # fmt: skip
    # A set counts unless its own row is quarantined.
    held_back = np.concatenate([np.repeat(quarantine.leads, 2), quarantine.leads, quarantine.conversions])
    counts = np.concatenate([~quarantine.visits, captured.filled & ~held_back])
    touches = lay_touches(visits, found, counts, arrivals, captured, roles, reading)

    eligible = np.concatenate(
        [
            ~quarantine.leads & lead_worth.counts,
            ~quarantine.conversions & sale_worth.counts,
        ]
    )
    goal_text = Text.join([goal_names(leads, lead_worth.day, reading), goal_names(sales, sale_worth.day, reading)])
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
    return ReadRows(
        tables=tables,
        quarantine=quarantine,
        arrivals=arrivals,
        roles=roles,
        touches=touches,
        captured=captured,
        conversions=conversions,
        goals=goals,
        identified=identified,
        known_by=known_by(identified, people),
        contacts=contacts,
        lines=lines,
        stated=(lead_worth.total, sale_worth.total),
        refunded=(lead_worth.refunded, sale_worth.refunded),
        rates=rates,
        known=Known(given, asked, rows, people, gap, arrivals.signature, found),
        rejected_leads=tuple(lead_worth.rejected),
        rejected_sales=(*sale_worth.rejected, *refunded.rejected),
        unrated=(*lead_worth.unrated, *sale_worth.unrated),
        findings=tuple(notes),
        quarantined_value=total(sale_worth.value[quarantine.conversions]) + total(lead_worth.value[quarantine.leads]),
    )


def _separated_by(reading: Reading) -> tuple[object, ...]:
    """What takes identifiers apart: days of separations are those of the time zone."""
    return (reading.separations, reading.time_zone) if reading.separations else ()


def _same_people(
    before: ReadRows, given: Tables, asked: tuple[object, ...], rows: tuple[Ints, Ints], quarantine: Quarantine
) -> bool:
    """Whether people are those of an earlier reading: of the same rows, which join each other as they did."""
    known, was = before.known, before.quarantine
    pairs = [*zip(known.rows, rows, strict=True), (was.visits, quarantine.visits)]
    pairs += [(was.leads, quarantine.leads), (was.conversions, quarantine.conversions)]
    return known.given is given and known.asked == asked and all(np.array_equal(*pair) for pair in pairs)


def _good_leads(leads: Table, worth: Worth, goals: tuple[Goal, ...]) -> Flags:
    good = leads.flags("is_good") | worth.good
    for number, goal in enumerate(goals):
        if goal.good_stages:
            stages = {fold(stage) for stage in goal.good_stages}
            in_stage = worth.stage.test(lambda v, wanted=stages: fold(v) in wanted)  # type: ignore[misc]
            good |= in_stage & (worth.version == number)
    return good


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
