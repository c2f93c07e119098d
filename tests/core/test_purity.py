"""The core holds values and rules only: arrows run one way."""

import ast
from pathlib import Path

import pytest

import lowfold.core

MODULES = sorted(Path(lowfold.core.__file__).parent.rglob("*.py"))
ALLOWED = {
    "__future__",
    "ast",
    "collections",
    "concurrent",  # threads for columns of samples
    "dataclasses",
    "decimal",
    "enum",
    "fractions",
    "functools",
    "itertools",
    "cachetools",
    "lark",
    "math",
    "numpy",
    "scipy",
    "re",
    "threading",  # a lock round a cache
    "typing",
}


@pytest.mark.parametrize("path", MODULES, ids=lambda p: p.stem)
def test_core_imports_no_framework_no_database_and_no_io(path: Path) -> None:
    imported = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            imported |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            imported.add(node.module)
    outside = {name for name in imported if name.split(".")[0] not in ALLOWED}
    assert {name for name in outside if not name.startswith("lowfold.core")} == set()
