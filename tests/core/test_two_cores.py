"""Reading, typing and hashing at once: the same as one after the other, and nothing left behind."""

from __future__ import annotations

import threading

import pytest

from yardstick.core.base.notes import Rejected
from yardstick.formats.files import csv_in
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.rows import intake, two_cores
from yardstick.formats.rows.input_tables import read_file, tables_of
from yardstick.formats.rows.two_cores import steps

HEAD = "visit_id,occurred_at,visitor_id,url,note\n"
ROWS = "".join(
    f"v{i % 900},2026-03-0{1 + i % 9}T10:{i % 60:02}:00{'Z' if i % 7 else ''},p{i % 50},/x?utm_source=s{i % 5},"
    f"{'' if i % 3 else f'n{i}'}\n"
    if i % 31
    else f"v{i},yesterday,p,/,\nbroken\n\n"
    for i in range(1_200)
)


@pytest.fixture
def at_once(monkeypatch):
    """All batches on both cores, small ones."""
    monkeypatch.setattr(two_cores, "ALONE", 0)
    monkeypatch.setattr(csv_in, "BLOCK", 2_000)
    monkeypatch.setattr(intake, "is_ready", lambda: True)


def taken() -> tuple:
    file = read_file(csv_of("visits.csv", (HEAD + ROWS).encode()), "Europe/Berlin")
    given = tables_of([file])
    rejected = [(r.line, r.column, r.reason) for r in file.rejected if isinstance(r, Rejected)]
    keys = [file.keys.key.tolist(), file.keys.group.tolist(), file.keys.digest.tolist()]
    return keys, rejected, file.findings, file.count, given.tables.data, given.tables.origin


def test_a_file_read_on_both_cores_is_the_same_to_the_byte(monkeypatch, at_once):
    threads: set[int] = set()
    real = intake.keys_of
    monkeypatch.setattr(intake, "keys_of", lambda *a, **k: threads.add(threading.get_ident()) or real(*a, **k))
    both = taken()
    assert threads
    assert threading.get_ident() not in threads
    monkeypatch.setattr(intake, "is_ready", lambda: False)
    threads.clear()
    assert taken() == both
    assert threads == {threading.get_ident()}
    assert len(both[1]) == 2 * len(range(0, 1_200, 31))


def test_things_come_in_their_order_and_all_of_them(monkeypatch):
    monkeypatch.setattr(two_cores, "ALONE", 2)
    for many in (0, 1, 2, 3, 50):
        found = list(steps(iter(range(many)), lambda n: n + 1, lambda n: n * 10, at_once=True))
        assert found == [10 * (n + 1) for n in range(many)]


@pytest.mark.parametrize("where", ["first", "second", "third"])
def test_an_error_comes_and_no_thread_stays(monkeypatch, where):
    monkeypatch.setattr(two_cores, "ALONE", 1)
    before = threading.active_count()

    def fails(step: str):
        def work(n):
            if step == where and n == 7:
                raise ValueError(step)
            return n

        return work

    came = []
    with pytest.raises(ValueError, match=where):
        came += steps(map(fails("first"), range(20)), fails("second"), fails("third"), at_once=True)
    assert threading.active_count() == before


def test_whoever_stops_asking_leaves_no_thread_and_no_reading(monkeypatch):
    monkeypatch.setattr(two_cores, "ALONE", 0)
    before, read = threading.active_count(), []

    def things():
        for n in range(1_000):
            read.append(n)
            yield n

    going = steps(things(), lambda n: n, lambda n: n, at_once=True)
    assert next(going) == 0
    going.close()
    assert threading.active_count() == before
    assert len(read) <= 2 + two_cores.WAITING + 1


def test_a_load_that_is_stopped_leaves_no_thread(at_once):
    before = threading.active_count()

    def stop(rows, done):
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        intake.ingest(csv_of("visits.csv", (HEAD + ROWS).encode()), "UTC", stop, lambda batch, keys: None)
    assert threading.active_count() == before
