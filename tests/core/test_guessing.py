"""What is guessed of a file, where a wrong guess would lose rows or letters without a word."""

from __future__ import annotations

import io

import pytest

from yardstick.core.plan.plan import Plan
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.formats.rows.gist import Gist
from yardstick.formats.rows.input_tables import read_file
from yardstick.formats.sources.guessing import guess
from yardstick.formats.sources.mending import mends_for
from yardstick.formats.sources.sourcing import open_by

HEAD = "Tag;Kampagne;Kosten\n"


def guessed(content, table="spend", name="a.csv"):
    data = content.encode() if isinstance(content, str) else content
    return guess(name, io.BytesIO(data), Plan(), table)


@pytest.mark.parametrize("shift", range(4))
def test_a_character_that_the_look_cuts_in_two_is_no_other_encoding(shift):
    """Cyrillic text longer than what is looked at: its end falls into a letter in one of two cases."""
    rows = "".join(f"{1 + i % 28:02d}.05.2026;{'Ж' * 9};{i},5\n" for i in range(12_000))
    assert "encoding" not in guessed("x" * shift + HEAD + rows).record


@pytest.mark.parametrize("name", ["Total Eclipse", "Summe der Teile", "Total"])
def test_a_campaign_called_as_sums_are_is_a_row(name):
    content = "Kampagne;Tag;Kosten\n" + "".join(f"{name};{d:02d}.05.2026;1,50\n" for d in range(10, 30))
    record = guessed(content).record
    assert "total" not in record
    part = SourcePart.model_validate(record | {"constant": {"platform": "Q"}})
    assert read_file(open_by("a.csv", io.BytesIO(content.encode()), part.plain()), "UTC").count.accepted == 20


def test_a_row_of_sums_is_found_though_its_words_stand_in_the_first_column_of_names():
    content = (
        "Kampagne;Tag;Kosten\n" + "".join(f"Boats;{d:02d}.05.2026;1,50\n" for d in range(10, 30)) + "Summe;;30,00\n"
    )
    assert guessed(content).record["total"] == "Summe"


@pytest.mark.parametrize(
    ("days", "order", "asked"),
    [
        (["01.02.2026 10:00", "13.02.2026 11:00"], "day month year", False),
        (["02/01/2026 1:05 PM", "02/13/2026 1:05 PM"], "month day year", False),
        (["01/02/2026", "03/04/2026"], "day month year", True),
        (["13/02/2026", "02/14/2026"], "day month year", True),
        (["01/01/2026", "02/02/2026"], None, False),
        (["26. 1. 3.", "26. 1. 28."], None, False),
        (["2026-03-01T10:00Z", "2026-03-02T10:00Z"], None, False),
    ],
)
def test_the_order_of_days(days, order, asked):
    made = guessed(HEAD + "".join(f"{day};c{i};1,0\n" for i, day in enumerate(days)))
    assert made.record.get("date") == order
    assert ("date" in [q.field for q in made.questions]) is asked


def test_letters_that_come_late_are_mended_by_the_encoding():
    rows = "".join(f"{1 + i % 28:02d}.05.2026;Boats;1,50\n" for i in range(20_000)) + "29.05.2026;Fähre;2,00\n"
    content = (HEAD + rows).encode("cp1252")
    part = SourcePart.model_validate(guessed(content).record | {"constant": {"platform": "Q"}})
    gist = Gist("spend")
    file = read_file(open_by("a.csv", io.BytesIO(content), part.plain()), "UTC")
    for row in file.rejected:
        gist.bad[row.column, row.value, row.reason] += 1
    (mend,) = mends_for(part.plain(), gist.bad, {})
    assert (mend.change, mend.mends) == ({"encoding": "windows-1252"}, 1)
    again = SourcePart.model_validate(part.model_dump(by_alias=True) | mend.change).plain()
    assert read_file(open_by("a.csv", io.BytesIO(content), again), "UTC").count.rejected == 0
