"""Part families: what parts of one make are sold under, as data that the user may change.

The typical table is common practice; the part's own data sheet rules.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Final

from lowfold.core.errors import DomainError
from lowfold.core.parts.limits import PartLimits
from lowfold.core.parts.ratings import FULL_POWER_C, ZERO_POWER_C
from lowfold.core.values.quantities import WATT, read, write

__all__ = [
    "LONGEST_NAME",
    "TYPICAL",
    "Family",
    "families_with_typical",
    "family_named",
    "read_family",
]

LONGEST_NAME: Final = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Family:
    """Parts of one make and size."""

    name: str
    tolerance: float = 0.01  #: fraction
    tcr_ppm: float = 100.0  #: ppm/K
    drift: float = 0.01  #: over its life under load, fraction
    rated_watts: float  #: continuous, up to `full_power_c`
    limiting_volts: float | None = None  #: None where only √(P·R) limits
    full_power_c: float = FULL_POWER_C
    zero_power_c: float = ZERO_POWER_C

    def __post_init__(self) -> None:
        """Refuse what no part can be.

        Raises
        ------
        DomainError
            Naming the field, by the name it has on the wire.
        """
        name = self.name.strip()
        plain = name.isprintable() and not any(c in name for c in ";,")
        if not 1 <= len(name) <= LONGEST_NAME or not plain or name[0] in "=+-@":
            msg = (
                f"a family's name has 1 to {LONGEST_NAME} characters, starts with a letter or a "
                "digit, and has no ; or , in it"
            )
            raise DomainError(msg, field="name")
        if not 0 < self.rated_watts <= 1000:
            msg = f"a part's power is above 0 W and at most 1 kW, got {self.rated_watts:g} W"
            raise DomainError(msg, field="rating_w")
        if self.limiting_volts is not None and not 0 < self.limiting_volts < math.inf:
            msg = f"a limiting voltage is above 0 V, got {self.limiting_volts:g} V"
            raise DomainError(msg, field="limiting_v")
        if not self.full_power_c < self.zero_power_c:
            msg = (
                f"full power ends at {self.full_power_c:g} °C, which must lie below the "
                f"{self.zero_power_c:g} °C where nothing is left"
            )
            raise DomainError(msg, field="full_power_c")
        for field in ("tolerance", "drift"):
            if not 0 <= getattr(self, field) <= 0.5:
                msg = f"{field} is a fraction from 0 to 50 %, got {getattr(self, field):g}"
                raise DomainError(msg, field=field)

    @property
    def limits(self) -> PartLimits:
        """Return what a part of this family is sold under, as a check takes it."""
        return PartLimits(
            tolerance=self.tolerance,
            tcr_ppm=self.tcr_ppm,
            drift=self.drift,
            rated_watts=self.rated_watts,
            limiting_volts=self.limiting_volts,
            full_power_c=self.full_power_c,
            zero_power_c=self.zero_power_c,
        )

    @property
    def critical_ohms(self) -> float | None:
        """Return the resistance above which voltage limits, not power: V²/P, Ω."""
        if self.limiting_volts is None:
            return None
        return self.limiting_volts**2 / self.rated_watts


def _chip(size: str, watts: float, volts: float) -> Family:
    return Family(name=size, rated_watts=watts, limiting_volts=volts)


def _film(name: str, watts: float, volts: float) -> Family:
    return Family(name=f"{name} film", tcr_ppm=50.0, rated_watts=watts, limiting_volts=volts)


#: Ratings as in the usual tables; thick-film chips ±100 ppm/K, leaded metal film ±50 ppm/K, ±1 %
#: drift over life (common practice).
TYPICAL: Final = (
    _chip("0402", 1 / 16, 50.0),
    _chip("0603", 1 / 10, 75.0),
    _chip("0805", 1 / 8, 150.0),
    _chip("1206", 1 / 4, 200.0),
    _chip("2010", 3 / 4, 200.0),
    _chip("2512", 1.0, 200.0),
    _film("1/8 W", 1 / 8, 200.0),
    _film("1/4 W", 1 / 4, 250.0),
    _film("1/2 W", 1 / 2, 350.0),
    _film("1 W", 1.0, 500.0),
    _film("2 W", 2.0, 500.0),
    Family(name="5 W wirewound", rated_watts=5.0),
)


def families_with_typical(own: Iterable[Family]) -> tuple[Family, ...]:
    """Return the user's own families, then the typical ones that no own one replaces by name.

    Parameters
    ----------
    own : Iterable[Family]
        The user's own families.
    """
    mine = tuple(own)
    taken = {f.name.casefold() for f in mine}
    return mine + tuple(f for f in TYPICAL if f.name.casefold() not in taken)


def family_named(text: str, own: Iterable[Family] = ()) -> Family | None:
    """Return the family of this name, in any case; None where there is none.

    Parameters
    ----------
    text : str
        A name or a size, as typed.
    own : Iterable[Family]
        The user's own families.
    """
    wanted = " ".join(text.split()).casefold()
    known = families_with_typical(own)
    return next((f for f in known if f.name.casefold() == wanted), None)


def read_family(text: str, own: Iterable[Family] = ()) -> Family:
    """Read a family's name, a chip size (`0603`) or a leaded part's power (`1/4 W`, `250 mW`).

    A size may lack its leading zero (`603`). A power that is a leaded family's brings that family;
    any other power has a bare rating, with no limiting voltage stated. A number alone is neither.

    Parameters
    ----------
    text : str
        As typed.
    own : Iterable[Family]
        The user's own families.

    Raises
    ------
    DomainError
        Naming the families that are known.
    """
    mine = tuple(own)
    named = family_named(text, mine)
    if named is not None:
        return named
    word = text.strip()
    known = families_with_typical(mine)
    names = ", ".join(f.name for f in known)
    if word.isdigit() and len(word) >= 3:
        size = family_named(f"0{word}", mine)
        if size is not None:
            return size
        msg = f"“{word}” is not among the families: {names}"
        raise DomainError(msg, field="rating")
    if re.fullmatch(r"[0-9]*[.,]?[0-9]+", word):
        msg = f"“{word}” has no unit: write {word} W for a power, or a family: {names}"
        raise DomainError(msg, field="rating")
    try:
        watts = read(word, WATT)
    except DomainError as error:
        msg = f"{error.message}; the families are {names}"
        raise DomainError(msg, field="rating") from error
    if not 0 < watts <= 1000:
        msg = f"“{word}” is no power rating: write a size such as 0603 or a power such as 1/4 W"
        raise DomainError(msg, field="rating")
    leaded = (f for f in known if not f.name[:4].isdigit())
    for family in leaded:
        if math.isclose(family.rated_watts, watts, rel_tol=1e-9):
            return family
    bare = Family(name=write(watts, WATT, 4, trim=True), rated_watts=watts)
    return replace(bare, drift=0.0)
