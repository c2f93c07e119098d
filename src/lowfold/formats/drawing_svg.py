"""A drawing as an SVG file: vectors and text, no script and no style that is fetched."""

from __future__ import annotations

from typing import Final
from xml.etree import ElementTree as ET

from lowfold.views.dossier import GROUND_BARS, PlacedText, Sketch

__all__ = ["write_svg"]

INK: Final = "#1d2730"
FAMILY: Final = "'Source Sans 3', 'Source Sans Pro', sans-serif"
MARGIN: Final = 40.0
PART: Final = 18.0  #: width of a part's symbol
LINE: Final = 15.0
WIDE: Final = 6.6  #: of a character, at most


def write_svg(sketch: Sketch, title: str) -> str:
    """Draw a schematic.

    Parameters
    ----------
    title : str
        What it is of, for who does not see it.
    """
    beside = max(
        (len(t) for p in (*sketch.parts, *sketch.loads, *sketch.nodes) for t in p.lines), default=0
    )
    width = sketch.width + 2 * MARGIN + WIDE * beside
    height = sketch.height + 2 * MARGIN
    root = ET.Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg",
            "viewBox": f"{-MARGIN:g} {-MARGIN:g} {width:g} {height:g}",
            "width": f"{width:g}",
            "height": f"{height:g}",
            "font-family": FAMILY,
            "font-size": "13",
            "role": "img",
        },
    )
    ET.SubElement(root, "title").text = _plain(title)
    lines = ET.SubElement(root, "g", {"stroke": INK, "stroke-width": "1.6", "fill": "none"})
    for x1, y1, x2, y2 in sketch.wires:
        ET.SubElement(lines, "path", {"d": f"M{x1:g} {y1:g}L{x2:g} {y2:g}"})
    half = sketch.symbol / 2
    for part in sketch.parts:
        _symbol(root, part, half, dashed=False)
    for load in sketch.loads:
        _symbol(root, load, half, dashed=True)
    for switch in sketch.switches:
        lever = f"M{switch.x:g} {switch.y - half:g}L{switch.x + 12:g} {switch.y + half - 6:g}"
        ET.SubElement(lines, "path", {"d": lever})
        _words(root, switch, 16, 4)
    if sketch.supply:
        at = {"cx": f"{sketch.supply.x:g}", "cy": f"{sketch.supply.y:g}", "r": "24"}
        ET.SubElement(
            root, "circle", {**at, "fill": "#ffffff", "stroke": INK, "stroke-width": "1.6"}
        )
        _words(root, sketch.supply, 0, 4, anchor="middle")
    for node in sketch.nodes:
        at = {"cx": f"{node.x:g}", "cy": f"{node.y:g}", "r": "3"}
        ET.SubElement(root, "circle", {**at, "fill": INK})
        _words(root, node, -6, -5, anchor="end")
    for end in sketch.ends:
        at = {"cx": f"{end.x:g}", "cy": f"{end.y:g}", "r": "4"}
        ET.SubElement(root, "circle", {**at, "fill": "#ffffff", "stroke": INK})
        if sketch.grounds:
            _words(root, end, 8, 16 if end.y == 0 else -7)
    _grounds(root, lines, sketch)
    ET.indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ET.tostring(root, encoding="unicode") + "\n"


def _grounds(root: ET.Element, lines: ET.Element, sketch: Sketch) -> None:
    for mark in sketch.grounds:
        for row, reach in enumerate(GROUND_BARS):
            y = mark.y + 4 * row
            bar = f"M{mark.x - reach:g} {y:g}L{mark.x + reach:g} {y:g}"
            ET.SubElement(lines, "path", {"d": bar})
        _words(root, mark, 0, 26, anchor="middle")


def _symbol(root: ET.Element, part: PlacedText, half: float, *, dashed: bool) -> None:
    box = {
        "x": f"{part.x - PART / 2:g}",
        "y": f"{part.y - half:g}",
        "width": f"{PART:g}",
        "height": f"{2 * half:g}",
        "fill": "#ffffff",
        "stroke": INK,
        "stroke-width": "1.6",
    }
    ET.SubElement(root, "rect", {**box, **({"stroke-dasharray": "4 3"} if dashed else {})})
    _words(root, part, PART / 2 + 6, 4 - LINE * (len(part.lines) - 1) / 2)


def _words(
    root: ET.Element, at: PlacedText, right: float, down: float, anchor: str = "start"
) -> None:
    for row, line in enumerate(at.lines):
        place = {"x": f"{at.x + right:g}", "y": f"{at.y + down + LINE * row:g}", "fill": INK}
        ET.SubElement(root, "text", {**place, "text-anchor": anchor}).text = _plain(line)


def _plain(text: str) -> str:
    """Return text that XML can hold."""
    return "".join(c if c.isprintable() else " " for c in text)
