"""Take one picture per main view from the demo data, into docs/screenshots: `make screenshots`."""

from __future__ import annotations

import tempfile
from pathlib import Path

import httpx2
import pypdfium2
from playwright.sync_api import Page, Playwright, sync_playwright
from tests.conftest import Server
from tests.e2e.conftest import BROWSER, settled

OUT = Path(__file__).parent.parent / "docs" / "screenshots"


def open_design(page: Page, server: Server, name: str) -> None:
    """Open one design from the list and wait for its choices."""
    page.goto(f"{server.url}/#/")
    page.get_by_role("link", name=name).click()
    settled(page)


def settle(page: Page) -> None:
    """Wait until what was typed is answered and kept, and nothing moves any more."""
    page.wait_for_timeout(700)
    page.wait_for_load_state("networkidle")


def main() -> None:
    """Start the demo, walk its views, keep a picture of each."""
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder), "--demo")
        server.start()
        try:
            take(playwright, server)
        finally:
            server.stop()
    print(f"pictures are in {OUT}")


def take(playwright: Playwright, server: Server) -> None:
    """Walk the views of a running demo, keep a picture of each."""
    browser = playwright.chromium.launch(**BROWSER)
    page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme="light")
    page.goto(f"{server.url}/#/")
    page.get_by_role("link", name="Battery sense").wait_for()
    settle(page)
    page.screenshot(path=OUT / "designs.png")
    open_design(page, server, "Battery sense")
    settle(page)
    page.screenshot(path=OUT / "sheet-divider-daylight.png")
    page.get_by_role("button", name="Change to dark").click()
    page.get_by_role("button", name="a need").click()
    page.locator("#need-line").fill("14.4 V to 3 V within 4 % into 1 MΩ, 80 µA")
    page.locator("[data-first]").wait_for()
    settle(page)
    page.screenshot(path=OUT / "need.png")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Change to light").click()
    open_design(page, server, "Solar sense")
    page.get_by_role("listbox").focus()
    page.keyboard.press("Home")
    page.keyboard.press("b")
    page.keyboard.press("ArrowDown")
    page.get_by_role("group", name="What differs").wait_for()
    settle(page)
    page.screenshot(path=OUT / "beside.png")
    take_needs(page, server)
    take_others(page, server)
    browser.close()


def take_others(page: Page, server: Server) -> None:
    """Take the pictures of the bench, the record, the ladder, folding and the drawer."""
    take_record(page, server)
    take_bench(page, server)
    open_design(page, server, "Level switch thresholds")
    settle(page)
    page.screenshot(path=OUT / "sheet-ladder.png")
    page.goto(f"{server.url}/#/")
    page.get_by_role("link", name="Old probe board").click()
    page.get_by_role("group", name="Schematic").wait_for()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    page.get_by_role("button", name="R1 4.7 kΩ").click()
    page.get_by_role("button", name="F3").first.click()
    page.wait_for_load_state("networkidle")
    settle(page)
    page.screenshot(path=OUT / "fold.png")
    page.locator("#network").fill("R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47")
    page.get_by_label("loads at junctions").fill("none")
    page.get_by_role("button", name="start").click()
    page.get_by_role("heading", name="Why?").click()
    page.keyboard.press("h")
    page.get_by_role("img", name="Potentials as heights").wait_for()
    settle(page)
    page.screenshot(path=OUT / "fold-bridge.png")
    take_opened(page, server)
    take_practice(page, server)
    page.goto(f"{server.url}/#/drawer")
    page.get_by_text("61 values").wait_for()
    settle(page)
    page.screenshot(path=OUT / "drawer.png")


def take_needs(page: Page, server: Server) -> None:
    """Take the pictures of a whole board, and of a resistor beside a sensor."""
    page.goto(f"{server.url}/#/new/board")
    page.get_by_role("button", name="take an example").click()
    lines = page.locator("#needs").input_value()
    page.locator("#needs").fill(
        f"{lines}\nModem: 12 V into a modem\nStrobe: 12 V to 3.3 V within 1 %"
    )
    page.keyboard.press("Control+Enter")
    page.get_by_text("different values to buy").wait_for()
    settle(page)
    page.screenshot(path=OUT / "board.png")
    page.goto(f"{server.url}/#/new/sensor")
    page.get_by_label("the sensor at its points").fill("-5 °C 35k, 5 °C 21k, 15 °C 13k, 25 °C 8k2")
    page.get_by_role("button", name="window").click()
    page.keyboard.type("0.8 V to 2.6 V")
    settle(page)
    page.screenshot(path=OUT / "sensor.png")


def take_record(page: Page, server: Server) -> None:
    """Take the pictures of a lived-in record, and of the paper that it makes."""
    page.goto(f"{server.url}/#/")
    page.get_by_role("link", name="Old probe board").click()
    page.get_by_role("link", name="record", exact=True).click()
    page.get_by_role("img").first.wait_for()
    settle(page)
    page.screenshot(path=OUT / "record.png")
    page.goto(f"{server.url}/#/")
    page.get_by_role("link", name="Battery sense").click()
    where = page.url.rsplit("/", 1)[1]
    paper = httpx2.get(f"{server.url}/api/designs/{where}/handover.pdf", timeout=20).content
    first = pypdfium2.PdfDocument(paper)[0].render(scale=1.35).to_pil()
    first.save(OUT / "paper.png", optimize=True)


def take_bench(page: Page, server: Server) -> None:
    """Take the pictures of a round at the bench, walked with the demo's stand-in, and of marks."""
    page.goto(f"{server.url}/#/")
    page.get_by_role("link", name="Battery sense").click()
    page.get_by_role("link", name="bench").click()
    page.locator("[data-reading]").wait_for()
    meter = page.locator("[data-meter]")
    meter.select_option(index=0)
    page.locator("[data-reading]").focus()
    for count in range(1, 6):
        page.keyboard.press("t")
        page.get_by_text(f"{count} of 6 as expected").wait_for()
        settle(page)
    page.screenshot(path=OUT / "bench.png")
    for point, reads in (("resistance in 0", "OL"), ("voltage OUT 0", "11.799 V")):
        page.locator(f"[data-point='{point}']").click()
        page.locator("[data-reading]").fill(reads)
        page.keyboard.press("Enter")
        page.locator("[data-argument]").wait_for()
        settle(page)
    page.get_by_role("button", name="Change to dark").click()
    page.set_viewport_size({"width": 720, "height": 900})
    settle(page)
    page.screenshot(path=OUT / "bench-stopped.png")
    page.set_viewport_size({"width": 1280, "height": 800})
    page.locator("[data-course]").scroll_into_view_if_needed()
    settle(page)
    page.screenshot(path=OUT / "bench-fault.png")
    page.get_by_role("button", name="Change to light").click()
    page.goto(f"{server.url}/#/reference")
    page.get_by_role("tab", name="Bands and codes").click()
    page.locator("[data-measured]").fill("1k02")
    settle(page)
    page.screenshot(path=OUT / "reference-marks.png")


def take_opened(page: Page, server: Server) -> None:
    """Take the full picture of a gate."""
    open_design(page, server, "Battery sense")
    page.get_by_role("button", name="Spread", exact=True).click()
    page.get_by_text("samples are inside the window").wait_for()
    settle(page)
    page.screenshot(path=OUT / "opened-spread.png")
    page.keyboard.press("Escape")


def take_practice(page: Page, server: Server) -> None:
    """Take the pictures of a question that misleads, and of a fault that was found."""
    page.goto(f"{server.url}/#/practice/series")
    ask(page, 5, 41)
    page.keyboard.press("n")
    page.locator("[data-verdict]").wait_for()
    settle(page)
    page.screenshot(path=OUT / "practice-series.png")
    page.goto(f"{server.url}/#/practice/fault")
    ask(page, 4, 12)
    for keys in (["Enter"], ["ArrowDown", "Enter"], ["ArrowDown", "Enter"]):
        for key in keys:
            page.keyboard.press(key)
        settle(page)
    page.keyboard.press("n")
    page.locator("#fault-kind").select_option("open")
    page.locator("[data-naming] select").nth(1).select_option(index=1)
    page.keyboard.press("Enter")
    page.locator("[data-verdict]").wait_for()
    settle(page)
    page.screenshot(path=OUT / "practice-fault.png")


def ask(page: Page, level: int, number: int) -> None:
    """Ask for a question by its number."""
    page.locator("[data-question]").wait_for()
    settle(page)
    page.locator("[data-which]").get_by_role("button", name=str(level), exact=True).click()
    settle(page)
    page.locator("#practice-number").fill(str(number))
    page.keyboard.press("Enter")
    page.get_by_text(f"level {level}, number {number}", exact=True).wait_for()


main()
