"""A meter in the words of its data sheet: `6 V ± (0.5 % + 2), resolution 1 mV, jack V Ω`."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from typing import Final

from lowfold.core.bench.models import Measured, MeterModel, Range
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.values.names import plain_name
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, VOLT, Kind, read, write

__all__ = [
    "MEASURED",
    "MOST_RANGES",
    "meter_in_words",
    "range_in_words",
    "read_meter",
    "read_range",
]

MEASURED: Final[dict[Measured, Kind]] = {"volts": VOLT, "amps": AMPERE, "ohms": OHM}
MOST_RANGES: Final = 20  #: of one kind; no meter has more
DIGITS: Final = 9
NONE: Final = {"", "none", "-", "—"}

_LIMIT: Final = re.compile(
    r"(?P<full>[^±]+?)\s*(?:±\s*\(?\s*(?P<share>[0-9.,]+\s*(?:%|ppm)?)\s*(?:\+\s*(?P<counts>[0-9.,]+)"
    r"\s*(?:counts?|digits?|d)?)?\s*\)?)?"
)


def read_range(text: str, what: Measured) -> Range:
    """Read one range as a data sheet has it.

    Parameters
    ----------
    text : str
        Where it ends and its limit of error, ± (% of reading + counts), then any of `resolution`,
        `burden`, `jack`, `fuse`, each with its value, between commas.
    what : str
        `volts`, `amps` or `ohms`.

    Raises
    ------
    DomainError
        Saying what is not understood, and what would be right.
    """
    kind = MEASURED[what]
    first, *rest = (piece.strip() for piece in text.replace("+/-", "±").split(","))
    found = _LIMIT.fullmatch(first)
    if not found:
        example = {"volts": "6 V", "amps": "60 mA", "ohms": "6 kΩ"}[what]
        msg = f"“{first}” is no range: write where it ends, like {example} ± (0.5 % + 2)"
        raise DomainError(msg, field=what)
    full = read(found["full"], kind)
    said: dict[str, str] = {}
    for piece in rest:
        name, _, value = piece.partition(" ")
        if name.casefold() not in {"resolution", "burden", "jack", "fuse"} or not value.strip():
            msg = f"“{piece}” is not understood: resolution, burden, jack or fuse, and its value"
            raise DomainError(msg, field=what)
        said[name.casefold()] = value.strip()
    fuse = said.get("fuse")
    counts = float(found["counts"].replace(",", ".")) if found["counts"] else 0.0
    resolution = read(said["resolution"], kind) if "resolution" in said else 0.0
    if counts and not resolution:
        msg = f"{counts:g} counts of what? say the resolution too, like “resolution 1 mV”"
        raise DomainError(msg, field=what)
    return Range(
        full=full,
        accuracy=read(found["share"], FRACTION) if found["share"] else 0.0,
        counts=counts,
        resolution=resolution,
        burden_ohms=read(said["burden"], OHM) if "burden" in said else 0.0,
        jack=said.get("jack", "")[:20],
        fuse_amps=read(fuse, AMPERE) if fuse else None,
    )


def range_in_words(one: Range, what: Measured) -> str:
    """Write a range as `read_range` reads it back.

    Parameters
    ----------
    what : str
        `volts`, `amps` or `ohms`.
    """
    kind = MEASURED[what]

    def shown(value: float, of: Kind) -> str:
        return write(value, of, DIGITS, trim=True)

    words = f"{shown(one.full, kind)} ± ({shown(one.accuracy, FRACTION)} + {one.counts:g})"
    if one.resolution:
        words += f", resolution {shown(one.resolution, kind)}"
    if one.burden_ohms:
        words += f", burden {shown(one.burden_ohms, OHM)}"
    if one.jack:
        words += f", jack {one.jack}"
    if one.fuse_amps is not None:
        words += f", fuse {shown(one.fuse_amps, AMPERE)}"
    return words


def read_meter(name: str, words: Mapping[str, str], *, of_full: bool = False) -> MeterModel:
    """Read a meter.

    Parameters
    ----------
    name : str
    words : mapping
        `input` (`10 MΩ`, `20 kΩ/V` or none), `leads`; `volts`, `amps` and `ohms` with a range a
        line.
    of_full : bool
        Accuracy counts of full scale.

    Raises
    ------
    DomainError
        Naming the field, and the line of it.
    """
    name = plain_name(name, "a meter", field="name")
    put_in = words.get("input", "").strip()
    per_volt = re.fullmatch(r"(.+?)\s*/\s*V", put_in)
    try:
        ohms = None if put_in.casefold() in NONE else read(per_volt[1] if per_volt else put_in, OHM)
        if ohms is not None and not 0 < ohms < math.inf:
            msg = f"the input is above 0 Ω, got {put_in}"
            raise DomainError(msg)
    except LowfoldError as error:
        raise DomainError(error.message, field="input") from error
    leads = words.get("leads", "").strip()
    try:
        lead_ohms = 0.0 if leads.casefold() in NONE else read(leads, OHM)
        if not 0 <= lead_ohms < math.inf:
            msg = f"the leads have 0 Ω or more, got {leads}"
            raise DomainError(msg)
    except LowfoldError as error:
        raise DomainError(error.message, field="leads") from error
    ranges = {what: _ranges(words.get(what, ""), what) for what in MEASURED}
    if not any(ranges.values()):
        msg = "a meter has at least one range: write one a line, like 6 V ± (0.5 % + 2)"
        raise DomainError(msg, field="volts")
    return MeterModel(
        name=" ".join(name.split()),
        input_ohms=None if per_volt else ohms,
        ohms_per_volt=ohms if per_volt else None,
        lead_ohms=lead_ohms,
        of_full=of_full,
        volts=ranges["volts"],
        amps=ranges["amps"],
        ohms=ranges["ohms"],
    )


def _ranges(text: str, what: Measured) -> tuple[Range, ...]:
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if len(lines) > MOST_RANGES:
        msg = f"{len(lines)} ranges: at most {MOST_RANGES} of a kind"
        raise DomainError(msg, field=what)
    found = []
    for number, line in enumerate(lines, 1):
        try:
            found.append(read_range(line, what))
        except LowfoldError as error:
            msg = f"line {number}: {error.message}"
            raise DomainError(msg, field=what) from error
    found.sort(key=lambda r: r.full)
    if len({r.full for r in found}) < len(found):
        msg = "two ranges end at the same figure"
        raise DomainError(msg, field=what)
    return tuple(found)


def meter_in_words(meter: MeterModel) -> dict[str, str]:
    """Write a meter as `read_meter` reads it back."""
    ohms = meter.input_ohms if meter.ohms_per_volt is None else meter.ohms_per_volt
    put_in = "none" if ohms is None else write(ohms, OHM, DIGITS, trim=True)
    return {
        "input": put_in + ("/V" if meter.ohms_per_volt is not None else ""),
        "leads": write(meter.lead_ohms, OHM, DIGITS, trim=True),
        **{
            what: "\n".join(range_in_words(r, what) for r in getattr(meter, what))
            for what in MEASURED
        },
    }
