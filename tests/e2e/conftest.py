"""Debian's Chromium on the demo data; every request off the machine is a failure."""

import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, sync_playwright

from tests.conftest import Server

BROWSER: dict[str, Any] = {
    "executable_path": shutil.which("chromium") or "/usr/bin/chromium",
    "args": [
        "--headless", "--no-sandbox", "--disable-gpu", "--disable-background-networking",
        "--disable-component-update", "--disable-sync", "--no-first-run",
    ],
}  # fmt: skip


def settled(page: Page) -> None:
    """Wait until the sheet shows the choices of what was typed last."""
    page.locator("[role=option]").first.wait_for()
    page.wait_for_load_state("networkidle")


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        found = playwright.chromium.launch(**BROWSER)
        yield found
        found.close()


@pytest.fixture
def demo(tmp_path: Path) -> Iterator[Server]:
    """The server on the demo data, in a directory that outlives a restart."""
    found = Server(tmp_path, "--demo")
    found.start()
    yield found
    found.stop()


@pytest.fixture
def context(browser: Browser) -> Iterator[BrowserContext]:
    found = browser.new_context(viewport={"width": 1280, "height": 800}, color_scheme="light")
    found.set_default_timeout(10_000)
    yield found
    found.close()


@pytest.fixture
def page(context: BrowserContext, demo: Server) -> Iterator[Page]:
    """A page on the designs list that must stay silent and on this machine."""
    found = context.new_page()
    troubles: list[str] = []
    found.on("pageerror", lambda error: troubles.append(f"error: {error}"))
    found.on(
        "console",
        lambda said: (
            troubles.append(f"console: {said.text}")
            if said.type == "error" and "Failed to load resource" not in said.text
            else None
        ),
    )
    found.on(
        "request",
        lambda asked: (
            troubles.append(f"left the machine: {asked.url}")
            if urlsplit(asked.url).hostname not in {"127.0.0.1", None}
            else None
        ),
    )
    found.goto(f"{demo.url}/")
    yield found
    assert troubles == []
