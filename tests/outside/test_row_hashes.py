"""SHA-256 by machine code: the published examples, and the usual library on rows of every length."""

from __future__ import annotations

import hashlib

import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yardstick.formats.cells import object_code, row_hashes
from yardstick.formats.cells.row_hashes import hash_of

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
    monkeypatch.setattr(row_hashes, "FEWEST", 1)
    monkeypatch.setattr(row_hashes, "_kernels", {})
    if request.param == "by machine code":
        row_hashes.make_ready(row_hashes.HUGE)
    assert row_hashes.is_ready() == (request.param == "by machine code")


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
        row_hashes.make_ready(row_hashes.HUGE)
        assert (hash_of(cut, "sha256", 32) == plain).all()


@given(st.lists(st.text(max_size=20), min_size=1, max_size=60), st.integers(0, 59))
def test_texts_that_are_said_to_differ_do(rows, start):
    cells = [row.encode("utf-8", "replace").decode() for row in rows]
    text = pa.array(cells, pa.string()).slice(start % len(rows))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(row_hashes, "FEWEST", 1)
        row_hashes.make_ready(row_hashes.HUGE)
        assert row_hashes.all_differ(text) == (len(set(text.to_pylist())) == len(text))
        patch.setattr(row_hashes, "_kernels", {})
        assert not row_hashes.all_differ(text)


def test_the_room_that_is_given_is_the_room_that_is_asked_for():
    from yardstick.formats.cells.compiled import sha256

    assert sha256.STATE + 8 * sha256.LANES == row_hashes._WORK


def test_machine_code_that_is_torn_or_of_another_processor_is_not_used(tmp_path, monkeypatch):
    """Whatever lies there, rows are hashed: one by one."""
    content = object_code._compiled(row_hashes.COMPILED[0])
    assert "hash_rows" in object_code._loaded(content)
    for wrong in (content[:-1], content[:200], b"", b"{}\n", content.replace(b"hash_rows", b"hash_cows", 1)[:-4]):
        monkeypatch.setattr(object_code, "_folder", lambda module: tmp_path)
        place = object_code._place(row_hashes.COMPILED[0])
        place.write_bytes(wrong)
        object_code.object_code.cache_clear()
        assert object_code.object_code(row_hashes.COMPILED[0]) is None
    place.unlink()
    (tmp_path / "sha256.0123456789abcdef.object").write_bytes(content)
    object_code.object_code.cache_clear()
    assert object_code.object_code(row_hashes.COMPILED[0]) is None
    assert object_code.object_code("yardstick.formats.cells.compiled.none") is None
    monkeypatch.undo()
    object_code.object_code.cache_clear()


def test_what_is_compiled_is_kept_whole_and_the_one_before_it_goes(tmp_path, monkeypatch):
    monkeypatch.setattr(object_code, "_folder", lambda module: tmp_path)
    before = tmp_path / "short_hashes.0123456789abcdef.object"
    before.write_bytes(b"old")
    assert object_code.build(row_hashes.COMPILED[1])
    assert [path.name for path in tmp_path.iterdir()] == [object_code._place(row_hashes.COMPILED[1]).name]
    assert "hash_short" in object_code.object_code(row_hashes.COMPILED[1])
    # Nowhere to put it: what was compiled is used all the same.
    monkeypatch.setattr(object_code, "_folder", lambda module: tmp_path / "file" / "under")
    (tmp_path / "file").write_bytes(b"")
    assert object_code.build(row_hashes.COMPILED[1])
    monkeypatch.undo()
    object_code.object_code.cache_clear()
