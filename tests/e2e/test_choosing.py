"""Choosing as a designer does it: every kind of need, the trade-off, the drawer, shared values."""

import re
from pathlib import Path

from playwright.sync_api import Page, Route, expect

from tests.e2e.conftest import answered, design_row, settled
from tests.e2e.test_sheet import kept, open_design, serious_findings

CHOSEN = "[role=option][aria-selected=true]"


def begin(page: Page, kind: str) -> None:
    page.get_by_role("link", name=kind, exact=True).click()
    settled(page)


def pin(page: Page) -> str:
    answered(page)  # choices of a need that is still being read are not pinned
    page.locator("[role=option]").first.click()
    page.keyboard.press("Enter")
    expect(page.locator(CHOSEN)).to_contain_text("pin")
    kept(page)
    return page.locator("code").inner_text()


def test_a_feedback_pair_from_typing_to_a_pinned_choice(page: Page) -> None:
    begin(page, "a feedback pair")
    page.get_by_label("wanted output").fill("5 V")
    page.get_by_label("reference voltage").fill("0.6 V")
    page.get_by_role("button", name="pin current").click()
    expect(page.get_by_label("current into the feedback pin")).to_be_focused()
    page.keyboard.type("100 nA")
    expect(page.get_by_role("article", name="Load")).to_contain_text("moved by the pin")
    page.get_by_role("radio", name="worst corner").click()
    notation = pin(page)
    assert "@FB" in notation
    page.reload()
    settled(page)
    expect(page.locator("code")).to_have_text(notation)
    expect(page.get_by_label("current into the feedback pin")).to_have_value("100 nA")


def test_three_taps_from_typing_to_a_pinned_choice(page: Page) -> None:
    begin(page, "several taps")
    page.get_by_label("supply voltage", exact=True).fill("12 V")
    page.get_by_label("first tap's voltage").fill("9 V")
    page.get_by_label("second tap's voltage").fill("6 V")
    page.get_by_role("button", name="third tap").click()
    page.keyboard.type("13 V")
    expect(
        page.get_by_text("taps go down: write less than the 6 V of the tap above")
    ).to_be_visible()
    page.get_by_label("third tap's voltage").fill("2V5")
    page.get_by_label("load at the third tap").fill("1M")
    expect(
        page.get_by_role("img", name=re.compile("^Schematic of")).get_by_text("T3")
    ).to_be_visible()
    notation = pin(page)
    assert notation.count("@T") == 3
    for row in page.locator("[role=option]").all()[:3]:
        assert row.locator("svg[role=img]").count() == 2


def test_a_part_in_place_is_completed(page: Page) -> None:
    begin(page, "a resistance")
    page.get_by_label("wanted resistance").fill("4k7")
    page.get_by_role("button", name="part in place").click()
    page.keyboard.type("4650")
    expect(page.locator(CHOSEN)).to_contain_text("4k65 + ")


def test_arrays_share_what_no_few_parts_can_take(page: Page) -> None:
    open_design(page, "Charger dummy load")
    expect(page.locator(CHOSEN)).to_contain_text("9 × 8R2")
    expect(page.locator(CHOSEN)).to_contain_text("3 strings of 3")
    expect(page.get_by_role("article", name="Power")).to_contain_text("pass")


def test_the_list_is_ordered_and_filtered(page: Page) -> None:
    open_design(page, "Battery sense")
    page.get_by_label("Order").select_option("least current first")
    drawn = [row.inner_text() for row in page.locator("[role=option]").all()]
    page.get_by_label("Order").select_option("nearest first")
    assert [row.inner_text() for row in page.locator("[role=option]").all()] != drawn
    page.get_by_label("Show").select_option("passing only")
    for row in page.locator("[role=option]").all():
        assert "pass" in row.inner_text() or "pin" in row.inner_text()
    page.get_by_label("Show").select_option("all")
    rows = page.locator("[role=option]").count()
    page.get_by_role("button", name="list more").click()
    expect(page.locator("[role=option]").nth(rows + 2)).to_be_attached()


def test_the_trade_off_by_mouse_and_by_keyboard(page: Page) -> None:
    open_design(page, "Battery sense")
    page.get_by_label("wanted voltage").fill("3V1")
    page.get_by_label("largest supply current").fill("none")
    settled(page)
    page.get_by_role("button", name="accuracy against current").click()
    picture = page.get_by_role("application", name=re.compile("nothing beats in both"))
    points = page.locator("[data-trade]")
    expect(points.first).to_be_visible()
    assert points.count() >= 2
    pinned = page.locator("code").inner_text()
    points.last.click()
    expect(page.locator("code")).not_to_have_text(pinned)
    expect(picture).to_have_attribute("aria-label", re.compile("At .* % and .*A$"))
    by_mouse = page.locator("code").inner_text()
    picture.focus()
    page.keyboard.press("ArrowLeft")
    expect(page.locator("code")).not_to_have_text(by_mouse)
    page.keyboard.press("ArrowRight")
    expect(page.locator("code")).to_have_text(by_mouse)
    page.keyboard.press("Enter")
    kept(page)
    page.get_by_role("button", name="back to the list").click()
    expect(page.locator(CHOSEN)).to_contain_text("pin")
    expect(page.locator("code")).to_have_text(by_mouse)


def test_the_drawer_is_imported_searched_and_exported_unchanged(page: Page, tmp_path: Path) -> None:
    page.get_by_role("link", name="Drawer").click()
    expect(page.get_by_text("61 values, 600 parts")).to_be_visible()
    good, bad = tmp_path / "kit.csv", tmp_path / "bad.csv"
    text = "value,count,tolerance,family\r\n20,3,1 %,wirewound\r\n50,2,1 %,wirewound\r\n"
    good.write_bytes(text.encode())
    bad.write_text("value\n12\nabc\n")
    page.get_by_label("CSV file").set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("line 3: “abc” is not a resistance")
    expect(page.get_by_text("61 values, 600 parts")).to_be_visible()
    page.get_by_label("CSV file").set_input_files(good)
    page.get_by_role("button", name="Make it the drawer").click()
    expect(page.get_by_text("2 values, 5 parts")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="Export CSV").click()
    assert Path(download.value.path()).read_bytes() == text.encode()

    page.get_by_role("link", name="Designs").click()
    begin(page, "a resistance")
    page.get_by_label("wanted resistance").fill("45")
    page.get_by_label("number of parts").fill("3")
    page.get_by_label("series of values, or drawer").fill("drawer")
    # Common practice, worked by hand in the trade: 45 Ω from 20 and 50 Ω parts
    expect(page.locator(CHOSEN)).to_contain_text("(50 || 50) + 20")


def test_the_drawer_is_edited_by_keyboard(page: Page) -> None:
    page.get_by_role("link", name="Drawer").click()
    value = page.get_by_label("value", exact=True)
    value.fill("4x7")
    page.keyboard.press("Enter")
    expect(page.get_by_text("is no unit or prefix of a resistance")).to_be_visible()
    value.fill("5k1")
    page.keyboard.press("Tab")
    page.keyboard.type("7")
    page.keyboard.press("Enter")
    expect(value).to_be_focused()
    row = page.get_by_role("row", name="5.1 kΩ 7 1 %")
    expect(row).to_be_visible()
    row.get_by_role("button", name="Change 5.1 kΩ").click()
    page.get_by_label("how many").fill("9")
    page.keyboard.press("Enter")
    expect(page.get_by_role("row", name="5.1 kΩ 9 1 %")).to_be_visible()
    page.get_by_role("button", name="Take out 5.1 kΩ").click()
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("row", name="5.1 kΩ 9 1 %")).to_be_visible()


def test_values_are_shared_across_designs(page: Page) -> None:
    for name in ("Battery sense", "Solar sense", "Loop receiver"):
        page.get_by_label(f"Pick {name}").check()
    page.get_by_role("button", name="Share values").click()
    expect(page.get_by_role("heading", name="different values for 3 designs")).to_be_visible(
        timeout=60_000
    )
    page.get_by_role("button", name="Pin these").click()
    expect(page.get_by_text("The shared choices are pinned.")).to_be_visible()
    expect(design_row(page, "Solar sense")).not_to_contain_text("nothing pinned yet")


def test_sharing_can_be_cancelled(page: Page) -> None:
    expect(page.get_by_role("checkbox").first).to_be_visible()
    for box in page.get_by_role("checkbox", disabled=False).all():
        box.check()
    held: list[Route] = []  # that it is done is told too late, or not

    def hold(route: Route) -> None:
        held.append(route) if route.request.method == "GET" else route.continue_()

    page.route("**/api/jobs/*", hold)
    page.get_by_role("button", name="Share values").click()
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_text("Cancelled; nothing is changed.")).to_be_visible()


def test_axe_finds_nothing_serious_where_one_chooses(page: Page) -> None:
    # axe-core, WCAG rules: nothing serious or critical, view by view
    found = []
    for name in ("Level switch thresholds", "Radio supply feedback"):
        open_design(page, name)
        found += serious_findings(page, name)
        page.get_by_role("link", name="lowfold").click()
    open_design(page, "Battery sense")
    page.get_by_role("button", name="accuracy against current").click()
    page.locator("[data-trade]").first.click()
    found += serious_findings(page, "trade-off")
    page.get_by_role("link", name="Drawer").click()
    expect(page.get_by_text("61 values")).to_be_visible()
    found += serious_findings(page, "drawer")
    assert found == []
