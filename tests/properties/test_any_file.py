"""Whatever bytes come under whatever name, a file is read, guessed at, or refused with a reason; it never falls over."""

from __future__ import annotations

import io
from contextlib import suppress

from hypothesis import given
from hypothesis import strategies as st

from exports import EXPORTS, PLAN
from yardstick.core.base.errors import SettingsError
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.plan.settings_toml import plan_from, read_settings
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.formats.rows.input_tables import read_file
from yardstick.formats.sources.guessing import guess
from yardstick.formats.sources.previews import preview_of
from yardstick.formats.sources.sourcing import open_by

NAMES = st.sampled_from(["a.csv", "a.tsv", "a.jsonl", "a.parquet", "a.xlsx", "a.log", "access.log.1", "ohne"])
PLANNED = read_settings(PLAN.encode())
CELLS = st.one_of(
    st.sampled_from(["01/03/2026", "--", "$12.00", "12,50", "Total", "a@b.example", "https://x.example/?utm_source=a", "1772323200", "", "5. März", "٣", '"', "Kosten", "Datum", "\u202f1 234", "2026-03-01T10:00Z", "99999999999999999999"]),
    st.text(max_size=12),
)  # fmt: skip


def tried(name, content):
    """Guess at a file and read it so, as a rehearsal does."""
    with suppress(FileProblem, SettingsError):
        made = guess(name, io.BytesIO(content), PLANNED)
        part = SourcePart.model_validate(made.record)
        plan_from({"source": [part.model_dump(mode="json", by_alias=True, exclude_defaults=True)]}, "source")
        preview_of(name, io.BytesIO(content), part.plain(), "UTC")
        check(read_file(open_by(name, io.BytesIO(content), part.plain()), "UTC").count)


def check(count):
    assert count.lines == count.header + count.read + count.skipped
    assert count.read == count.accepted + count.rejected + count.repeated + count.replaced


@given(NAMES, st.binary(max_size=400))
def test_any_bytes(name, content):
    tried(name, content)


@given(
    st.sampled_from([",", ";", "\t", "|"]),
    st.lists(st.lists(CELLS, min_size=1, max_size=6), min_size=1, max_size=12),
    st.sampled_from(["utf-8", "cp1252", "utf-16"]),
)
def test_any_cells(delimiter, rows, encoding):
    text = "\n".join(delimiter.join(row) for row in rows)
    tried("a.csv", text.encode(encoding, "replace"))


@given(st.sampled_from(sorted(EXPORTS)), st.integers(0, 4_000), st.binary(max_size=4), st.integers(0, 3))
def test_exports_with_bytes_changed(name, at, bytes_, cut):
    """A few bytes of a real export stand for others, or its end is missing."""
    content = EXPORTS[name]
    at %= len(content)
    damaged = content[:at] + bytes_ + content[at + len(bytes_) :]
    tried(name, damaged[: len(damaged) - cut * 7])
