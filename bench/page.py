"""Time from a key to the last new figure on the page, in headless Chromium."""

from __future__ import annotations

import statistics
import time
from typing import Final

from playwright.sync_api import Browser, Page, sync_playwright

from bench.served import quantile, served

__all__ = ["main"]

TIMES: Final = 40
BROWSER: Final = "/usr/bin/chromium"
ARGUMENTS: Final = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
]
KINDS: Final = {"divider": "target_v", "resistance": "target_ohm", "ladder": "tap1_v"}

#: From the key to the frame in which the sheet says that no answer is on its way any more.
WATCH: Final = """
(input) => new Promise((done) => {
  const list = document.querySelector("[aria-busy]");
  let from = 0, busy = false;
  input.addEventListener("keydown", () => { from = performance.now(); }, { once: true });
  new MutationObserver((_, watcher) => {
    const now = list.getAttribute("aria-busy") === "true";
    if (busy && !now) {
      watcher.disconnect();
      requestAnimationFrame(() => done(performance.now() - from));
    }
    busy = now;
  }).observe(list, { attributes: true, attributeFilter: ["aria-busy"] });
})
"""


def key_to_figure(page: Page, kind: str, token: str) -> list[float]:
    """Return how long each of some keystrokes in a brief takes to be on screen, s."""
    made = page.request.post("/api/designs", data={"name": kind, "kind": kind})
    page.goto(f"/#/designs/{made.json()['id']}")
    page.locator("[role=option]").first.wait_for()
    field = page.locator(f"[data-token={token}]")
    field.click()
    spent = []
    for k in range(TIMES + 6):
        page.wait_for_timeout(60)
        page.keyboard.press("End")
        watched = field.element_handle()
        page.evaluate(f"(input) => {{ input.waiting = ({WATCH})(input); }}", watched)
        page.keyboard.press("Backspace" if k % 2 else str(1 + k % 9))
        spent.append(page.evaluate("(input) => input.waiting", watched) / 1e3)
    return spent[6:]


#: From the click on a design in the list to the frame in which its first choices stand.
OPENED: Final = """
(link) => new Promise((done) => {
  const from = performance.now();
  const look = () =>
    document.querySelector("[role=option]")
      ? done(performance.now() - from)
      : requestAnimationFrame(look);
  link.click();
  look();
})
"""


def opening(page: Page) -> list[float]:
    """Return how long a design of the list takes from the click to its first choices, s."""
    spent = []
    for _ in range(TIMES // 2):
        page.goto("/#/")
        link = page.locator("[data-design]").first
        link.wait_for()
        page.wait_for_timeout(200)
        spent.append(page.evaluate(OPENED, link.element_handle()) / 1e3)
    return spent


def first_page(browser: Browser, base: str) -> tuple[list[float], int]:
    """Return how long the list takes in a browser that has seen nothing, s; and bytes received."""
    spent, received = [], 0
    for _ in range(TIMES // 4):
        context = browser.new_context(base_url=base)
        page = context.new_page()
        wire = context.new_cdp_session(page)
        wire.send("Network.enable")
        sizes: list[int] = []
        wire.on(
            "Network.loadingFinished", lambda e, sizes=sizes: sizes.append(e["encodedDataLength"])
        )
        start = time.perf_counter()
        page.goto("/")
        page.locator("[data-design]").first.wait_for()
        spent.append(time.perf_counter() - start)
        received = int(sum(sizes))
        context.close()
    return spent, received


def main() -> None:
    """Print median and 95th percentile for each kind of need; and of opening the page."""
    with served() as (port, _), sync_playwright() as playwright:
        time.sleep(4)  # the workers load meanwhile
        browser = playwright.chromium.launch(executable_path=BROWSER, args=ARGUMENTS)
        base = f"http://127.0.0.1:{port}"
        page = browser.new_page(base_url=base, viewport={"width": 1280, "height": 800})
        for kind, token in KINDS.items():
            times = key_to_figure(page, kind, token)
            print(
                f"key to figure, {kind:<12} {statistics.median(times) * 1e3:7.0f} ms median "
                f"{quantile(times, 0.95) * 1e3:7.0f} ms p95"
            )
        for name, spent in (("opening a design", opening(page)),):
            print(
                f"{name:<27} {statistics.median(spent) * 1e3:7.0f} ms median "
                f"{quantile(spent, 0.95) * 1e3:7.0f} ms p95"
            )
        spent, received = first_page(browser, base)
        print(
            f"{'first page, nothing kept':<27} {statistics.median(spent) * 1e3:7.0f} ms median "
            f"{quantile(spent, 0.95) * 1e3:7.0f} ms p95, {received / 1e3:.0f} kB over the wire"
        )
        browser.close()


if __name__ == "__main__":
    main()
