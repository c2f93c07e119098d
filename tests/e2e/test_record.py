"""The record and the hand-over as somebody uses them: written, photographed, compared, handed on."""

import base64
import io
import json
import re
from collections.abc import Iterator
from pathlib import Path

import pypdfium2
import pytest
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests import plain
from tests.conftest import Server
from tests.e2e.conftest import Hosted, design_row, settled
from tests.e2e.test_bench import open_bench, read
from tests.e2e.test_one_line_further import PRESSED
from tests.e2e.test_sheet import kept, open_design, serious_findings


@pytest.fixture
def elsewhere(tmp_path: Path) -> Iterator[Server]:
    """A second Lowfold on an empty directory."""
    found = Hosted(tmp_path / "elsewhere")
    found.start()
    yield found
    found.stop()


def photograph() -> bytes:
    found = io.BytesIO()
    Image.effect_noise((160, 120), 60).convert("RGB").save(found, "JPEG")
    return found.getvalue()


def drop(at: Locator, name: str, file: bytes) -> None:
    """Drop a file as the system's own window would."""
    at.evaluate(
        """(target, [name, text]) => {
          const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
          const data = new DataTransfer();
          data.items.add(new File([bytes], name, { type: "image/jpeg" }));
          for (const kind of ["dragover", "drop"])
            target.dispatchEvent(new DragEvent(kind, {
              dataTransfer: data, bubbles: true, cancelable: true,
            }));
        }""",
        [name, base64.b64encode(file).decode()],
    )


def open_record(page: Page, name: str) -> None:
    page.get_by_role("link", name=name, exact=True).click()
    page.get_by_role("link", name="record", exact=True).click()
    page.locator("[data-entry]").first.wait_for()


def test_a_photograph_dropped_on_a_reading_belongs_to_it(page: Page, demo: Server) -> None:
    open_bench(page)
    page.locator("[data-point='voltage OUT 0']").click()
    read(page, "3.02")
    row = page.locator("[data-point='voltage OUT 0']")
    expect(row).to_contain_text("as expected")
    drop(row, "leads.jpg", photograph())
    expect(row).to_contain_text("▣ 1")
    page.get_by_role("link", name="record", exact=True).click()
    photo = page.locator("[data-entry=photo]").first
    expect(photo).to_contain_text("photograph at OUT against 0")
    expect(photo.get_by_role("img")).to_have_js_property("complete", value=True)
    assert photo.get_by_role("img").evaluate("e => e.naturalWidth") == 160
    where = int(re.findall(r"designs/(\d+)", page.url)[0])
    entries = plain.get(f"{demo.url}/api/designs/{where}/record").json()
    reading = next(e for e in entries if e["kind"] == "reading")
    assert next(e for e in entries if e["kind"] == "photo")["of"] == reading["id"]


def test_a_line_is_written_found_and_filtered(page: Page) -> None:
    open_record(page, "Loop receiver")
    page.keyboard.press("n")
    page.keyboard.type("Gauge swapped for the spare one")
    page.keyboard.press("Enter")
    first = page.locator("[data-entry]").first
    expect(first).to_contain_text("Gauge swapped for the spare one")
    expect(first).to_contain_text("no. 8 · note")
    page.get_by_role("searchbox", name="find").fill("screw terminals")
    expect(page.locator("[data-entry]")).to_have_count(1)
    page.get_by_role("searchbox", name="find").fill("")
    page.get_by_label("readings").uncheck()
    expect(page.locator("[data-entry=reading]")).to_have_count(0)
    page.get_by_role("link", name="lowfold").click()
    page.get_by_role("searchbox", name="find").fill("gauge swap")
    expect(page.locator("[data-place]")).to_have_count(1)
    expect(design_row(page, "Loop receiver")).to_be_visible()


def test_what_is_no_photograph_is_refused_and_nothing_lost(page: Page) -> None:
    open_record(page, "Loop receiver")
    drop(page.locator("[data-hand-over]"), "board.jpg", b"<svg onload='alert(1)'/>")
    refusal = page.get_by_role("alert")
    expect(refusal).to_contain_text("“board.jpg” is not kept: this is no photograph")


def test_two_revisions_are_compared_and_one_restored(page: Page) -> None:
    open_design(page, "Battery sense")
    page.get_by_label("wanted voltage").fill("3.1 V")
    settled(page)
    kept(page)
    page.get_by_role("link", name="record", exact=True).click()
    change = page.locator("[data-entry=revision]")
    expect(change.first).to_contain_text("wanted voltage 3 V → 3.1 V")
    buttons = page.get_by_role("button", name="compare")
    buttons.nth(1).click()
    expect(page.get_by_text("pick another to compare it with")).to_be_visible()
    buttons.nth(0).click()
    compared = page.locator("[data-compared]")
    expect(compared.get_by_role("row").filter(has_text="wanted voltage")).to_contain_text("3.1 V")
    expect(compared).to_contain_text("spread")
    assert serious_findings(page, "compared") == []
    page.get_by_role("button", name="restore").first.click()
    expect(page.get_by_text(re.compile(r"Revision \d+ is the newest again"))).to_be_visible()
    page.get_by_role("link", name="sheet").click()
    settled(page)
    expect(page.get_by_label("wanted voltage")).to_have_value("3.00 V")


def test_a_hand_over_is_taken_in_elsewhere_and_is_equal(
    page: Page, demo: Server, elsewhere: Server
) -> None:
    open_record(page, "Loop receiver")
    where = int(re.findall(r"designs/(\d+)", page.url)[0])
    with page.expect_download() as got:
        page.get_by_role("button", name="JSON").click()
    file = got.value.path()
    assert got.value.suggested_filename == "loop-receiver.lowfold.json"
    other = page.context.new_page()
    other.goto(f"{elsewhere.url}/")
    other.get_by_label("File to import").set_input_files(
        {"name": "a.json", "mimeType": "application/json", "buffer": file.read_bytes()}
    )
    expect(other.get_by_text("Taken in: “Loop receiver”.")).to_be_visible()
    expect(design_row(other, "Loop receiver")).to_contain_text("#logger")
    here = plain.get(f"{demo.url}/api/designs/{where}/handover.json").json()["designs"]
    there = plain.get(f"{elsewhere.url}/api/designs/1/handover.json").json()["designs"]
    for design in (*here, *there):
        del design["created"], design["updated"]
    assert there == here
    assert here == [
        {n: v for n, v in d.items() if n not in {"created", "updated"}}
        for d in json.loads(file.read_bytes())["designs"]
    ]
    with page.expect_download() as got:
        page.get_by_role("button", name="PDF").click()
    paper = pypdfium2.PdfDocument(got.value.path())
    assert here[0]["digest"] in paper[0].get_textpage().get_text_bounded()
    other.close()


def test_a_broken_file_is_told_and_nothing_taken(page: Page) -> None:
    design_row(page, "Battery sense").wait_for()
    rows = page.locator("[data-place]").count()
    page.get_by_label("File to import").set_input_files(
        {"name": "b.json", "mimeType": "application/json", "buffer": b'{"format": "lowfold/9"}'}
    )
    expect(page.get_by_role("alert")).to_contain_text("Nothing of b.json is taken in: this file is")
    assert page.locator("[data-place]").count() == rows


def test_typing_is_undone_and_done_again_by_the_usual_keys(page: Page) -> None:
    open_design(page, "Battery sense")
    wanted = page.get_by_label("wanted voltage")
    wanted.fill("2V5")
    settled(page)
    expect(page.get_by_role("article", name="Value")).to_contain_text("fail")
    page.keyboard.press("Control+z")
    expect(wanted).to_have_value("3.00 V")
    page.keyboard.press("Control+Shift+z")
    expect(wanted).to_have_value("2V5")
    page.get_by_role("button", name="Undo").click()
    expect(wanted).to_have_value("3.00 V")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    kept(page)


def test_choice_and_reason_are_written_into_the_record(page: Page) -> None:
    open_design(page, "Battery sense")
    page.get_by_label("Why this one").fill("The bin has thousands of both.")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("button", name="into the record")).to_be_hidden()
    page.get_by_role("button", name="Record beside the work").click()
    beside = page.locator("[data-beside]")
    expect(beside.locator("[data-entry=decision]").first).to_contain_text("The bin has thousands")
    assert serious_findings(page, "beside") == []
    page.keyboard.press("Escape")
    expect(beside).to_have_count(0)


def test_designs_are_narrowed_copied_and_brought_back(page: Page) -> None:
    page.get_by_label("stands").select_option("fail")
    expect(page.locator("[data-place]")).to_have_count(1)
    page.get_by_label("stands").select_option("")
    page.get_by_label("tag").select_option("probe")
    expect(page.locator("[data-place]")).to_have_count(1)
    page.get_by_label("tag").select_option("")
    page.get_by_role("button", name="Copy Solar sense").click()
    settled(page)
    expect(page.get_by_label("Name of the design")).to_have_value("Solar sense, copy")
    page.get_by_role("link", name="lowfold").click()
    page.get_by_role("button", name="Delete Solar sense, copy").click()
    page.get_by_role("button", name="Deleted").click()
    page.locator("[data-deleted]").get_by_role("button", name="Bring back").click()
    expect(design_row(page, "Solar sense, copy")).to_be_visible()
    expect(page.locator("[data-deleted]")).to_contain_text("Nothing.")


def test_the_parts_of_several_designs(page: Page) -> None:
    for name in ("Battery sense", "Loop receiver"):
        page.get_by_label(f"Pick {name}").check()
    page.get_by_role("button", name="Parts to buy").click()
    parts = page.locator("[data-parts]")
    expect(parts.get_by_role("heading")).to_have_text("2 parts to buy")
    page.get_by_label("× Battery sense").fill("5")
    expect(parts.get_by_role("heading")).to_have_text("10 parts to buy")
    assert serious_findings(page, "parts") == []


def test_a_long_list_is_drawn_as_far_as_it_is_seen(page: Page, demo: Server) -> None:
    fields = {"kind": "resistance", "brief": {"target_ohm": "4k53"}}
    with plain.Client(base_url=demo.url) as http:
        for k in range(260):
            http.post("/api/designs", json={**fields, "name": f"Shunt {k:03}"}).raise_for_status()
    page.reload()
    expect(page.get_by_text("268 designs")).to_be_visible()
    assert page.locator("[data-place]").count() < 40
    page.keyboard.press("ArrowUp")  # to the last one
    expect(page.locator("[data-place='267'] a")).to_be_focused()
    page.locator("[data-designs]").evaluate("e => e.scrollTo(0, 62 * 150)")
    expect(page.locator("[data-place='150'] a")).to_be_visible()


@pytest.mark.parametrize("width", [720, 1280, 1920])
def test_nothing_of_the_record_is_cut_off(page: Page, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 800})
    open_record(page, "Loop receiver")
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    assert page.evaluate(PRESSED) == []
    for theme in ("daylight", "lamplight"):
        assert serious_findings(page, f"record {theme}") == []
        page.get_by_role("button", name=re.compile("^Change to")).click()
    page.set_viewport_size({"width": 1280, "height": 800})
