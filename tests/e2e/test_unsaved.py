"""What was typed while the server is away is kept when it is back, whatever the page did meanwhile."""

from playwright.sync_api import Browser, Dialog, Page, expect

from tests.conftest import Server
from tests.e2e.conftest import WINDOW, settled


def open_design(page: Page, name: str) -> None:
    page.get_by_role("link", name=name, exact=True).click()
    settled(page)


def test_a_design_left_while_the_server_is_away_is_kept(page: Page, demo: Server) -> None:
    open_design(page, "Battery sense")
    demo.stop()
    page.get_by_label("wanted voltage").fill("2V8")
    status = page.get_by_role("banner").get_by_role("status")
    expect(status).to_contain_text("not kept yet, held in this browser")
    page.get_by_role("link", name="Designs", exact=True).click()
    status.get_by_role("button", name="“Battery sense” not kept yet").click()
    dialog = page.get_by_role("dialog", name="Not kept yet")
    expect(dialog.get_by_role("link", name="Battery sense")).to_be_visible()
    page.keyboard.press("Escape")
    demo.start()
    expect(status).to_have_text("")
    open_design(page, "Battery sense")
    expect(page.get_by_label("wanted voltage")).to_have_value("2V8")


def test_a_tab_closed_while_the_server_is_away_warns_and_loses_nothing(
    page: Page, demo: Server
) -> None:
    warned: list[str] = []

    def leave(dialog: Dialog) -> None:
        warned.append(dialog.type)
        dialog.accept()

    page.on("dialog", leave)
    page.goto(f"{demo.url}/#/new/divider")
    page.get_by_label("wanted voltage").wait_for()
    demo.stop()
    page.get_by_label("wanted voltage").click()
    page.keyboard.type("2V2")
    page.get_by_label("Name of the design").fill("Left behind")
    expect(page.get_by_role("banner").get_by_role("status")).to_contain_text("not kept yet")
    page.goto("about:blank")
    assert warned == ["beforeunload"]
    demo.start()
    page.goto(f"{demo.url}/#/")
    expect(page.get_by_role("link", name="Left behind", exact=True)).to_have_count(1)
    open_design(page, "Left behind")
    expect(page.get_by_label("wanted voltage")).to_have_value("2V2")
    page.remove_listener("dialog", leave)


def test_a_line_for_the_record_waits(page: Page, demo: Server) -> None:
    open_design(page, "Battery sense")
    page.goto(page.url + "/record")
    line = page.get_by_label("A line for the record")
    line.wait_for()
    demo.stop()
    line.fill("the lid is tight")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is not written down yet")).to_be_visible()
    demo.start()
    expect(page.get_by_text("the lid is tight", exact=True)).to_be_visible()
    expect(page.get_by_text("is not written down yet")).to_have_count(0)


def test_a_browser_that_keeps_nothing_still_has_the_page(browser: Browser, demo: Server) -> None:
    context = browser.new_context(viewport=WINDOW)
    context.add_init_script(
        "Object.defineProperty(window, 'localStorage', "
        "{get() { throw new DOMException('forbidden', 'SecurityError') }})"
    )
    page = context.new_page()
    page.goto(f"{demo.url}/")
    open_design(page, "Battery sense")
    page.get_by_label("wanted voltage").fill("2V9")
    status = page.get_by_role("banner").get_by_role("status")
    expect(status).to_contain_text("kept ")
    demo.stop()
    page.get_by_label("wanted voltage").fill("2V8")
    expect(status).to_contain_text("not kept yet, in this tab alone")
    demo.start()
    expect(status).to_contain_text("kept ")
    expect(status).not_to_contain_text("not kept")
    context.close()
