"""Meters as their data sheets describe them: ranges, limits of error, what they put in the circuit.

The models that ship are typical ones (common practice), of no maker.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, Literal

from lowfold.core.errors import DomainError

__all__ = ["HANDHELD", "MODELS", "Measured", "MeterModel", "Range", "model_named"]

Measured = Literal["volts", "amps", "ohms"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Range:
    """One range of a meter, in the unit that it measures."""

    full: float
    accuracy: float = 0.0  #: fraction of the reading
    counts: float = 0.0  #: of the last digit
    resolution: float = 0.0  #: of the last digit
    burden_ohms: float = 0.0  #: an ammeter's, in series
    jack: str = ""
    fuse_amps: float | None = None

    def __post_init__(self) -> None:
        for name in ("accuracy", "counts", "resolution", "burden_ohms"):
            value = getattr(self, name)
            if not 0 <= value < math.inf:
                msg = f"{name.removesuffix('_ohms')} is 0 or more, got {value:g}"
                raise DomainError(msg, field="meter")
        if not 0 < self.full < math.inf:
            msg = f"a range ends above 0, got {self.full:g}"
            raise DomainError(msg, field="meter")

    def limit(self, reading: float, *, of_full: bool = False) -> float:
        """Return the limit of error at a reading, ± in its unit."""
        share = self.full if of_full else abs(reading)
        return self.accuracy * share + self.counts * self.resolution


@dataclass(frozen=True, slots=True, kw_only=True)
class MeterModel:
    """A meter: what it puts between or into the leads, and its ranges, rising."""

    name: str
    input_ohms: float | None = None  #: of its voltage input; None where none is stated
    ohms_per_volt: float | None = None  #: of a needle meter: times the range's full
    volts: tuple[Range, ...] = ()
    amps: tuple[Range, ...] = ()
    ohms: tuple[Range, ...] = ()
    lead_ohms: float = 0.0  #: in series in a resistance reading
    of_full: bool = False  #: accuracy counts of full scale

    def range_for(self, what: Measured, reading: float) -> Range | None:
        """Return the smallest range that a reading does not exceed, else the largest."""
        every: tuple[Range, ...] = getattr(self, what)
        ranges = sorted(every, key=lambda r: r.full)
        if not ranges:
            return None
        return next((r for r in ranges if r.full >= abs(reading)), ranges[-1])

    def input_on(self, chosen: Range | None) -> float | None:
        """Return what its voltage input is on a range, Ω; None where it is none at all."""
        if self.ohms_per_volt is None:
            return self.input_ohms
        return self.ohms_per_volt * chosen.full if chosen else None

    def ohms_between(self, reading: float) -> tuple[float, float]:
        """Return between what a part lies that reads so many Ω: leads, limit of error counted."""
        chosen = self.range_for("ohms", reading)
        limit = chosen.limit(reading, of_full=self.of_full) if chosen else 0.0
        part = reading - self.lead_ohms
        return max(0.0, part - limit), max(0.0, part + limit)


def _decades(
    fulls: tuple[float, ...],
    counts: int,
    accuracy: float,
    digits: float,
    *,
    jack: str = "",
    fuse: float | None = None,
    burden: tuple[float, ...] = (),
) -> tuple[Range, ...]:
    """Return ranges of a display of so many counts, alike but for where they end."""
    burdens = burden or (0.0,) * len(fulls)
    return tuple(
        Range(
            full=full, accuracy=accuracy, counts=digits, resolution=float(f"{full / counts:.6g}"),
            burden_ohms=ohms, jack=jack, fuse_amps=fuse,
        )
        for full, ohms in zip(fulls, burdens, strict=True)
    )  # fmt: skip


_BOTH: Final = "V Ω"
HANDHELD: Final = MeterModel(
    name="handheld, 6000 counts",
    input_ohms=10e6,
    volts=(
        *_decades((0.6, 6.0, 60.0, 600.0), 6000, 0.005, 2, jack=_BOTH),
        Range(full=1000.0, accuracy=0.008, counts=3, resolution=1.0, jack=_BOTH),
    ),
    amps=(
        *_decades(
            (0.06, 0.6), 6000, 0.01, 3, jack="mA", fuse=0.63, burden=(2.0, 1.2)
        ),
        *_decades((6.0,), 6000, 0.012, 5, jack="10 A", fuse=10.0, burden=(0.03,)),
        Range(
            full=10.0, accuracy=0.012, counts=5, resolution=0.01, burden_ohms=0.03, jack="10 A",
            fuse_amps=10.0,
        ),
    ),
    ohms=_decades((600.0, 6e3, 60e3, 600e3, 6e6, 60e6), 6000, 0.009, 3, jack=_BOTH),
    lead_ohms=0.2,
)  # fmt: skip
POCKET: Final = MeterModel(
    name="pocket, 2000 counts",
    input_ohms=1e6,
    volts=_decades((0.2, 2.0, 20.0, 200.0), 2000, 0.01, 3, jack="V Ω mA"),
    amps=(
        *_decades(
            (0.002, 0.02, 0.2), 2000, 0.015, 3, jack="V Ω mA", fuse=0.2, burden=(100.0, 10.0, 2.0),
        ),
        *_decades((10.0,), 1000, 0.03, 5, jack="10 A", burden=(0.02,)),
    ),
    ohms=_decades((200.0, 2e3, 20e3, 200e3, 2e6), 2000, 0.012, 4, jack="V Ω mA"),
    lead_ohms=0.3,
)  # fmt: skip
NEEDLE: Final = MeterModel(
    name="needle, 20 kΩ/V",
    ohms_per_volt=20e3,
    volts=_decades((0.5, 2.5, 10.0, 50.0, 250.0, 1000.0), 50, 0.03, 0, jack="+"),
    amps=_decades(
        (50e-6, 2.5e-3, 25e-3, 0.25), 50, 0.03, 0, jack="+", burden=(2e3, 100.0, 10.0, 1.0),
    ),
    ohms=_decades((2e3, 20e3, 2e6), 50, 0.05, 0, jack="+"),
    lead_ohms=0.2,
    of_full=True,
)  # fmt: skip
BENCH: Final = MeterModel(
    name="bench, 6½ digits",
    input_ohms=10e6,
    volts=_decades((0.1, 1.0, 10.0, 100.0, 1000.0), 1_000_000, 35e-6, 5, jack="V Ω"),
    amps=(
        *_decades(
            (0.01, 0.1, 1.0), 1_000_000, 5e-4, 50, jack="3 A", fuse=3.0, burden=(5.0, 5.0, 0.1),
        ),
        *_decades((3.0,), 1_000_000, 1e-3, 100, jack="3 A", fuse=3.0, burden=(0.1,)),
    ),
    ohms=_decades((100.0, 1e3, 10e3, 100e3, 1e6, 10e6, 100e6), 1_000_000, 1e-4, 10, jack="V Ω"),
    lead_ohms=0.1,
)  # fmt: skip
IDEAL: Final = MeterModel(name="ideal")

MODELS: Final = (HANDHELD, POCKET, NEEDLE, BENCH, IDEAL)


def model_named(name: str, own: Sequence[MeterModel] = ()) -> MeterModel:
    """Return a meter by its name, or by what stands before a comma in it.

    Parameters
    ----------
    name : str
        As typed: `handheld`, or the name in full.
    own : sequence of MeterModel
        The user's own; one of them stands in place of one that ships.

    Raises
    ------
    DomainError
        Naming those there are.
    """
    wanted = " ".join(name.split()).casefold()
    every = (*own, *MODELS)
    for model in every:
        if wanted == model.name.casefold():
            return model
    for model in every:
        if wanted == model.name.split(",")[0].casefold():
            return model
    there = "; ".join(dict.fromkeys(model.name for model in every))
    msg = f"there is no meter “{name}”; there are: {there}"
    raise DomainError(msg, field="meter")
