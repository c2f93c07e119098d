"""Gates opened: their full pictures, what would pass, long draws, and families."""

import json
import re
from pathlib import Path

from playwright.sync_api import Locator, Page, Route, expect

from tests.e2e.conftest import design_row, settled
from tests.e2e.test_sheet import kept, open_design, serious_findings


def opened(page: Page, button: str) -> Locator:
    page.get_by_role("button", name=button, exact=True).click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("tabpanel")).not_to_contain_text("Drawing a hundred thousand")
    return dialog


def test_each_gate_opens_its_full_picture(page: Page) -> None:
    open_design(page, "Battery sense")
    dialog = opened(page, "Spread")
    histogram = dialog.get_by_role("img", name=re.compile("samples are inside the window"))
    expect(histogram).to_have_attribute("aria-label", re.compile("Worst corners at −2.08 % and"))
    expect(dialog.get_by_role("row", name="highest")).to_contain_text("R1 low, L1 and R2 high")
    expect(dialog.get_by_role("row", name="R1 34.6 mV")).to_contain_text("29 % of it")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)

    dialog = opened(page, "Load")
    line = dialog.get_by_role("img", name="OUT against load current")
    expect(line).to_have_attribute("aria-label", re.compile("behind 43.75 kΩ"))
    # By hand: 1 MΩ of meter beside 1 MΩ of load on 3.15 V behind 43.75 kΩ reads 2.897 V
    expect(dialog.get_by_role("row", name="1 MΩ input")).to_contain_text("2.897 V")
    expect(dialog).to_contain_text("load current, µA")
    page.keyboard.press("Escape")

    dialog = opened(page, "Power")
    expect(dialog.get_by_role("img", name=re.compile("^Derating: .* At 60 °C: R1"))).to_be_visible()
    expect(dialog.get_by_role("row", name="R1")).to_contain_text("62.5 mW")
    expect(dialog).to_contain_text("Together they take 819.5 µW from the supply")


def test_tabs_are_walked_by_keyboard_and_faults_told(page: Page) -> None:
    open_design(page, "Battery sense")
    dialog = opened(page, "single faults")
    row = dialog.get_by_role("row", name="R2 opens")
    # By hand: 1 MΩ below 200 kΩ leaves 12 V of 14.4 V
    expect(row).to_contain_text("12.00 V")
    expect(row).to_contain_text("above what it feeds stands")
    expect(dialog).to_contain_text("Caution. If R1 is shorted, OUT goes to 14.4 V, above the 3.3 V")
    dialog.get_by_role("tab", name="Faults").focus()
    page.keyboard.press("ArrowRight")
    expect(dialog.get_by_role("tab", name="What would pass")).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(dialog.get_by_role("tab", name="Spread")).to_have_attribute("aria-selected", "true")


def test_a_key_opens_each_picture_but_not_while_typing(page: Page) -> None:
    open_design(page, "Battery sense")
    page.get_by_role("listbox", name="Choices").focus()
    for key, tab in (
        ("s", "Spread"),
        ("l", "Load"),
        ("p", "Power"),
        ("f", "Faults"),
        ("w", "What would pass"),
    ):
        page.keyboard.press(key)
        chosen = page.get_by_role("dialog").get_by_role("tab", name=tab)
        expect(chosen).to_have_attribute("aria-selected", "true")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_label("Why this one").focus()
    page.keyboard.type("slow")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_failing_design_passes_once_the_advice_is_followed(page: Page) -> None:
    open_design(page, "Wake-line pull-down")
    expect(page.get_by_role("article", name="Power")).to_contain_text("fail")
    dialog = opened(page, "what would pass")
    way = dialog.get_by_role("listitem").filter(has_text="Take 470 Ω, as 2010 (750 mW)")
    expect(way).to_contain_text("pass")
    way.get_by_role("button", name="Do this").click()
    expect(dialog.get_by_text("Done: Take 470 Ω, as 2010")).to_be_visible()
    expect(dialog.get_by_text("It passes as it is.")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_label("size, power or family")).to_have_value("2010")
    expect(page.get_by_role("article", name="Power")).to_contain_text("pass")
    kept(page)
    page.get_by_role("link", name="lowfold").click()
    expect(design_row(page, "Wake-line pull-down")).to_contain_text("pass")


def test_advice_that_was_followed_can_be_put_back(page: Page) -> None:
    open_design(page, "Battery sense")
    page.get_by_label("accepted deviation").fill("3.4 %")
    expect(page.get_by_role("article", name="Spread")).to_contain_text("marginal")
    dialog = opened(page, "what would pass")
    dialog.get_by_role("listitem").filter(has_text="Buy R1 at 0.5 %").get_by_role("button").click()
    expect(dialog.get_by_text("Done: Buy R1 at 0.5 %.")).to_be_visible()
    expect(page.get_by_label("parts of their own")).to_have_value("R1 0.5 %")
    dialog.get_by_role("button", name="Put it back").click()
    tighter = dialog.get_by_role("listitem").filter(has_text="Buy R1 at 0.5 %")
    expect(tighter).to_be_visible()
    expect(page.get_by_label("parts of their own")).to_have_count(0)
    page.keyboard.press("Escape")
    expect(page.get_by_role("article", name="Spread")).to_contain_text("marginal")


def test_where_nothing_passes_the_cheapest_change_is_followed_by_key(page: Page) -> None:
    open_design(page, "Battery sense")
    page.get_by_label("accepted deviation").fill("2 %")
    page.keyboard.press("Enter")  # to the list
    told = page.locator("[data-careful]")
    expect(told).to_contain_text("None of these passes; the cheapest change Take")
    page.keyboard.press("c")
    expect(page.get_by_role("article", name="Spread")).to_contain_text("pass")
    expect(page.get_by_role("article", name="Load")).to_contain_text("pass")
    expect(told).to_contain_text("A careful designer takes")


def test_a_load_stands_as_it_is_taken_and_what_is_granted_is_said(page: Page) -> None:
    open_design(page, "Battery sense")
    need = page.get_by_role("region", name="The need")
    expect(need).to_contain_text("± 10 %")
    expect(page.locator("[data-granted]")).to_have_text(
        "Taken for granted: supply exact, load ± 10 %, 25 °C as reference."
    )
    page.get_by_label("load at the tap").fill("900k to 2M")
    expect(need.get_by_text("understood as 900 kΩ … 2 MΩ")).to_be_visible()
    page.get_by_label("wanted voltage").focus()
    expect(page.locator("[data-granted]")).to_have_count(0)
    page.keyboard.press("Enter")
    expect(page.locator("[data-granted]")).to_have_text(
        "Taken for granted: supply exact, 25 °C as reference."
    )


def test_ten_million_are_drawn_with_progress_and_can_be_cancelled(page: Page) -> None:
    open_design(page, "Battery sense")
    dialog = opened(page, "Spread")
    dialog.get_by_role("button", name="draw ten million").click()
    expect(dialog.get_by_role("progressbar", name="Drawing samples")).to_be_visible()
    dialog.get_by_role("button", name="Cancel").click()
    expect(dialog.get_by_text("Cancelled; the first look is shown.")).to_be_visible()

    def fewer(route: Route) -> None:
        asked = json.loads(route.request.post_data or "{}") | {"samples": 1_000_000}
        route.continue_(post_data=json.dumps(asked))

    page.route("**/api/sheet/drawn", fewer)  # the same way to the end, a tenth of the wait
    dialog.get_by_role("button", name="draw ten million").click()
    expect(dialog.get_by_text("of 1\u202f000\u202f000 samples")).to_be_visible(timeout=30_000)


def test_pictures_do_not_wait_for_advice(page: Page) -> None:
    held: list[Route] = []
    page.route("**/api/sheet/advice", lambda route: held.append(route))  # noqa: PLW0108
    open_design(page, "Battery sense")
    dialog = opened(page, "Load")
    expect(dialog.get_by_text("(Thévenin)")).to_be_visible()
    expect(dialog.get_by_role("tab", name="Load")).to_be_focused()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowLeft")
    expect(dialog.get_by_role("tab", name="What would pass")).to_be_focused()
    expect(dialog.get_by_text("Trying what would pass…")).to_be_visible()
    # Another scatter is drawn meanwhile; the advice is wanted all the same
    dialog.get_by_role("tab", name="Spread").click()
    with page.expect_response("**/api/sheet/opened"):
        dialog.get_by_role("radio").last.check()
    dialog.get_by_role("tab", name="What would pass").click()
    held[0].continue_()
    expect(dialog.get_by_text("Trying what would pass…")).to_have_count(0)
    expect(dialog.get_by_role("tabpanel")).not_to_be_empty()


def test_a_family_of_ones_own_is_kept_and_named_in_a_need(page: Page) -> None:
    page.get_by_role("link", name="Drawer").click()
    page.get_by_role("link", name="families").click()
    expect(page.get_by_role("row", name="0603")).to_contain_text("56.3 kΩ")
    cells = {
        "family": "Thin film 0603", "tolerance": "0.1 %", "ppm/K": "25", "drift": "0.05 %",
        "power": "much", "limiting": "75 V",
    }  # fmt: skip
    for label, text in cells.items():
        page.get_by_label(label, exact=True).fill(text)
    page.keyboard.press("Enter")
    expect(page.get_by_text("✕ “much”")).to_be_visible()
    page.get_by_label("power", exact=True).fill("1/16 W")
    page.keyboard.press("Enter")
    expect(page.get_by_role("row", name="Thin film 0603 yours")).to_contain_text("62.5 mW")

    page.get_by_role("link", name="lowfold").click()
    open_design(page, "Battery sense")
    page.get_by_label("size, power or family").fill("thin film 0603")
    page.get_by_role("button", name="figures of the family").click()
    page.get_by_label("tolerance of a part").focus()
    expect(page.get_by_text("0.1 %, as Thin film 0603")).to_be_visible()
    expect(page.get_by_role("article", name="Spread")).to_contain_text("+1.39")
    kept(page)

    page.get_by_role("link", name="Drawer").click()
    page.get_by_role("link", name="families").click()
    page.get_by_role("button", name="Take out Thin film 0603").click()
    expect(page.get_by_text("Thin film 0603 is taken out.")).to_be_visible()
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("row", name="Thin film 0603 yours")).to_be_visible()


def test_families_are_taken_from_a_file(page: Page, tmp_path: Path) -> None:
    page.get_by_role("link", name="Drawer").click()
    page.get_by_role("link", name="families").click()
    expect(page.get_by_role("row", name="0603")).to_be_visible()
    file = tmp_path / "workshop.csv"
    file.write_text("family,power,limiting\nthin film 0603,1/16 W,75 V\nbroken,much,\n")
    page.get_by_label("CSV file").set_input_files(file)
    expect(page.get_by_text("line 3: “much”")).to_be_visible()
    file.write_text("family,power,limiting\nthin film 0603,1/16 W,75 V\n")
    page.get_by_label("CSV file").set_input_files(file)
    page.get_by_role("button", name="Take them over").click()
    expect(page.get_by_text("1 families of workshop.csv are taken over.")).to_be_visible()
    expect(page.get_by_role("row", name="thin film 0603 yours")).to_be_visible()


def test_axe_finds_nothing_serious_in_what_is_opened(page: Page) -> None:
    # axe-core, WCAG rules: nothing serious or critical, tab by tab
    page.get_by_role("link", name="Wake-line pull-down").click()
    settled(page)
    dialog = opened(page, "Power")
    found = serious_findings(page, "Power")
    dialog.get_by_role("tab", name="What would pass").click()
    found += serious_findings(page, "advice")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="lowfold").click()
    open_design(page, "Level switch thresholds")
    dialog = opened(page, "Load")
    found += serious_findings(page, "Load")
    for tab in ("Spread", "Faults"):
        dialog.get_by_role("tab", name=tab).click()
        found += serious_findings(page, tab)
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Drawer").click()
    page.get_by_role("link", name="families").click()
    expect(page.get_by_role("row", name="0603")).to_be_visible()
    found += serious_findings(page, "families")
    assert found == []


def test_a_network_of_ones_own_is_gated_and_mended(page: Page) -> None:
    page.get_by_role("link", name="Old probe board").click()
    page.get_by_role("group", name="Schematic").wait_for()
    page.get_by_role("tab", name="Gates").click()
    gates = page.get_by_role("tabpanel")
    expect(gates).to_contain_text("Say what is wanted, like OUT 3V ± 3 %, to judge this.")
    for offer, token, text in (
        ("what is wanted", "what is wanted", "B 3.5 V ± 2 %"),
        ("size or family", "size, power or family", "0603"),
    ):
        page.get_by_role("button", name=offer, exact=True).click()
        page.get_by_label(token).fill(text)
    expect(page.get_by_label("tolerance of a part")).to_have_value("5 %")  # an old board's
    page.get_by_label("tolerance of a part").fill("2 %")
    spread = page.get_by_role("article", name="Spread")
    expect(spread).to_contain_text("fail")
    expect(spread).to_contain_text("B: R1 and R3 low, L1 and R2 and R4 high.")
    dialog = opened(page, "what would pass")
    way = dialog.get_by_role("listitem").filter(has_text=re.compile("^Buy every part at"))
    way.get_by_role("button", name="Do this").click()
    expect(dialog.get_by_text(re.compile("^Done: Buy every part at"))).to_be_visible()
    page.keyboard.press("Escape")
    expect(spread).not_to_contain_text("fail")
    kept(page)
    page.get_by_role("link", name="lowfold").click()
    expect(design_row(page, "Old probe board")).to_contain_text("of the window")


def test_what_is_on_paper_has_the_cautions_and_no_buttons(page: Page) -> None:
    open_design(page, "Battery sense")
    page.emulate_media(media="print")
    expect(page.get_by_text("Caution. If R1 is shorted")).to_be_visible()
    expect(page.get_by_role("button", name="single faults")).to_be_hidden()
    expect(page.get_by_text("Say also:")).to_be_hidden()
    choices = page.get_by_role("listbox", name="Choices")
    assert choices.evaluate("e => e.scrollHeight - e.parentElement.clientHeight") <= 0
