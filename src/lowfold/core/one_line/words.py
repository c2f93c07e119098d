"""A need said in one line, cut into figures, names and words, each with its place in the text."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, Literal

from lowfold.core.errors import LowfoldError
from lowfold.core.values.quantities import (
    AMPERE,
    CELSIUS,
    FRACTION,
    OHM,
    PPM_PER_KELVIN,
    VOLT,
    WATT,
    Kind,
    read,
)

__all__ = ["CUES", "LONGEST", "Cue", "Lexeme", "lexemes"]

LONGEST: Final = 400  #: characters of a need

#: What a word says of the figure that follows it, or stands before it.
Cue = Literal[
    "to", "from", "load", "max", "min", "within", "around", "reference", "source", "beside",
    "place", "between", "use", "pin", "stands", "tracking", "drift", "stress", "seen", "parts",
    "feedback", "drawer", "and", "tolerance", "low", "always", "filler",
]  # fmt: skip

#: By what they say, the phrases; the longest that fits counts.
PHRASES: Final[dict[Cue, str]] = {
    "to": (
        "to|down to|make|makes|making|get|give|gives|set|sets|->|-->|→|=>|⇒|⟶|➔|➜|output|out|vout|"
        "wanted|…|..|...|-|–|—|−|auf|à|vers|nach|vo|ausgang|sortie|output of"
    ),
    "from": "from|out of|supply|supplied|input|vin|vcc|vdd|vbat|rail|on|von|aus|depuis|vs|vsupply|"
    "supplied by|powered by|eingang|versorgung|entrée",
    "load": (
        "into|load|rl|rload|iload|input impedance|input resistance|loaded with|loaded by|feeding|"
        "driving|last|an last|charge|zin|rin|loading"
    ),
    "max": (
        "at most|no more than|not more than|less than|max|maximum|under|below|up to|≤|<=|<|most|"
        "imax|limit|or less|höchstens|maximal|au plus|sous|unter|weniger als|moins de|not over|"
        "not above|no higher than"
    ),
    "min": (
        "at least|no less than|not less than|more than|min|minimum|over|above|≥|>=|>|least|imin|"
        "or more|mindestens|au moins|mehr als|plus de"
    ),
    "within": "within|accurate to|to within|good to|accuracy|precision|overall|in all",
    "around": "±|+/-|+-|plus or minus",
    "reference": "reference|ref|reference of|vref|vfb|referenz|référence",
    "feedback": "feedback|fb|regulator",
    "low": "low end|low end at|low end of|other end|other end at|lower end|lower end at|return at",
    "source": (
        "behind|source|source resistance|source resistance of|source impedance|"
        "source impedance of|rs|rsource|hinter"
    ),
    "beside": "beside|alongside|in parallel with",
    "place": "completing|in place",
    "between": "between",
    "use": "across|carrying|taking|through",
    "pin": "pin|pin current|bias|bias current|pin taking|pin takes",
    "stands": "stands|what stands|which stands|surviving",
    "tracking": "tracking|tracking to|of one array tracking to",
    "drift": "drift|drifting",
    "stress": "stress|used to|derated to|loaded to",
    "seen": (
        "seen as|output resistance|output impedance|seen as at most|max source|maximum source|"
        "max source resistance|max source impedance|source at most|source below|source under|"
        "source max|source resistance below|source impedance below|source impedance at most|rout|"
        "zout|output r|output z"
    ),
    "parts": "parts|part|resistors|parts a leg|in a leg",
    "drawer": "drawer|the drawer|my drawer|stock|my stock",
    "and": "and|und|et|,|;|&|then|/|+",
    "always": "always there|always connected|is always there|is always connected",
    "tolerance": "tolerance|tol",
    "filler": (
        "a|an|the|of|please|me|i|we|need|want|with|in|at|for|some|value|values|resistor|resistance|"
        "divider|divide|voltage|voltages|volts|current|drawing|draws|draw|consuming|using|use|chip|"
        "size|tap|taps|tapped|pair|ladder|each|is|be|must|should|ambient|temperature|series|accepted|"
        "deviation|error|:|.|(|)|=|nominal|target|only|my|it|so|that|worst|case|as|leg|legs|per|by|dc|"
        "network|circuit|string|sense|battery|adc|pull-up|pull-down|pullup|pulldown|loop|burden|shunt|"
        "quiescent|adj|@|about|approximately|roughly|nearest|or nearest|buck|boost|ldo|converter|"
        "monitor|monitoring|measure|measuring|mit|machen|de|avec|cell|cells|led|bus|line|signal|knock|"
        "step|drop|drops|bring|brings|reduce|reduces|convert|generate|produce|derive|obtain|turn|adjust|"
        "adjustable|attenuate|attenuator|threshold|thresholds|level|levels|node|point|potential|"
        "impedance|r|mache|teiler|spannungsteiler|widerstand|widerstände|widerständen|diviseur|résistance|spannung|tension|ein|"
        "eine|einen|un|une|pour|für|le|la|der|die|das|would|like|can|you|have|got|this|board|also|"
        "give me|pack|car|standard|common|available|existing|set up|logic|sensor|thanks|"
        "looking|there|now|just|simple"
    ),
}
CUES: Final[dict[str, Cue]] = {
    phrase: cue for cue, phrases in PHRASES.items() for phrase in phrases.split("|")
}
MOST_WORDS: Final = max(len(phrase.split()) for phrase in CUES)
COUNTS: Final = ("one", "two", "three", "four", "five", "six")
SHARES: Final = {"half": "1/2", "quarter": "1/4", "eighth": "1/8"}  #: of a watt

_PREFIX = r"(?:[pnuUµμmkKMG]|[Kk]ilo|[Kk]il|[Mm]ega|[Mm]eg|milli|micro|nano|giga)"
_NAMES = r"(?:[Oo]hms?|OHMS?|Ω|Ω|[Vv]olts?|[Vv]|[Aa]mps?|[Aa]mperes?|A|[Ww]atts?|[Ww])"
_UNIT = (
    rf"(?:{_PREFIX}[ -]?{_NAMES}(?:[ ]?DC)?|[munµμ]a|{_NAMES}(?:[ ]?DC)?|"
    r"°C|℃|deg ?C|C|ppm/(?:K|°C|C)|ppm|%|percent|R|[kKM]|[Mm]eg)"
)
_DIGITS = r"(?:[0-9]{1,3}(?:[ \u202f\u00a0][0-9]{3})+(?![0-9])|[0-9]+)"
_POWER = r"(?:[eE][-+][0-9]{1,3}|[eE][0-9]{1,3}(?![0-9A-Za-z]))"
_NUMBER = rf"(?:(?:(?<![\w%Ω.])[-−+])?(?:{_DIGITS}(?:[.,][0-9]+)?|\.[0-9]+){_POWER}?)"
#: A proportion, which is no need by itself; 14.4/3 V and −20/60 °C are two figures.
_RATIO = re.compile(
    rf"{_NUMBER}\s*[:/]\s*{_NUMBER}(?![0-9.,]*\s*(?:[mkMuµμ]?V|volts?|°?C))"
    rf"(?:\s*{_UNIT}(?![A-Za-z0-9]))?(?![A-Za-z0-9])"
)
_FIGURE = re.compile(
    rf"(?P<share>[0-9]{{1,2}}/[0-9]{{1,2}}\s*(?:W|watts?)(?![A-Za-z]))"
    r"|(?P<code>(?:[0-9]+[RrkKMGmVvAL][0-9]+|[Rr][0-9]+)"
    rf"(?:\s*{_UNIT}(?![A-Za-z0-9]))?(?![A-Za-z0-9]))"
    rf"|(?P<number>{_NUMBER})(?P<unit>\s*{_UNIT}(?![A-Za-z0-9]))?",
)
#: What lies to either side of a figure, each its own: +5/-0 %, +50 mV/-20 mV.
_SIDES = re.compile(
    rf"(?<![0-9A-Za-z])(?:\+\s?[0-9.,]+\s?{_UNIT}?\s?/?\s?[-−]\s?[0-9.,]+"
    rf"|[-−]\s?[0-9.,]+\s?{_UNIT}?\s?/\s?\+\s?[0-9.,]+)\s?(?P<unit>{_UNIT})(?![A-Za-z0-9])"
)
_UNIT_FIRST = re.compile(
    rf"(?P<unit>k?Ω|k?Ω|[Oo]hms?|V|[mµu]?A|%)\s*=?\s*(?P<number>{_NUMBER})(?![0-9A-Za-z%°Ω]|\s*/)"
)
_SHARE = re.compile(r"(?P<share>half|quarter|eighth)[ -]watt(?![A-Za-z])", re.IGNORECASE)
_SERIES = re.compile(r"E\s?(?:192|96|48|24|12|6|3)(?![0-9A-Za-z])", re.IGNORECASE)
_WORD = re.compile(r"[^\W\d_]+(?:-[^\W\d_]+)*|-+>|=>|[<>]=|\+/-|\+-|\.{2,3}|[^\s\w]|_+")


@dataclass(frozen=True, slots=True)
class Lexeme:
    """A piece of the text."""

    start: int
    end: int
    text: str  #: as a token takes it
    cue: Cue | None = None  #: of a word
    kinds: tuple[Kind, ...] = ()  #: that a figure can be read as; bare numbers as several
    series: bool = False
    size: bool = False  #: a part's size or family
    bare: bool = False  #: a number without a unit
    ratio: bool = False  #: 14.4:3, which says of neither number what it is
    sides: bool = False  #: +5/-0 %, about the figure before it
    role: str = ""  #: that it says itself
    why: str = ""  #: it is not understood, where more is known than that

    @property
    def known(self) -> bool:
        """Whether the piece is anything that a need is made of."""
        return bool(
            self.cue
            or self.kinds
            or self.series
            or self.size
            or self.bare
            or self.role
            or self.sides
        )


def lexemes(text: str, families: Sequence[str]) -> list[Lexeme]:
    """Return a text cut into its pieces.

    Parameters
    ----------
    text : str
        Of at most `LONGEST` characters.
    families : sequence of str
        Names of the part families there are.
    """
    found: list[Lexeme] = []
    sizes = sorted((name for name in families), key=len, reverse=True)
    place = 0
    while place < len(text):
        if text[place].isspace():
            place += 1
            continue
        one = _size(text, place, sizes) or _series(text, place) or _figure(text, place, found)
        one = one or _word(text, place)
        found.append(one)
        place = one.end
    return _clumped(text, found)


def _clumped(text: str, pieces: Sequence[Lexeme]) -> list[Lexeme]:
    """Return the pieces, those that stand together with one nobody knows being one with it.

    Of `-4k7` or `10kfoo` no figure may be taken out: what was meant is not what is left of it.
    """
    runs: list[list[Lexeme]] = []
    for piece in pieces:
        beside = runs and runs[-1][-1].end == piece.start
        if beside and text[piece.start - 1].isalnum() and text[piece.start].isalnum():
            runs[-1].append(piece)
        else:
            runs.append([piece])
    found: list[Lexeme] = []
    for run in runs:
        if len(run) == 1 or all(piece.known for piece in run):
            found += run
        else:
            start, end = run[0].start, run[-1].end
            found.append(Lexeme(start, end, text[start:end]))
    return found


def _size(text: str, place: int, sizes: Sequence[str]) -> Lexeme | None:
    for name in sizes:
        there = text[place : place + len(name)]
        behind = text[place + len(name) : place + len(name) + 1]
        if there.casefold() != name.casefold() or behind.isalnum() or behind in {".", "Ω"}:
            continue
        after = text[place + len(name) :].lstrip()
        if name.isdigit() and re.match(rf"{_UNIT}(?![A-Za-z0-9])", after):
            continue  # 1206 Ω is a resistance
        return Lexeme(place, place + len(name), there, size=True)
    return None


def _series(text: str, place: int) -> Lexeme | None:
    found = _SERIES.match(text, place)
    if found is None:
        return None
    return Lexeme(place, found.end(), found[0].replace(" ", "").upper(), series=True)


def _figure(text: str, place: int, before: Sequence[Lexeme]) -> Lexeme | None:
    first = _UNIT_FIRST.match(text, place)
    if first is not None and not (before and before[-1].end == place):
        return _read(place, first.end(), f"{first['number']} {first['unit']}")
    sides = _SIDES.match(text, place)
    if sides is not None:
        return Lexeme(place, sides.end(), sides[0], sides=True)
    share = _SHARE.match(text, place)
    if share is not None:
        return _read(place, share.end(), f"{SHARES[share['share'].casefold()]} W")
    found = _FIGURE.match(text, place)
    if found is None:
        return None
    ratio = None if found["share"] or found["code"] else _RATIO.match(text, place)
    if ratio is not None:
        return Lexeme(place, ratio.end(), ratio[0], ratio=True)
    return _read(place, found.end(), found[0], bare=bool(found["number"] and not found["unit"]))


def _read(start: int, end: int, text: str, *, bare: bool = False) -> Lexeme:
    kinds = []
    for kind in (VOLT, AMPERE, OHM, FRACTION, CELSIUS, PPM_PER_KELVIN, WATT):
        try:
            read(text, kind)
        except LowfoldError:
            continue
        kinds.append(kind)
    if not bare and OHM in kinds and VOLT in kinds:
        kinds = [OHM]  # a letter code with a prefix alone, 4k7
    if "ppm" in text and "/" not in text:
        kinds = [PPM_PER_KELVIN]
    return Lexeme(start, end, text.strip(), kinds=tuple(kinds), bare=bare)


def _word(text: str, place: int) -> Lexeme:
    """Return the longest phrase that is known, else the one word, or sign, there."""
    first = _WORD.match(text, place)
    end = first.end() if first else place + 1
    best: Lexeme | None = None
    ends, at = [end], end
    for _ in range(MOST_WORDS - 1):
        more = re.match(r"\s+", text[at:])
        nxt = _WORD.match(text, at + more.end()) if more else None
        if nxt is None:
            break
        at = nxt.end()
        ends.append(at)
    for stop in ends:
        phrase = " ".join(text[place:stop].casefold().split())
        if phrase in CUES:
            best = Lexeme(place, stop, text[place:stop], cue=CUES[phrase])
    word = text[place:end]
    if best is None and word.casefold() in COUNTS:
        return Lexeme(place, end, word, bare=True)
    return best or Lexeme(place, end, word)
