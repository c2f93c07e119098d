"""Rooms stand on one another: what each may use of the others, and nothing else."""

import ast
from pathlib import Path

import pytest

import lowfold

ROOT = Path(lowfold.__file__).parent
#: What each room may use beside itself.
MAY: dict[str, set[str]] = {
    "core": set(),
    "formats": {"core", "views"},
    "sim": {"core"},
    "instruments": set(),
    "store": {"core"},
    "work": {"core"},
    "views": {"core"},
    "api": {"core", "views", "formats", "store", "work", "instruments", "settings"},
    "demo": {"core", "views", "sim", "store", "formats", "api"},
    "settings": set(),
    "commands": {"core", "views", "formats", "store", "api", "settings"},
    "cli": {"core", "sim", "store", "work", "api", "demo", "settings", "commands"},
    "__main__": {"cli"},
    "__init__": set(),
}


def used_by(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
    return {name.split(".")[1] for name in found if name.startswith("lowfold.")}


def room_of(path: Path) -> str:
    return path.relative_to(ROOT).parts[0].removesuffix(".py")


@pytest.mark.parametrize("room", sorted({room_of(p) for p in ROOT.rglob("*.py")}))
def test_a_room_uses_what_it_stands_on(room: str) -> None:
    for path in (p for p in ROOT.rglob("*.py") if room_of(p) == room):
        assert used_by(path) - {room} <= MAY[room], path
