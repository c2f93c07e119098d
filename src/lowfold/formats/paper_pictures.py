"""What is drawn on paper: schematics, spans, histograms, load lines, derating curves, marks."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

from fpdf import FPDF

from lowfold.views.dossier import (
    GROUND_BARS,
    Curve,
    Histogram,
    LoadPlot,
    PlacedText,
    Sketch,
    Strip,
    Wears,
)

__all__ = ["COPPER", "CREASE", "INK", "SOFT", "WINDOW", "Frame", "draw_mark", "draw_sketch"]

RGB = tuple[int, int, int]
_At = Callable[[float, float], tuple[float, float]]

INK: Final[RGB] = (29, 39, 48)
SOFT: Final[RGB] = (92, 100, 108)
CREASE: Final[RGB] = (205, 200, 188)
COPPER: Final[RGB] = (160, 76, 28)
WINDOW: Final[RGB] = (226, 232, 220)
#: What the bands of a part look like in print.
BANDS: Final[dict[str, RGB]] = {
    "black": (27, 27, 27), "brown": (122, 74, 33), "red": (193, 39, 45), "orange": (232, 130, 42),
    "yellow": (239, 211, 58), "green": (47, 143, 78), "blue": (43, 98, 184),
    "violet": (125, 74, 158), "grey": (141, 145, 150), "white": (247, 247, 244),
    "gold": (184, 146, 58), "silver": (198, 202, 206), "pink": (231, 154, 176),
}  # fmt: skip
PX: Final = 25.4 / 96  #: mm of a CSS pixel
LARGEST: Final = 1.0  #: a drawing is not made larger than it is on screen


def draw_sketch(pdf: FPDF, sketch: Sketch, x: float, y: float, width: float, most: float) -> float:
    """Draw a schematic into a width, mm; how high it is, mm.

    Parameters
    ----------
    x, y : float
        Left upper corner, mm.
    width, most : float
        Room there is, mm.
    """
    margin = 30.0
    beside = max((len(t) for p in (*sketch.parts, *sketch.loads) for t in p.lines), default=0)
    wide, high = sketch.width + 2 * margin + 6.0 * beside, sketch.height + 2 * margin
    scale = min(LARGEST * PX, width / wide, most / high)
    left, top = x + margin * scale, y + margin * scale
    size = max(4.0, 13 * scale / PX * 0.75)

    def at(px: float, py: float) -> tuple[float, float]:
        return left + px * scale, top + py * scale

    pdf.set_draw_color(*INK)
    pdf.set_fill_color(255, 255, 255)
    pdf.set_line_width(0.28)
    for x1, y1, x2, y2 in sketch.wires:
        pdf.line(*at(x1, y1), *at(x2, y2))
    _draw_parts(pdf, sketch, at, scale, size)
    _draw_nodes(pdf, sketch, at, scale, size)
    return high * scale


def _draw_parts(pdf: FPDF, sketch: Sketch, at: _At, scale: float, size: float) -> None:
    half = sketch.symbol / 2
    for places, dashed in ((sketch.parts, False), (sketch.loads, True)):
        for part in places:
            if dashed:
                pdf.set_dash_pattern(0.8, 0.6)
            pdf.rect(*at(part.x - 9, part.y - half), 18 * scale, 2 * half * scale, style="DF")
            pdf.set_dash_pattern()
            _beside(pdf, part, at(part.x + 14, part.y), size)
    for switch in sketch.switches:
        pdf.line(*at(switch.x, switch.y - half), *at(switch.x + 12, switch.y + half - 6))
        _beside(pdf, switch, at(switch.x + 15, switch.y), size)


def _draw_nodes(pdf: FPDF, sketch: Sketch, at: _At, scale: float, size: float) -> None:
    if sketch.supply:
        cx, cy = at(sketch.supply.x, sketch.supply.y)
        pdf.circle(cx, cy, 24 * scale, style="DF")
        pdf.set_font_size(size)
        for line in sketch.supply.lines:
            pdf.text(cx - pdf.get_string_width(line) / 2, cy + size * 0.12, line)
    for node in sketch.nodes:
        pdf.set_fill_color(*INK)
        pdf.circle(*at(node.x, node.y), 3 * scale, style="F")
        pdf.set_fill_color(255, 255, 255)
        pdf.set_font_size(size)
        for line in node.lines:
            place = at(node.x - 6, node.y - 4)
            pdf.text(place[0] - pdf.get_string_width(line), place[1], line)
    for end in sketch.ends:
        pdf.circle(*at(end.x, end.y), 4 * scale, style="DF")
        if sketch.grounds:
            pdf.text(*at(end.x + 8, end.y + (16 if end.y == 0 else -7)), end.lines[0])
    for mark in sketch.grounds:
        for row, reach in enumerate(GROUND_BARS):
            y = mark.y + 4 * row
            pdf.line(*at(mark.x - reach, y), *at(mark.x + reach, y))
        if mark.lines[0]:
            pdf.text(*at(mark.x - 12, mark.y + 26), mark.lines[0])


def _beside(pdf: FPDF, part: PlacedText, place: tuple[float, float], size: float) -> None:
    pdf.set_font_size(size)
    step = size * 0.42
    first = place[1] - step * (len(part.lines) - 1) / 2 + size * 0.12
    for row, line in enumerate(part.lines):
        pdf.text(place[0], first + step * row, line)


@dataclass
class Frame:
    """A plot's axes: from figures to places on the page."""

    pdf: FPDF
    x: float  #: left upper corner, mm
    y: float
    width: float
    height: float
    across: tuple[float, float]  #: figures at the left and the right end
    up: tuple[float, float]  #: figures at the bottom and the top
    logarithmic: bool = False

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Return where a figure lies on the page, mm; at the edge where it is beyond."""
        if self.logarithmic:
            low, high, x = (math.log(max(v, 1e-12)) for v in (*self.across, x))
        else:
            low, high = self.across
        share = (x - low) / ((high - low) or 1.0)
        rise = (y - self.up[0]) / ((self.up[1] - self.up[0]) or 1.0)
        return (
            self.x + self.width * min(max(share, 0.0), 1.0),
            self.y + self.height * (1 - min(max(rise, 0.0), 1.0)),
        )

    def axes(self, x_name: str, y_name: str, xs: Sequence[float], ys: Sequence[float]) -> None:
        """Draw the axes with their names and some figures."""
        pdf = self.pdf
        pdf.set_draw_color(*CREASE)
        pdf.set_text_color(*SOFT)
        pdf.set_line_width(0.2)
        pdf.set_font_size(7)
        for value in ys:
            _, py = self.at(self.across[0], value)
            pdf.line(self.x, py, self.x + self.width, py)
            words = _tick(value)
            pdf.text(self.x - pdf.get_string_width(words) - 1, py + 0.9, words)
        for value in xs:
            px, _ = self.at(value, self.up[0])
            words = _tick(value)
            pdf.line(px, self.y + self.height, px, self.y + self.height + 1)
            pdf.text(px - pdf.get_string_width(words) / 2, self.y + self.height + 3.6, words)
        pdf.text(self.x, self.y - 1.2, y_name)
        width = pdf.get_string_width(x_name)
        pdf.text(self.x + self.width - width, self.y + self.height + 6.8, x_name)
        pdf.set_text_color(*INK)

    def line(self, xs: Sequence[float], ys: Sequence[float], colour: RGB, width: float) -> None:
        """Draw a curve."""
        self.pdf.set_draw_color(*colour)
        self.pdf.set_line_width(width)
        self.pdf.polyline([self.at(x, y) for x, y in zip(xs, ys, strict=True)])

    def dot(self, x: float, y: float, words: str) -> None:
        """Mark a point with its name."""
        px, py = self.at(x, y)
        self.pdf.set_fill_color(*COPPER)
        self.pdf.circle(px, py, 0.9, style="F")
        self.pdf.set_font_size(7)
        room = self.x + self.width - px
        wide = self.pdf.get_string_width(words)
        self.pdf.text(px + 1.4 if wide < room else px - wide - 1.4, py - 1.0, words)


def _tick(value: float) -> str:
    text = f"{value:.3g}"
    if "e+" in text:
        text = f"{float(text):,.0f}".replace(",", " ")
    return text.replace("-", "−")


def draw_strip(pdf: FPDF, strip: Strip, x: float, y: float, width: float) -> float:
    """Draw a span against its window; how high that is, mm."""
    reach = 1.15 * max(strip.within, abs(strip.lowest), abs(strip.highest), 1e-9)
    frame = Frame(pdf, x, y, width, 6.0, (-reach, reach), (0, 1))
    pdf.set_fill_color(*WINDOW)
    left, _ = frame.at(-strip.within, 1)
    right, _ = frame.at(strip.within, 1)
    pdf.rect(left, y, right - left, 6, style="F")
    pdf.set_line_width(0.3)
    pdf.set_draw_color(*SOFT)
    for edge in (left, right):
        pdf.line(edge, y - 0.6, edge, y + 6.6)
    low, _ = frame.at(strip.lowest, 1)
    high, _ = frame.at(strip.highest, 1)
    middle, _ = frame.at(strip.nominal, 1)
    pdf.set_draw_color(*COPPER)
    pdf.set_line_width(0.9)
    pdf.line(low, y + 3, high, y + 3)
    pdf.set_line_width(0.3)
    for end in (low, high):
        pdf.line(end, y + 1.6, end, y + 4.4)
    pdf.set_fill_color(*INK)
    pdf.circle(middle, y + 3, 0.9, style="F")
    pdf.set_font_size(7)
    pdf.set_text_color(*SOFT)
    for value, place in ((-strip.within, left), (strip.within, right)):
        words = _signed_percent(value)
        pdf.text(place - pdf.get_string_width(words) / 2, y + 9.6, words)
    zero, _ = frame.at(0.0, 1)
    pdf.text(zero - 0.6, y + 9.6, "0")
    pdf.set_text_color(*INK)
    return 12.0


def _signed_percent(value: float) -> str:
    return f"{100 * value:+.3g} %".replace("-", "−")


def draw_histogram(pdf: FPDF, of: Histogram, x: float, y: float, width: float) -> float:
    """Draw how often which deviation comes; how high that is, mm."""
    reach = 1.05 * max(of.within, abs(of.lowest), abs(of.highest), 1e-9)
    most = max(of.counts) or 1
    frame = Frame(pdf, x, y + 4, width, 30.0, (-100 * reach, 100 * reach), (0, most))
    left, _ = frame.at(-100 * of.within, 0)
    right, _ = frame.at(100 * of.within, 0)
    pdf.set_fill_color(*WINDOW)
    pdf.rect(left, frame.y, right - left, frame.height, style="F")
    ticks = [-100 * of.within, 0.0, 100 * of.within]
    frame.axes("deviation from the target, %", "boards in a sample", ticks, [])
    pdf.set_fill_color(*SOFT)
    for low, high, count in zip(of.edges, of.edges[1:], of.counts, strict=False):
        if count:
            (x1, top), (x2, bottom) = frame.at(100 * low, count), frame.at(100 * high, 0)
            pdf.rect(x1, top, max(x2 - x1 - 0.05, 0.1), bottom - top, style="F")
    pdf.set_draw_color(*COPPER)
    pdf.set_line_width(0.5)
    for end in (of.lowest, of.highest):
        px, _ = frame.at(100 * end, 0)
        pdf.line(px, frame.y, px, frame.y + frame.height)
    return 44.0


def draw_load(pdf: FPDF, of: LoadPlot, x: float, y: float, width: float) -> float:
    """Draw a figure against what loads it; how high that is, mm."""
    low = min(*of.lowest, of.window[0])
    high = max(*of.highest, of.window[1])
    pad = 0.08 * ((high - low) or abs(high) or 1.0)
    start = max(of.x[0], 1e-12) if of.logarithmic else of.x[0]
    frame = Frame(
        pdf, x + 12, y + 4, width - 12, 34.0, (start, of.x[-1]), (low - pad, high + pad),
        of.logarithmic,
    )  # fmt: skip
    _, top = frame.at(of.x[0], of.window[1])
    _, bottom = frame.at(of.x[0], of.window[0])
    pdf.set_fill_color(*WINDOW)
    pdf.rect(frame.x, top, frame.width, bottom - top, style="F")
    middle = math.sqrt(start * of.x[-1]) if of.logarithmic else (of.x[0] + of.x[-1]) / 2
    frame.axes(of.x_name, of.y_name, [start, middle, of.x[-1]], list(of.window))
    for curve in (of.lowest, of.highest):
        frame.line(of.x, curve, SOFT, 0.25)
    frame.line(of.x, of.nominal, COPPER, 0.5)
    for px, py, words in of.points:
        frame.dot(px, py, words)
    return 48.0


def draw_derating(pdf: FPDF, of: Curve, x: float, y: float, width: float) -> float:
    """Draw what is left of a rating over the ambient, with the parts on it; mm of height."""
    across = (of.points[0][0], of.points[-1][0])
    most = max(1.0, *(share for _, share in of.parts)) if of.parts else 1.0
    frame = Frame(pdf, x + 12, y + 4, width - 12, 34.0, across, (0.0, 105 * most))
    frame.axes(
        "ambient, °C", "share of the rating, %", [across[0], of.ambient_c, across[1]], [0, 50, 100]
    )
    celsius = [c for c, _ in of.points]
    frame.line(celsius, [100 * s for _, s in of.points], SOFT, 0.35)
    frame.line(celsius, [100 * s * of.allowed for _, s in of.points], COPPER, 0.35)
    taken: list[float] = []
    for ref, share in sorted(of.parts, key=lambda part: -part[1]):
        near = any(abs(share - other) < 0.06 * most for other in taken)
        frame.dot(of.ambient_c, 100 * share, "" if near else ref)
        taken.append(share)
    return 48.0


def draw_mark(pdf: FPDF, wears: Wears, x: float, y: float) -> None:
    """Draw what is to be seen on a part, 16 mm wide and 4 mm high."""
    pdf.set_draw_color(*SOFT)
    pdf.set_line_width(0.2)
    if wears.look == "bands" and wears.bands:
        pdf.line(x, y + 2, x + 16, y + 2)
        pdf.set_fill_color(232, 216, 188)
        pdf.rect(x + 2, y, 12, 4, style="DF")
        step = 8.0 / max(len(wears.bands) - 1, 1)
        for k, band in enumerate(wears.bands):
            gap = 1.0 if k == len(wears.bands) - 1 else 0.0
            pdf.set_fill_color(*BANDS.get(band, INK))
            pdf.rect(x + 3 + k * step + gap, y, 1.1, 4, style="F")
        return
    pdf.set_fill_color(*CREASE)
    pdf.rect(x + 2, y, 12, 4, style="F")
    pdf.set_fill_color(40, 44, 48)
    pdf.rect(x + 4, y, 8, 4, style="F")
    pdf.set_text_color(255, 255, 255)
    pdf.set_font_size(6.5)
    words = wears.code[:6]
    pdf.text(x + 8 - pdf.get_string_width(words) / 2, y + 2.8, words)
    pdf.set_text_color(*INK)
