"""Change rules of the trade one at a time and see whether a check fails: `make mutants`.

A seeded draw of the mutations that Cosmic Ray knows, each tried in a copy of the project with the
checks of its own module. The score is written to docs/mutants.md.
"""

from __future__ import annotations

import os
import random
import shutil
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue
from typing import Final

from cosmic_ray.commands.init import _all_work_items  # the library has no public name for it
from cosmic_ray.mutating import mutate_and_test
from cosmic_ray.work_item import MutationSpec, TestOutcome

ROOT: Final = Path(__file__).parents[1]
SEED: Final = 20
EACH: Final = int(os.environ.get("EACH", "10"))  #: mutations of a module
TIMEOUT_S: Final = 120.0
WORKERS: Final = 2
#: Rules, and the checks that are to notice a change in each.
RULES: Final[dict[str, tuple[str, ...]]] = {
    "values/preferred": ("values/test_preferred.py",),
    "values/ohm": ("values/test_ohm.py",),
    "parts/ratings": ("parts/test_ratings.py",),
    "parts/limits": ("parts/test_limits.py",),
    "parts/pool": ("parts/test_pool.py",),
    "solving/nets": ("solving/test_nodes.py", "tolerance/test_two_supplies.py"),
    "solving/nodes": ("solving/test_nodes.py",),
    "solving/solution": ("solving/test_nodes.py",),
    "tolerance/box": ("tolerance/test_box.py", "tolerance/test_tracking.py"),
    "tolerance/corner_grid": ("tolerance/test_corner_grid.py", "checking/test_survey.py"),
    "tolerance/power": ("tolerance/test_power.py",),
    "tolerance/spread": (
        "tolerance/test_spread.py", "tolerance/test_tracking.py", "tolerance/test_two_supplies.py",
    ),
    "tolerance/loadline": ("tolerance/test_loadline.py",),
    "checking/verdict": ("checking/test_verdict.py",),
    "checking/cautions": ("checking/test_cautions.py",),
    "checking/faults": ("checking/test_faults.py",),
    "checking/check": ("checking/test_check.py", "checking/test_cautions.py"),
    "checking/survey": ("checking/test_survey.py", "checking/test_check.py"),
    "weighing/gates": ("weighing/test_gates.py", "needs/test_ladder.py", "needs/test_network.py"),
    "search/pairing": ("search/test_pairing.py", "search/test_divider_search.py"),
    "search/ranking": ("search/test_ranking.py",),
    "tokens/windows": ("tokens/test_windows.py",),
}  # fmt: skip
#: Unions of types are no rules, nor are decorators, one object for an equal one, and what only
#: makes code run in a loop longer.
LEFT_OUT: Final = ("BitOr", "Decorator", "ExceptionReplacer", "ZeroIteration", "_Is")
#: What a record is, and that two lists are as long, is seen to by the type checker.
NO_RULES: Final = ("@dataclass(", "strict=True", "Literal[")


@dataclass(frozen=True)
class Tried:
    """One mutation and what came of it."""

    module: str
    line: int
    operator: str
    diff: str
    killed: bool


def drawn(module: str) -> list[MutationSpec]:
    """Return some mutations of a module, the same for the same seed."""
    path = Path("src/lowfold/core") / f"{module}.py"
    lines = path.read_text().splitlines()
    every = [
        item.mutations[0]
        for item in _all_work_items([path], {})
        if not any(name in item.mutations[0].operator_name for name in LEFT_OUT)
        and not any(words in lines[item.mutations[0].start_pos[0] - 1] for words in NO_RULES)
    ]
    every.sort(key=lambda m: (m.operator_name, m.occurrence))
    return random.Random(f"{SEED} {module}").sample(every, min(EACH, len(every)))


def try_one(copy: Path, module: str, mutation: MutationSpec) -> Tried:
    """Try one mutation in a copy of the project."""
    moved = MutationSpec(
        module_path=copy / mutation.module_path,
        operator_name=mutation.operator_name,
        operator_args={},
        occurrence=mutation.occurrence,
        start_pos=mutation.start_pos,
        end_pos=mutation.end_pos,
    )
    checks = " ".join(f"{copy}/tests/core/{name}" for name in RULES[module])
    command = (
        f"env PYTHONPATH={copy}/src PYTHONDONTWRITEBYTECODE=1 {sys.executable} -m pytest "
        f"-x -q -n0 -p no:cacheprovider --rootdir {copy} -c {copy}/pyproject.toml {checks}"
    )
    found = mutate_and_test([moved], command, TIMEOUT_S)
    killed = found.test_outcome is not TestOutcome.SURVIVED
    changed = [
        line
        for line in (found.diff or "").splitlines()
        if line[:1] in "+-" and line[:3] not in {"+++", "---"}
    ]
    name = mutation.operator_name.removeprefix("core/")
    return Tried(module, mutation.start_pos[0], name, "\n".join(changed), killed)


def copies(folder: Path) -> Iterator[Path]:
    """Make a copy of the project for every worker."""
    for k in range(WORKERS):
        copy = folder / str(k)
        for name in ("src", "tests", "scripts", "bench"):
            ignore = shutil.ignore_patterns("web", "__pycache__")
            shutil.copytree(ROOT / name, copy / name, ignore=ignore)
        for name in ("pyproject.toml", "README.md"):
            shutil.copy(ROOT / name, copy / name)
        yield copy


def report(tried: list[Tried]) -> str:
    """Write the score, module by module, with what no check noticed."""
    lines = [
        "# Mutants",
        "",
        (
            f"`make mutants` changes {len(tried)} places of the rules in `core/`, drawn with the "
            f"seed {SEED} from what Cosmic Ray"
        ),
        (
            "knows to change, and runs the checks of that module alone. A mutant is killed when "
            "one of them fails or does not end."
        ),
        "",
        "| module | tried | killed |",
        "|---|---:|---:|",
    ]
    for module in RULES:
        own = [t for t in tried if t.module == module]
        lines.append(f"| `{module}` | {len(own)} | {sum(t.killed for t in own)} |")
    killed = sum(t.killed for t in tried)
    lines += [f"| all | {len(tried)} | {killed} ({100 * killed / len(tried):.0f} %) |", ""]
    left = [t for t in tried if not t.killed]
    if left:
        lines += ["Not noticed by the module's own checks:", "", "```diff"]
        for t in left:
            lines += [f"# {t.module}:{t.line}", t.diff]
        lines += ["```", ""]
    return "\n".join(lines)


def main() -> None:
    """Try them all, two at a time, and write what came of it."""
    os.chdir(ROOT)
    jobs = [(module, mutation) for module in RULES for mutation in drawn(module)]
    with tempfile.TemporaryDirectory() as folder:
        free: SimpleQueue[Path] = SimpleQueue()
        for copy in copies(Path(folder)):
            free.put(copy)

        def work(job: tuple[str, MutationSpec]) -> Tried:
            copy = free.get()
            try:
                found = try_one(copy, *job)
            finally:
                free.put(copy)
            print("." if found.killed else f"\n{found.module}:{found.line} lives\n{found.diff}")
            return found

        with ThreadPoolExecutor(WORKERS) as pool:
            tried = list(pool.map(work, jobs))
    Path("docs/mutants.md").write_text(report(tried))
    print(f"{sum(t.killed for t in tried)} of {len(tried)} killed")


if __name__ == "__main__":
    main()
