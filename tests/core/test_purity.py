"""The core holds values and rules only, in rooms that stand on one another: arrows run one way."""

import ast
from graphlib import TopologicalSorter
from pathlib import Path

import pytest

import lowfold.core

CORE = Path(lowfold.core.__file__).parent
MODULES = sorted(CORE.rglob("*.py"))
ALLOWED = {
    "__future__",
    "abc",
    "ast",
    "collections",
    "concurrent",  # threads for columns of samples
    "dataclasses",
    "decimal",
    "difflib",  # what a name that is none may have been
    "enum",
    "fractions",
    "functools",
    "itertools",
    "cachetools",
    "lark",
    "math",
    "numpy",
    "highspy",
    "scipy",
    "re",
    "statistics",
    "threading",  # a lock round a cache
    "typing",
    "zlib",  # a checksum, for a seed
}
#: From the ground up: a room may use those before it.
ROOMS = [
    "errors", "values", "network", "parts", "solving", "tolerance", "checking", "folding",
    "drawing", "search", "tokens", "weighing", "needs", "one_line", "marks", "bench", "sheet",
    "advice", "board", "record", "practice",
]  # fmt: skip


def imports_of(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
    return found


def room_of(name: str) -> str:
    return name.removeprefix("lowfold.core.").split(".")[0]


@pytest.mark.parametrize("path", MODULES, ids=lambda p: p.stem)
def test_core_imports_no_framework_no_database_and_no_io(path: Path) -> None:
    outside = {name for name in imports_of(path) if name.split(".")[0] not in ALLOWED}
    assert {name for name in outside if not name.startswith("lowfold.core")} == set()


@pytest.mark.parametrize("path", MODULES, ids=lambda p: p.stem)
def test_a_room_uses_only_itself_and_those_below(path: Path) -> None:
    inner = path.relative_to(CORE).parts
    if inner == ("__init__.py",):
        assert imports_of(path) == set()
        return
    room = inner[0].removesuffix(".py")
    below = ROOMS[: ROOMS.index(room) + 1]
    used = {room_of(name) for name in imports_of(path) if name.startswith("lowfold.core.")}
    assert used - set(below) == set()


def test_no_modules_import_each_other_in_a_circle() -> None:
    uses = {
        ".".join(path.relative_to(CORE.parent.parent).with_suffix("").parts): {
            name for name in imports_of(path) if name.startswith("lowfold.core.")
        }
        for path in MODULES
    }
    assert len(list(TopologicalSorter(uses).static_order())) == len(uses)
