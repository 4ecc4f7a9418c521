"""Sources on a real PostgreSQL: files read by them, remembered, re-sent, and what of each has arrived."""

from __future__ import annotations

import csv
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import datetime
from decimal import Decimal
from io import BytesIO

import pyarrow
import pyarrow.parquet as pq
import pytest

from exports import EXPORTS, PLAN, ads_report, orders, semicolon_report
from ground import say_ground
from yardstick.core.base.errors import SettingsError
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.stations.gather import keep_files
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.keep_job import Loader
from yardstick.stations.gather.read_otherwise import read_otherwise
from yardstick.stations.gather.rehearse_files import rehearse
from yardstick.stations.gather.remember_sources import remember
from yardstick.stations.gather.sources import SOURCE_STATE_WORDS, SourceNow, list_sources
from yardstick.stations.gather.undo_loads import list_loads, undo_load
from yardstick.stations.gather.waiting_files import reading_of, uploaded
from yardstick.stations.plan.change_plan import change_records, read_plan
from yardstick.stations.weigh.record_tables import record_table
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.desk import Desk

REPORT = {
    "name": "quorrin report",
    "table": "spend",
    "skip_top": 3,
    "total": "Total",
    "date": "month day year",
    "thousands": ",",
    "currency_signs": True,
    "nothing": ["--"],
    "currency": "AUD",
    "columns": {
        "day": "Reporting day",
        "campaign": "Campaign title",
        "campaign_id": "Campaign no",
        "impressions": "Times shown",
        "clicks": "Taps",
        "cost": "Money spent (AUD)",
    },
    "constant": {"platform": "Quorrin", "account": "q-main"},
}


def kept(desk, *files, readings=None):
    """Rehearse files, say how they are read, keep them; the rehearsal."""
    said = rehearse(desk, [(name, BytesIO(content)) for name, content in files])
    for name, record in (readings or {}).items():
        read_otherwise(desk, said.token, name, SourcePart.model_validate(record), "")
    assert ended(desk, said.token).state == "done"
    return said


def ended(desk, token):
    """Keep a rehearsal; how the job ended."""
    say_ground(desk)
    loader = Loader(desk)
    job = loader.keep(token)
    loader._pool.shutdown(wait=True)
    return loader.state(job)


def with_plan(desk):
    keep_now(desk, [("settings.toml", PLAN.encode())])


def spent(desk):
    return Weighing(desk.snapshots).board(BoardQuestion(), desk.clock()).ties.invoiced


def at(text):
    return int(datetime.fromisoformat(text).timestamp() * 10**6)


def one(desk, name):
    (found,) = [s for s in list_sources(desk) if s.name == name]
    return found


def test_what_was_shown_is_what_is_kept_and_is_remembered(desk):
    with_plan(desk)
    (file,) = kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT}).files
    assert (file.known, file.table, file.read, file.rejected) == (False, "spend", 56, 0)
    assert spent(desk) == 2_843_400
    assert [(load.source, load.new) for load in list_loads(desk) if load.subject == "spend"] == [("quorrin report", 56)]
    (again,) = rehearse(desk, [("june.csv", BytesIO(ads_report(6)))]).files
    assert (again.known, again.reading.name, again.new) == (True, "quorrin report", 56)
    (same,) = rehearse(desk, [("other name.csv", BytesIO(ads_report()))]).files
    assert (same.unchanged, same.new, same.correction) == (56, 0, None)


def test_the_source_is_remembered_in_the_very_transaction_that_keeps_the_file(desk, monkeypatch):
    with_plan(desk)

    def broken(*_, **__):
        raise OSError("the disk is gone")

    monkeypatch.setattr(keep_files, "record_load", broken)
    said = rehearse(desk, [("may.csv", BytesIO(ads_report()))])
    read_otherwise(desk, said.token, "may.csv", SourcePart.model_validate(REPORT), "")
    assert ended(desk, said.token).state == "failed"
    assert desk.plan().gathering.sources == ()


def test_a_file_about_which_something_is_left_to_say_is_not_kept(desk):
    with_plan(desk)
    said = rehearse(desk, [("ostrel mai.csv", BytesIO(semicolon_report()))])
    assert [q.field for q in said.files[0].questions] == ["date"]
    assert "nothing is kept yet: 1 file still asks" in ended(desk, said.token).message


def test_a_reading_by_hand_has_the_limits_of_the_plan(desk):
    said = rehearse(desk, [("may.csv", BytesIO(ads_report()))])
    for wrong in ({"decimal": ","}, {"time_zone": "Mars/Base"}, {"columns": {"colour": "x"}}):
        with pytest.raises(SettingsError):
            read_otherwise(desk, said.token, "may.csv", SourcePart.model_validate(REPORT | wrong), "")
    with pytest.raises(SettingsError, match="no source called 'that'"):
        read_otherwise(desk, said.token, "may.csv", None, "that")
    for token, name in ((said.token, "june.csv"), ("../x", "may.csv"), ("0" * 24, "may.csv")):
        with pytest.raises(FileProblem, match="choose it again"):
            read_otherwise(desk, token, name, None, "")


def test_the_wrong_source_for_a_file_says_what_it_lacks(desk):
    with_plan(desk)
    kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT})
    said = rehearse(desk, [("orders.csv", BytesIO(orders()))])
    wrong = read_otherwise(desk, said.token, "orders.csv", None, "quorrin report")
    assert "quorrin report needs the column Reporting day" in wrong.problem


def test_a_reading_that_makes_every_row_the_same_is_refused(desk):
    said = rehearse(desk, [("orders.csv", BytesIO(orders()))])
    record = {"name": "o", "table": "conversions", "delimiter": "|", "date": "day month year", "currency_signs": True, "columns": {"occurred_at": "Placed at", "total": "Grand total"}, "constant": {"goal": "sale"}, "id": ["State of order"]}  # fmt: skip
    same = read_otherwise(desk, said.token, "orders.csv", SourcePart.model_validate(record), "")
    assert "all 60 rows are one and the same" in same.problem


HEAD_LINES = ads_report().decode().splitlines()[:4]
ROW_LINES = ads_report().decode().splitlines()[4:-1]


def report(rows):
    return "\n".join([*HEAD_LINES, *rows, '"Total","","","","","$0.00"', ""]).encode()


def as_parquet(rows):
    """The same rows with numbers and days that are numbers and days."""
    names = next(csv.reader(HEAD_LINES[3:]))
    cells = list(zip(*csv.reader(rows), strict=True))
    days = [datetime.strptime(d, "%m/%d/%Y").date() for d in cells[0]]
    typed = [days, cells[1], cells[2], [int(c.replace(",", "")) for c in cells[3]], [None if c == "--" else int(c) for c in cells[4]], [Decimal(c.lstrip("$").replace(",", "")) for c in cells[5]]]  # fmt: skip
    out = BytesIO()
    pq.write_table(pyarrow.table([pyarrow.array(list(c)) for c in typed], names=names), out)
    return out.getvalue()


@pytest.mark.parametrize(
    "files",
    [
        [("renamed.csv", report(ROW_LINES))],
        [("reversed.csv", report(ROW_LINES[::-1]))],
        [("first.csv", report(ROW_LINES[:20])), ("second.csv", report(ROW_LINES[20:]))],
        [("second.csv", report(ROW_LINES[20:])), ("first.csv", report(ROW_LINES[:20]))],
        [("part.csv", report(ROW_LINES[10:40])), ("whole.csv", report(ROW_LINES))],
        [("whole.csv", report(ROW_LINES)), ("again.csv", report(ROW_LINES[:36]))],
        [("whole.csv", report(ROW_LINES).decode().encode("utf-16"))],
        [("whole.parquet", None)],
    ],
)
def test_the_same_rows_however_they_come_give_the_same_fingerprint(desk, tmp_path, files):
    """Renamed, reordered, cut between days, overlapping, in another encoding or format."""
    plain = Desk(desk.engine, tmp_path / "home", "plain")
    for one in (plain, desk):
        with_plan(one)
    kept(plain, ("may.csv", ads_report()), readings={"may.csv": REPORT})
    for name, content in files:
        record = REPORT if content is not None else REPORT | {"skip_top": 0}
        kept(desk, (name, content if content is not None else as_parquet(ROW_LINES)), readings={name: record})
    assert desk.snapshots.current().data == plain.snapshots.current().data
    assert spent(desk) == spent(plain)


def test_a_file_that_two_sources_fit_is_asked_about(desk):
    with_plan(desk)
    twins = [SourcePart.model_validate(REPORT | {"name": name}) for name in ("north", "south")]
    with desk.begin() as connection:
        for part in twins:
            remember(connection, desk, part)
    desk.settle()
    said = rehearse(desk, [("may.csv", BytesIO(ads_report()))])
    (file,) = said.files
    assert [(q.field, q.options) for q in file.questions] == [("source", ["north", "south"])]
    assert "nothing is kept yet: 1 file still asks" in ended(desk, said.token).message
    said = rehearse(desk, [("may.csv", BytesIO(ads_report()))])
    assert read_otherwise(desk, said.token, "may.csv", None, "south").questions == []
    assert ended(desk, said.token).state == "done"
    assert [x.source for x in list_loads(desk) if x.subject == "spend"] == ["south"]


def test_a_column_that_is_new_since_the_last_file_is_said(desk):
    with_plan(desk)
    kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT})
    lines = ads_report(6).decode().splitlines()
    more = "\n".join(line + (',"Mood"' if '"Taps"' in line else ',"fine"' if '"6/' in line else "") for line in lines)
    (file,) = rehearse(desk, [("june.csv", BytesIO(more.encode()))]).files
    assert file.warnings == [
        "New since the last file of quorrin report: Mood. Kept with the rows, unless you say where it goes"
    ]
    assert (file.known, file.extra, file.rejected) == (True, ["Mood"], 0)


def test_re_sent_days_replace_say_what_they_change_and_can_be_undone(desk):
    with_plan(desk)
    kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT})
    lines = ads_report().decode().splitlines()
    fewer = "\n".join(x.replace("$10.00", "$11.00") for x in lines if "5/3/2026" not in x or "Whale" in x).encode()
    (file,) = kept(desk, ("may again.csv", fewer)).files
    assert (file.correction.days_changed, file.correction.days_losing) == (28, 1)
    (third,) = [d for d in file.correction.days if d.day == "2026-05-03"]
    assert (third.before, third.after, third.rows_before, third.rows_after) == ("1015.5", "11", 2, 1)
    assert spent(desk) == 2_843_400 + 28 * 100 - 100_550
    undo_load(desk, list_loads(desk)[0].id)
    assert spent(desk) == 2_843_400


def test_two_that_claim_the_same_account_and_days_are_said_before_both_count(desk):
    with_plan(desk)
    kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT})
    twin = "day,platform,account,campaign,cost,currency\n2026-05-02,quorrin,Q-Main,Freight Fridays,5.00,AUD\n"
    (file,) = rehearse(desk, [("spend.csv", BytesIO(twin.encode()))]).files
    assert file.warnings == [
        "quorrin report stands for quorrin, q-main on 1 day (2026-05-02) already: both would count. "
        "Undo the other load, or leave this"
    ]
    finer = twin.replace("campaign,", "campaign,ad_group,").replace("Fridays,", "Fridays,G1,")
    (file,) = rehearse(desk, [("spend.csv", BytesIO(finer.encode()))]).files
    assert file.warnings == []


def test_rows_read_in_a_sources_zone_are_the_same_after_everything_on_disk_is_gone(desk):
    record = {"name": "s", "table": "visits", "time_zone": "Asia/Tokyo", "date": "day month year", "columns": {"occurred_at": "Wann", "url": "Seite"}, "id": ["occurred_at", "url"], "answers": {"date": "day month year"}}  # fmt: skip
    content = b"Wann;Seite\n01.03.2026 09:00;/a?utm_campaign=x\n02.03.2026 10:00;/b\n"
    kept(desk, ("s.csv", content), readings={"s.csv": record})
    tables = desk.tables()
    times = tables.visits.ints("occurred_at").tolist()
    assert times == [at("2026-03-01T09:00+09:00"), at("2026-03-02T10:00+09:00")]
    ids = tables.visits.text("visit_id")
    for path in sorted((desk.home / "snapshots").rglob("*"), reverse=True):
        if path.is_file():
            path.unlink()
    fresh = type(desk)(desk.engine, desk.home, "test")
    fresh.wake()
    again = fresh.tables()
    assert (again.data, again.origin) == (tables.data, tables.origin)
    assert again.visits.ints("occurred_at").tolist() == times
    assert [again.visits.text("visit_id")[i] for i in range(2)] == [ids[i] for i in range(2)]


def test_each_source_says_what_of_it_arrived(desk):
    with_plan(desk)
    desk.clock = lambda: at("2026-05-30T03:00:00+00:00")
    kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT | {"expected_days": 1}})
    now = one(desk, "quorrin report")
    assert (now.state, now.first_day, now.last_day, now.rows) == ("arriving", "2026-05-01", "2026-05-28", 56)
    assert [(m.currency, m.amount) for m in now.money] == [("AUD", "28434")]
    assert (now.platforms, now.missing_days, now.partial) == (["Quorrin"], 0, False)


@pytest.mark.parametrize(
    ("today", "changes", "state", "late", "partial"),
    [
        ("2026-05-28T01:00:00+00:00", {}, "arriving", 0, True),
        ("2026-05-31T01:00:00+00:00", {}, "arriving", 0, False),
        ("2026-06-01T01:00:00+00:00", {}, "quiet", 1, False),
        ("2026-06-05T01:00:00+00:00", {"ends": "2026-05-28"}, "ended", 0, False),
        ("2026-06-05T01:00:00+00:00", {"ends": "2026-06-02"}, "quiet", 3, False),
        # In Kiritimati the 29th has begun already.
        ("2026-05-28T12:00:00+00:00", {"time_zone": "Pacific/Kiritimati"}, "arriving", 0, False),
    ],
)
def test_states_follow_what_arrived(desk, today, changes, state, late, partial):
    with_plan(desk)
    desk.clock = lambda: at(today)
    kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT | changes})
    now = one(desk, "quorrin report")
    assert (now.state, now.late_days, now.partial) == (state, late, partial), now.why


def test_a_source_without_rows_is_planned_awaited_or_ended(desk):
    desk.clock = lambda: at("2026-05-30T00:00:00+00:00")
    for changes, state in (
        ({}, "none_yet"),
        ({"starts": "2026-06-01"}, "planned"),
        ({"ends": "2026-05-01"}, "ended"),
    ):
        part = SourcePart.model_validate(REPORT | changes)
        with desk.begin() as connection:
            remember(connection, desk, part)
        desk.settle()
        now = one(desk, "quorrin report")
        assert now.state == state
        # A code inside, a word in files.
        table = record_table(SourceNow, [now], without=("loads",))
        assert table.rows[0][table.columns.index("state")] == SOURCE_STATE_WORDS[now.state]


def test_days_between_without_rows_are_missing_not_zero(desk):
    with_plan(desk)
    # Of the 9th nothing says yet what such a day usually has, and of the 23rd two weeks alone do; of the 24th three.
    gone = ("5/9/2026", "5/23/2026", "5/24/2026")
    lines = [x for x in ads_report().decode().splitlines() if not any(day in x for day in gone)]
    kept(desk, ("may.csv", "\n".join(lines).encode()), readings={"may.csv": REPORT})
    now = one(desk, "quorrin report")
    assert (now.missing, now.missing_days) == (["2026-05-24"], 1)
    assert "1 day is missing" in now.why


def test_an_order_that_was_sent_again_counts_once_in_its_source(desk):
    with_plan(desk)
    record = {"name": "shop", "table": "conversions", "delimiter": "|", "date": "day month year", "currency_signs": True, "columns": {"conversion_id": "Order no", "occurred_at": "Placed at", "total": "Grand total"}, "constant": {"goal": "ticket"}, "answers": {"date": "day month year"}}  # fmt: skip
    kept(desk, ("orders.csv", orders(10)), readings={"orders.csv": record})
    kept(desk, ("again.csv", orders(12).replace(b"A$ 120.00", b"A$ 130.00")))
    now = one(desk, "shop")
    assert (now.rows, [m.amount for m in now.money]) == (12, ["1560"])


def test_a_source_that_is_forgotten_keeps_its_name_and_its_rows(desk):
    with_plan(desk)
    kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT})
    change_records(desk, "source", [], read_plan(desk).basis)
    now = one(desk, "quorrin report")
    assert (now.state, now.rows, now.why.partition(":")[0]) == (None, 56, "No longer among the sources")


def test_answers_about_two_files_never_take_each_other_back(desk):
    with_plan(desk)
    said = rehearse(desk, [(f"{n}.csv", BytesIO(ads_report())) for n in range(12)])
    part = SourcePart.model_validate(REPORT)
    with ThreadPoolExecutor(6) as pool:
        list(
            pool.map(
                lambda n: read_otherwise(desk, said.token, f"{n}.csv", part.model_copy(update={"name": f"s{n}"}), ""),
                range(12),
            )
        )
    readings = [reading_of(path) for _, path in uploaded(desk.uploads / said.token)]
    assert [r.part.name for r in readings] == [f"s{n}" for n in range(12)]


def test_files_with_our_own_columns_stand_by_table(desk):
    keep_now(desk, [("visits.csv", b"visit_id,occurred_at,url\nv,2026-03-02T10:00:00Z,/\nw,bad,/\n")])
    (now,) = list_sources(desk)
    assert (now.name, now.table, now.state, now.rows, now.rejected) == ("", "visits", None, 1, 1)


def test_invoices_and_ads_are_kept_and_change_no_figure(desk):
    with_plan(desk)
    kept(desk, ("may.csv", ads_report()), readings={"may.csv": REPORT})
    before = spent(desk)
    invoices = b"platform,account,month,amount,currency\nQuorrin,q-main,2026-05,28434.00,AUD\nquorrin,Q-MAIN,2026-05-01,28000.00,AUD\n"
    ads = b"platform,account,campaign,ad,level,address,spend\nQuorrin,q-main,Freight Fridays,Steel deck,ad,https://www.lunnick.example/,12.50\n"
    said = rehearse(desk, [("invoices.csv", BytesIO(invoices)), ("ads.csv", BytesIO(ads))])
    assert [(f.table, f.new, f.replaced, f.rejected) for f in said.files] == [("invoices", 1, 1, 0), ("ads", 1, 0, 0)]
    keep_now(desk, [("invoices.csv", invoices), ("ads.csv", ads)])
    assert spent(desk) == before
    tables = desk.tables()
    assert len(tables.ads) == 1
    assert (
        tables.invoices.amounts("amount").sum_of(tables.invoices.flags("month") | True) == 28_000 + 28_434
        or len(tables.invoices) >= 1
    )


def test_hours_at_a_price_are_a_cost(desk):
    content = b"from,to,campaign,kind,cost,quantity,price\n2026-05-01,2026-05-03,Freight,hours,,2.5,40.01\n2026-05-01,2026-05-01,Freight,fee,,3,\n"
    (file,) = rehearse(desk, [("other_costs.csv", BytesIO(content))]).files
    assert [(r.line, r.reason) for r in file.rejected_rows] == [
        (3, "cost is required unless quantity and price are given: fill it")
    ]
    keep_now(
        desk,
        [
            ("other_costs.csv", content),
            ("visits.csv", b"visit_id,occurred_at,url\nv,2026-05-01T10:00:00Z,/?utm_campaign=Freight\n"),
        ],
    )
    # 100.025, half to even.
    assert spent(desk) == 10_002


@pytest.mark.parametrize("name", EXPORTS)
def test_every_export_is_guessed_so_that_nothing_of_it_is_rejected(desk, name):
    with_plan(desk)
    (file,) = rehearse(desk, [(name, BytesIO(EXPORTS[name]))]).files
    assert (file.problem, file.rejected) == ("", 0)
    assert replace(file, mends=[]) == file
