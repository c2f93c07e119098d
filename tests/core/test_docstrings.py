"""What is public says what it takes, in which unit, and what it refuses."""

import ast
import re
from pathlib import Path

import pytest

import lowfold.core

CORE = Path(lowfold.core.__file__).parent
SECTION = r"^{}\n-+\n(.*?)(?=^\w[\w ]*\n-+\n|\Z)"


def public_functions() -> list[tuple[str, ast.FunctionDef]]:
    found = []
    for path in sorted(CORE.rglob("*.py")):
        tree = ast.parse(path.read_text())
        names: set[str] = set()
        for node in tree.body:
            if isinstance(node, ast.Assign) and ast.unparse(node.targets[0]) == "__all__":
                names = set(ast.literal_eval(node.value))
        room = path.relative_to(CORE).with_suffix("")
        found += [
            (f"{room}.{node.name}", node)
            for node in tree.body
            if isinstance(node, ast.FunctionDef) and node.name in names
        ]
    return found


FUNCTIONS = public_functions()
#: Types that say nothing of unit, shape or meaning.
MUTE = {"Any", "BoolArray", "Callable", "FloatArray", "IntArray"}


def says_itself(annotation: str) -> bool:
    """Tell whether a type of our own says all there is to say: a circuit, a box, a need."""
    names = annotation.removesuffix(" | None").split(" | ")
    return all(re.fullmatch(r"[A-Z]\w+", name) and name not in MUTE for name in names)


def section(name: str, text: str) -> str | None:
    found = re.search(SECTION.format(name), text, flags=re.DOTALL | re.MULTILINE)
    return found.group(1) if found else None


@pytest.mark.parametrize(("name", "function"), FUNCTIONS, ids=[n for n, _ in FUNCTIONS])
def test_parameters_and_refusals_are_told(name: str, function: ast.FunctionDef) -> None:
    text = ast.get_docstring(function)
    assert text, f"{name} has no docstring"
    wanted = [
        a.arg
        for a in (*function.args.args, *function.args.kwonlyargs)
        if not says_itself(ast.unparse(a.annotation or ast.Constant(None)))
    ]
    if wanted:
        told = section("Parameters", text) or ""
        heads = [line for line in told.split("\n") if line and not line.startswith(" ")]
        named = {one.strip() for line in heads for one in line.split(" : ")[0].split(",")}
        assert set(wanted) <= named, f"{name}: {sorted(set(wanted) - named)} are not told of"
        assert "?" not in re.sub(r"“\?”|the \?", "", told)
    own = {id(inner) for inner in ast.walk(function)} - {
        id(inner)
        for nested in ast.walk(function)
        if isinstance(nested, ast.FunctionDef) and nested is not function
        for inner in ast.walk(nested)
    }
    raises = any(isinstance(n, ast.Raise) and id(n) in own for n in ast.walk(function))
    if raises and name != "tolerance/spread.unconnected":
        assert section("Raises", text), f"{name} refuses and does not say what"


@pytest.mark.parametrize(("name", "function"), FUNCTIONS, ids=[n for n, _ in FUNCTIONS])
def test_what_comes_back_is_told(name: str, function: ast.FunctionDef) -> None:
    text = ast.get_docstring(function) or ""
    first = text.split("\n")[0].split()[0]
    if ast.unparse(function.returns or ast.Constant(None)) == "None":
        return
    says = {"Return", "Yield", "Find", "Read", "Write", "Say", "Make", "Tell", "Judge"}
    known = says | {
        "Draw",
        "Estimate",
        "Solve",
        "Search",
        "Weigh",
        "Bound",
        "Fold",
        "Choose",
        "Lay",
    }
    assert first in known or section("Returns", text), f"{name}: what does it return?"
