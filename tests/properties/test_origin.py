"""The origin: where rows came from, beside the fingerprint of what they say (R27)."""

from __future__ import annotations

import json
from datetime import UTC, datetime

from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from yardstick.core.report.breakdown import BY_CAMPAIGN
from yardstick.stations.command.weigh_folder import credit_folder
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.undo_loads import list_loads, undo_load
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.desk import Desk
from yardstick.store.database import connect

HEAD = "visit_id,occurred_at,visitor_id,url\n"
SALES = "conversion_id,occurred_at,goal,visitor_id,total\nc1,2026-03-05T10:00:00Z,sale,p,9.00\n"
times = st.tuples(st.integers(0, 59), st.sampled_from(["Z", "", "+00:00"]), st.sampled_from(["T", " "]))
rows = st.lists(st.tuples(st.integers(0, 6), times, st.sampled_from(["/?utm_campaign=a", "/", "ftp:x"])), max_size=8)


def line(number, time, url):
    minute, offset, between = time
    return f"v{number},2026-03-02{between}10:{minute:02d}:00{offset},p,{url}\n"


def command(folder, name, given_rows):
    """Every file that the command writes, and its summary."""
    here = folder / f"in-{datetime.now(UTC).timestamp()}"
    here.mkdir()
    (here / name).write_text(HEAD + "".join(line(*row) for row in given_rows))
    (here / "conversions.csv").write_text(SALES)
    credit_folder(here, here / "out", None, BY_CAMPAIGN, [])
    files = {path.name: path.read_text() for path in sorted((here / "out").iterdir())}
    return json.loads(files["summary.json"]), files


@examples(30)
@given(rows, rows, st.sampled_from(["visits.csv", "visits.tsv"]))
def test_the_same_fingerprint_and_origin_give_the_same_bytes_of_every_file(tmp_path_factory, one, other, name):
    folder = tmp_path_factory.mktemp("o")
    (first, files), (second, others) = command(folder, "visits.csv", one), command(folder, name, other)
    if all(first[key] == second[key] for key in ("fingerprint", "origin")):
        assert files == others
    again, _ = command(folder, "visits.csv", one)
    assert (again["fingerprint"], again["origin"]) == (first["fingerprint"], first["origin"])


@examples(30)
@given(rows.filter(bool), st.data())
def test_a_name_a_line_or_a_spelling_changes_the_origin_alone(tmp_path_factory, given_rows, data):
    folder = tmp_path_factory.mktemp("o")
    distinct = list({row[0]: row for row in given_rows}.values())
    was, _ = command(folder, "visits.csv", distinct)
    renamed, _ = command(folder, "visits.tsv", distinct)
    assert renamed["fingerprint"] == was["fingerprint"]
    assert renamed["origin"] != was["origin"]
    moved, _ = command(folder, "visits.csv", data.draw(st.permutations(distinct)))
    assert moved["fingerprint"] == was["fingerprint"]
    number, (minute, _, _), url = distinct[0]
    if url != "ftp:x":
        plain = [command(folder, "visits.csv", [(number, (minute, "", between), url)])[0] for between in "T "]
        assert plain[0]["fingerprint"] == plain[1]["fingerprint"]
        assert plain[0]["origin"] != plain[1]["origin"]


def test_a_day_alone_is_a_time_without_offset_too(tmp_path):
    """`2026-03-02` ends like an offset; it and midnight in UTC are one row, but only one of them is a finding."""
    said = []
    for text in ("2026-03-02", "2026-03-02T00:00:00Z", "2026-03-02T00:00:00+00:00"):
        here = tmp_path / text.replace(":", "-")
        here.mkdir()
        (here / "visits.csv").write_text(f"{HEAD}v1,{text},p,/?utm_campaign=a\n")
        credit_folder(here, here / "out", None, BY_CAMPAIGN, [])
        summary = json.loads((here / "out" / "summary.json").read_text())
        said.append((summary["fingerprint"], summary["origin"], (here / "out" / "findings.csv").read_text()))
    assert len({fingerprint for fingerprint, _, _ in said}) == 1
    assert said[0][1:] != said[1][1:]
    assert said[0][1] != said[1][1]
    assert said[1] == said[2]


def test_the_board_follows_the_origin_and_shows_the_file_a_row_came_from(databases, tmp_path):
    """The same rows from another file: the figures are kept, the trace names the new file."""
    engine = connect(databases.fresh())
    desk = Desk(engine, tmp_path, "origins")
    visit = (HEAD + line(1, (5, "Z", "T"), "/?utm_campaign=a")).encode()
    keep_now(desk, [("visits-one.csv", visit), ("conversions.csv", SALES.encode())])
    weighing = Weighing(desk.snapshots)

    def seen():
        board = weighing.board(BoardQuestion(), 0)
        trace = weighing.trace(BoardQuestion(), "named", ("a",), "value", 0, 10)[2]
        return board.fingerprint, board.origin, str(trace)

    before = seen()
    assert "visits-one.csv" in before[2]
    for load in list_loads(desk):
        if load.file == "visits-one.csv":
            undo_load(desk, load.id)
    keep_now(desk, [("visits-two.csv", visit)])
    after = seen()
    assert after[0] == before[0]
    assert after[1] != before[1]
    assert "visits-two.csv" in after[2]
    assert "visits-one.csv" not in after[2]
    engine.dispose()
