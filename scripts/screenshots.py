"""Take one picture per main view from the demo data, into docs/screenshots: `make screenshots`."""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.conftest import Server
from tests.e2e.conftest import BROWSER, settled

OUT = Path(__file__).parent.parent / "docs" / "screenshots"


def open_design(page: Page, server: Server, name: str) -> None:
    """Open one design from the list and wait for its choices."""
    page.goto(f"{server.url}/#/")
    page.get_by_role("link", name=name).click()
    settled(page)


def main() -> None:
    """Start the demo, walk its views, keep a picture of each."""
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder), "--demo")
        server.start()
        browser = playwright.chromium.launch(**BROWSER)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme="light")
        page.goto(f"{server.url}/#/")
        page.get_by_role("link", name="Battery sense").wait_for()
        page.screenshot(path=OUT / "designs.png")
        open_design(page, server, "Battery sense")
        page.screenshot(path=OUT / "sheet-divider-daylight.png")
        page.get_by_role("button", name="Change to lamplight").click()
        page.screenshot(path=OUT / "sheet-divider-lamplight.png")
        page.get_by_label("wanted voltage").fill("3k3")
        page.get_by_text("is a resistance; wanted is a voltage").wait_for()
        page.screenshot(path=OUT / "sheet-bad-token.png")
        page.get_by_role("button", name="Change to daylight").click()
        open_design(page, server, "Wake-line pull-down")
        page.screenshot(path=OUT / "sheet-resistance-failing.png")
        browser.close()
        server.stop()
    print(f"pictures are in {OUT}")


main()
