"""A fold in words and numbers, in the school the reader was taught in."""

from __future__ import annotations

from typing import Final, Literal

from lowfold.core.folding.fold import Fold
from lowfold.core.values.quantities import OHM, Kind, write

__all__ = ["SCHOOLS", "School", "rule_of", "same_of", "worked"]

School = Literal["reciprocals", "conductances", "product"]
SCHOOLS: Final[tuple[School, ...]] = ("reciprocals", "conductances", "product")

_SIEMENS: Final = Kind("a conductance", "S", ("s",), "1 mS")


def rule_of(step: Fold, school: School) -> str:
    """Return the rule a step follows, in symbols.

    Parameters
    ----------
    school : School
        How parallel parts are taught: reciprocals, conductances or product over sum.
    """
    if step.kind == "series":
        return "R = " + " + ".join(f"R{_sub(k)}" for k in range(1, len(step.members) + 1))
    if step.kind == "star-delta":
        return "Rab = Ra + Rb + Ra·Rb/Rc" if len(step.members) == 3 else "Rab = Ra·Rb·Σ1/R"
    if school == "product" and len(step.members) == 2:
        return "R = R₁·R₂ / (R₁ + R₂)"
    return "G = G₁ + G₂ + …, R = 1/G" if school == "conductances" else "1/R = 1/R₁ + 1/R₂ + …"


def _sub(number: int) -> str:
    return str(number).translate(str.maketrans("0123456789", "₀₁₂₃₄₅₆₇₈₉"))


def worked(step: Fold, school: School, digits: int = 4) -> str:
    """Return a step with its numbers: `1 kΩ + 2.2 kΩ = 3.2 kΩ`.

    Parameters
    ----------
    school : School
        How parallel parts are taught: reciprocals, conductances or product over sum.
    digits : int
        Figures that are written.
    """

    def ohms(value: float) -> str:
        return write(value, OHM, digits, trim=True)

    values = [e.ohms for e in step.members]
    if step.kind == "star-delta":
        return "; ".join(f"{e.ref} = {ohms(e.ohms)}" for e in step.results)
    total = ohms(step.results[0].ohms)
    if step.kind == "series":
        return f"{' + '.join(ohms(v) for v in values)} = {total}"
    beside = " ∥ ".join(ohms(v) for v in values)
    if school == "product" and len(values) == 2:
        one, two = (ohms(v) for v in values)
        return f"{beside} = {one} · {two} ÷ ({one} + {two}) = {total}"
    if school == "conductances":
        parts = " + ".join(write(1 / v, _SIEMENS, digits, trim=True) for v in values)
        whole = write(sum(1 / v for v in values), _SIEMENS, digits, trim=True)
        return f"{beside}: {parts} = {whole}, so {total}"
    return f"{beside} = 1 ÷ ({' + '.join(f'1/{ohms(v)}' for v in values)}) = {total}"


def same_of(step: Fold) -> str:
    """Say what the members of a step have in common, and why they may be combined."""
    refs = [e.ref for e in step.members]
    them = f"{', '.join(refs[:-1])} and {refs[-1]}"
    if step.kind == "series" and step.aside:
        draw = "draws its" if len(step.aside) == 1 else "draw their"
        return (
            f"With {' and '.join(step.aside)} set aside, which {draw} current between {them} and "
            "is no resistance, they add; under load their currents differ."
        )
    if step.kind == "series":
        return f"No third wire leaves between {them}: they share one current."
    if step.kind == "parallel":
        return f"{them} have both ends in common: they share one voltage."
    whole = "delta of its ends" if len(refs) == 3 else "mesh of all pairs of its ends"
    return f"Nothing is in series or in parallel: the star of {them} becomes the {whole}."
