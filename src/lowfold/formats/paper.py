"""A dossier as a PDF that a reviewer would sign: our fonts, text that can be found, vectors."""

from __future__ import annotations

import io
import itertools
import logging
from collections.abc import Callable, Sequence
from importlib.resources import as_file, files
from typing import Final

from fpdf import FPDF
from fpdf.enums import Align, XPos, YPos

from lowfold.formats.paper_pictures import (
    COPPER,
    CREASE,
    INK,
    SOFT,
    draw_derating,
    draw_histogram,
    draw_load,
    draw_mark,
    draw_sketch,
    draw_strip,
)
from lowfold.views.dossier import Dossier, Note

__all__ = ["write_paper"]

MARGIN: Final = 18.0
FOOT: Final = 16.0
BODY: Final = 9.5
SMALL: Final = 8.0
LEADING: Final = 4.6
GAP: Final = 2.0  #: between columns, mm
DRAWN: Final = 92.0  #: mm, the highest a drawing is
#: What the fonts have no sign for, and what says the same.
INSTEAD: Final = str.maketrans({"∥": "||", "✕": "×", "\u202f": " ", "\u2009": " "})
MOST_NOTES: Final = 400  #: entries on paper; the file has all
MOST_SIGNS: Final = 2000  #: of one text; a row of a table has to stand on one page
MOST_REASON: Final = 20_000
#: Of a cell: so many for each mm of its width, some forty lines.
SIGNS_A_MM: Final = 22

# Which signs a font has not is seen on the paper, and no news for the log.
logging.getLogger("fpdf").setLevel(logging.ERROR)
logging.getLogger("fontTools").setLevel(logging.ERROR)


class _Paper(FPDF):
    """Pages with their number, the design's name and digest at the foot."""

    def __init__(self, of: Dossier) -> None:
        super().__init__(format="A4")
        self.of = of
        folder = files("lowfold.formats") / "fonts"
        for style, name in (("", "Regular"), ("B", "Semibold")):
            with as_file(folder / f"SourceSans3-{name}.ttf") as path:
                self.add_font("sans", style, path)
        self.set_font("sans", size=BODY)
        self.set_margins(MARGIN, MARGIN, MARGIN)
        self.c_margin = 0.0
        self.set_auto_page_break(auto=True, margin=FOOT + 6)
        self.set_title(said(of.name))
        self.set_creator("Lowfold")
        self.set_lang("en")
        self.set_text_color(*INK)

    def footer(self) -> None:
        self.set_y(-FOOT)
        self.set_draw_color(*CREASE)
        self.set_line_width(0.2)
        self.line(MARGIN, self.get_y(), self.w - MARGIN, self.get_y())
        self.set_font("sans", size=7.5)
        self.set_text_color(*SOFT)
        left = f"{self.of.name[:60]} · revision {self.of.revision} · {self.of.digest}"
        self.set_y(-FOOT + 2)
        self.cell(self.epw * 0.75, 4, said(left))
        page = f"{self.of.written} · page {self.page_no()} of {{nb}}"
        self.cell(self.epw * 0.25, 4, page, align=Align.R)
        self.set_text_color(*INK)
        self.set_font("sans", size=BODY)


def said(text: str, most: int = MOST_SIGNS) -> str:
    """Return text in one line, as the fonts can set it, cut where it would fill a page."""
    shown = " ".join("".join(c if c.isprintable() else " " for c in text[: most + 1]).split(" "))
    if len(text) > most:
        shown = f"{shown[:most]}… (whole in the file)"
    return shown.translate(INSTEAD)


def write_paper(of: Dossier) -> bytes:
    """Set a dossier on A4 pages.

    Returns
    -------
    bytes
        A PDF.
    """
    pdf = _Paper(of)
    pdf.add_page()
    _head(pdf)
    _chosen(pdf)
    _gates(pdf)
    _pictures(pdf)
    _warned(pdf)
    _parts(pdf)
    _measured(pdf)
    _record(pdf)
    _signed(pdf)
    return bytes(pdf.output())


def _para(
    pdf: _Paper,
    text: str,
    size: float = BODY,
    *,
    bold: bool = False,
    soft: bool = False,
    most: int = MOST_SIGNS,
) -> None:
    pdf.set_font("sans", "B" if bold else "", size)
    pdf.set_text_color(*(SOFT if soft else INK))
    pdf.multi_cell(
        0, size * 0.48, said(text, most), align=Align.L, new_x=XPos.LMARGIN, new_y=YPos.NEXT
    )
    pdf.set_text_color(*INK)


def _title(pdf: _Paper, text: str, room: float = 24.0) -> None:
    """Begin a section, on a page that has room for some of it."""
    if pdf.will_page_break(room):
        pdf.add_page()
    pdf.ln(4.5)
    _para(pdf, text, 11.5, bold=True)
    pdf.set_draw_color(*COPPER)
    pdf.set_line_width(0.4)
    pdf.line(MARGIN, pdf.get_y() + 0.6, MARGIN + 14, pdf.get_y() + 0.6)
    pdf.ln(2.4)


def _table(
    pdf: _Paper, head: Sequence[str], rows: Sequence[Sequence[str]], shares: Sequence[float]
) -> None:
    """Set rows under their heads; a row stands on one page, the heads again above each further."""
    widths = [pdf.epw * share / sum(shares) for share in shares]
    pdf.set_draw_color(*CREASE)
    pdf.set_line_width(0.15)
    _row(pdf, head, widths, bold=True)
    for cells in rows:
        _row(pdf, cells, widths, head=head)
    pdf.ln(1)
    pdf.set_font("sans", size=BODY)


def _row(
    pdf: _Paper,
    cells: Sequence[str],
    widths: Sequence[float],
    *,
    bold: bool = False,
    head: Sequence[str] = (),
) -> None:
    pdf.set_font("sans", "B" if bold else "", SMALL)
    pdf.set_text_color(*(SOFT if bold else INK))
    broken = [_broken(pdf, cell, width - GAP) for cell, width in zip(cells, widths, strict=True)]
    high = LEADING * max(len(lines) for lines in broken) + 1.2
    if pdf.will_page_break(high):
        pdf.add_page()
        if head:
            _row(pdf, head, widths, bold=True)
            pdf.set_font("sans", size=SMALL)
            pdf.set_text_color(*INK)
    y, x = pdf.get_y(), pdf.l_margin
    for lines, width in zip(broken, widths, strict=True):
        for k, line in enumerate(lines):
            pdf.text(x, y + LEADING * (k + 1) - 0.8, line)
        x += width
    pdf.set_draw_color(*CREASE)
    pdf.line(pdf.l_margin, y + high, pdf.w - pdf.r_margin, y + high)
    pdf.set_y(y + high)
    pdf.set_text_color(*INK)


def _broken(pdf: _Paper, text: str, width: float) -> list[str]:
    """Return a text in lines that fit a width, mm, in the font that is set."""
    shown = said(text, int(SIGNS_A_MM * width))
    if pdf.get_string_width(shown) <= width:
        return [shown]
    lines, line = [], ""
    for word in shown.split(" "):
        longer = f"{line} {word}" if line else word
        if pdf.get_string_width(longer) <= width:
            line = longer
            continue
        if line:
            lines.append(line)
        line = word
        while pdf.get_string_width(line) > width:  # a word that fits no line
            count = max(1, int(len(line) * width / pdf.get_string_width(line)))
            while count > 1 and pdf.get_string_width(line[:count]) > width:
                count -= 1
            lines.append(line[:count])
            line = line[count:]
    return [*lines, line]


def _head(pdf: _Paper) -> None:
    of = pdf.of
    _para(pdf, of.name, 19, bold=True)
    pdf.ln(0.8)
    _para(
        pdf,
        f"{of.kind} · revision {of.revision} · written {of.written} · digest {of.digest}",
        SMALL,
        soft=True,
    )
    if of.tags:
        _para(pdf, f"tags: {', '.join(of.tags)}", SMALL, soft=True)
    _title(pdf, "Need")
    _para(pdf, of.need, 11)
    pdf.ln(1.5)
    pairs = [(c.name, c.text) for c in of.tokens]
    half = (len(pairs) + 1) // 2
    columns = itertools.zip_longest(pairs[:half], pairs[half:], fillvalue=("", ""))
    rows = [(*one, *other) for one, other in columns]
    if rows:
        _table(pdf, ("what", "stated", "what", "stated"), rows, (24, 26, 24, 26))


def _chosen(pdf: _Paper) -> None:
    of = pdf.of
    _title(pdf, "Choice and reason")
    if of.choice:
        if of.choice_in_short:
            _para(pdf, of.choice_in_short, 11, bold=True)
        _para(pdf, of.choice, SMALL if len(of.choice) > 160 else BODY)
    else:
        _para(pdf, "Nothing is chosen yet.")
    pdf.ln(1)
    for paragraph in (of.why or "No reason is written down.").splitlines():
        if paragraph.strip():
            _para(pdf, paragraph, soft=not of.why, most=MOST_REASON)
    if of.sketch is not None:
        high = min(DRAWN, (of.sketch.height + 60) * 25.4 / 96)
        if pdf.will_page_break(high + 4):
            pdf.add_page()
        pdf.ln(2)
        y = pdf.get_y()
        used = draw_sketch(pdf, of.sketch, MARGIN, y, pdf.epw, DRAWN)
        pdf.set_y(y + used)
        pdf.set_font_size(BODY)


def _gates(pdf: _Paper) -> None:
    of = pdf.of
    _title(pdf, "Gates")
    _para(pdf, of.wrong or of.verdict, 11, bold=True)
    pdf.ln(1)
    if of.gates:
        _table(
            pdf,
            ("gate", "verdict", "figure", "margin", "what governs it"),
            [(g.name, g.verdict, g.figure, g.margin, " ".join(g.notes)) for g in of.gates],
            (12, 14, 24, 24, 50),
        )


def _picture(
    pdf: _Paper, title: str, words: Sequence[str], high: float, draw: Callable[[float], float]
) -> None:
    """Set a picture with its caption below, on one page."""
    if pdf.will_page_break(high + 10 + 4 * len(words)):
        pdf.add_page()
    pdf.ln(2)
    _para(pdf, title, BODY, bold=True)
    pdf.ln(1)
    y = pdf.get_y()
    used = draw(y)
    pdf.set_y(y + used)
    for line in words:
        _para(pdf, line, SMALL, soft=True)


def _pictures(pdf: _Paper) -> None:
    of, wide = pdf.of, pdf.epw
    for strip in of.strips:
        name = f"{strip.name}: span against the window" if strip.name else "Span against the window"
        _picture(pdf, name, strip.words, 12, lambda y, s=strip: draw_strip(pdf, s, MARGIN, y, wide))  # type: ignore[misc]
    for of_boards in of.histograms:
        _picture(
            pdf, "Spread of boards, with the worst corners", [of_boards.words], 44,
            lambda y, h=of_boards: draw_histogram(pdf, h, MARGIN, y, wide),  # type: ignore[misc]
        )  # fmt: skip
    for plot in of.loads:
        _picture(
            pdf, f"Load: {plot.name}", plot.words, 48,
            lambda y, p=plot: draw_load(pdf, p, MARGIN, y, wide * 0.8),  # type: ignore[misc]
        )  # fmt: skip
    for curve in of.curves:
        name = f"Power: {curve.name}" if curve.name else "Power"
        _picture(
            pdf, name, curve.words, 48,
            lambda y, c=curve: draw_derating(pdf, c, MARGIN, y, wide * 0.8),  # type: ignore[misc]
        )  # fmt: skip


def _warned(pdf: _Paper) -> None:
    of = pdf.of
    if of.faults:
        _title(pdf, "One part failed")
        _table(pdf, ("part", "then"), [(c.name, c.text) for c in of.faults], (30, 70))
    _title(pdf, "Cautions")
    for caution in of.cautions:
        _para(pdf, f"! {caution}")
    _para(
        pdf,
        "Results are design aids: the data sheet, the local code and a qualified person decide.",
        soft=True,
    )


def _parts(pdf: _Paper) -> None:
    of = pdf.of
    if not of.parts:
        return
    _title(pdf, "Parts to buy", 20 + 7 * min(len(of.parts), 6))
    pdf.set_font("sans", "B", SMALL)
    pdf.set_text_color(*SOFT)
    widths = (12, 24, 18, 20, 24, 18, 40, 18)
    for width, name in zip(
        widths,
        ("qty", "value", "code", "tolerance", "size", "rating", "refs", "marked"),
        strict=True,
    ):
        pdf.cell(width, LEADING, name)
    pdf.ln(LEADING + 0.6)
    pdf.set_text_color(*INK)
    for part, wears in zip(of.parts, of.wears, strict=True):
        if pdf.will_page_break(7):
            pdf.add_page()
        y = pdf.get_y()
        pdf.set_draw_color(*CREASE)
        pdf.set_line_width(0.15)
        pdf.line(MARGIN, y, pdf.w - MARGIN, y)
        pdf.set_font("sans", size=SMALL)
        refs = " ".join(part.refs)
        cells = (
            str(part.quantity), part.value, part.code, part.tolerance_words,
            part.family, part.rating, refs if len(refs) < 26 else refs[:24] + "…",
        )  # fmt: skip
        pdf.set_y(y + 0.9)
        for width, cell in zip(widths, cells, strict=False):
            pdf.cell(width, LEADING, said(cell))
        if wears.code or wears.bands:
            draw_mark(pdf, wears, pdf.get_x(), y + 1.1)
        else:
            pdf.cell(18, LEADING, "no mark")
        pdf.set_y(y + 6.4)
    pdf.set_font_size(BODY)


def _measured(pdf: _Paper) -> None:
    of = pdf.of
    if not of.measured:
        return
    _title(pdf, "Expected and measured")
    _para(pdf, f"{of.standing}; with the {of.meter}.")
    pdf.ln(1)
    _table(
        pdf,
        ("where", "expected", "limits", "read", "verdict"),
        [(m.where, m.expected, m.limits, m.read or "…………", m.verdict) for m in of.measured],
        (30, 18, 34, 18, 20),
    )


def _record(pdf: _Paper) -> None:
    of = pdf.of
    if of.record:
        _title(pdf, "Record")
        shown = of.record[-MOST_NOTES:]
        if len(shown) < len(of.record):
            left = len(of.record) - len(shown)
            _para(pdf, f"The newest {len(shown)}; {left} older ones are in the file.", soft=True)
        rows = [(str(n.number), n.at, n.kind, _noted(n)) for n in shown]
        _table(pdf, ("no.", "when", "what", ""), rows, (8, 24, 16, 80))
        for note in shown:
            if note.photograph is not None:
                _photograph(pdf, note)
    if of.revisions:
        _title(pdf, "Revisions")
        _table(
            pdf, ("revision", "what changed"), [(c.name, c.text) for c in of.revisions], (30, 90)
        )


def _noted(note: Note) -> str:
    return " — ".join(part for part in (note.text, note.beside) if part)


def _photograph(pdf: _Paper, note: Note) -> None:
    picture = note.photograph
    assert picture is not None  # it was asked for
    high = min(70.0, pdf.epw * 0.7 * picture.height / picture.width)
    wide = high * picture.width / picture.height
    if pdf.will_page_break(high + 10):
        pdf.add_page()
    pdf.ln(2.5)
    y = pdf.get_y()
    pdf.image(io.BytesIO(picture.image), MARGIN, y, wide, high)
    pdf.set_y(y + high + 0.8)
    _para(
        pdf,
        f"No. {note.number}: {note.text or 'photograph'} ({picture.sha256[:12]})",
        SMALL,
        soft=True,
    )


def _signed(pdf: _Paper) -> None:
    if pdf.will_page_break(40):
        pdf.add_page()
    pdf.ln(12)
    pdf.set_draw_color(*INK)
    pdf.set_line_width(0.2)
    y = pdf.get_y() + 8
    width = (pdf.epw - 16) / 3
    for k, words in enumerate(("designed", "measured", "reviewed")):
        x = MARGIN + k * (width + 8)
        pdf.line(x, y, x + width, y)
        pdf.set_font("sans", size=SMALL)
        pdf.set_text_color(*SOFT)
        pdf.text(x, y + 4, f"{words}: name, date, signature")
    pdf.set_text_color(*INK)
