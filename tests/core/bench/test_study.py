"""A small study of boards drawn at random; the large one is `python -m bench.diagnosis`."""

from bench.diagnosis import study


def test_what_the_readings_decide_is_right_and_the_advice_is_shorter() -> None:
    found = study(40, seed=7)
    decided, right = found["decided"]
    assert decided >= 8
    assert right >= 0.9
    sure = [v for said, v in found["calibration"].items() if said >= "0.90"]
    boards = sum(number for number, _ in sure)
    # Nine in ten, less three standard deviations of so few boards (binomial)
    assert sum(number * share for number, share in sure) / boards > 0.9 - 3 * (0.09 / boards) ** 0.5
    assert found["readings advised"] <= found["readings in order"]
