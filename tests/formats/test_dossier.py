"""Paper, text and drawing of a dossier: nothing in them runs, and the paper can be read."""

import re
from dataclasses import replace
from xml.etree import ElementTree as ET

import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lowfold.core.bench.inventory import Inventory
from lowfold.demo.designs import DESIGNS
from lowfold.formats.dossier_md import plain, write_markdown
from lowfold.formats.drawing_svg import write_svg
from lowfold.formats.paper import write_paper
from lowfold.formats.tables import plain_cell
from lowfold.views.dossier import Caption, Dossier, Kept, Note
from lowfold.views.handing_over import dossier_of

HOSTILE = (
    '=cmd|" /C calc"!A0 <script>alert(1)</script> [x](javascript:alert(1)) | ![](http://x) `a`'
)


def dossier(name: str) -> Dossier:
    fields = next(d for d in DESIGNS if d["name"] == name)
    full = {"prefer": "nearest", "choice": None, "why": "", "tags": [], **fields}
    entry = {"number": 1, "at": "2026-11-02T09:10:00.000+00:00", "kind": "note", "text": HOSTILE}
    kept = Kept(full, 3, "1234 5678 9abc", [entry], {}, [(1, entry["at"], "begun")])  # type: ignore[list-item]
    return dossier_of(kept, Inventory())


@pytest.fixture(scope="module", params=[d["name"] for d in DESIGNS])
def of(request: pytest.FixtureRequest) -> Dossier:
    return dossier(request.param)


def test_paper_is_text_that_can_be_found(of: Dossier) -> None:
    paper = pypdfium2.PdfDocument(write_paper(of))
    pages = [page.get_textpage().get_text_bounded() for page in paper]
    whole = " ".join(" ".join(pages).split())
    assert of.name in whole
    assert "Choice and reason" in whole
    for gate in of.gates:
        assert gate.name in whole
    for k, page in enumerate(pages, 1):
        assert f"page {k} of {len(pages)}" in page
        assert "revision 3 · 1234 5678 9abc" in page
    assert "reviewed: name, date, signature" in pages[-1]
    for part in of.parts:
        assert part.value in whole
    # Every sign is one that the fonts have: none is set as the box of a missing one
    assert "\ufffe" not in whole
    assert "\x00" not in whole


def test_paper_has_our_fonts_and_vectors(of: Dossier) -> None:
    paper = write_paper(of)
    assert b"/FontFile2" in paper
    kinds = [o.type for page in pypdfium2.PdfDocument(paper) for o in page.get_objects()]
    assert pypdfium2.raw.FPDF_PAGEOBJ_IMAGE not in kinds  # nothing is a picture of a drawing
    assert kinds.count(pypdfium2.raw.FPDF_PAGEOBJ_PATH) > 10


def test_no_text_is_too_long_for_paper() -> None:
    # A row of a table stands on one page, whatever is in it
    long = replace(
        dossier("Old probe board"),
        name="日本 " * 60,
        why="w" * 20_000,
        tokens=(Caption("network", "R1 in a 100\n" * 400), Caption("x" * 900, "")),
        record=tuple(Note(k, "2026-11-02 09:10", "note", "word " * 800, "y" * 900) for k in (1, 2)),
        faults=(Caption("z" * 400, "a b " * 900),),
    )
    paper = pypdfium2.PdfDocument(write_paper(long))
    whole = " ".join(page.get_textpage().get_text_bounded() for page in paper)
    assert whole.count("(whole in the file)") >= 4


def test_no_script_in_a_drawing(of: Dossier) -> None:
    if of.sketch is None:
        assert of.wrong
        return
    svg = write_svg(of.sketch, HOSTILE)
    names = {element.tag.rpartition("}")[2] for element in ET.fromstring(svg).iter()}
    assert names <= {"svg", "title", "g", "path", "rect", "circle", "text"}
    assert "<script" not in svg
    assert not re.search(r"\son\w+=|href|url\(", svg)
    for part in of.parts:
        for ref in part.refs:
            assert ref in svg


def test_no_markup_of_a_user_in_the_text(of: Dossier) -> None:
    text = write_markdown(replace(of, name=HOSTILE, why=f"# {HOSTILE}\n- {HOSTILE}"))
    assert "<script" not in text
    assert "](" not in text
    assert not re.search(r"(?<!\\)`", text)
    for line in text.splitlines():
        assert not line.startswith(("# #", "> #", "> - "))


@given(st.text())
def test_text_in_markdown_is_one_line_without_markup(text: str) -> None:
    shown = plain(text)
    assert "\n" not in shown
    assert not re.search(r"(?<!\\)[`*_\[\]|<>]", shown)


@pytest.mark.parametrize("cell", ["=1+1", "+1", "-1", "@x", "\t=1", "\r=1", " =1"])
def test_cells_that_a_spreadsheet_would_run_do_not(cell: str) -> None:
    # OWASP, CSV injection: cells that begin so are formulas (from memory)
    assert str(plain_cell(cell)).startswith("'")
    assert plain_cell(-4.5) == -4.5
    assert plain_cell("4k7") == "4k7"


def read_at(number: int, text: str, **more: object) -> dict[str, object]:
    point = {"kind": "resistance", "part": "R1"}
    at = f"2026-11-02T09:{number:02d}:00.000+00:00"
    return {"number": number, "at": at, "kind": "reading", "text": text, "point": point, **more}


def test_the_newest_reading_stands_unless_it_is_taken_back() -> None:
    fields = next(d for d in DESIGNS if d["name"] == "Battery sense")
    full = {"prefer": "nearest", "choice": None, "why": "", "tags": [], **fields}
    back = {**read_at(4, "taken back"), "kind": "correction", "corrects": 3}
    entries = [read_at(1, "199k"), read_at(2, "200k1"), read_at(3, "20k"), back]
    for record, stands in (
        (entries[:1], "199"), (entries[:2], "200.1"), (entries[:3], "20"), (entries, None)
    ):  # fmt: skip
        found = dossier_of(Kept(full, 3, "1234", record, {}, []), Inventory())
        read = [m.read.split()[0] for m in found.measured if m.read]
        assert read == ([stands] if stands else [])
