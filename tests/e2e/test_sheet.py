"""The sheet as a designer drives it: typed, walked, pinned, kept, found again."""

import re
from pathlib import Path

from playwright.sync_api import BrowserContext, Page, expect

from tests.conftest import Server
from tests.e2e.conftest import answered, design_row, settled

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


def open_design(page: Page, name: str) -> None:
    page.get_by_role("link", name=name).click()
    settled(page)


def kept(page: Page) -> None:
    expect(page.get_by_role("banner").get_by_role("status")).to_have_text(re.compile("^kept"))


def gate(page: Page, name: str) -> str:
    return page.get_by_role("article", name=name).inner_text()


def test_the_list_shows_how_each_design_stands(page: Page) -> None:
    row = design_row(page, "Wake-line pull-down")
    expect(row).to_contain_text("fail")
    expect(row).to_contain_text("power uses 622 % of the allowed power")
    sense = design_row(page, "Battery sense")
    expect(sense).to_contain_text("spread uses 81 % of the window")
    expect(sense).to_contain_text("load ● pass")  # each gate, in shape and word
    radio = design_row(page, "Radio supply feedback")
    expect(radio).to_contain_text("spread ◐ marginal")
    expect(row).to_contain_text("load ○ not judged")


def test_typing_another_target_moves_every_gate_and_is_found_as_left(
    page: Page, demo: Server
) -> None:
    open_design(page, "Battery sense")
    before = {name: gate(page, name) for name in ("Value", "Spread", "Load", "Power")}
    page.get_by_label("wanted voltage").fill("2V5")
    expect(page.get_by_text("understood as 2.5 V")).to_be_visible()
    expect(page.get_by_text("allowed 2.425")).to_have_count(0)  # the token's own words stand there
    page.keyboard.press("Enter")
    expect(page.get_by_role("listbox")).to_be_focused()
    page.keyboard.press("Home")
    for _ in range(12):
        page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    chosen = page.locator("[role=option][aria-selected=true]")
    expect(chosen).to_have_attribute("id", "choice-2")
    answered(page)
    for name, words in before.items():
        expect(page.get_by_role("article", name=name)).not_to_have_text(words, use_inner_text=True)
    page.keyboard.press("Enter")
    expect(chosen).to_contain_text("pin")
    kept(page)
    values = chosen.inner_text()
    notation = page.locator("code").inner_text()

    page.reload()
    settled(page)
    expect(page.get_by_label("wanted voltage")).to_have_value("2V5")
    assert page.locator("[role=option][aria-selected=true]").inner_text() == values

    demo.stop()
    demo.start()
    page.reload()
    settled(page)
    expect(page.get_by_label("wanted voltage")).to_have_value("2V5")
    expect(page.locator("code")).to_have_text(notation)


def test_a_bad_token_is_explained_in_place_and_nothing_is_lost(page: Page) -> None:
    open_design(page, "Battery sense")
    rows = page.locator("[role=option]").count()
    token = page.get_by_label("wanted voltage")
    for text, words in (
        ("3k3", "“3k3” is a resistance; wanted is a voltage, for instance 3V3"),
        ("20 V", "a divider only lowers: write less than the supply's 14.4 V"),
        ("", "nothing is written: a voltage is wanted, for instance 3V3"),
    ):
        token.fill(text)
        expect(page.get_by_text(words)).to_be_visible()
        expect(token).to_have_attribute("aria-invalid", "true")
        assert page.locator("[role=option]").count() == rows  # the last understood list stays
    kept(page)
    page.reload()
    expect(page.get_by_label("wanted voltage")).to_have_value("")
    expect(page.get_by_text("Choices appear once every figure")).to_be_visible()
    token.fill("3V0")
    settled(page)
    expect(token).to_have_attribute("aria-invalid", "false")
    page.keyboard.press("Tab")
    token.fill("9")
    page.keyboard.press("Escape")
    expect(token).to_have_value("3V0")


def test_the_keyboard_alone_walks_tokens_and_choices(page: Page) -> None:
    expect(page.get_by_role("link", name="Battery sense")).to_be_visible()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("link", name="Battery sense")).to_be_focused()
    page.keyboard.press("Enter")
    settled(page)
    page.get_by_label("supply voltage", exact=True).focus()
    for label in (
        "wanted voltage",
        "accepted deviation",
    ):
        page.keyboard.press("Tab")
        expect(page.get_by_label(label, exact=True)).to_be_focused()
    here = page.locator("[role=option][aria-selected=true]").get_attribute("id")
    page.keyboard.press("ArrowDown")  # walks the choices while a figure has the focus
    assert page.locator("[role=option][aria-selected=true]").get_attribute("id") != here
    expect(page.get_by_label("accepted deviation")).to_be_focused()
    page.keyboard.press("Enter")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("pin the choice under the cursor")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_resistance_from_nothing_to_a_pinned_choice(page: Page) -> None:
    page.get_by_role("link", name="a resistance").click()
    settled(page)
    page.get_by_label("wanted resistance").fill("45")
    page.get_by_label("series of values, or drawer").fill("E6 + E12")
    page.get_by_role("button", name="current or voltage").click()
    page.get_by_label("current through it or voltage across it").fill("12 V")
    expect(page.get_by_role("article", name="Power")).to_contain_text("fail")
    expect(
        page.get_by_text("R1 would run above the derated rating").or_(
            page.get_by_text("would run above the derated rating")
        )
    ).to_be_visible()
    page.get_by_role("radio", name="fewest parts").click()
    expect(page.get_by_role("radio", name="fewest parts")).to_be_checked()
    page.locator("[role=option]").first.dblclick()
    expect(page.locator("[role=option]").first).to_contain_text("pin")
    page.get_by_label("Name of the design").fill("Lamp ballast")
    page.get_by_label("Why this one").fill("What the drawer has.")
    page.goto(page.url.split("#")[0] + "#/")
    expect(design_row(page, "Lamp ballast")).to_contain_text("45 Ω ± 3 %")


def test_four_parts_are_drawn_and_weighed(page: Page) -> None:
    open_design(page, "Loop receiver")
    page.get_by_label("wanted resistance").fill("251.37")
    page.get_by_label("number of parts").fill("4")
    expect(page.get_by_text("not worth it at 1 %")).to_be_visible()
    row = page.locator("[role=option]").nth(
        1
    )  # the pinned pair, no longer among the best, is first
    row.click()
    expect(page.get_by_role("region", name="The network").locator("code")).to_contain_text("R4=")
    drawing = page.get_by_role("img", name=re.compile("^Schematic of"))
    for ref in ("R1", "R2", "R3", "R4", "L1"):
        expect(drawing.get_by_text(ref)).to_be_visible()


def test_deleting_can_be_undone(page: Page) -> None:
    page.get_by_role("button", name="Delete Solar sense").click()
    expect(page.get_by_role("link", name="Solar sense")).to_have_count(0)
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("link", name="Solar sense")).to_be_visible()


def test_two_windows_on_one_design(page: Page, context: BrowserContext) -> None:
    open_design(page, "Battery sense")
    other = context.new_page()
    other.goto(page.url)
    settled(other)
    for button, theirs, mine, stays in (
        ("Take the stored one", "3V1", "2V9", "3V1"),
        ("Put this one over it", "3V2", "2V8", "2V8"),
        ("Keep both", "3V3", "2V7", "3V3"),
    ):
        other.get_by_label("wanted voltage").fill(theirs)
        kept(other)
        page.get_by_label("wanted voltage").fill(mine)
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("Changed elsewhere meanwhile.")
        alert.get_by_role("button", name=button).click()
        expect(alert).to_have_count(0)
        shown = mine if button == "Keep both" else stays
        expect(page.get_by_label("wanted voltage")).to_have_value(shown)
        other.reload()
        settled(other)
        expect(other.get_by_label("wanted voltage")).to_have_value(stays)
    expect(page.get_by_label("Name of the design")).to_have_value("Battery sense (mine)")


def test_typing_goes_on_while_the_server_is_away(page: Page, demo: Server) -> None:
    open_design(page, "Battery sense")
    demo.stop()
    page.get_by_label("wanted voltage").fill("2V8")
    expect(page.get_by_text("Not worked out: the server does not answer.")).to_be_visible()
    expect(page.get_by_role("banner").get_by_role("status")).to_contain_text("not kept")
    demo.start()
    kept(page)
    page.reload()
    settled(page)
    expect(page.get_by_label("wanted voltage")).to_have_value("2V8")


def test_a_design_that_is_not_there_says_so(page: Page) -> None:
    page.goto(page.url.split("#")[0] + "#/designs/4711")
    expect(page.get_by_text("There is no such design.")).to_be_visible()
    page.goto(page.url.split("#")[0] + "#/nowhere")
    expect(page.get_by_text("There is no such view")).to_be_visible()


def serious_findings(page: Page, view: str) -> list[tuple[str, str, list[str]]]:
    """What axe-core finds here; between the themes only colours differ, so contrast is asked twice."""
    page.evaluate(AXE.read_text())
    quick = "preload: false, selectors: false"  # nothing to preload, and html is enough to go by
    found = page.evaluate(f"() => axe.run({{resultTypes: ['violations'], {quick}}})")["violations"]
    page.evaluate("document.documentElement.dataset.theme = 'lamplight'")
    found += page.evaluate(f"() => axe.run({{runOnly: ['color-contrast'], {quick}}})")["violations"]
    page.evaluate("document.documentElement.dataset.theme = 'daylight'")
    return [
        (view, v["id"], [n["html"][:120] for n in v["nodes"]])
        for v in found
        if v["impact"] in {"serious", "critical"}
    ]


def test_axe_finds_nothing_serious(page: Page) -> None:
    # axe-core, WCAG rules: nothing serious or critical, view by view
    expect(page.get_by_role("link", name="Battery sense")).to_be_visible()
    found = serious_findings(page, "list")
    page.keyboard.press("?")
    found += serious_findings(page, "help")
    page.keyboard.press("Escape")
    open_design(page, "Wake-line pull-down")
    found += serious_findings(page, "failing resistance")
    page.get_by_role("link", name="lowfold").click()
    open_design(page, "Battery sense")
    page.get_by_label("wanted voltage").fill("3k3")
    expect(page.get_by_text("is a resistance; wanted is a voltage")).to_be_visible()
    found += serious_findings(page, "divider with a bad token")
    assert found == []


def test_nothing_is_cut_off_at_1280_by_800(page: Page) -> None:
    open_design(page, "Battery sense")
    width, height = page.evaluate(
        "[document.documentElement.scrollWidth, document.documentElement.scrollHeight]"
    )
    assert (width, height) == (1280, 800)
    for name in ("The need", "Choices", "The network", "Gates"):
        region = page.get_by_role("region", name=name)
        box = region.bounding_box()
        assert box is not None
        assert box["x"] >= 0
        assert box["x"] + box["width"] <= 1280
        assert box["y"] + box["height"] <= 800.5
    for name in ("The need", "Gates"):
        overflow = page.get_by_role("region", name=name).evaluate(
            "e => e.scrollHeight - e.clientHeight"
        )
        assert overflow <= 0, name
