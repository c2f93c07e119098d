"""What several pieces of a line say together: a network, a leg, a range, a share, a list.

Each form takes the pieces and puts one in the place of several; a piece that says its own role has
it. What could be such a form and is none stays as it was, to be read or marked by itself.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Final

from lowfold.core.errors import LowfoldError
from lowfold.core.network.notation import read_text
from lowfold.core.one_line.words import Lexeme
from lowfold.core.tokens.ratios import SHARES
from lowfold.core.values.quantities import OHM, VOLT, read

__all__ = ["reading_of", "with_forms"]

_END = r"(?![0-9A-Za-zΩ%°.])"
_NUMBER = r"(?:[0-9]+(?:[.,][0-9]+)?|\.[0-9]+)"
_UNIT = r"(?:\s?(?:[kKMGmµu]?(?:Ω|Ω|[Oo]hms?|OHMS?)|[kKMGR]))"
#: A resistance that is followed by no other unit.
_OHMS = (
    rf"(?:{_NUMBER}{_UNIT}?{_END}(?!\s*(?:[mkMµun]?(?:[VvAW]|volts?|amps?|watts?)|%|°|ppm){_END})"
    rf"|[0-9]+[RrkKMG][0-9]+{_END}|[Rr][0-9]+{_END})"
)
_PART = rf"(?:[A-Za-z]{{1,3}}[0-9]{{1,3}}\s*=\s*)?{_OHMS}"
_ITEM = rf"(?:{_PART}|@[A-Za-z]\w*|S[0-9]+)"
_JOIN = r"(?:\+|\|\|?|‖|∥|//|in\s+parallel\s+with|parallel(?:\s+(?:with|to))?|in\s+series\s+with)"
_NETWORK = re.compile(rf"(?<![0-9A-Za-z.,])[(\s]*{_ITEM}(?:[)\s]*{_JOIN}[(\s]*{_ITEM})+[)]*")
_LIST = re.compile(
    rf"\s*(?:the\s+)?(?P<list>(?:[0-9]{{1,4}}\s*(?:[x×*]|pcs?)\s*)?{_OHMS}"
    rf"(?:\s*(?:,\s|;|/|&|\band\b|\bor\b)\s*(?:[0-9]{{1,4}}\s*(?:[x×*]|pcs?)\s*)?{_OHMS})*)",
)
_MARKED = re.compile(r"[kKMGRΩΩ]|[Oo]hm|OHM")
_MANY = re.compile(r"[x×*;,/&]|\band\b|\bor\b|\bpcs?\b")
_SHARE = re.compile(
    r"(?:(?P<word>"
    + "|".join(sorted(map(re.escape, SHARES), key=len, reverse=True))
    + rf")(?=\s+(?:of|supply|the\s+supply)\b)|"
    rf"(?P<part>{_NUMBER}\s*%?|[0-9]+/[0-9]+)(?=\s+of\s+(?:the\s+|a\s+|an\s+)?[0-9])"
    rf"|(?:divided?\s+)?\bby\s+(?P<by>{_NUMBER}){_END}(?!\s*[mkµu]?[VvAΩ])|÷\s*(?P<sign>{_NUMBER}){_END}"
    rf"|(?P<over>(?<![0-9.,:])(?:1\s*:\s*{_NUMBER}|{_NUMBER}\s*:\s*1)(?![0-9A-Za-z.,:%]|\s*[mkµu]?[VvA]\b)))",
    re.IGNORECASE,
)
_UPPER = r"upper|top|high[- ]side|R_?top"
_LOWER = r"lower|bottom|low[- ]side|R_?bot(?:tom)?"
_KEPT = r"(?:\s+(?:fixed|given|in\s+place|already\s+(?:there|in\s+place)|on\s+the\s+board))?"
_NAMED = r"(?:\s*(?:leg|resistor|part|R))?"
#: A leg that is there already: `with 10k lower`, `lower leg 10k`, `R2 = 10k`.
_LEG = re.compile(
    rf"(?:(?:with\s+)?(?:an?\s+|the\s+)?(?P<before>{_OHMS}){_KEPT}\s+(?:as\s+)?(?:the\s+)?"
    rf"(?:(?P<upper>{_UPPER})|(?P<lower>{_LOWER})){_NAMED}(?![\w=]){_KEPT}"
    rf"|(?:with\s+)?(?:the\s+)?(?<!\w)(?:(?P<up>{_UPPER}|R1)|(?P<down>{_LOWER}|R2)){_NAMED}"
    rf"\s*(?:=|:|\bof\b|\bis\b)?\s*(?P<behind>{_OHMS}){_KEPT})",
    re.IGNORECASE,
)
_UNKNOWN = r"(?:[A-Za-z]{1,3}[0-9]{0,3}\s*=\s*)?\?"
#: A pair of which one is to be found: `R1=10k + @OUT + R2=?`, and beside one another.
_SOUGHT = re.compile(
    rf"(?<![\w.,])(?:{_UNKNOWN}|(?P<first>{_PART})(?!\s*=))"
    rf"\s*(?P<join>\+|\|\|?|‖|∥|//)\s*(?:@[A-Za-z]\w*\s*\+\s*)?"
    rf"(?:{_UNKNOWN}|(?P<second>{_PART})(?!\s*=))(?!\s*(?:\+|\|))"
)
_ASKED = re.compile(r"(?<!\w)[A-Za-z]{1,3}[0-9]{0,3}\s*=\s*\?(?!\w)")
#: Lines of a netlist, as they are or put beside each other by a field of one line.
_NODE = r"[A-Za-z0-9_]{1,20}"
_ELEMENT = rf"R[0-9]{{1,3}}\s+{_NODE}\s+{_NODE}\s+{_OHMS}"
_NETLIST = re.compile(rf"(?<!\w){_ELEMENT}(?:\s*[;\n]\s*{_ELEMENT})*", re.IGNORECASE)
_SOURCE = re.compile(
    rf"(?<!\w)V[0-9]{{0,3}}\s+(?:in|vin|vcc|vdd)\s+(?:0|gnd|vss|ground)\s+(?:DC\s+)?(?P<volts>{_NUMBER}\s?[mkµu]?V?)(?!\w)",
    re.IGNORECASE,
)
_DIVIDES = re.compile(r"divid|attenuat|reduc|teil", re.IGNORECASE)
#: What ends of a netlist are called where it is not as here.
_ENDS = {"vin": "in", "vcc": "in", "vdd": "in", "gnd": "0", "vss": "0", "ground": "0"}
#: What was read of a board, with a word that says so: without it a figure may be what is wanted.
_READS = re.compile(
    r"(?:(?P<kind>[VIvi])\s*\(\s*)?@?(?P<at>(?<!\w)[A-Za-z_]\w*)\s*\)?\s+"
    r"(?:reads|read|measures|measured|shows)\s*[:=]?\s*"
    r"(?P<figure>OL|[-−+]?[0-9]+(?:[.,][0-9]+)?\s?(?:[mkMµun]?[VAΩ]|[kKMR]|[kKM]?[Oo]hms?)?[0-9]*)(?![\w.])"
)
#: How stiff a string is to be: `stiff 20 ×`.
_STIFF = re.compile(
    r"(?<!\w)stiff(?:ness)?\s+(?P<times>[0-9]+(?:\.[0-9]+)?\s*(?:[x×]|times)?)(?!\w)",
    re.IGNORECASE,
)
#: What falls between a supply and what is made of it.
_RANGE: Final = ("to", "…", "..", "...", "-", "–", "—", "−")


def with_forms(text: str, pieces: Sequence[Lexeme]) -> list[Lexeme]:
    """Return the pieces of a line, those that say one thing together being one.

    Parameters
    ----------
    text : str
        As typed.
    pieces : sequence of Lexeme
        It, cut into figures, names and words.
    """
    found = list(pieces)
    forms: tuple[Callable[[str, list[Lexeme]], list[Lexeme]], ...] = (
        _netlists, _sought, _legs, _networks, _readings, _lists, _shares, _stiffness, _ranges,
    )  # fmt: skip
    for form in forms:
        found = form(text, found)
    return found


def reading_of(said: str) -> tuple[str, str]:
    """Return of a reading where it was read, and the figure as typed.

    Parameters
    ----------
    said : str
        As `with_forms` put it together.
    """
    found = _READS.fullmatch(said)
    assert found is not None  # that is how it was put together
    where = f"{found['kind']}({found['at']})" if found["kind"] else found["at"]
    return where, found["figure"].strip()


def _put(pieces: list[Lexeme], one: Lexeme) -> list[Lexeme]:
    """Put one piece in the place of those it spans."""
    before = [p for p in pieces if p.end <= one.start]
    return [*before, one, *(p for p in pieces if p.start >= one.end)]


def _whole(pieces: Sequence[Lexeme], start: int, end: int) -> bool:
    """Whether no piece lies across either end."""
    return not any(p.start < at < p.end for p in pieces for at in (start, end))


def _netlists(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put the lines of a netlist together, and take its source for the supply."""
    found = _NETLIST.search(text)
    if found is None:
        return pieces
    start, end = found.span()
    lines = [_with_our_ends(line) for line in re.split(r"[;\n]", found[0]) if line.strip()]
    try:
        read_text("\n".join(lines))
    except LowfoldError as error:
        why = f"a netlist that is not understood: {error.message}"
        pieces = _put(pieces, Lexeme(start, end, found[0], why=why))
    else:
        pieces = _put(pieces, Lexeme(start, end, "\n".join(lines), role="network"))
    source = _SOURCE.search(text)
    if source is not None:
        volts = source["volts"] if source["volts"][-1:] in "vV" else f"{source['volts']} V"
        pieces = _put(pieces, Lexeme(*source.span(), volts, role="supply"))
    return pieces


def _with_our_ends(line: str) -> str:
    """Return an element of a netlist whose ends are called `in` and `0`."""
    ref, *nodes, value = line.split(maxsplit=3)
    known = [node.lower() if node.lower() in _ENDS | {"in": "in"} else node for node in nodes]
    return " ".join([ref, *(_ENDS.get(node, node) for node in known), value])


def _sought(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put a pair together of which one part is to be found: the other is a leg in place."""
    for found in _SOUGHT.finditer(text):
        known = [name for name in ("first", "second") if found[name]]
        if len(known) != 1:
            continue
        (name,) = known
        legs = {"first": "upper leg", "second": "lower leg"}
        said = found[name].split("=")[-1].strip()
        role = legs[name] if found["join"] == "+" else "place"
        start = found.start() + len(found[0]) - len(found[0].lstrip())
        if _whole(pieces, start, found.end()):
            pieces = _put(pieces, Lexeme(start, found.end(), said, role=role))
    for found in _ASKED.finditer(text):
        if not any(p.start < found.end() and found.start() < p.end and p.role for p in pieces):
            pieces = _put(pieces, Lexeme(*found.span(), found[0], cue="filler"))
    return pieces


def _legs(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put a leg together that is in place: of a line that says voltages, a part is one of two."""
    if not any(p.kinds[:1] == (VOLT,) and not p.bare for p in pieces):
        return pieces
    for found in _LEG.finditer(text):
        role = "upper leg" if found["upper"] or found["up"] else "lower leg"
        said = found["before"] or found["behind"]
        taken = any(p.start < found.end() and found.start() < p.end and p.role for p in pieces)
        if not taken and _whole(pieces, *found.span()):
            pieces = _put(pieces, Lexeme(*found.span(), said, role=role))
    return pieces


def _networks(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put a network together: `120 + (220 || 330)` is no list of figures."""
    for found in _NETWORK.finditer(text):
        start = found.start() + len(found[0]) - len(found[0].lstrip())
        said = found[0].strip()
        opened, closed = said.count("("), said.count(")")
        if opened > closed and said.startswith("("):
            said, start = said[1:].lstrip(), start + len(said) - len(said[1:].lstrip())
        end = start + len(said)
        if "%" in said or not _whole(pieces, start, end):
            continue
        written = re.sub(r"\|\|?|‖|∥|//|(?:in\s+)?parallel(?:\s+(?:with|to))?", "||", said)
        written = re.sub(r"in\s+series\s+with", "+", written)
        try:
            read_text(written)
        except LowfoldError as error:
            why = f"a network that is not understood: {error.message}"
            pieces = _put(pieces, Lexeme(start, end, said, why=why))
        else:
            pieces = _put(pieces, Lexeme(start, end, written, role="network"))
    return pieces


def _readings(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put what was read of a network together: `OUT reads 14.2 V`, `R2 reads 56k`."""
    network = next((p for p in pieces if p.role == "network"), None)
    if network is None:
        return pieces
    for found in _READS.finditer(text):
        one = Lexeme(*found.span(), " ".join(found[0].split()), role="reading")
        if not _whole(pieces, one.start, one.end) or network.start < one.end <= network.end:
            continue
        at = found["at"]
        if not _is_there(at, network.text):
            why = f"the network has no “{at[:20]}”: name a junction or a part of it"
            one = replace(one, role="", why=why)
        pieces = _put(pieces, one)
    return pieces


def _is_there(name: str, network: str) -> bool:
    """Whether a network has a junction or a part of a name; parts may be numbered by themselves."""
    numbered = re.fullmatch(r"[Rr][0-9]+", name) is not None and "=" not in network
    named = re.search(rf"(?<!\w){re.escape(name)}(?!\w)", network, re.IGNORECASE) is not None
    return named or numbered or name.casefold() in {"in", "supply"}


def _lists(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put loose values together, behind what is wanted of them: `55 ohm from 30 and 40`."""
    for place, piece in enumerate(pieces):
        names = piece.cue == "from" or piece.text.casefold() in {"using", "use", "with"}
        found = _LIST.match(text, piece.end) if names else None
        if found is None or not _MANY.search(found["list"]):
            continue
        if not any(_ohms(p) for p in pieces[:place]) and not _MARKED.search(found["list"]):
            continue  # behind volts, numbers without a mark of ohms may be volts
        start, end = found.span("list")
        if _whole(pieces, start, end):
            return _put(pieces, Lexeme(start, end, found["list"], role="values"))
    return pieces


def _ohms(piece: Lexeme) -> bool:
    return OHM in piece.kinds and (piece.bare or piece.kinds[0] is OHM)


def _shares(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put a share of the supply together: `a third of 12 V`, `divided by 4`, `10:1`."""
    for found in _SHARE.finditer(text):
        if found["by"] and not _DIVIDES.search(text[: found.end()]):
            continue
        said = found[0].strip()
        one = Lexeme(found.start(), found.start() + len(said), said, role="ratio")
        if _whole(pieces, one.start, one.end):
            pieces = _put(pieces, one)
    return pieces


def _stiffness(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put together how many times what the load draws a string is to carry."""
    found = _STIFF.search(text)
    if found is None or not _whole(pieces, *found.span()):
        return pieces
    return _put(pieces, Lexeme(*found.span(), found["times"], role="stiff"))


def _volts(piece: Lexeme) -> float | None:
    if not piece.kinds or piece.kinds[0] is not VOLT or piece.bare or piece.role:
        return None
    try:
        return read(piece.text, VOLT)
    except LowfoldError:
        return None


def _ranges(text: str, pieces: list[Lexeme]) -> list[Lexeme]:
    """Put the ends of a range together: `9 to 16 V to 3 V`, `12 V to 3.2 to 3.4 V`.

    A divider only lowers, so that of a line in which a third voltage is said, two that follow each
    other rising are a range: of the supply where the third lies below, else of what is wanted.
    """
    regulated = any(p.cue in {"reference", "feedback"} for p in pieces)
    stood = [b for a, b in itertools.pairwise(pieces) if a.cue == "stands"]
    found = list(pieces)
    alone = not any(p.role in {"network", "ratio"} for p in pieces)
    place = 0
    while place + 2 < len(found):
        before, low, high = found[max(place - 1, 0)], found[place], found[place + 2]
        ends = _rising(low, found[place + 1], high, between=place > 0 and before.cue == "between")
        apart = (low, high, *stood)
        others = [p for p in found if p not in apart and p.kinds[:1] == (VOLT,)]
        behind = found[place + 3].cue if place + 3 < len(found) else None
        told = not regulated or "reference" in (behind, before.cue)
        if ends is None or (place and before.cue == "around") or (alone and not others) or not told:
            place += 1
            continue
        start = before.start if before.cue == "between" else low.start
        one = replace(low, start=start, end=high.end, text=text[start : high.end].strip())
        found = [_said_twice(p, one, ends) for p in _put(found, one)]
    return found


def _rising(
    low: Lexeme, word: Lexeme, high: Lexeme, *, between: bool
) -> tuple[float, float] | None:
    """Return two voltages that rise from one to the other, V; None where they are not said so."""
    said = word.cue == "to" and word.text.casefold() in _RANGE
    first, last = _volts(low), _volts(high)
    if not (said or (between and word.cue == "and")) or first is None or last is None:
        return None
    return (first, last) if 0 <= first < last else None


def _said_twice(piece: Lexeme, spread: Lexeme, ends: tuple[float, float]) -> Lexeme:
    """Mark a voltage inside a range that is said beside it: it is the same one, said twice."""
    volts = None if piece is spread else _volts(piece)
    if volts is None or not ends[0] <= volts <= ends[1]:
        return piece
    why = f"{piece.text} lies inside {spread.text}, which is said too: leave one of the two"
    return Lexeme(piece.start, piece.end, piece.text, why=why)
