"""Where rows came from: the second name of a state, over the file and line of every row (R27)."""

from __future__ import annotations

import hashlib
from collections.abc import Hashable, Iterable, MutableMapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

from ..cells.row_hashes import Words


@dataclass(frozen=True)
class FileRows:
    """Rows that came from one file.

    Attributes
    ----------
    file : its name
    content : (n, 4) uint64, what each row contributes to the fingerprint
    line : (n,) where each row stood
    plain_times : Arrow string array, the times without offset as they were written
    key : what tells these very rows from all others, if they are whole and each the first of its key
    """

    file: str
    content: Words
    line: npt.NDArray[Any]
    plain_times: Any
    key: Hashable = None


def origin_of(
    files: Iterable[tuple[str, int]],
    rows: Iterable[FileRows],
    rejected: Iterable[tuple[str, int, str]],
    kept: MutableMapping[Hashable, bytes] | None = None,
) -> str:
    """The origin of a state (R27).

    Parameters
    ----------
    files : (name, number of its lines)
    rows : those that contribute to the fingerprint and those equal to one that does, in any order and any number of
        pieces a file; a row of one file and line counts once, however often that file was loaded
    rejected : (file, line, digest) of rejected rows
    kept : hashes of rows that are all of their file, by their key; those that are missing are added

    Returns
    -------
    32 hexadecimal characters

    Notes
    -----
    One hash per file over its rows in the order of their lines says exactly what a sum over hashes of each row would,
    for about a tenth of the time.
    """
    of_file: dict[str, list[FileRows]] = {}
    for piece in rows:
        if len(piece.line):
            of_file.setdefault(piece.file, []).append(piece)
    kept = {} if kept is None else kept
    said = []
    for name, pieces in of_file.items():
        key = (name, pieces[0].key) if len(pieces) == 1 and pieces[0].key is not None else None
        found = kept.get(key) if key else None
        said.append(_of_file(name, pieces) if found is None else found)
        if key:
            kept[key] = said[-1]
    more = [*({*files}), *({*rejected})]
    said += [hashlib.sha256("\0".join(map(str, one)).encode("utf-8", "surrogatepass")).digest() for one in more]
    return hashlib.sha256(b"".join(sorted(said))).hexdigest()[:32]


def _of_file(name: str, pieces: list[FileRows]) -> bytes:
    one = len(pieces) == 1
    line = (pieces[0].line if one else np.concatenate([p.line for p in pieces])).astype(np.int64)
    content = pieces[0].content if one else np.concatenate([p.content for p in pieces])
    texts = pa.concat_arrays([_plain(p.plain_times) for p in pieces])
    if not bool((line[1:] > line[:-1]).all()):
        order = np.lexsort((*(content[:, i] for i in range(4)), line))
        line, content = line[order], content[order]
        fresh = np.ones(len(line), np.bool_)
        fresh[1:] = (line[1:] != line[:-1]) | (content[1:] != content[:-1]).any(axis=1)
        line, content, texts = line[fresh], content[fresh], texts.take(pa.array(order[fresh]))
    found = hashlib.sha256(name.encode("utf-8", "surrogatepass") + b"\0")
    found.update(line.data)
    found.update(np.ascontiguousarray(content).data)
    if pc.any(pc.not_equal(texts, "")).as_py():
        found.update("".join(f"{at}\0{text}\0" for at, text in enumerate(texts.to_pylist()) if text).encode())
    return found.digest()


def _plain(array: Any) -> Any:
    return array.combine_chunks() if isinstance(array, pa.ChunkedArray) else array
