"""Whether tests notice small changes of the program: mutations drawn from its rules, held to the tests that know it.

    python scripts/mutate.py [--count 100] [--seed 1] [--only MODULE] [--workers 2] [--limit 300]

A mutation turns one operator, number or word of a function round. It is run in a copy of the checkout against the
test files that import its module, those first that name it most, then all tests of the core; one that no test notices
survives and is listed, with a nonzero exit code where more than one in twenty do. `--near` leaves the second out.
"""

from __future__ import annotations

import argparse
import ast
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue

ROOT = Path(__file__).resolve().parents[1]
PLACES = ("core/**/*.py", "formats/rows/keyed.py", "store/loading.py")
COMPARED = {"<": "<=", "<=": "<", ">": ">=", ">=": ">", "==": "!=", "!=": "==", "in": "not in", "is": "is not"}
REACHED = {"+": "-", "-": "+", "*": "+", "//": "*", "%": "+", "&": "|", "|": "&", "<<": ">>", ">>": "<<"}
NAMED = {"min": "max", "max": "min", "any": "all", "all": "any", "minimum": "maximum", "maximum": "minimum"}
SIGNS = {
    **{ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!=", ast.In: "in"},
    **{ast.Is: "is", ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.FloorDiv: "//", ast.Mod: "%"},
    **{ast.BitAnd: "&", ast.BitOr: "|", ast.LShift: "<<", ast.RShift: ">>"},
}
WIDE = ("tests/properties/test_against_plain_reading.py", "tests/core", "tests/outside", "tests/properties")
"""Run after those that import a module: all rules against their plain reading, then all tests of the core."""


@dataclass(frozen=True)
class Mutation:
    """One small change: the text between two places of a file becomes another."""

    path: Path
    line: int
    begin: int
    end: int
    was: str
    now: str

    def __str__(self) -> str:
        return f"{self.path.relative_to(ROOT)}:{self.line}: {self.was!r} -> {self.now!r}"

    def applied(self, text: str) -> str:
        """The file with it."""
        data = text.encode()
        return (data[: self.begin] + self.now.encode() + data[self.end :]).decode()


def mutations_of(path: Path) -> list[Mutation]:
    """Every mutation of the functions of a file."""
    text = path.read_text()
    tree = ast.parse(text)
    starts = [0]
    for line in text.encode().splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    out = []
    for function in ast.walk(tree):
        if isinstance(function, ast.FunctionDef):
            for statement in function.body:
                out += [Mutation(path, *found) for found in _of(statement, starts, text.encode())]
    return sorted(set(out), key=lambda m: (m.begin, m.now))


Found = tuple[int, int, int, str, str]


def _of(top: ast.AST, starts: list[int], data: bytes) -> Iterator[Found]:
    for node in ast.walk(top):
        if isinstance(node, ast.Compare) and len(node.ops) == 1:
            yield from _between(
                node.left, node.comparators[0], SIGNS.get(type(node.ops[0]), ""), COMPARED, starts, data
            )
        elif isinstance(node, ast.BinOp):
            yield from _between(node.left, node.right, SIGNS.get(type(node.op), ""), REACHED, starts, data)
        elif isinstance(node, ast.BoolOp):
            word, other = ("and", "or") if isinstance(node.op, ast.And) else ("or", "and")
            yield from _between(node.values[0], node.values[1], word, {word: other}, starts, data)
        elif isinstance(node, ast.Constant) and type(node.value) in (int, bool):
            begin, end = _span(node, starts)
            now = str(not node.value) if isinstance(node.value, bool) else str(node.value + 1)
            yield node.lineno, begin, end, data[begin:end].decode(), now
        elif isinstance(node, ast.Call):
            name = node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")
            if name in NAMED:
                end = _span(node.func, starts)[1]
                yield node.lineno, end - len(name), end, name, NAMED[name]
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.Invert):
            begin, end = starts[node.lineno - 1] + node.col_offset, _span(node.operand, starts)[0]
            yield node.lineno, begin, end, data[begin:end].decode(), ""


def _span(node: ast.expr, starts: list[int]) -> tuple[int, int]:
    assert node.end_lineno is not None
    assert node.end_col_offset is not None
    return starts[node.lineno - 1] + node.col_offset, starts[node.end_lineno - 1] + node.end_col_offset


def _between(
    left: ast.expr, right: ast.expr, sign: str, others: dict[str, str], starts: list[int], data: bytes
) -> Iterator[Found]:
    if sign not in others:
        return
    begin, end = _span(left, starts)[1], _span(right, starts)[0]
    at = data[begin:end].find(sign.encode())
    if at >= 0:
        yield left.end_lineno or 0, begin + at, begin + at + len(sign), sign, others[sign]


def tests_of(path: Path, tests: dict[Path, str]) -> list[Path]:
    """Test files that import a module, those that name it most first; else those that import one that imports it."""
    module = ".".join(path.relative_to(ROOT / "src").with_suffix("").parts)
    package, _, name = module.rpartition(".")
    wanted = re.compile(rf"from {re.escape(module)} import|from {re.escape(package)} import [^\n]*\b{name}\b")
    naming = [test for test, text in tests.items() if wanted.search(text)]
    if not naming:
        room = re.compile(rf"from {re.escape(package)}\.")
        naming = [test for test, text in tests.items() if room.search(text)]
    return sorted(naming, key=lambda test: (-tests[test].count(name), test))


def die(mutation: Mutation, tests: list[Path], wide: tuple[str, ...], copy: Path, limit: int) -> str:
    """What noticed a mutation, empty if nothing did."""
    place = copy / mutation.path.relative_to(ROOT)
    text = place.read_text()
    place.write_text(mutation.applied(text))
    words = [*(str(test.relative_to(ROOT)) for test in tests), *wide]
    environment = {"PYTHONPATH": f"{copy / 'src'}", "PATH": f"{ROOT / '.venv/bin'}:/usr/local/bin:/usr/bin:/bin"}
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-p", "no:xdist", *words]
    try:
        done = subprocess.run(command, cwd=copy, env=environment, capture_output=True, text=True, timeout=limit)
    except subprocess.TimeoutExpired:
        return "it ran for too long"
    finally:
        place.write_text(text)
    if not done.returncode:
        return ""
    return next((line for line in done.stdout.splitlines() if line.startswith(("FAILED", "ERROR"))), "an error")


def main() -> int:
    """Draw, run, list."""
    read = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    read.add_argument("--count", type=int, default=100)
    read.add_argument("--seed", type=int, default=1)
    read.add_argument("--only", default="")
    read.add_argument("--workers", type=int, default=2)
    read.add_argument("--limit", type=int, default=900)
    read.add_argument("--near", action="store_true")
    asked = read.parse_args()
    source = ROOT / "src" / "yardstick"
    files = sorted(
        p for place in PLACES for p in source.glob(place) if asked.only in str(p) and "compiled" not in p.parts
    )
    every = [mutation for path in files for mutation in mutations_of(path)]
    drawn = random.Random(asked.seed).sample(every, min(asked.count, len(every)))
    rooms = ("core", "properties", "outside", "stations")
    tests = {p: p.read_text() for room in rooms for p in sorted((ROOT / "tests" / room).glob("test_*.py"))}
    alone = {p: text for p, text in tests.items() if p.parent.name != "stations"}
    survivors: list[Mutation] = []
    with tempfile.TemporaryDirectory() as folder:
        copies: SimpleQueue[Path] = SimpleQueue()
        for number in range(asked.workers):
            copy = Path(folder) / str(number)
            copy.mkdir()
            for name in ("src", "tests", "docs", "bench", "scripts"):
                # As it is, with what was compiled beside it.
                shutil.copytree(ROOT / name, copy / name, symlinks=True)
            for name in ("pyproject.toml", "README.md", "Makefile"):
                shutil.copy2(ROOT / name, copy / name)
            copies.put(copy)

        def run(mutation: Mutation) -> None:
            copy, begun = copies.get(), time.monotonic()
            try:
                known = alone if "core" in mutation.path.parts else tests
                wide = WIDE[:1] if asked.near else WIDE
                noticed = die(mutation, tests_of(mutation.path, known), wide, copy, asked.limit)
            finally:
                copies.put(copy)
            if not noticed:
                survivors.append(mutation)
            print(f"{time.monotonic() - begun:5.0f} s  {mutation}: {noticed or 'SURVIVES'}", flush=True)

        with ThreadPoolExecutor(asked.workers) as pool:
            list(pool.map(run, drawn))
    print(f"{len(drawn) - len(survivors)} of {len(drawn)} of {len(every):,} mutations died; seed {asked.seed}")
    for survivor in survivors:
        print(f"survived: {survivor}")
    return int(len(survivors) * 20 > len(drawn))


if __name__ == "__main__":
    sys.exit(main())
