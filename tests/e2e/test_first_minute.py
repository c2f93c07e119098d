"""Nothing kept until something is typed, the first minute, and what is found without a manual."""

import re

from playwright.sync_api import Page, expect

from tests.conftest import Server
from tests.e2e.conftest import answered, design_row, settled
from tests.e2e.test_sheet import kept, open_design


def how_many(page: Page, demo: Server) -> int:
    return len(page.request.get(f"{demo.url}/api/designs").json())


def test_looking_keeps_nothing_and_typing_keeps_one(page: Page, demo: Server) -> None:
    before = how_many(page, demo)
    for kind in ("a resistance", "a divider", "a network", "a sensor in a leg", "a whole board"):
        page.goto(f"{demo.url}/#/")
        page.get_by_role("link", name=kind, exact=True).click()
        page.wait_for_selector("main h1")
        answered(page)
    page.goto(f"{demo.url}/#/")
    open_design(page, "Battery sense")
    page.keyboard.press("Alt+4")
    expect(page.locator("#network")).to_have_value(re.compile("@OUT"))
    page.get_by_role("link", name="back to its sheet").click()
    settled(page)
    assert how_many(page, demo) == before
    page.goto(f"{demo.url}/#/new/divider")
    settled(page)
    page.get_by_label("wanted voltage").fill("2.5 V")
    kept(page)
    assert how_many(page, demo) == before + 1
    expect(page).to_have_url(re.compile("/designs/[0-9]+$"))
    page.reload()
    expect(page.get_by_label("wanted voltage")).to_have_value("2.5 V")


def test_an_empty_lowfold_opens_with_the_one_line(page: Page, demo: Server) -> None:
    for row in page.request.get(f"{demo.url}/api/designs").json():
        page.request.delete(f"{demo.url}/api/designs/{row['id']}", headers={"origin": demo.url})
    page.reload()
    line = page.get_by_label("The need, in one line").first
    expect(line).to_be_focused()
    page.keyboard.press("Alt+2")
    expect(line).to_have_value("250 Ω within 2 %, 20 mA")
    expect(page.locator("[data-first]")).to_be_visible()
    page.keyboard.press("Enter")
    settled(page)
    assert how_many(page, demo) == 1


def test_a_deleted_design_comes_back_with_the_undo_key(page: Page) -> None:
    page.get_by_role("button", name="Delete Battery sense").click()
    expect(page.get_by_text("“Battery sense” is deleted")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(design_row(page, "Battery sense")).to_be_visible()


def test_a_choice_is_copied_with_its_figures_as_text_and_as_a_table(page: Page) -> None:
    open_design(page, "Battery sense")
    copied = """() => {
      const data = new DataTransfer();
      const event = new ClipboardEvent("copy", {clipboardData: data, bubbles: true});
      document.body.dispatchEvent(event);
      return ["text/plain", "text/html"].map((kind) => data.getData(kind));
    }"""
    page.evaluate("document.activeElement.blur()")
    text, table = page.evaluate(copied)
    assert text.startswith("Battery sense\n")
    assert re.search(r"^R1\t200 kΩ\t", text, re.MULTILINE)
    assert "<td>200 kΩ</td>" in table
    page.keyboard.press("?")
    page.get_by_role("button", name="All of the help").click()
    page.get_by_label("copy figures with a decimal comma").check()
    page.get_by_label("size or family").fill("0805")
    page.go_back()
    settled(page)
    page.evaluate("document.activeElement.blur()")
    assert "\t3,018 V" in page.evaluate(copied)[0]
    # What a new need begins with stands in its sentence
    page.goto(f"{page.url.split('#')[0]}#/new/divider")
    expect(page.get_by_label(re.compile("size"))).to_have_value("0805")


def test_what_people_look_for_stands_where_they_look(page: Page) -> None:
    open_design(page, "Solar sense")
    expect(page).to_have_title(re.compile("^Solar sense · .* – Lowfold$"))
    page.get_by_text("export ▾").click()
    expect(page.get_by_text("No choice is pinned: the PDF shows the need")).to_be_visible()
    with page.expect_download() as paper:
        page.get_by_role("button", name="PDF").click()
    assert paper.value.suggested_filename.endswith(".pdf")
    for words in ("Copy", "Print"):
        expect(page.get_by_role("button", name=words)).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Alt+3")
    expect(page.get_by_role("heading", name="Export and print")).to_be_visible()
    page.keyboard.press("Alt+1")
    settled(page)
    page.keyboard.press("Alt+0")
    expect(page.get_by_role("button", name="Import", exact=True)).to_be_visible()
