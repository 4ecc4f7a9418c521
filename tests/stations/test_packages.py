"""A whole workspace goes out as a tabular data package and comes back to the same fingerprints."""

from __future__ import annotations

import csv
import io
import json
import random
import re
import threading
import zipfile
from collections.abc import Generator
from datetime import UTC, datetime

import frictionless
import pytest
from sqlalchemy import delete, select

from exports import EXPORTS, PLAN, ads_report
from ground import say_ground
from week import week_files
from yardstick.core.base.errors import SettingsError
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.keep_job import Loader
from yardstick.stations.gather.rehearse_files import rehearse
from yardstick.stations.gather.undo_loads import list_loads, rejected_of, undo_load
from yardstick.stations.instance.pack_workspace import pack
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.desk import Desk
from yardstick.store import packages
from yardstick.store.clicks import Click, keep_clicks
from yardstick.store.links import RowChange
from yardstick.store.models import ShortClick, ShortCode
from yardstick.store.short_codes import owner_of


@pytest.fixture
def other(desk, tmp_path):
    """Another, empty workspace of the same instance."""
    return Desk(desk.engine, tmp_path / "home", "other")


def kept(desk, *files):
    said = rehearse(desk, [(name, io.BytesIO(content)) for name, content in files])
    if not any(name.endswith(".zip") for name, _ in files):
        say_ground(desk)
    loader = Loader(desk)
    job = loader.keep(said.token)
    loader._pool.shutdown(wait=True)
    return said, loader.state(job)


def packed(desk):
    return b"".join(pack(desk))


def full(desk):
    """A workspace with files of all kinds: replaced rows, re-sent days, an undone load, rejected rows, extras, links."""
    keep_now(desk, [("settings.toml", PLAN.encode())])
    kept(desk, ("quorrin report may.csv", EXPORTS["quorrin report may.csv"]))
    kept(desk, ("again.csv", ads_report().replace(b"$10.00", b"$10.50")))
    kept(desk, ("web sessions.tsv", EXPORTS["web sessions.tsv"]))
    kept(desk, ("june.csv", ads_report(6)))
    undo_load(desk, list_loads(desk)[0].id)
    extras = 'lead_id,occurred_at,email,Shoe size\nl1,2026-05-03 10:00,p1@mail.example,"4,2\nwide"\nl2,bad,x,1\nl1,2026-05-03 11:00,p1@mail.example,\n'
    keep_now(desk, [("leads.csv", extras.encode()), ("rates.csv", b"day,base,quote,rate\n2026-05-01,EUR,AUD,1.6\n")])
    keep_now(desk, [("spend.csv", b"day,platform,account,campaign,ad_group,cost\n2026-05-02,Harnock,h,Night,G,12.5\n")])
    sheets = Sheets(desk)
    sheets.change(
        [RowChange("one", {"page": "/boats", "source": "ostrel"}), RowChange("two", {"page": "/card"})],
        sheets.read().basis,
        "links",
    )


def figures(desk):
    board = Weighing(desk.snapshots).board(BoardQuestion(), 0)
    return board.fingerprint, board.data, board.origin, [(r.bucket, r.values, r.touches, r.spend) for r in board.rows]


def test_a_workspace_comes_back_to_the_same_bytes(desk, other):
    full(desk)
    content = packed(desk)
    said, job = kept(other, ("test.zip", content))
    assert (said.files[0].table, said.files[0].problem, job.state) == ("package", "", "done"), job
    assert figures(other) == figures(desk)
    assert other.plan() == desk.plan()
    assert [(row.key, row.cells) for row in Sheets(other).read().rows] == [
        (row.key, row.cells) for row in Sheets(desk).read().rows
    ]
    mine = [
        (x.file, x.source, x.read, x.rejected, x.lines, x.made_at)
        for x in list_loads(desk)
        if not x.undone and x.subject != "settings"
    ]
    theirs = [
        (x.file, x.source, x.read, x.rejected, x.lines, x.made_at) for x in list_loads(other) if x.subject != "settings"
    ]
    assert sorted(mine) == sorted(theirs)
    (bad,) = [x for x in list_loads(other) if x.file == "leads.csv"]
    assert [(r.line, r.value) for r in rejected_of(other, bad.id)] == [(4, "bad")]


def test_what_comes_later_goes_on_as_in_the_first_workspace(desk, other):
    full(desk)
    kept(other, ("test.zip", packed(desk)))
    more = ("more.csv", ads_report().replace(b"$10.00", b"$11.00"))
    for one in (desk, other):
        said, _ = kept(one, more)
        assert (said.files[0].known, said.files[0].replaced) == (True, 56)
    assert figures(other) == figures(desk)
    undo_load(other, list_loads(other)[0].id)
    assert figures(other)[0] != figures(desk)[0]


def test_frictionless_finds_the_package_valid(desk, tmp_path):
    """frictionless-py is the reference implementation of the Data Package standard."""
    full(desk)
    with zipfile.ZipFile(io.BytesIO(packed(desk))) as archive:
        archive.extractall(tmp_path / "package")
    report = frictionless.validate(str(tmp_path / "package" / "datapackage.json"))
    assert report.valid, report.flatten(["title", "note"])
    assert {task.name.rpartition("-")[0] or task.name for task in report.tasks} >= {"spend", "visits", "leads", "rates"}


def test_a_package_comes_into_an_empty_workspace_alone(desk, other):
    keep_now(desk, week_files())
    content = packed(desk)
    keep_now(other, [("rates.csv", b"day,base,quote,rate\n2026-05-01,EUR,AUD,1.6\n")])
    before = list_loads(other)
    said, job = kept(other, ("test.zip", content))
    assert "comes into an empty workspace" in said.files[0].problem
    assert job.state == "failed"
    assert list_loads(other) == before


def rezipped(content, **changes):
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for info in old.infolist():
            key = info.filename.partition(".")[0].replace("/", "_").replace("-", "_")
            if changes.get(key, b"") is not None:
                new.writestr(info.filename, changes.get(key) or old.read(info))
    return out.getvalue()


def test_what_is_no_package_or_a_damaged_one_changes_nothing(desk, other):
    keep_now(desk, week_files())
    content = packed(desk)
    said = json.loads(zipfile.ZipFile(io.BytesIO(content)).read("datapackage.json"))
    rows = said["resources"][0]["path"]
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("datapackage.json", b" " * 200_000_000)
    key = rows.partition(".")[0].replace("/", "_").replace("-", "_")
    cases = {
        b"PK\x03\x04 nothing": "not readable as a zipped data package",
        bomb.getvalue(): "no workspace packs so small",
        rezipped(content, datapackage=None): "this is not a data package",
        rezipped(content, datapackage=b"{}"): "is none of a workspace",
        rezipped(content, datapackage=b"[" * 100_000): "is none of a workspace",
        rezipped(content, datapackage=json.dumps(said | {"yardstick": {"layout": 9}}).encode()): "another version",
        rezipped(content, **{key: None}): "is not in it",
        rezipped(content, **{key: b"row_line,a\n1,2\n"}): "cannot be read",
        rezipped(content, settings=b"colour = 1\n"): "unknown setting",
        content[: len(content) // 2]: "not readable as a zipped data package",
    }
    for damaged, why in cases.items():
        rehearsed, job = kept(other, ("test.zip", damaged))
        assert why in rehearsed.files[0].problem, (why, rehearsed.files[0].problem)
        assert (job.state, list_loads(other)) == ("failed", []), why


def altered(content, **fields):
    """The package with fields of its first load, or of the whole, changed."""
    said = json.loads(zipfile.ZipFile(io.BytesIO(content)).read("datapackage.json"))
    for name, value in fields.items():
        where = said["yardstick"] if name in ("data", "rows", "layout") else said["resources"][0]["yardstick"]
        where[name] = value
    return rezipped(content, datapackage=json.dumps(said).encode())


WRONG: dict[str, list[object]] = {
    "path": ["../x.csv", "links.csv", "rows/1-visits.csv/..", "", "rows/1-visits.csv\n"],
    "number": [0, -1, 2**62, 1.5, True, "1", None],
    "together": [0, "x"],
    "table": ["", "nothing", "links"],
    "file": ["", "x" * 1_001, "a\0b", "half \ud800"],
    "source": ["a\0b", 7],
    "finer": ["everything", "ad_group; DROP", "source \0"],
    "zone": ["../../etc/passwd", "Mars/Base", "/usr/share/zoneinfo/UTC", "\0"],
    "reading": ["{broken", "[]", "7", '{"source": {"table": "nothing"}, "names": []}', '{"source": null, "names": 7}'],
    "made_at": ["", "yesterday", "2026-03-02T10:00:00", "9999999"],
    "made_by": ["a\0b", None],
    "lines": [-1, 2**31, "7"],
    "header": [-1],
    "skipped": [2**40],
    "rejected": [-5],
    "data": ["", "zz", None, 7, "A" * 32],
}


@pytest.mark.parametrize("field", WRONG)
def test_every_field_of_a_package_is_typed(desk, other, field):
    """A digest `zz`, `{broken` as a reading, a zone `../../etc/passwd` kept a workspace from being opened for good."""
    keep_now(desk, [("leads.csv", b"lead_id,occurred_at,email\nl1,2026-05-03T10:00:00Z,p@mail.example\nl2,bad,x\n")])
    content = packed(desk)
    for wrong in WRONG[field]:
        rehearsed, job = kept(other, ("test.zip", altered(content, **{field: wrong})))
        assert rehearsed.files[0].problem.startswith("test.zip: "), (wrong, rehearsed.files[0].problem)
        assert (job.state, list_loads(other)) == ("failed", []), wrong
    _, job = kept(other, ("test.zip", altered(content)))
    assert job.state == "done", job


def test_what_stands_twice_is_refused(desk, other):
    keep_now(desk, week_files())
    content = packed(desk)
    said = json.loads(zipfile.ZipFile(io.BytesIO(content)).read("datapackage.json"))
    twice = said | {"resources": [*said["resources"], said["resources"][0]]}
    path = said["resources"][0]["path"]
    again = io.BytesIO(content)
    with pytest.warns(UserWarning, match="Duplicate name"), zipfile.ZipFile(again, "a") as archive:
        archive.writestr(path, b"row_line\n")
    for damaged in (rezipped(content, datapackage=json.dumps(twice).encode()), again.getvalue()):
        rehearsed, job = kept(other, ("test.zip", damaged))
        assert f"{path} is in it twice" in rehearsed.files[0].problem
        assert (job.state, list_loads(other)) == ("failed", [])


@pytest.mark.parametrize("column", ["digest", "line", "load", "value"])
def test_rejected_rows_of_a_package_are_typed(desk, other, column):
    keep_now(desk, [("leads.csv", b"lead_id,occurred_at,email\nl1,2026-05-03T10:00:00Z,p@mail.example\nl2,bad,x\n")])
    content = packed(desk)
    (rejected,) = csv.DictReader(io.StringIO(zipfile.ZipFile(io.BytesIO(content)).read("rejected.csv").decode()))
    for wrong in {"digest": ["zz", ""], "line": ["0", "x", str(2**40)], "load": ["99", ""], "value": ["a\0b"]}[column]:
        out = io.StringIO()
        writer = csv.DictWriter(out, rejected)
        writer.writeheader()
        writer.writerow(rejected | {column: wrong})
        _, job = kept(other, ("test.zip", rezipped(content, rejected=out.getvalue().encode())))
        assert (job.state, list_loads(other)) == ("failed", []), wrong
        assert (
            "cannot be read: write the package out anew" in job.message or "rejected.csv cannot be read" in job.message
        )


def test_a_package_is_held_to_its_own_fingerprint_before_anything_of_it_is_kept(desk, other):
    keep_now(desk, week_files())
    content = packed(desk)
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        path = next(n for n in archive.namelist() if n.endswith("-conversions.csv"))
        rows = archive.read(path)
    changed = re.sub(rb'"(\d+)\.00"', lambda m: b'"%d.00"' % (int(m[1]) + 1), rows, count=1)
    assert changed != rows
    key = path.partition(".")[0].replace("/", "_").replace("-", "_")
    _, job = kept(other, ("test.zip", rezipped(content, **{key: changed})))
    assert (job.state, list_loads(other)) == ("failed", [])
    assert "it was altered, or is damaged" in job.message
    _, job = kept(other, ("test.zip", content))
    assert job.state == "done"
    assert figures(other)[1] == figures(desk)[1]


def test_a_package_with_a_flipped_bit_is_the_same_or_refused_in_a_sentence(desk, other):
    """Wherever the bit is: in a part, in its name, in the list of parts."""
    keep_now(desk, [("leads.csv", b"lead_id,occurred_at,email\nl1,2026-05-03T10:00:00Z,p@mail.example\nl2,bad,x\n")])
    content, chance = packed(desk), random.Random(7)
    for _ in range(60):
        flipped = bytearray(content)
        flipped[chance.randrange(len(content))] ^= 1 << chance.randrange(8)
        rehearsed, job = kept(other, ("test.zip", bytes(flipped)))
        if job.state == "done":
            assert figures(other)[1] == figures(desk)[1]
            break
        assert list_loads(other) == []
        assert (rehearsed.files[0].problem + job.message).strip()
        assert "Error" not in job.message, job.message


def test_links_come_with_their_clicks_and_a_code_stays_where_it_is(desk, other):
    """A short code may stand in print: what another workspace of the instance has stays there, and that is said."""
    keep_now(desk, week_files())
    sheets = Sheets(desk)
    rows = [RowChange(key, {"page": "/boats", "source": "ostrel", "short": key}) for key in ("mine", "both")]
    sheets.change(rows, sheets.read().basis, "links")
    at = datetime(2026, 3, 4, 5, 6, 7, 123456, UTC)
    with desk.engine.begin() as connection:
        keep_clicks(
            connection, [Click(code, at.isoformat(), "/boats", "", 'a "b",\n', "test") for code in ("mine", "both")]
        )
    content = packed(desk)
    with desk.engine.begin() as connection:
        connection.execute(delete(ShortCode).where(ShortCode.code == "mine"))
    _, job = kept(other, ("test.zip", content))
    assert job.state == "done", job
    assert "1 short code stays with the workspace test" in job.message
    cells = {row.key: row.cells for row in Sheets(other).read().rows}
    assert cells == {"mine": rows[0].cells, "both": {"page": "/boats", "source": "ostrel"}}
    with other.engine.connect() as connection:
        clicks = select(ShortClick.code, ShortClick.clicked_at, ShortClick.agent).where(
            ShortClick.workspace_id == other.workspace
        )
        assert connection.execute(clicks).all() == [("mine", at, 'a "b",\n')]
        assert owner_of(connection, "mine") == "other"
    with pytest.raises(SettingsError, match="belongs to the workspace other"):
        sheets.change([RowChange("third", {"short": "mine"})], sheets.read().basis, "links")


def test_rows_of_links_that_no_sheet_holds_are_refused(desk, other):
    keep_now(desk, week_files())
    content = packed(desk)
    for cells in ('{""size"": ""1""}', '{""page"": ""' + "x" * 5000 + '""}', '{""page"": 7}', "[1]"):
        wrong = rezipped(content, links=f'key,place,cells\n"k","a","{cells}"\n'.encode())
        _, job = kept(other, ("test.zip", wrong))
        assert (job.state, "links.csv" in job.message) == ("failed", True), job
    assert list_loads(other) == []


def test_a_package_that_is_left_half_way_ends_its_writer(desk):
    keep_now(desk, week_files())
    pieces = pack(desk)
    first = next(pieces)
    assert isinstance(pieces, Generator)
    pieces.close()
    for thread in threading.enumerate():
        if thread.name == "packing":
            thread.join(10)
            assert not thread.is_alive()
    with pytest.raises(zipfile.BadZipFile):
        zipfile.ZipFile(io.BytesIO(first[:100]))


def test_a_fault_while_writing_is_no_package(desk, monkeypatch):
    keep_now(desk, week_files())

    def broken(*_):
        raise OSError("gone")

    monkeypatch.setattr(packages, "descriptor", broken)
    with pytest.raises(OSError, match="gone"):
        packed(desk)
