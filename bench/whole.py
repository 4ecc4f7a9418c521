"""What stands on the trails: removal with 300 states beside one inversion and a count, intervals for 300 campaigns beside
one question asked once, and eight parts of the people merged beside all of them at once."""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

import numpy as np

HERE = Path(__file__).resolve().parent
sys.path[:0] = [str(HERE), str(HERE.parent / "src"), str(HERE.parent / "tests")]

import one_off  # noqa: E402
from clock import Took, interleaved  # noqa: E402
from ledgers import same_bytes  # noqa: E402
from yardstick.core.base.tally import merged  # noqa: E402
from yardstick.core.credit.removal import CONVERTED, LOST, effects, moves_of  # noqa: E402
from yardstick.core.plan.crediting_phase import Yardstick  # noqa: E402
from yardstick.core.plan.plan import plan_of  # noqa: E402
from yardstick.core.report.breakdown import BY_CAMPAIGN  # noqa: E402
from yardstick.core.report.certainty import intervals_and_redraws  # noqa: E402
from yardstick.core.report.ledger import merge  # noqa: E402
from yardstick.core.report.part import PartQuestion, weigh_part  # noqa: E402
from yardstick.core.report.weigh import complete, learn, report, weigh  # noqa: E402
from yardstick.core.trails.trails import Trails  # noqa: E402
from yardstick.formats.files.csv_in import CsvFile  # noqa: E402
from yardstick.formats.rows.input_tables import read_file, tables_of  # noqa: E402

RULES = ("first", "last", "last_marked", "linear", "position", "decay", "custom", "fair_share", "removal")
PARTS = 8


def removal(states: int = 300, steps: int = 4_000_000) -> dict[str, Took]:
    """All effects from paths, and what they cannot be had without: counting the moves, and one inversion."""
    chance = np.random.default_rng(1)
    lengths = chance.integers(1, 8, steps // 4)
    offsets = np.concatenate([[0], np.cumsum(lengths)])
    state = (states * chance.random(offsets[-1]) ** 2).astype(np.int64)
    converts = chance.random(len(lengths)) < 0.04
    none = np.zeros(len(lengths), np.int64)
    paths = Trails(np.arange(len(lengths)), offsets, np.arange(offsets[-1]))
    kinds = [(paths.only(some), none[some], end) for some, end in ((converts, CONVERTED), (~converts, LOST))]
    came = np.concatenate([[states], state[:-1]])
    came[offsets[:-1]] = states

    def ours() -> object:
        return effects(merged([moves_of(trails, state, goal, end) for trails, goal, end in kinds]), 0)

    def least() -> object:
        counts = np.bincount(came * (states + 1) + state, minlength=(states + 1) ** 2).reshape(states + 1, -1)
        share = counts / counts.sum(axis=1, keepdims=True)
        return np.linalg.inv(np.eye(states + 1) - 0.9 * share)

    return interleaved({"ours": ours, "least": least})


def from_files(visits: int = 1_000_000) -> dict[str, Took]:
    """A question asked once from files, its intervals, and weighing it in one part and in eight."""
    with tempfile.TemporaryDirectory(prefix="yardstick-bench-") as name:
        folder = Path(name)
        one_off.write(folder, visits, campaigns=320)
        plan = plan_of(click_marks=("ckid",), yardsticks=tuple(Yardstick(rule, rule) for rule in RULES))
        cpu, wall = time.process_time(), time.perf_counter()
        given = []
        for file in ("conversions.csv", "spend.csv", "visits.csv"):
            with (folder / file).open("rb") as stream:
                given.append(read_file(CsvFile(file, stream), "UTC"))
        tables = tables_of(given).tables
        result = weigh(tables, plan)
        once = Took(time.process_time() - cpu, time.perf_counter() - wall)
    glossary, question = learn(tables, plan), PartQuestion(BY_CAMPAIGN)
    people = 1 + int(max(glossary.prepared.touches.person.max(), glossary.prepared.conversions.person.max()))
    # Neighbours, as where each part holds its own rows; and people at random, whose rows lie among everyone's.
    neighbours, scattered = np.arange(people) * PARTS // people, np.random.default_rng(1).integers(0, PARTS, people)

    def in_one() -> object:
        part = weigh_part(glossary, plan, question)
        return report(complete(part.ledger, glossary, plan, question), glossary, plan, question, part).rows()

    def in_eight(whose: np.ndarray) -> object:
        parts = [weigh_part(glossary, plan, question, whose == i) for i in range(PARTS)]
        ledger = merge([part.ledger for part in parts])
        return report(complete(ledger, glossary, plan, question), glossary, plan, question, parts[0]).rows()

    parts = [weigh_part(glossary, plan, question, scattered == i).ledger for i in range(PARTS)]
    assert same_bytes(merge(parts), weigh_part(glossary, plan, question).ledger)
    assert len({place for _, place in intervals_and_redraws(result)[0]}) >= 300
    found = interleaved(
        {
            "intervals": lambda: intervals_and_redraws(result),
            "in one": in_one,
            "in eight": lambda: in_eight(neighbours),
            "scattered": lambda: in_eight(scattered),
        }
    )
    return found | {"once": once}


def words() -> str:
    """The figures in words."""
    chain, found = removal(), from_files()
    return "\n".join(
        [
            f"removal, 300 states from 4 million steps: {chain['ours'].cpu / chain['least'].cpu:.2f} x counting them and one "
            "inversion (goal 2)",
            f"intervals, 300 campaigns, 9 yardsticks: {found['intervals'].cpu:.2f} s = "
            f"{found['intervals'].cpu / found['once'].cpu:.2f} x the question asked once from files (goal 1)",
            f"eight parts of the people merged: {found['in eight'].cpu / found['in one'].cpu:.2f} x the CPU of one (goal 1.3), "
            f"{found['scattered'].cpu / found['in one'].cpu:.2f} x where their rows lie among everyone's",
        ]
    )


if __name__ == "__main__":
    print(words())
