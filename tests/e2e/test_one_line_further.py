"""The board, the sensor and two candidates side by side, as somebody in a hurry drives them."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.conftest import answered, design_row, settled
from tests.e2e.test_sheet import kept, open_design, serious_findings

LINES = """Battery sense: 14.4 V to 3 V within 4 % into 1 MΩ, at most 80 µA
Radio: 12 V into a modem
Strobe: 12 V to 3.33 V within 0.5 %"""


def test_a_board_is_pasted_chosen_kept_and_handed_out(page: Page) -> None:
    page.get_by_role("link", name="a whole board").click()
    page.locator("#needs").fill(LINES)
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("2 fail or are not understood")).to_be_visible()
    rows = page.get_by_role("group", name="Choices").get_by_role("row")
    expect(rows.nth(1)).to_contain_text("Radio")
    expect(rows.nth(1).locator("mark")).to_have_text("12 V")
    expect(rows.nth(3)).to_contain_text("pass")
    with page.expect_download() as handed:
        page.get_by_role("button", name="Export CSV").click()
    assert handed.value.suggested_filename == "board.csv"
    page.get_by_role("button", name="Keep as designs").click()
    expect(page.get_by_text("2 designs kept, their choices pinned.")).to_be_visible()
    page.get_by_role("status").get_by_role("link", name="Designs").or_(
        page.get_by_role("link", name="Designs").first
    ).first.click()
    page.get_by_role("link", name="Strobe").click()
    settled(page)
    expect(page.locator("[role=option][aria-selected=true]")).to_contain_text("pin")


def test_a_sensor_is_stated_chosen_judged_and_kept(page: Page) -> None:
    page.get_by_role("link", name="a sensor in a leg").click()
    listed = page.get_by_role("listbox", name="Resistors")
    # Common practice: the geometric mean of 27 kΩ and 5.1 kΩ is 11.7 kΩ
    expect(listed.get_by_role("option").first).to_contain_text("12 kΩ")
    page.get_by_role("button", name="window").click()
    page.keyboard.type("1.2 V to 2.2 V")
    gate = page.get_by_role("article", name="Window")
    expect(gate).to_contain_text("fail")
    page.get_by_label("what is wanted").fill("nonsense")
    expect(page.get_by_text("is no aim: write widest swing")).to_be_visible()
    page.get_by_label("what is wanted").fill("straight line")
    expect(listed.get_by_role("option").first).to_contain_text("9.1 kΩ")
    picture = page.get_by_role("img", name=re.compile("The output falls"))
    expect(picture).to_have_accessible_name(re.compile("0 °C: 2.468 V"))
    page.keyboard.press("ArrowDown")
    expect(listed.get_by_role("option").nth(1)).to_have_attribute("aria-selected", "true")
    page.get_by_label("Name of the design").click()
    page.keyboard.press("Control+a")
    page.keyboard.type("Water temperature")
    page.get_by_role("button", name="pin").click()
    expect(listed.get_by_role("option", selected=True)).to_contain_text("pin")
    kept(page)
    page.reload()
    expect(listed.get_by_role("option", selected=True)).to_contain_text("pin")
    page.get_by_role("link", name="bench").click()
    expect(page.get_by_text("RS1")).not_to_have_count(0)
    page.go_back()
    page.get_by_role("button", name="fold it step by step").click()
    expect(page.locator("#network")).to_have_value(re.compile("RS1=27k"))
    page.get_by_role("link", name="Designs").click()
    expect(design_row(page, "Water temperature")).to_contain_text("3 points")
    expect(page.get_by_role("link", name="Water temperature, folded")).to_have_count(0)


def test_two_candidates_side_by_side_by_one_key(page: Page) -> None:
    open_design(page, "Solar sense")
    page.get_by_role("listbox").focus()
    page.keyboard.press("Home")
    page.keyboard.press("b")
    held = page.get_by_role("heading", name=re.compile("Side by side"))
    expect(held).to_be_visible()
    page.keyboard.press("ArrowDown")
    table = page.get_by_role("group", name="What differs")
    expect(table.get_by_role("row", name=re.compile("output resistance"))).to_be_visible()
    expect(table.get_by_text(re.compile("^For the (first|second): "))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("^Schematic of"))).to_have_count(2)
    page.keyboard.press("b")
    expect(held).to_have_count(0)


def test_another_decade_of_the_same_ratio_is_a_key_away(page: Page) -> None:
    page.get_by_role("link", name="a divider").click()
    settled(page)
    first = page.locator("[role=option]").first
    expect(first).to_contain_text("4.7 kΩ")
    page.get_by_role("listbox").focus()
    page.keyboard.press("ArrowRight")
    expect(first).to_contain_text("47 kΩ")
    expect(first).to_have_attribute("aria-selected", "true")
    page.keyboard.press("ArrowLeft")
    expect(first).to_contain_text("4.7 kΩ")
    expect(page.locator("[data-careful]")).to_contain_text("A careful designer takes")


def test_new_views_have_no_serious_finding_in_either_theme(page: Page) -> None:
    here = page.url.split("#")[0]
    page.goto(f"{here}#/new/board")
    page.get_by_role("button", name="take an example").click()
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("different values to buy")).to_be_visible()
    assert serious_findings(page, "board") == []
    page.goto(f"{here}#/new/sensor")
    expect(page.get_by_role("listbox", name="Resistors")).to_be_visible()
    assert serious_findings(page, "sensor") == []
    page.goto(f"{here}#/")
    open_design(page, "Solar sense")
    page.get_by_role("listbox").focus()
    page.keyboard.press("b")
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("group", name="What differs")).to_be_visible()
    answered(page)
    assert serious_findings(page, "side by side") == []
    page.goto(f"{here}#/")
    page.get_by_role("link", name="Old probe board").click()
    page.locator("h2", has_text="Fold").click()
    page.keyboard.press("h")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("img", name=re.compile("Potentials as heights"))).to_be_visible()
    assert serious_findings(page, "heights") == []


#: What reaches beyond the window and is not scrolled to, or lies in a picture.
CUT_OFF = """() => [...document.querySelectorAll("main *, header *")]
  .filter((e) => {
    const box = e.getBoundingClientRect();
    if (box.width === 0 || box.right <= innerWidth + 1 || e.closest("svg, .truncate")) return false;
    for (let p = e.parentElement; p; p = p.parentElement)
      if (/auto|scroll/.test(getComputedStyle(p).overflowX)) return false;
    return getComputedStyle(e).position !== "fixed";
  })
  .map((e) => `${e.tagName} ${e.textContent.trim().slice(0, 40)}`)"""


#: What is pressed flatter than what is in it, and does not scroll: its parts lie on each other.
PRESSED = """() => [...document.querySelectorAll("main section, main div")]
  .filter((e) => {
    const look = getComputedStyle(e);
    return look.overflowY === "visible" && e.getClientRects().length > 0 && !e.closest("svg")
      && look.display !== "inline" && e.scrollHeight > e.clientHeight + 12;
  })
  .map((e) => `${e.tagName} ${e.className} ${e.scrollHeight} in ${e.clientHeight}`)"""


@pytest.mark.parametrize("width", [720, 1920])
def test_nothing_is_cut_off_beside_another_window_or_on_a_wide_one(page: Page, width: int) -> None:
    here = page.url.split("#")[0]
    page.set_viewport_size({"width": width, "height": 900})
    try:
        for view in (
            "/",
            "/designs/8",
            "/designs/2",
            "/new/board",
            "/new/sensor",
            "/drawer",
            "/reference",
            "/help",
        ):
            page.goto(f"{here}#{view}")
            page.wait_for_timeout(400)
            answered(page)
            assert page.evaluate(CUT_OFF) == [], view
            assert page.evaluate(PRESSED) == [], view
            beyond = page.evaluate("document.documentElement.scrollWidth - innerWidth")
            assert beyond <= 0, view
    finally:
        page.set_viewport_size({"width": 1280, "height": 800})
