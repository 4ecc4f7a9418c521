"""Exports in sixty shapes, each with its truth beside it: read to the cent, asked about, or refused; none is kept wrong."""

from __future__ import annotations

import os
import random
from collections import Counter
from datetime import date, timedelta
from decimal import Decimal
from io import BytesIO

import pyarrow as pa
import pytest

from export_shapes import SHAPES, Row
from exports import PLAN
from ground import say_ground
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.keep_job import Loader
from yardstick.stations.gather.read_otherwise import read_otherwise
from yardstick.stations.gather.rehearse_files import rehearse

SEEDS = range(int(os.environ.get("YARDSTICK_SHAPES", "1")))
"""How many worlds each shape is made in; `make nightly` asks for more."""
NAMED = {"spend": "campaign", "conversions": "conversion_id", "leads": "lead_id"}
WORTH = {"spend": "cost", "conversions": "total"}
ONE_GOAL = PLAN.replace('[[goal]]\nname = "year card"\nkind = "sale"\n', "")
EPOCH = date(1970, 1, 1)


def stood(desk, table, column=""):
    """The rows that stand of a table: day, name, worth, currency."""
    state = desk.states().get(table)
    out = []
    start = 0
    for part in state.parts if state else ():
        rows = part.rows.filter(pa.array(state.standing.counts[start : start + part.facts.rows]))
        start += part.facts.rows
        days = (
            rows["day"].to_pylist()
            if "day" in rows.column_names
            else [v // 86_400_000_000 for v in rows["occurred_at"].to_pylist()]
        )
        names = rows[NAMED[table]].to_pylist()
        worth = rows[WORTH[table]].to_pylist() if table in WORTH else ["0"] * len(rows)
        codes = rows["currency"].to_pylist() if table in WORTH else [""] * len(rows)
        if column:
            assert all(rows[column].to_pylist()), f"{column} is empty"
        out += [
            (EPOCH + timedelta(days=d), n, Decimal(w or 0), c)
            for d, n, w, c in zip(days, names, worth, codes, strict=True)
        ]
    return Counter(out)


def true(rows: list[Row]):
    return Counter((row.day, row.name, row.worth, row.currency) for row in rows)


def ended(desk, token):
    say_ground(desk)
    loader = Loader(desk)
    job = loader.keep(token)
    loader._pool.shutdown(wait=True)
    return loader.state(job)


def outcome(desk, made):
    """What becomes of a file: `read`, `ask` or `refuse`, held to its truth on the way."""
    said = rehearse(desk, [(made.file, BytesIO(made.content))])
    (file,) = said.files
    if made.refused:
        told = " ".join([file.problem, *(f.code.replace("_", " ") for f in file.findings)])
        assert made.refused in told, told
        assert file.problem or not file.new
        return "refuse"
    assert not file.problem, file.problem
    asked = {q.field for q in file.questions if q.open}
    first, answers = asked, dict(made.answers)
    while asked:
        # What is asked first is what the rest depends on.
        field = min(asked, key=lambda f: (f not in ("table", "encoding"), f))
        assert field in answers, (
            f"asked about {[(q.field, q.text, q.options, q.hints) for q in file.questions if q.open]}"
        )
        file = read_otherwise(desk, said.token, made.file, None, "", {field: answers.pop(field)})
        asked = {q.field for q in file.questions if q.open}
    assert not answers, f"never asked about {answers}: {file.notes}"
    assert file.rejected == 0, file.rejected_rows[:2]
    assert ended(desk, said.token).state == "done"
    there, wanted = stood(desk, made.table, made.column), true(made.rows)
    assert there == wanted, (list((there - wanted).items())[:3], list((wanted - there).items())[:3])
    if made.answers.get("negative") == "refunds":
        refunds = desk.states()["refunds"]
        assert [part.rows["amount"].to_pylist() for part in refunds.parts] == [[str(made.rows[3].worth.normalize())]]
    return "ask" if first else "read"


@pytest.fixture(scope="module")
def outcomes():
    return {}


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("name", SHAPES)
def test_each_shape_is_read_asked_about_or_refused(desk, name, seed, outcomes):
    keep_now(desk, [("settings.toml", ONE_GOAL.encode())])
    made = SHAPES[name](random.Random(f"{name} {seed}"))
    expected = "refuse" if made.refused else "ask" if made.answers else "read"
    assert outcome(desk, made) == expected


def test_most_shapes_need_no_question():
    made = [make(random.Random(1)) for make in SHAPES.values()]
    read = sum(not one.answers and not one.refused for one in made)
    refused = sum(bool(one.refused) for one in made)
    assert len(made) >= 60
    assert read >= 25
    assert refused <= 10
