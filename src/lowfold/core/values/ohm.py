"""Any two of voltage, current, resistance and power give the other two (Ohm; P = V·I)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from lowfold.core.errors import DomainError

__all__ = ["Quadruple", "any_two"]


@dataclass(frozen=True, slots=True)
class Quadruple:
    volts: float
    amps: float
    ohms: float
    watts: float
    rules: tuple[str, str]  #: the relations that gave the two that were not given


def any_two(
    *,
    volts: float | None = None,
    amps: float | None = None,
    ohms: float | None = None,
    watts: float | None = None,
) -> Quadruple:
    """Return all four from exactly two of them, each above 0.

    Parameters
    ----------
    volts : float | None
        V, above 0.
    amps : float | None
        A, above 0.
    ohms : float | None
        Ω, above 0.
    watts : float | None
        W, above 0.

    Raises
    ------
    DomainError
        If not exactly two are given, or one is not above 0.
    """
    given = {"volts": volts, "amps": amps, "ohms": ohms, "watts": watts}
    two = {name: value for name, value in given.items() if value is not None}
    if len(two) != 2:
        msg = f"two of V, I, R and P give the others; {len(two)} are given"
        raise DomainError(msg, field="body")
    for name, value in two.items():
        if not 0 < value < math.inf:
            msg = f"{name} must be above 0, got {value:g}"
            raise DomainError(msg, field=name)
    match two:
        case {"volts": v, "amps": i}:
            return Quadruple(v, i, v / i, v * i, ("R = V / I", "P = V · I"))
        case {"volts": v, "ohms": r}:
            return Quadruple(v, v / r, r, v * v / r, ("I = V / R", "P = V² / R"))
        case {"volts": v, "watts": p}:
            return Quadruple(v, p / v, v * v / p, p, ("I = P / V", "R = V² / P"))
        case {"amps": i, "ohms": r}:
            return Quadruple(i * r, i, r, i * i * r, ("V = I · R", "P = I² · R"))
        case {"amps": i, "watts": p}:
            return Quadruple(p / i, i, p / (i * i), p, ("V = P / I", "R = P / I²"))
    r, p = two["ohms"], two["watts"]
    return Quadruple(math.sqrt(p * r), math.sqrt(p / r), r, p, ("V = √(P · R)", "I = √(P / R)"))
