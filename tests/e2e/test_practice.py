"""Practice as somebody does it, by keyboard alone: one of each drill right, and one wrong."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.test_one_line_further import PRESSED
from tests.e2e.test_sheet import serious_findings


def open_question(page: Page, drill: str, level: int, number: int) -> None:
    page.get_by_role("link", name="Practice", exact=True).click()
    if drill != "Estimate":
        page.get_by_role("link", name=drill).click()
    expect(page.locator("[aria-current=page]").filter(has_text=drill)).to_be_visible()
    page.locator("[data-question]").wait_for()
    expect(page.locator("section[aria-busy=true]")).to_have_count(0)
    page.locator("[data-which]").get_by_role("button", name=str(level), exact=True).click()
    expect(page.get_by_text(f"level {level}, number")).to_be_visible()
    page.locator("#practice-number").fill(str(number))
    page.keyboard.press("Enter")
    expect(page.get_by_text(f"level {level}, number {number}", exact=True)).to_be_visible()


def test_an_estimate_right_and_wrong_with_its_way_on_the_drawing(page: Page) -> None:
    # By hand: level 3, number 5 is 3k3 + (1k5 ∥ 9k) = 4.586 kΩ
    for text, verdict in (("4k6", "right"), ("9k", "wrong")):
        open_question(page, "Estimate", 3, 5)
        expect(page.locator("#estimate")).to_be_focused()
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        told = page.locator(f"[data-verdict={verdict}]")
        expect(told).to_contain_text("4.586 kΩ")
        steps = page.locator("[data-explained] ol button")
        expect(steps).to_have_count(3)
        expect(steps.first).to_have_attribute("aria-current", "step")
        expect(page.locator("[data-part]")).to_have_count(4)
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowDown")
        expect(steps.last).to_have_attribute("aria-current", "step")
        expect(page.locator("[data-part]")).to_have_count(2)  # folded to R1 and F2
        expect(page.locator("[data-part=F2]")).to_contain_text("≈ 1.3 kΩ")
    # Three of level 3 in the demo, two of them right, and these two
    expect(page.locator("[data-progress]")).to_contain_text("3 of 5 right")
    page.keyboard.press("Enter")  # the next question
    expect(page.locator("#estimate")).to_be_focused()
    page.keyboard.type("3 furlongs")
    page.keyboard.press("Enter")
    expect(page.locator("#estimate-words")).to_contain_text("✕")


def test_in_series_right_and_wrong_with_the_junctions_coloured(page: Page) -> None:
    # Level 1, number 3: two parts between the same two junctions
    for key, verdict in (("p", "right"), ("s", "wrong")):
        open_question(page, "In series?", 1, 3)
        page.keyboard.press(key)
        expect(page.locator(f"[data-verdict={verdict}]")).to_contain_text("in parallel")
        expect(page.locator("[data-lit]")).not_to_have_count(0)
        lit = page.locator("[data-lit]").evaluate_all(
            "wires => new Set(wires.map(w => w.dataset.lit)).size"
        )
        assert lit == 2
        for way in ("lying", "slanted"):
            page.keyboard.press("ArrowRight")
            expect(page.locator(f"[data-sketch={way}]")).to_be_visible()
            assert page.locator("[data-lit]").count() > 0


def test_a_fault_found_by_keyboard_and_one_named_wrongly(page: Page) -> None:
    open_question(page, "Find the fault", 1, 11)
    display = page.locator("[data-display]")
    page.keyboard.press("Enter")  # the supply at its terminals
    expect(display).to_have_text(re.compile(r"\d V$"))
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-lead=red]")).to_be_visible()
    page.keyboard.press("Enter")
    page.keyboard.press("j")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")  # volts with the lead in the mA jack: straight across the supply
    expect(page.locator("[data-happened]")).to_contain_text("fuse is blown")
    expect(page.get_by_role("button", name="mA ✕")).to_be_visible()
    page.keyboard.press("n")
    page.keyboard.type("two")  # no such fault at level 1: the list stays
    page.locator("#fault-kind").select_option("short")
    page.keyboard.press("Tab")
    page.keyboard.type("R2")
    page.keyboard.press("Enter")
    page.locator("[data-verdict]").wait_for()
    assert page.locator("[data-way='Your way'] tbody tr").count() == 4
    expect(page.locator("[data-way='A short way'] tbody tr").last).to_contain_text("100 %")
    truth = page.locator("[data-verdict]").inner_text()
    found = re.search(r"(R\d) (open|shorted)", truth)
    assert found
    open_question(page, "Find the fault", 1, 11)
    expect(page.locator("[data-verdict]")).to_have_count(0)  # it is put anew
    page.keyboard.press("n")
    page.locator("#fault-kind").select_option("open" if found[2] == "open" else "short")
    page.locator("[data-naming] select").nth(1).select_option(found[1])
    page.keyboard.press("Enter")
    expect(page.locator("[data-verdict=right]")).to_contain_text("of effort")


def test_a_question_stands_after_a_reload_with_what_was_read(page: Page) -> None:
    open_question(page, "Find the fault", 2, 4)
    page.keyboard.press("Enter")
    expect(page.locator("[data-display]")).not_to_have_text("—")
    shown = page.locator("[data-display]").inner_text()
    page.reload()
    expect(page.get_by_text("level 2, number 4", exact=True)).to_be_visible()
    expect(page.locator("[data-display]")).to_have_text(shown)


def test_ones_own_network_and_ten_to_print(page: Page) -> None:
    open_question(page, "In series?", 2, 5)
    page.get_by_role("button", name="your own network").click()
    page.get_by_label("network", exact=True).fill("100k + @A +")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("✕")
    page.get_by_label("network", exact=True).fill("100k + @A + (47k || 22k)")
    page.keyboard.press("Enter")
    expect(page.get_by_text("your own network, level 2")).to_be_visible()
    page.get_by_role("link", name="ten to print").click()
    expect(page.locator("[data-sheet] > li")).to_have_count(10)
    expect(page.locator("[data-answers] li")).to_have_count(10)


@pytest.mark.parametrize("width", [720, 1280, 1920])
def test_nothing_of_practice_is_cut_off(page: Page, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 800})
    open_question(page, "Find the fault", 5, 3)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    assert page.evaluate(PRESSED) == []
    for part in ("[data-meter-face]", "[data-naming]", "[data-progress]", "[data-sketch]"):
        box = page.locator(part).bounding_box()
        assert box
        assert box["x"] >= 0
        assert box["x"] + box["width"] <= width
        assert box["y"] + box["height"] <= 800


def test_axe_finds_nothing_in_practice(page: Page) -> None:
    open_question(page, "Find the fault", 2, 4)
    assert serious_findings(page, "a board") == []
    page.keyboard.press("n")
    page.locator("#fault-kind").select_option("open")
    page.locator("[data-naming] select").nth(1).select_option("R1")
    page.keyboard.press("Enter")
    page.locator("[data-verdict]").wait_for()
    assert serious_findings(page, "explained") == []
