"""What files leave open is asked, what is ready is kept, and every answer stays: on real PostgreSQL."""

from __future__ import annotations

import os
import time
from datetime import datetime
from io import BytesIO

import pytest

from exports import PLAN
from ground import say_ground
from yardstick.formats.files import workbooks
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.formats.results.sheets import write_table
from yardstick.stations.gather.ground_rules import Unsaid
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.keep_job import Loader
from yardstick.stations.gather.read_otherwise import read_otherwise
from yardstick.stations.gather.rehearse_files import rehearse
from yardstick.stations.gather.sources import list_sources
from yardstick.stations.gather.undo_loads import list_loads, undo_load
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace import deadline
from yardstick.stations.workspace.deadline import TooLong
from yardstick.stations.workspace.desk import UPLOAD_AGE_S

NAMES = ("Whale Boats", "Freight Fridays")


def planned(desk):
    keep_now(desk, [("settings.toml", PLAN.encode())])


def said(desk, *files):
    return rehearse(
        desk, [(name, BytesIO(content.encode() if isinstance(content, str) else content)) for name, content in files]
    )


def keep(desk, token):
    say_ground(desk)
    loader = Loader(desk)
    job = loader.keep(token)
    loader._pool.shutdown(wait=True)
    return loader.state(job)


def open_of(file):
    return [q.field for q in file.questions if q.open]


def report(days=range(1, 29), names=NAMES, cost="{}", head="Day,Campaign,Cost,Clicks", at="2026-05-{:02d}"):
    lines = [head]
    for day in days:
        lines += [
            f"{at.format(day)},{name},{cost.format(10 * k + day)}.25,{day + k}" for k, name in enumerate(names, 1)
        ]
    return "\n".join(lines) + "\n"


def spent(desk):
    return Weighing(desk.snapshots).board(BoardQuestion(), desk.clock()).ties.invoiced


def test_what_is_ready_is_kept_and_what_asks_stays_under_its_token(desk):
    planned(desk)
    rehearsal = said(
        desk,
        ("Quorrin ready.csv", report()),
        ("Ostrel asks.csv", report(cost="${}", head="Day,Campaign,Amount spent,Clicks")),
    )
    ready, asks = rehearsal.files
    assert (open_of(ready), open_of(asks)) == ([], ["signs.$"])
    state = keep(desk, rehearsal.token)
    assert (state.state, state.message) == ("done", "kept Quorrin ready.csv; 1 file still asks")
    assert [load.file for load in list_loads(desk) if load.subject == "spend"] == ["Quorrin ready.csv"]
    told = read_otherwise(desk, rehearsal.token, "Ostrel asks.csv", None, "", {"signs.$": "AUD"})
    assert open_of(told) == []
    assert keep(desk, rehearsal.token).message == "kept Ostrel asks.csv"
    (load,) = [load for load in list_loads(desk) if load.file == "Ostrel asks.csv"]
    assert load.answers == {"signs.$": "AUD"}
    (source,) = [s for s in desk.plan().gathering.sources if s.name == "Ostrel asks"]
    assert (source.answers, source.signs) == ((("signs.$", "AUD"),), (("$", "AUD"),))


def test_a_question_is_answered_where_its_field_is_changed(desk):
    planned(desk)
    content = report(days=range(1, 13), at="{:02d}/05/2026")
    rehearsal = said(desk, ("Quorrin.csv", content))
    (file,) = rehearsal.files
    assert open_of(file) == ["date"]
    changed = file.reading.model_copy(update={"date": "month day year"})
    again = read_otherwise(
        desk, rehearsal.token, "Quorrin.csv", SourcePart.model_validate(changed.model_dump(by_alias=True)), ""
    )
    assert open_of(again) == []
    assert (again.first_day, again.last_day) == ("2026-01-05", "2026-12-05")
    assert again.reading.answers == {"date": "month day year"}


def test_what_was_left_out_is_shown_and_taken_back_by_one_answer(desk):
    planned(desk)
    total = sum(10 * k + day for day in range(1, 29) for k in (1, 2)) + 56 * 0.25
    rehearsal = said(desk, ("Quorrin.csv", report() + f"2026-05-28,Total,{total:.2f},1650\n"))
    (file,) = rehearsal.files
    (question,) = [q for q in file.questions if q.field == "sums"]
    assert (file.read, question.answer, question.options) == (56, "leave out", ["leave out", "keep"])
    assert "line 58 Total" in question.text
    kept = read_otherwise(desk, rehearsal.token, "Quorrin.csv", None, "", {"sums": "keep"})
    assert (kept.read, open_of(kept)) == (57, [])


def test_placeholders_are_counted_and_taken_back_by_one_answer(desk):
    planned(desk)
    content = "Enquiry no,Received on,Lead source,E-mail\n" + "".join(
        f"E-{i},2026-05-{i:02d} 10:00,{'(not set)' if i % 2 else 'ostrel'},p{i}@mail.example\n" for i in range(1, 11)
    )
    rehearsal = said(desk, ("enquiries.csv", content))
    (question,) = [q for q in rehearsal.files[0].questions if q.field == "nothing"]
    assert question.text == "In Lead source stand (not set) (5): are these cells empty?"
    assert (question.answer, rehearsal.files[0].reading.nothing) == ("empty", ["(not set)"])
    back = read_otherwise(desk, rehearsal.token, "enquiries.csv", None, "", {"nothing": "as written"})
    assert (back.reading.nothing, open_of(back)) == ([], [])
    assert "(not set)" in {cell for row in back.preview for cell in row.stands}


def test_another_platforms_file_under_a_source_is_asked_about(desk):
    planned(desk)
    assert keep(desk, said(desk, ("Quorrin may.csv", report())).token).state == "done"
    rehearsal = said(desk, ("may.csv", report(names=("Bike Deck", "Year Card"))))
    (file,) = rehearsal.files
    (question,) = [q for q in file.questions if q.open]
    assert question.field == "new"
    assert "would replace 28 days, and none of the campaigns on them is in it" in question.text
    new = read_otherwise(desk, rehearsal.token, "may.csv", None, "", {"new": question.options[0]})
    assert open_of(new) == ["constant.platform"]
    told = read_otherwise(desk, rehearsal.token, "may.csv", None, "", {"constant.platform": "Ostrel"})
    assert (open_of(told), told.replaced, told.new) == ([], 0, 56)
    before = spent(desk)
    assert keep(desk, rehearsal.token).state == "done"
    assert spent(desk) == 2 * before


def test_a_file_that_names_another_platform_is_asked_about(desk):
    planned(desk)
    assert keep(desk, said(desk, ("Quorrin may.csv", report())).token).state == "done"
    (file,) = said(desk, ("Ostrel june.csv", report(at="2026-06-{:02d}"))).files
    assert open_of(file) == ["new"]
    assert "It names Ostrel, and Quorrin may is of Quorrin" in file.questions[0].text
    (same,) = said(desk, ("Quorrin june.csv", report(at="2026-06-{:02d}"))).files
    assert open_of(same) == []


def test_an_empty_account_is_the_platforms_only_one(desk):
    planned(desk)
    ours = "day,platform,account,campaign,cost\n2026-05-01,Quorrin,q-main,A,10.00\n"
    keep_now(desk, [("spend.csv", ours.encode())])
    (file,) = said(desk, ("Quorrin.csv", report(days=range(1, 3)))).files
    assert any(
        "spend.csv stands for quorrin, q-main on 1 day (2026-05-01) already: both would count" in w
        for w in file.warnings
    )


def test_another_currency_than_last_month_is_asked_about(desk):
    planned(desk)

    def month(m, code):
        rows = (f"{m}-{i},2026-{m:02d}-{i:02d} 10:00,{code} {i}0.00\n" for i in range(13, 20))
        return "Order no,Placed at,Order total\n" + "".join(rows)

    rehearsal = said(desk, ("orders.csv", month(5, "USD")))
    read_otherwise(desk, rehearsal.token, "orders.csv", None, "", {"constant.goal": "ticket"})
    assert keep(desk, rehearsal.token).state == "done"
    (same,) = said(desk, ("orders june.csv", month(6, "USD"))).files
    assert open_of(same) == []
    (other,) = said(desk, ("orders july.csv", month(7, "EUR"))).files
    assert open_of(other) == ["codes.EUR"]
    assert "those of this source were in USD until now" in other.questions[0].text


def test_days_that_turn_out_month_first_are_asked_about_in_a_known_source(desk):
    planned(desk)
    assert keep(desk, said(desk, ("Quorrin may.csv", report(at="{:02d}/05/2026"))).token).state == "done"
    (file,) = said(desk, ("Quorrin june.csv", report(at="06/{:02d}/2026"))).files
    assert open_of(file) == ["date"]
    assert "can only be read as month day year; its source has day month year" in file.questions[0].text


def test_days_years_away_are_asked_about(desk):
    planned(desk)
    desk.clock = lambda: int(datetime.fromisoformat("2026-06-01T00:00:00+00:00").timestamp()) * 10**6
    (file,) = said(desk, ("Quorrin.csv", report() + "2062-05-03,Whale Boats,5.00,3\n")).files
    assert open_of(file) == ["far"]
    assert "2062-05-03" in file.questions[0].text


def test_money_without_a_rate_is_said_before_it_is_kept_and_rates_beside_it_count(desk):
    planned(desk)
    content = report(days=range(1, 4), head="Day,Campaign,Cost (SEK),Clicks")
    (file,) = said(desk, ("Quorrin.csv", content)).files
    (warning,) = [w for w in file.warnings if "no rate" in w]
    assert warning.startswith("103.5 SEK of 3 days (2026-05-01 to 2026-05-03) have no rate to AUD")
    rates = "day,base,quote,rate\n2026-05-01,SEK,AUD,0.15\n"
    together = {f.file: f for f in said(desk, ("rates.csv", rates), ("Quorrin.csv", content)).files}
    assert not [w for w in together["Quorrin.csv"].warnings if "no rate" in w]
    assert keep(desk, said(desk, ("Quorrin.csv", content)).token).state == "done"
    board = Weighing(desk.snapshots).board(BoardQuestion(), desk.clock())
    lacking = [(one.table, one.currency, one.rows, one.amount) for one in board.without_rate]
    assert lacking == [("spend", "SEK", 6, "103.50")]


def test_refunds_among_orders_are_a_load_of_their_own_with_its_own_undo(desk):
    planned(desk)
    rows = (f"T-{i},2026-05-{i:02d} 10:00,{i}0.00\n" for i in range(13, 23))
    content = "Order no,Placed at,Order total\n" + "".join(rows)
    rehearsal = said(desk, ("orders.csv", content + "T-15,2026-05-28 09:00,-50.00\n"))
    assert sorted(open_of(rehearsal.files[0])) == ["constant.goal", "negative"]
    answers = {"constant.goal": "ticket", "negative": "refunds"}
    told = read_otherwise(desk, rehearsal.token, "orders.csv", None, "", answers)
    assert "1 of its rows are refunds, 50" in " ".join(told.notes)
    assert (told.new, told.replaced, open_of(told)) == (10, 0, [])
    assert keep(desk, rehearsal.token).state == "done"

    def weigh():
        return Weighing(desk.snapshots).board(BoardQuestion(), desk.clock()).ties.booked.value

    whole = sum(range(13, 23)) * 1_000
    assert weigh() == whole - 5_000
    (refund,) = [load for load in list_loads(desk) if load.subject == "refunds"]
    assert [s.why for s in list_sources(desk) if s.table == "refunds"] == ["Rows of a file of orders that are refunds."]
    undo_load(desk, refund.id)
    assert weigh() == whole
    # Asked once: the next file of the source is read by the answer.
    (again,) = said(
        desk, ("orders june.csv", content.replace("2026-05", "2026-06") + "T-16,2026-06-28 09:00,-10.00\n")
    ).files
    assert open_of(again) == []


def test_costs_a_million_times_those_of_last_month_are_asked_about(desk):
    planned(desk)
    assert keep(desk, said(desk, ("Quorrin may.csv", report(head="Day,Campaign,Cost,Taps"))).token).state == "done"
    lines = ["Day,Campaign,Cost,Taps"] + [f"2026-06-{d:02d},{name},{d}250000,4" for d in range(1, 29) for name in NAMES]
    (file,) = said(desk, ("Quorrin june.csv", "\n".join(lines))).files
    assert open_of(file) == ["micros"]


def test_home_currency_and_zone_are_asked_at_the_first_load_and_never_after(desk):
    rehearsal = said(desk, ("Quorrin.csv", report(head="Day,Campaign,Cost (NZD),Clicks")))
    assert [(q.field, q.open) for q in rehearsal.first] == [("home_currency", True), ("time_zone", True)]
    assert rehearsal.first[0].options == ["NZD"]
    assert said(desk, ("settings.toml", PLAN), ("Quorrin.csv", report())).first == []
    planned(desk)
    assert said(desk, ("Quorrin.csv", report())).first == []


def test_under_each_encoding_its_first_words_are_shown_and_the_answer_is_read(desk):
    planned(desk)
    content = "Datum;Kampaň;Náklady;Kliknutí\n" + "".join(
        f"{d:02d}.05.2026;Příliš {d};{d},50;3\n" for d in range(13, 25)
    )
    rehearsal = said(desk, ("Quorrin.csv", content.encode("mac_latin2")))
    (file,) = rehearsal.files
    asked = [q for q in file.questions if q.field == "encoding"]
    if asked:
        assert len(asked[0].hints) == len(asked[0].options)
        file = read_otherwise(desk, rehearsal.token, "Quorrin.csv", None, "", {"encoding": "mac-latin2"})
    assert open_of(file) == []
    assert {row.stands[2] for row in file.preview} >= {"Příliš 13"}


def test_any_header_opens_the_board(desk):
    planned(desk)
    for name, content in (
        ("a.csv", "名前,値\nx,1\ny,2\n"),
        ("b.csv", "اسم,قيمة\nx,1\ny,2\n"),
        ("c.csv", "foo\nbar\nbaz\n"),
    ):
        (file,) = said(desk, (name, content)).files
        assert (file.problem, file.reading is not None) == ("", True), name
        assert open_of(file), name


SPEND = "day,platform,campaign,cost\n2026-05-01,Quorrin,Boats,10.00\n"


def kept_in(desk):
    return desk.kept_plan().document.general().get("home_currency")


def test_nothing_is_kept_before_currency_and_zone_are_said(desk):
    found = said(desk, ("spend.csv", SPEND))
    with pytest.raises(Unsaid, match="choose the home currency and the time zone first"):
        Loader(desk).keep(found.token)
    # Settings that do not say them, and an archive that is no package, say nothing either.
    found = said(desk, ("settings.toml", 'time_zone = "UTC"\n'), ("a.zip", b"PK"), ("spend.csv", SPEND))
    assert [question.field for question in found.first] == ["home_currency"]
    with pytest.raises(Unsaid, match="the home currency first"):
        Loader(desk).keep(found.token)
    say_ground(desk, "AUD")
    assert keep(desk, found.token).state == "done"
    assert kept_in(desk) == "AUD"


def test_settings_without_a_currency_make_no_other_of_all_amounts(desk):
    say_ground(desk, "AUD", "Australia/Adelaide")
    text = '# Of the agency.\nmargin = "0.5"\n'
    found = said(desk, ("settings.toml", text))
    assert (found.files[0].new, found.first) == (0, [])
    assert keep(desk, found.token).state == "done"
    kept = desk.kept_plan()
    assert kept.document.general()["margin"] == "0.5"
    assert kept_in(desk) == "AUD"
    assert "# Of the agency." in kept.text
    again = said(desk, ("settings.toml", text))
    assert (again.files[0].replaced, again.files[0].unchanged) == (0, 1)
    assert keep(desk, said(desk, ("settings.toml", 'home_currency = "NZD"\n')).token).state == "done"
    assert kept_in(desk) == "NZD"


def test_uploads_that_nobody_kept_are_thrown_away_at_a_later_rehearsal(desk):
    old = said(desk, ("spend.csv", SPEND)).token
    fresh = said(desk, ("spend.csv", SPEND)).token
    yesterday = time.time() - UPLOAD_AGE_S - 60
    os.utime(desk.uploads / old, (yesterday, yesterday))
    said(desk, ("spend.csv", SPEND))
    assert not (desk.uploads / old).exists()
    assert (desk.uploads / fresh).exists()


def test_a_workbook_is_read_once_in_a_rehearsal_and_once_more_when_it_is_read_otherwise(desk, monkeypatch):
    """Each look at it cost as much as the first."""
    planned(desk)
    rows = [["Tag", "Kampagne", "Kosten"], *([f"2026-03-{day:02}", "Whale Boats", "1,50"] for day in range(1, 29))]
    content = write_table("xlsx", rows[0], rows[1:])
    read, asked = workbooks._read, []

    def counted(name, *more):
        asked.append(more)
        return read(name, *more)

    monkeypatch.setattr(workbooks, "_read", counted)
    found = said(desk, ("Ausgaben.xlsx", content))
    assert found.files[0].table == "spend"
    assert len(asked) == len(set(asked)) <= 2
    asked.clear()
    read_otherwise(desk, found.token, "Ausgaben.xlsx", None, "", {})
    assert len(asked) == len(set(asked)) <= 2
    # Afterwards nothing of it is held.
    said(desk, ("Ausgaben.xlsx", content))
    assert asked


def test_a_file_that_is_read_far_too_slowly_is_given_up_with_a_sentence_and_the_others_are_read(desk, monkeypatch):
    planned(desk)
    rows = "visit_id,occurred_at,visitor_id,url\nv1,2026-03-02T10:00:00Z,p,/\n"
    monkeypatch.setattr(deadline, "READING_S", -1000.0)
    slow = said(desk, ("visits.csv", rows))
    assert "reading it took too long and was given up after 1 rows" in slow.files[0].problem
    monkeypatch.undo()
    assert said(desk, ("visits.csv", rows)).files[0].problem == ""


def test_a_check_up_that_takes_far_too_long_says_how_far_it_came(desk, monkeypatch):
    monkeypatch.setattr("yardstick.stations.mark.edit_sheet.CHECK_UP_S", -1.0)
    with pytest.raises(TooLong, match="0 of 2 addresses took too long"):
        Sheets(desk).check_up(["https://x.example/", "https://y.example/"])
