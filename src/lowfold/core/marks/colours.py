"""The colours of bands and what each stands for in its place (IEC 60062, from memory)."""

from __future__ import annotations

from typing import Final

__all__ = [
    "COLOURS",
    "CONFUSED",
    "DIGITS",
    "LETTERS",
    "MULTIPLIERS",
    "OLDER_TOLERANCES",
    "TCR_PPM",
    "TOLERANCES",
    "called",
    "colours_in",
    "confused_with",
]

#: Digits, in their order.
DIGITS: Final[dict[str, int]] = {
    name: digit
    for digit, name in enumerate(
        ["black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white"]
    )
}
#: Powers of ten.
MULTIPLIERS: Final[dict[str, int]] = {**DIGITS, "gold": -1, "silver": -2, "pink": -3}
#: Half widths, fractions; without a band it is 20 %.
TOLERANCES: Final[dict[str, float]] = {
    "brown": 0.01,
    "red": 0.02,
    "green": 0.005,
    "blue": 0.0025,
    "violet": 0.001,
    "orange": 0.0005,
    "yellow": 0.0002,
    "grey": 0.0001,
    "gold": 0.05,
    "silver": 0.1,
}
#: ppm/K.
TCR_PPM: Final[dict[str, float]] = {
    "black": 250.0,
    "brown": 100.0,
    "red": 50.0,
    "orange": 15.0,
    "yellow": 25.0,
    "green": 20.0,
    "blue": 10.0,
    "violet": 5.0,
    "grey": 1.0,
}
COLOURS: Final = tuple(MULTIPLIERS)
#: Those of one line are easily taken for each other (common practice).
CONFUSED: Final = (
    ("red", "orange", "brown"),
    ("blue", "violet", "grey"),
    ("gold", "yellow"),
    ("silver", "grey"),
)
#: Other names of them.
CALLED: Final = {"gray": "grey", "purple": "violet"}
#: A band of an older edition that stands for something else in its place.
OLDER_TOLERANCES: Final = {"grey": 0.0005}


#: Two letters for each colour (IEC 60757, from memory; gold, silver and pink as it has them).
LETTERS: Final[dict[str, str]] = {
    "black": "BK", "brown": "BN", "red": "RD", "orange": "OG", "yellow": "YE", "green": "GN",
    "blue": "BU", "violet": "VT", "grey": "GY", "white": "WH", "gold": "GD", "silver": "SR",
    "pink": "PK",
}  # fmt: skip


def called(name: str) -> str:
    """Return a colour as it is called here: gray is grey.

    Parameters
    ----------
    name : str
        As written.
    """
    plain = name.strip().casefold()
    return CALLED.get(plain, plain)


def colours_in(text: str) -> list[str] | None:
    """Return the colours that a text names, None where any word of it is none.

    Parameters
    ----------
    text : str
        Names, their beginnings from three letters on, or two letters each: `brown black red`,
        `BN BK RD`.
    """
    short = {letters: name for name, letters in LETTERS.items()}
    found = []
    for word in text.replace(",", " ").replace("-", " ").split():
        name = called(word)
        long = [c for c in COLOURS if c.startswith(name)] if len(name) > 2 else []
        if word.upper() in short:
            found.append(short[word.upper()])
        elif len(long) == 1:
            found.append(long[0])
        else:
            return None
    return found or None


def confused_with(colour: str) -> tuple[str, ...]:
    """Return the colours that one is easily taken for.

    Parameters
    ----------
    colour : str
        One of `COLOURS`.
    """
    found = [other for line in CONFUSED if colour in line for other in line if other != colour]
    return tuple(dict.fromkeys(found))
