"""Views on the wire: what they say of themselves, what they hold, and that they come back."""

import json
import math
import subprocess
import sys
from dataclasses import FrozenInstanceError, field, fields, is_dataclass
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

import lowfold.views
from lowfold.api.app import DOCUMENT
from lowfold.api.wire import as_json, read_json, to_json
from lowfold.core.bench.models import HANDHELD
from lowfold.views.figures import Figure
from lowfold.views.round import Read, RoundAnswer, buildable, round_answer
from lowfold.views.view import under, view

SCHEMAS: dict[str, Any] = json.loads(DOCUMENT.read_bytes())["components"]["schemas"]


@view
class Inner:
    least: float | None  #: The least of them
    many: list[float] = field(default_factory=list)


@view
class Sample:
    #: Where it begins,
    #: in characters
    start: int = under("from")
    inner: Inner
    by_name: dict[str, float]


@given(st.lists(st.floats(allow_nan=False, allow_infinity=False)), st.sampled_from([0.0, -0.0]))
def test_a_number_is_what_it_was_and_a_zero_has_no_sign(many: list[float], zero: float) -> None:
    sent = to_json(Sample(start=3, inner=Inner(least=zero, many=many), by_name={"a": zero}))
    found = json.loads(sent)
    assert found == {"from": 3, "inner": {"least": 0.0, "many": many}, "by_name": {"a": 0.0}}
    zeros = [found["inner"]["least"], found["by_name"]["a"], *found["inner"]["many"]]
    assert all(math.copysign(1, z) == 1 for z in zeros if z == 0)


@pytest.mark.parametrize("value", [math.inf, -math.inf, math.nan])
def test_what_json_has_no_word_for_is_a_mistake_of_ours(value: float) -> None:
    with pytest.raises(ValueError, match="which JSON has no word for"):
        to_json(Inner(least=None, many=[1.0, value]))


def test_a_view_is_frozen_and_given_by_name() -> None:
    found = Figure(text="3.3", unit="V")
    with pytest.raises(FrozenInstanceError):
        found.text = "5"  # type: ignore[misc]
    with pytest.raises(TypeError):
        Figure("3.3", "V")  # type: ignore[call-arg]


def test_what_is_kept_of_a_view_comes_back_as_it_was() -> None:
    design = buildable("network", {"network": "R1=10k + @A + 4k7", "supply_v": "9 V"}, None, ())
    read = Read({"kind": "voltage", "at": "A", "against": "0"}, "2.88")
    found = round_answer(design, HANDHELD, [read], ())
    again = read_json(RoundAnswer, as_json(found))
    assert to_json(again) == to_json(found)
    assert [step.told for step in again.steps if step.reading] == ["as expected"]


def test_the_document_says_of_each_field_what_its_source_does() -> None:
    # Words beside the field, words above it, words of a record of the core, and another name
    assert SCHEMAS["StepAnswer"]["properties"]["low"]["description"].startswith("The limits, as")
    assert SCHEMAS["SolveAnswer"]["properties"]["folds"]["description"].endswith("total_ohm")
    assert "inside" not in SCHEMAS["ScatterAnswer"]["properties"]
    assert SCHEMAS["ScatterAnswer"]["properties"]["yield"]["description"].startswith("Share inside")
    assert SCHEMAS["Drawing"]["properties"]["lines"]["description"].startswith("of writing")


VIEWS = sorted(
    {name for p in Path(lowfold.views.__file__).parent.glob("*.py")
     for name in __import__(f"lowfold.views.{p.stem}", fromlist=["x"]).__dict__}
    & set(SCHEMAS)
)  # fmt: skip


@pytest.mark.parametrize("name", VIEWS)
def test_every_field_of_a_view_is_always_sent(name: str) -> None:
    assert set(SCHEMAS[name].get("required", [])) == set(SCHEMAS[name].get("properties", {}))


def test_views_hold_nothing_but_plain_records() -> None:
    for path in Path(lowfold.views.__file__).parent.glob("*.py"):
        module = __import__(f"lowfold.views.{path.stem}", fromlist=["x"])
        for kind in vars(module).values():
            if is_dataclass(kind) and isinstance(kind, type) and kind.__module__ == module.__name__:
                assert all(f.name.isidentifier() for f in fields(kind))
                assert "__dict__" not in dir(kind), f"{kind.__name__} has no slots"


def test_the_servers_own_process_loads_nothing_that_computes() -> None:
    heavy = "numpy scipy lark highspy PIL fpdf lowfold.core.search lowfold.core.tolerance"
    asked = (
        f"import lowfold.api.app, sys; print([m for m in '{heavy}'.split() if m in sys.modules])"
    )
    ran = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True)
    assert ran.stdout.strip() == "[]"
