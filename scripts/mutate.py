"""Whether tests notice small changes of the program: mutations drawn from its rules, held to the tests that know it.

    python scripts/mutate.py [--count 100] [--seed 1] [--only MODULE] [--workers 2] [--limit 900] [--reached FOLDER]

A mutation turns one operator, number or word of a function round. It is run in a copy of the checkout: first against
the tests of the core that reach its line (all are run once, with `coverage`, to know them), then the files that import
its module; what is left against those of stations and doors, found likewise. One that no
test notices survives and is listed, with a nonzero exit code where more than one in twenty do. `--reached FOLDER`
keeps what tests reach, as long as lines do not move.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
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
from itertools import accumulate
from pathlib import Path
from queue import SimpleQueue

import coverage

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
NEAR = ("tests/core", "tests/outside", "tests/properties")
"""Tests that need no database, no server and no screen: all mutations are held to them."""
FAR = ("tests/stations", "tests/web")
"""Those that what the others did not notice is held to."""
FIRST = "tests/properties/test_against_plain_reading.py"
"""All rules against their plain reading."""
SECONDS = 120
"""What the tests that a mutation is held to may take by themselves: of a line that nearly all of them reach."""


@dataclass(frozen=True)
class Mutation:
    """One small change: the text between two places of a file becomes another.

    Attributes
    ----------
    line, lines : where it stands; the lines of which one is reached when it is
    begin, end, was, now : the bytes of the file that become others
    """

    path: Path
    line: int
    lines: tuple[int, ...]
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
            for statement in _statements(function):
                for node in _own(statement):
                    lines = tuple(sorted({statement.lineno, *range(node.lineno, (node.end_lineno or node.lineno) + 1)}))
                    out += [Mutation(path, at, lines, *found) for at, *found in _of(node, starts, text.encode())]
    return sorted(set(out), key=lambda m: (m.begin, m.now))


def _statements(top: ast.AST) -> Iterator[ast.stmt]:
    """The statements below a node, those of functions inside it left to themselves."""
    for node in ast.iter_child_nodes(top):
        if isinstance(node, ast.stmt):
            yield node
        if not isinstance(node, ast.FunctionDef):
            yield from _statements(node)


def _own(statement: ast.stmt) -> Iterator[ast.expr]:
    """The expressions of a statement, without those of statements inside it."""
    for node in ast.iter_child_nodes(statement):
        if not isinstance(node, ast.stmt):
            # Whether `zip` looks at lengths changes nothing that is so.
            strict = {
                id(word.value) for word in ast.walk(node) if isinstance(word, ast.keyword) and word.arg == "strict"
            }
            yield from (e for e in ast.walk(node) if isinstance(e, ast.expr) and id(e) not in strict)


Found = tuple[int, int, int, str, str]


def _of(node: ast.expr, starts: list[int], data: bytes) -> Iterator[Found]:
    if isinstance(node, ast.Compare) and len(node.ops) == 1:
        yield from _between(node.left, node.comparators[0], SIGNS.get(type(node.ops[0]), ""), COMPARED, starts, data)
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


@dataclass(frozen=True)
class Reach:
    """Which tests of some rooms reach which line, and how long each takes."""

    rooms: tuple[str, ...]
    lines: dict[str, dict[int, list[str]]]
    seconds: dict[str, float]

    def turns(self, mutation: Mutation, importing: list[str]) -> list[list[str]]:
        """What to run for a mutation, turn by turn: the tests that reach its line, those against the plain reading and
        the quick ones first; then the files that import its module, whose tests may reach it in another process, or by
        what an earlier test has kept."""
        reached = self.lines.get(str(mutation.path.relative_to(ROOT)), {})
        nodes = {node for line in mutation.lines for node in reached.get(line, ())}
        quick = sorted(nodes, key=lambda node: (not node.startswith(FIRST), self.seconds.get(node, 0.0), node))
        taking = accumulate(self.seconds.get(node, 0.0) for node in quick)
        return [
            [node for node, seconds in zip(quick, taking, strict=True) if seconds <= SECONDS],
            [name for name in importing if name.startswith(self.rooms)],
        ]


def reach_of(rooms: tuple[str, ...], data: Path) -> Reach:
    """Run the tests of some rooms once and note what they reach, or read what an earlier run noted in `data`."""
    seconds = data.with_suffix(".json")
    if not seconds.exists():
        command = [sys.executable, "-m", "coverage", "run", f"--data-file={data}", f"--source={ROOT / 'src'}"]
        command += ["-m", "pytest", "-p", "reached", "-p", "no:xdist", "--durations=0", "-vv", *rooms]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
        if done.returncode:
            sys.exit(f"The tests fail without a mutation:\n{done.stdout[-3000:]}{done.stderr[-1000:]}")
        found = re.findall(r"^([\d.]+)s call +(\S+::.*)$", done.stdout, re.M)
        seconds.write_text(json.dumps({node: float(time) for time, node in found}))
    read = coverage.CoverageData(str(data))
    read.read()
    lines = {}
    for name in read.measured_files():
        where = str(Path(name).relative_to(ROOT))
        lines[where] = {line: [node for node in nodes if node] for line, nodes in read.contexts_by_lineno(name).items()}
    return Reach(rooms, lines, json.loads(seconds.read_text()))


def tests_of(path: Path, tests: dict[Path, str]) -> list[str]:
    """Test files that import a module, those that name it most first; else those that import one of its room."""
    module = ".".join(path.relative_to(ROOT / "src").with_suffix("").parts)
    package, _, name = module.rpartition(".")
    wanted = re.compile(rf"from {re.escape(module)} import|from {re.escape(package)} import [^\n]*\b{name}\b")
    naming = [test for test, text in tests.items() if wanted.search(text)]
    if not naming:
        room = re.compile(rf"from {re.escape(package)}\.")
        naming = [test for test, text in tests.items() if room.search(text)]
    return [str(test.relative_to(ROOT)) for test in sorted(naming, key=lambda test: (-tests[test].count(name), test))]


def die(mutation: Mutation, turns: list[list[str]], copy: Path, limit: int) -> str:
    """What noticed a mutation, empty if nothing did."""
    place = copy / mutation.path.relative_to(ROOT)
    text = place.read_text()
    place.write_text(mutation.applied(text))
    environment = os.environ | {"PYTHONPATH": f"{copy / 'src'}", "HYPOTHESIS_PROFILE": "unshrunk"}
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-p", "no:xdist"]
    try:
        for words in turns:
            if not words:
                continue
            done = subprocess.run(
                [*command, *words], cwd=copy, env=environment, capture_output=True, text=True, timeout=limit
            )
            if done.returncode:
                noticed = (line for line in done.stdout.splitlines() if line.startswith(("FAILED", "ERROR")))
                return next(noticed, f"an error: {(done.stdout + done.stderr)[-200:]!r}")
    except subprocess.TimeoutExpired:
        return "it ran for too long"
    finally:
        place.write_text(text)
    return ""


def _copied(copy: Path) -> Path:
    """What tests need, as it is, with what was compiled beside it."""
    copy.mkdir()
    for name in ("src", "tests", "docs", "bench", "scripts"):
        shutil.copytree(ROOT / name, copy / name, symlinks=True)
    for name in ("pyproject.toml", "README.md", "Makefile"):
        shutil.copy2(ROOT / name, copy / name)
    return copy


def main() -> int:
    """Draw, run, list."""
    read = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    read.add_argument("--count", type=int, default=100)
    read.add_argument("--seed", type=int, default=1)
    read.add_argument("--only", default="")
    read.add_argument("--workers", type=int, default=2)
    read.add_argument("--limit", type=int, default=900)
    read.add_argument("--reached", type=Path, help="folder in which what tests reach is kept for the next run")
    asked = read.parse_args()
    source = ROOT / "src" / "yardstick"
    files = sorted(
        p for place in PLACES for p in source.glob(place) if asked.only in str(p) and "compiled" not in p.parts
    )
    every = [mutation for path in files for mutation in mutations_of(path)]
    drawn = random.Random(asked.seed).sample(every, min(asked.count, len(every)))
    tests = {p: p.read_text() for room in (*NEAR, *FAR) for p in sorted((ROOT / room).glob("test_*.py"))}
    survivors = drawn
    with tempfile.TemporaryDirectory() as folder:
        copies: SimpleQueue[Path] = SimpleQueue()
        for number in range(asked.workers):
            copies.put(_copied(Path(folder) / str(number)))
        for name, rooms in (("near", NEAR), ("far", FAR)):
            reach = reach_of(rooms, (asked.reached or Path(folder)) / name) if survivors else None
            if reach is None:
                break

            def noticed(mutation: Mutation, reach: Reach = reach) -> str:
                copy, begun = copies.get(), time.monotonic()
                try:
                    how = die(mutation, reach.turns(mutation, tests_of(mutation.path, tests)), copy, asked.limit)
                finally:
                    copies.put(copy)
                print(f"{time.monotonic() - begun:5.0f} s  {mutation}: {how or 'not noticed'}", flush=True)
                return how

            with ThreadPoolExecutor(asked.workers) as pool:
                survivors = [one for one, how in zip(survivors, pool.map(noticed, survivors), strict=True) if not how]
    print(f"{len(drawn) - len(survivors)} of {len(drawn)} of {len(every):,} mutations died; seed {asked.seed}")
    for survivor in survivors:
        print(f"survived: {survivor}")
    return int(len(survivors) * 20 > len(drawn))


if __name__ == "__main__":
    sys.exit(main())
