"""Meters as data: ranges, limits of error, and the models that ship (typical, common practice)."""

import math
from typing import Any

import pytest

from lowfold.core.bench.models import (
    HANDHELD,
    IDEAL,
    MODELS,
    NEEDLE,
    MeterModel,
    Range,
    model_named,
)
from lowfold.core.errors import DomainError


def test_the_limit_of_error() -> None:
    # By hand: ± (0.5 % of 2.4 V + 2 of the last millivolt); of full scale for a needle
    assert Range(full=6.0, accuracy=0.005, counts=2, resolution=0.001).limit(-2.4) == pytest.approx(0.014)  # fmt: skip
    assert NEEDLE.volts[2].limit(1.0, of_full=True) == pytest.approx(0.3)


def test_the_smallest_range_that_holds_a_reading() -> None:
    fulls = [HANDHELD.range_for("volts", v).full for v in (0.0, 0.6, -0.61, 700.0, 5000.0)]  # type: ignore[union-attr]
    assert fulls == [0.6, 0.6, 6.0, 1000.0, 1000.0]
    assert IDEAL.range_for("volts", 1.0) is None


def test_a_part_as_measured() -> None:
    # By hand: 0.9 % of 1200 Ω and 3 Ω on 6 kΩ; 0.2 Ω of leads
    assert HANDHELD.ohms_between(1200.0) == pytest.approx((1199.8 - 13.8, 1199.8 + 13.8))
    assert HANDHELD.ohms_between(0.1)[0] == 0.0
    assert IDEAL.ohms_between(1200.0) == (1200.0, 1200.0)


def test_models_are_whole_and_found_by_name() -> None:
    for model in MODELS:
        assert model_named(model.name.upper()) is model
        assert model_named(model.name.split(",")[0]) is model
        for what in ("volts", "amps", "ohms"):
            fulls = [r.full for r in getattr(model, what)]
            assert fulls == sorted(set(fulls))
            assert all(r.resolution > 0 for r in getattr(model, what))
        assert all(r.burden_ohms > 0 and r.jack for r in model.amps)
    with pytest.raises(DomainError, match="there is no meter “none”; there are: handheld"):
        model_named("none")


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"full": 0.0}, "ends above 0"),
        ({"full": math.inf}, "ends above 0"),
        ({"full": 1.0, "accuracy": -0.1}, "accuracy is 0 or more"),
        ({"full": 1.0, "burden_ohms": math.nan}, "burden is 0 or more"),
    ],
)
def test_a_range_that_is_none(change: dict[str, Any], words: str) -> None:
    with pytest.raises(DomainError, match=words):
        MeterModel(name="odd", volts=(Range(**change),))
