"""SHA-256 by machine code: the published examples, and the usual library on rows of every length."""

from __future__ import annotations

import hashlib

import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yardstick.formats import row_hashes
from yardstick.formats.row_hashes import hash_of

# NIST, Secure Hash Standard (FIPS 180-4), its example values for SHA-256; the empty text from NIST's CAVP vectors.
PUBLISHED = {
    "": "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855",
    "abc": "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad",
    "abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq": "248d6a61d20638b8e5c026930c3e6039a33ce45964ff2167f6ecedd419db06c1",
    "a" * 1_000_000: "cdc76e5c9914fb9281a1c7e284d73e67f1809a48a497200e046d39ccc7112cd0",
}


@pytest.fixture(params=["one by one", "by machine code"])
def way(request, monkeypatch):
    """Whether rows are hashed by machine code; that they are is looked at."""
    compiled = request.param == "by machine code"
    calls = []
    monkeypatch.setattr(row_hashes, "FEWEST", 1)
    real = row_hashes.machine_code
    monkeypatch.setattr(
        row_hashes, "machine_code", lambda name, pays: calls.append(1) or (real(name, pays=True) if compiled else None)
    )
    yield
    assert calls
    if compiled:
        assert real(row_hashes._COMPILED, pays=True) is not None


def hashes(rows: list[str]) -> list[str]:
    return [row.tobytes().hex() for row in hash_of([pa.array(rows, pa.string())], "sha256", 32)]


def test_the_published_examples(way):
    assert hashes(list(PUBLISHED)) == list(PUBLISHED.values())


def test_rows_of_every_length_as_the_library_has_them(way):
    """Twice the lengths around which a block begins, in groups that the lanes do not divide."""
    chance = np.random.default_rng(4)
    rows = ["".join(map(chr, chance.integers(1, 0x2FF, n))) for n in [*range(200), 500, 0, 3_000, 1]]
    assert hashes(rows) == [hashlib.sha256(row.encode()).hexdigest() for row in rows]


@given(st.lists(st.tuples(st.text(), st.text()), min_size=1, max_size=40), st.integers(0, 39))
def test_a_slice_of_rows_with_several_cells_is_hashed_alike_both_ways(rows, start):
    columns = [pa.array([row[i].encode("utf-8", "replace").decode() for row in rows], pa.string()) for i in (0, 1)]
    cut = [column.slice(start % len(rows)) for column in columns]
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(row_hashes, "FEWEST", 10**9)
        plain = hash_of(cut, "sha256", 32)
        patch.setattr(row_hashes, "FEWEST", 1)
        row_hashes.make_ready(row_hashes.LARGE)
        assert (hash_of(cut, "sha256", 32) == plain).all()
