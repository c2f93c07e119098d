"""The field's notation for quantities: read it into SI numbers, write SI numbers back.

`4k7`, `4.7 kΩ`, `4700`, `R47`, `0R1`, `1M`, `5L0` are resistances; `3V3` and `250 mV` voltages;
`80 µA` and `80 uA` the same current; `1 %` and `0.01` the same fraction. The letter in place of
the decimal point is that of IEC 60062 (from memory), with `L` for milliohms. Case matters only
between `m` (milli) and `M` (mega).
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from decimal import ROUND_CEILING, ROUND_FLOOR, ROUND_HALF_UP, Decimal
from functools import lru_cache
from typing import Final, Literal, NoReturn

from lowfold.core.errors import QuantityError

__all__ = [
    "AMPERE",
    "CELSIUS",
    "FRACTION",
    "KINDS",
    "OHM",
    "PPM_PER_KELVIN",
    "VOLT",
    "WATT",
    "Kind",
    "Rounding",
    "axis_unit",
    "read",
    "readable_codes",
    "write",
    "write_code",
    "write_pair",
    "write_percent",
]

#: To the nearest, or so that what is told as a limit is never beyond it.
Rounding = Literal["nearest", "down", "up"]
ROUNDINGS: Final[dict[Rounding, str]] = {
    "nearest": ROUND_HALF_UP,
    "down": ROUND_FLOOR,
    "up": ROUND_CEILING,
}

LONGEST_TEXT: Final = 60
#: A share below this is what rounding leaves of none.
NO_SHARE: Final = 1e-11
#: Figures that a value which was worked out is read with; more tell nothing.
READ_FIGURES: Final = 6
#: Beyond this no float survives; far outside any resistor, so a typing slip.
LARGEST: Final = Decimal("1e30")

PREFIXES: Final[dict[str, int]] = {
    "p": -12,
    "n": -9,
    "u": -6,
    "U": -6,
    "µ": -6,
    "μ": -6,
    "m": -3,
    "k": 3,
    "K": 3,
    "M": 6,
    "G": 9,
}
#: Prefixes used when writing, by power of ten.
WRITTEN: Final[dict[int, str]] = {
    -12: "p",
    -9: "n",
    -6: "µ",
    -3: "m",
    0: "",
    3: "k",
    6: "M",
    9: "G",
}


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of quantity a text can be read as."""

    name: str  #: as said in messages, with its article
    unit: str  #: as written
    spellings: tuple[str, ...]  #: of the unit, lower case
    example: str  #: of right notation, for messages
    point: str = ""  #: letters that may stand in place of the decimal point
    prefixes: str = "pnuUµμmkKMG"


OHM: Final = Kind("a resistance", "Ω", ("ω", "ohm", "ohms", "r"), "4k7", "RrkKMmGLl")
VOLT: Final = Kind(
    "a voltage", "V", ("v", "volt", "volts", "vdc", "v dc", "volts dc"), "3V3", "Vv", "nuUµμmkK"
)
AMPERE: Final = Kind(
    "a current",
    "A",
    ("a", "amp", "amps", "ampere", "amperes", "adc", "a dc"),
    "250 mA",
    "Aa",
    "pnuUµμmkK",
)
WATT: Final = Kind("a power", "W", ("w", "watt", "watts"), "250 mW", "Ww", "pnuUµμmkK")
CELSIUS: Final = Kind("a temperature", "°C", ("°c", "c", "℃", "degc"), "-20 °C", "", "")
FRACTION: Final = Kind("a fraction", "%", ("%", "percent", "ppm"), "1 %", "", "")
PPM_PER_KELVIN: Final = Kind(
    "a temperature coefficient", "ppm/K", ("ppm/k", "ppm/°c", "ppm/c", "ppm"), "100 ppm/K", "", ""
)
KINDS: Final = (OHM, VOLT, AMPERE, WATT, CELSIUS, FRACTION, PPM_PER_KELVIN)

#: Prefixes as words: 1 kilohm, 5 megohms, 20 milliamps.
WORDS: Final = (
    ("pico", -12),
    ("nano", -9),
    ("micro", -6),
    ("milli", -3),
    ("kilo", 3),
    ("kil", 3),
    ("mega", 6),
    ("meg", 6),
    ("giga", 9),
)
#: Powers of ten of a part that a resistance may only have with its unit: 10u is no resistor.
BARE: Final = "pnuUµμ"
#: Letters that say a tolerance behind a letter code (IEC 60062, from memory): 4K7J.
TOLERANCE_LETTERS: Final = "BCDFGJKM"
#: Fractions of a watt as one sign.
SHARES: Final = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅒": "1/10"}
#: Thousands set apart by spaces: 1 000, 2 200 000.
THOUSANDS = re.compile(r"(?<![0-9.,])([0-9]{1,3})((?: [0-9]{3})+)(?![0-9])")

NUMBER = re.compile(
    r"(?P<sign>[+-]?)(?P<digits>[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+)(?P<exp>[eE][+-]?[0-9]{1,3})?\s*(?P<rest>.*)",
    re.DOTALL,
)
LETTER_POINT = re.compile(
    r"(?P<sign>[+-]?)(?P<whole>[0-9]*)(?P<letter>[A-Za-zµμ])(?P<part>[0-9]+)\s*(?P<rest>\D*)",
)
#: What the letter stands for when it is the decimal point; units count as 10⁰.
LETTER_POWER: Final[dict[str, int]] = {**PREFIXES, **dict.fromkeys("RrVvAaWw", 0), "L": -3, "l": -3}


def read(text: str, kind: Kind) -> float:
    """Read `text` as a quantity of `kind`, in base SI units (fractions as fractions).

    Parameters
    ----------
    text : str
        In the field's notation; `±` in front is allowed for fractions and coefficients.
    kind : Kind
        What is wanted, one of `KINDS`.

    Returns
    -------
    float
        Ω, V, A, W, °C, a fraction or ppm/K, correctly rounded from the decimal text.

    Raises
    ------
    QuantityError
        Saying what was understood, what is wrong and what would be right.
    """
    shown = text.strip()
    if len(shown) > LONGEST_TEXT:
        msg = f"{shown[:20]}… is too long to be {kind.name}: write it like {kind.example}"
        raise QuantityError(msg)
    plain = re.sub("[\u00a0\u2009\u202f]", " ", shown.replace("−", "-"))
    plain = THOUSANDS.sub(lambda found: found[0].replace(" ", ""), plain)
    if kind in (FRACTION, PPM_PER_KELVIN):
        plain = re.sub(r"^(±|\+/-|\+-)\s*", "", plain)
    if kind is WATT:
        plain = "".join(SHARES.get(letter, letter) for letter in plain)
    if not plain:
        msg = f"nothing is written: {kind.name} is wanted, for instance {kind.example}"
        raise QuantityError(msg)
    value = _by_letter(plain, shown, kind)
    if value is None:
        value = _by_number(plain, shown, kind)
    if abs(value) > LARGEST:
        msg = f"“{shown}” is far too large for {kind.name}: write it like {kind.example}"
        raise QuantityError(msg)
    return float(value)


def _by_letter(plain: str, shown: str, kind: Kind) -> Decimal | None:
    """Read the form whose letter stands in place of the point, or None if it is not that form."""
    found = LETTER_POINT.fullmatch(plain)
    if found is None:
        return None
    letter, whole, rest = found["letter"], found["whole"], found["rest"].strip()
    if letter in "eE" and whole:
        return None  # an exponent: 1e3
    if letter not in kind.point:
        if letter in OHM.point:
            msg = f"“{shown}” is a resistance; wanted is {kind.name}, for instance {kind.example}"
            raise QuantityError(msg)
        _refuse_unit(letter, shown, kind)
    if not whole and letter not in "RrLl":
        msg = f"“{shown}” lacks the digits before {letter}: write 0{letter}{found['part']}"
        raise QuantityError(msg)
    coded = kind is OHM and len(rest) == 1 and rest in TOLERANCE_LETTERS
    direct = kind in (VOLT, AMPERE) and rest.lower() == "dc"
    if rest and rest.lower() not in kind.spellings and not coded and not direct:
        _refuse_unit(rest, shown, kind)
    return Decimal(f"{found['sign']}{whole or '0'}.{found['part']}e{LETTER_POWER[letter]}")


def _by_number(plain: str, shown: str, kind: Kind) -> Decimal:
    found = NUMBER.fullmatch(plain)
    if found is None:
        msg = f"“{shown}” is not {kind.name}: write it like {kind.example}"
        raise QuantityError(msg)
    digits, exponent, rest = found["digits"], found["exp"] or "", found["rest"].strip()
    if kind is OHM and re.fullmatch("E[0-9]{1,3}", exponent) and "." not in digits:
        point, power = f"{digits}R{exponent[1:]}", f"{digits}e+{exponent[1:]}"
        msg = (
            f"“{shown}” could be {point}, with E in place of the point, or {digits} times ten to "
            f"the {exponent[1:]}: write {point} or {power}"
        )
        raise QuantityError(msg)
    if re.fullmatch(r"[0-9]+,[0-9]{3}", digits):
        msg = (
            f"“{shown}” could be {digits.replace(',', '.')} or {digits.replace(',', '')}: "
            "use a point for decimals and no thousands mark"
        )
        raise QuantityError(msg)
    number = Decimal(f"{found['sign']}{digits.replace(',', '.')}{exponent}")
    if kind is WATT and (share := re.fullmatch(r"/\s*([1-9][0-9]?)\s*(\D*)", rest)):
        number, rest = number / Decimal(share[1]), share[2].strip()  # ratings are said as 1/4 W
    if kind is FRACTION:
        return _fraction(number, rest, shown)
    return number.scaleb(_power(rest, shown, kind)) if number else number


def _fraction(number: Decimal, rest: str, shown: str) -> Decimal:
    if rest in {"%", "percent"}:
        return number.scaleb(-2)
    if rest.lower() == "ppm":
        return number.scaleb(-6)
    if rest:
        _refuse_unit(rest, shown, FRACTION)
    if number >= Decimal("0.2"):
        msg = f"“{shown}” alone would mean {number.scaleb(2):f} %: write {shown} %, or the fraction"
        raise QuantityError(msg)
    return number


def _power(rest: str, shown: str, kind: Kind) -> int:
    """Power of ten that the letters behind a number stand for."""
    if not rest or rest.lower() in kind.spellings:
        return 0
    if kind is OHM and rest in {"L", "l"}:
        return -3
    if kind is OHM and rest.lower() == "meg":
        return 6
    if kind is OHM and re.fullmatch(f"[Rr][{TOLERANCE_LETTERS}]", rest):
        return 0
    for word, power in WORDS if kind.prefixes else ():
        if (
            rest.lower().startswith(word)
            and rest[len(word) :].strip(" -").lower() in kind.spellings
        ):
            return power
    prefix, unit = rest[0], rest[1:].strip().lower()
    known = not unit or unit in kind.spellings
    if kind is OHM and prefix in BARE and not unit:
        msg = (
            f"“{shown}” is how a capacitor or an inductor is written: a resistance is written like "
            f"4R7, 4k7, or {shown[:-1].strip()} µΩ"
        )
        raise QuantityError(msg)
    if known and prefix in kind.prefixes:
        return PREFIXES[prefix]
    if not (known and prefix == "M" and kind.prefixes):
        _refuse_unit(rest, shown, kind)
    right = shown.replace("M", "m", 1)
    msg = f"“{shown}” has M for mega, a million: write {right} for milli"
    raise QuantityError(msg)


def _refuse_unit(rest: str, shown: str, kind: Kind) -> NoReturn:
    """Raise, saying which other kind of quantity the letters belong to, if to one."""
    bare = rest.strip().lower()
    for other in KINDS:
        if other is not kind and any(
            bare == s or (bare[1:] == s and rest.strip()[0] in other.prefixes)
            for s in other.spellings
        ):
            msg = f"“{shown}” is {other.name}; wanted is {kind.name}, for instance {kind.example}"
            raise QuantityError(msg)
    msg = f"“{shown}”: “{rest}” is no unit or prefix of {kind.name}; write it like {kind.example}"
    raise QuantityError(msg)


def write(
    value: float,
    kind: Kind,
    digits: int = 4,
    *,
    trim: bool = False,
    rounding: Rounding = "nearest",
) -> str:
    """Write `value` with unit in engineering notation: 0.0016079 A is `1.608 mA`.

    See `write_pair` for the parameters.

    Parameters
    ----------
    value : float
        In the base unit of its kind.
    digits : int
        Figures that are written.
    trim : bool
        Leave out zeros at the end.
    rounding : Rounding
        Which way the last figure goes.
    """
    number, unit = write_pair(value, kind, digits, trim=trim, rounding=rounding)
    return f"{number} {unit}"


def write_pair(
    value: float,
    kind: Kind,
    digits: int = 4,
    *,
    trim: bool = False,
    rounding: Rounding = "nearest",
) -> tuple[str, str]:
    """Write `value` as its number and its prefixed unit, apart.

    Parameters
    ----------
    value : float
        Finite, in the base unit of `kind`.
    digits : int
        Significant figures, at least 1.
    trim : bool
        Drop zeros behind the point, as for a part's value (`200 kΩ`, not `200.0 kΩ`).
    rounding : Rounding
        `down` or `up` for a limit, so that the figure told is on the safe side of it.

    Returns
    -------
    tuple of str
        For instance `("1.608", "mA")`; the minus sign is U+2212.

    Raises
    ------
    QuantityError
        For a value that is not finite.
    """
    if not math.isfinite(value):
        msg = f"only finite quantities are written, got {value!r}"
        raise QuantityError(msg)
    number = Decimal(repr(float(value)))
    if kind is FRACTION:
        number = number.scaleb(2) if abs(value) >= NO_SHARE else Decimal(0)
    number = _significant(number, digits, ROUNDINGS[rounding])
    power = 0
    if number and kind.prefixes:
        power = min(max(3 * math.floor(number.adjusted() / 3), -12), 9)
        if kind is OHM and number.adjusted() == -1:
            power = 0  # 0.923 Ω; milliohms begin below a tenth, where codes have an L
        number = number.scaleb(-power)
    text = f"{number:f}" if number else "0"
    if "." in text and trim:
        text = text.rstrip("0").rstrip(".")
    return text.replace("-", "−"), WRITTEN[power] + kind.unit


def axis_unit(largest: float, kind: Kind) -> tuple[float, str]:
    """Return the unit an axis up to `largest` is marked in, and what brings figures into it.

    For instance ``(1e6, "µA")`` for an axis up to 80 µA.

    Parameters
    ----------
    largest : float
        Largest value shown, in the base unit.
    """
    if kind is FRACTION:
        return 100.0, kind.unit
    unit = write_pair(largest, kind, 3)[1]
    prefix = unit.removesuffix(kind.unit)
    power = next(p for p, written in WRITTEN.items() if written == prefix)
    return float(f"1e{-power}"), unit


MOST_PERCENT: Final = Decimal(99_999)  #: in a column; more is told as more


def write_percent(fraction: float, decimals: int) -> str:
    """Write a signed percentage with fixed decimals, for columns: 0.00599 is `+0.599`.

    Parameters
    ----------
    fraction : float
        1 is 100 %.
    decimals : int
        Figures behind the point.
    """
    number = Decimal(repr(float(fraction))).scaleb(2)
    if abs(number) > MOST_PERCENT:
        return f"{'+' if number > 0 else '−'}>{MOST_PERCENT:f}"
    rounded = number.quantize(Decimal(1).scaleb(-decimals), rounding=ROUND_HALF_UP)
    sign = "+" if rounded > 0 else "−" if rounded < 0 else ""
    return f"{sign}{abs(rounded):f}"


def _significant(number: Decimal, digits: int, rounding: str) -> Decimal:
    """Round to `digits` significant figures."""
    if not number:
        return Decimal(0)
    step = Decimal(1).scaleb(number.adjusted() - digits + 1)
    rounded = number.quantize(step, rounding=rounding)
    if rounded.adjusted() > number.adjusted():  # 9.996 became 10.00: one figure too many
        rounded = rounded.quantize(step.scaleb(1), rounding=rounding)
    return rounded


@lru_cache(maxsize=8192)
def write_code(ohms: float) -> str:
    """Write a resistance as its letter code, exactly: 4700.0 is `4k7`, 0.47 is `0R47`.

    Every digit of the shortest decimal that is this float is kept, so reading the code gives
    the same float back. Values outside 1 mΩ … 999 GΩ are written plainly (`1e-05`).

    Parameters
    ----------
    ohms : float
        Ω.
    """
    number = Decimal(repr(float(ohms)))
    if not Decimal("1e-3") <= number < Decimal("1e12"):
        return repr(float(ohms))
    if Decimal("0.1") <= number < 1:
        power, letter = 0, "R"
    else:
        power = 3 * (number.adjusted() // 3)
        letter = {-3: "L", 0: "R", 3: "k", 6: "M", 9: "G"}[power]
    whole, _, part = f"{number.scaleb(-power):f}".partition(".")
    part = part.rstrip("0")
    if letter == "R" and not part:
        return whole
    return f"{whole}{letter}{part}"


#: A letter code of more figures than anybody reads: 8k340971585701192.
_LONG_CODE: Final = re.compile(r"(?<![0-9A-Za-z.])([0-9]+)([RLkMG])([0-9]{5,})(?![0-9A-Za-z])")


def readable_codes(text: str) -> str:
    """Return a network's text with its values in no more figures than are read.

    Parameters
    ----------
    text : str
        In the notation, or as a netlist.
    """

    def shorter(found: re.Match[str]) -> str:
        ohms = read(found[0], OHM)
        digits = READ_FIGURES - 1 - math.floor(math.log10(ohms)) if ohms > 0 else 0
        return write_code(round(ohms, digits))

    return _LONG_CODE.sub(shorter, text)
