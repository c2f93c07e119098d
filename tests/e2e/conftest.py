"""Debian's Chromium on the demo data; every request off the machine is a failure."""

import gc
import shutil
import threading
import time
import warnings
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
import uvicorn
from playwright.sync_api import (
    Browser,
    BrowserContext,
    ConsoleMessage,
    Error,
    Locator,
    Page,
    Request,
    ViewportSize,
    expect,
    sync_playwright,
)

from lowfold.api.computing import PRELOADED, prepare
from lowfold.api.serving import server_of
from lowfold.demo.designs import load_demo
from lowfold.settings import Settings
from lowfold.store.database import Database
from lowfold.work.lanes import Lanes
from tests.conftest import LentApp, Server

BROWSER: dict[str, Any] = {
    "executable_path": shutil.which("chromium") or "/usr/bin/chromium",
    "args": [
        "--headless", "--no-sandbox", "--disable-gpu", "--disable-background-networking",
        "--disable-component-update", "--disable-sync", "--no-first-run",
        # Every test opens the same site: another process for each is a seventh of its time
        "--process-per-site", "--disable-site-isolation-trials",
    ],
}  # fmt: skip


WINDOW: ViewportSize = {"width": 1280, "height": 800}

#: A machine that is busy with other tests answers late, and no later answer is another one.
expect.set_options(timeout=20_000)


def settled(page: Page) -> None:
    """Wait until the sheet shows the choices of what was typed last."""
    page.locator("[role=option]").first.wait_for()
    answered(page)


def answered(page: Page) -> None:
    """Wait until no answer to what was typed last is on its way."""
    expect(page.locator("[aria-busy=true]")).to_have_count(0)


def design_row(page: Page, name: str) -> Locator:
    """Return a design's row in the list of designs."""
    link = page.get_by_role("link", name=name, exact=True)
    return page.locator("[data-place]").filter(has=link)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        found = playwright.chromium.launch(**BROWSER)
        yield found
        found.close()


class WarmLanes(Lanes):
    """The workers of one run of the tests: warmed once, and lent to each server in turn."""

    def close(self) -> None:
        """Go on: a server ends, the workers do not."""


@pytest.fixture(scope="session", autouse=True)
def lanes() -> Iterator[None]:
    """Lend every server the same warm workers; it takes seconds to start any."""
    lent = WarmLanes(1, prepare, PRELOADED)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("lowfold.api.app.Lanes", lambda *_: lent)
        gc.collect()
        gc.freeze()  # what is loaded stays, and is not looked through after every test
        yield
    Lanes.close(lent)
    gc.unfreeze()


class Hosted(Server):
    """The same application and socket in a thread of the tests, which starts in a moment."""

    hosted: uvicorn.Server
    thread: threading.Thread

    def __init__(self, data: Path, lent: LentApp | None = None) -> None:
        super().__init__(data)
        self.lent = lent or LentApp(workers=1)

    def start(self) -> None:
        self.hosted = server_of(self.lent.on(self.data), self.port, log_level="critical")
        self.thread = threading.Thread(target=self.hosted.run, daemon=True)
        self.thread.start()
        for _ in range(600):
            if self.hosted.started:
                return
            time.sleep(0.02)
        pytest.fail("the server did not start within 12 s")

    def stop(self, how: int = 0) -> None:
        assert not how, "only a process of its own can be killed"
        self.hosted.should_exit = True
        self.thread.join(timeout=15)
        assert not self.thread.is_alive()
        with warnings.catch_warnings():
            # What the browser opened in advance and never used goes with the loop
            warnings.simplefilter("ignore", ResourceWarning)
            gc.collect()


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo data as first kept, to be copied."""
    settings = Settings(data=tmp_path_factory.mktemp("demo"))
    database = Database(settings.database)
    database.migrate()
    with database.sessions() as session:
        load_demo(session)
    database.close()
    return settings.data


@pytest.fixture(scope="session")
def port(tmp_path_factory: pytest.TempPathFactory) -> int:
    """One port for every server, so that the browser has the page's scripts still compiled."""
    return Server(tmp_path_factory.getbasetemp()).port


@pytest.fixture
def demo(tmp_path: Path, demo_data: Path, port: int, lent_app: LentApp) -> Iterator[Server]:
    """A server on the demo data, in a directory that outlives a restart."""
    data = tmp_path / "data"
    shutil.copytree(demo_data, data)
    found = Hosted(data, lent_app)
    found.port = port
    found.start()
    yield found
    found.stop()


@pytest.fixture(scope="session")
def shared_context(browser: Browser) -> Iterator[BrowserContext]:
    found = browser.new_context(viewport=WINDOW, color_scheme="light", reduced_motion="reduce")
    found.set_default_timeout(20_000)
    yield found
    found.close()


@pytest.fixture
def context(shared_context: BrowserContext) -> Iterator[BrowserContext]:
    """One window and one page for all tests, as starting others is most of what a test takes."""
    yield shared_context
    for page in shared_context.pages[1:]:
        page.close()


@pytest.fixture
def page(context: BrowserContext, demo: Server) -> Iterator[Page]:
    """A page on the designs list that must stay silent and on this machine."""
    found = context.pages[0] if context.pages else context.new_page()
    found.set_viewport_size(WINDOW)
    found.emulate_media(media="screen")
    troubles: list[str] = []

    def failed(error: Error) -> None:
        troubles.append(f"error: {error}")

    def said(message: ConsoleMessage) -> None:
        if message.type == "error" and "Failed to load resource" not in message.text:
            troubles.append(f"console: {message.text}")

    def asked(request: Request) -> None:
        if urlsplit(request.url).hostname not in {"127.0.0.1", None}:
            troubles.append(f"left the machine: {request.url}")

    found.on("pageerror", failed)
    found.on("console", said)
    found.on("request", asked)
    found.goto(f"{demo.url}/")
    yield found
    found.remove_listener("pageerror", failed)
    found.remove_listener("console", said)
    found.remove_listener("request", asked)
    found.unroute_all(behavior="ignoreErrors")
    # What a test typed last is kept by its own server, not by the next one on this port
    status = found.get_by_role("banner").get_by_role("status")
    if status.count():
        expect(status).not_to_have_text("keeping…")
    # What a page holds as it goes is of this test's data, and the next begins with none
    found.goto(f"{demo.url}/api/health")
    found.evaluate("localStorage.clear()")
    found.goto("about:blank")
    assert troubles == []
