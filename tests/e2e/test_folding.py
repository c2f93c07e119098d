"""Folding and unfolding as someone at a desk does it."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.e2e.conftest import answered, design_row
from tests.e2e.test_sheet import kept, serious_findings


def open_network(page: Page) -> None:
    page.get_by_role("link", name="Old probe board").click()
    expect(page.get_by_role("group", name="Schematic")).to_be_visible()


def write(page: Page, text: str, loads: str = "none") -> None:
    page.get_by_label("loads at junctions").fill(loads)
    page.locator("#network").fill(text)
    answered(page)


def test_a_network_is_typed_folded_to_one_and_unfolded(page: Page) -> None:
    page.get_by_role("link", name="a network", exact=True).click()
    expect(page.get_by_text("nothing written yet")).to_be_visible()
    # Common practice, worked by hand in the trade: EMF 24 V with 1 Ω inside, 8 Ω in all, 3 A
    write(page, "R1=4 + (R2=6 || (R3=2 + R4=4))")
    page.get_by_label("supply voltage").fill("24 V")
    page.get_by_label("resistance inside the supply").fill("1")
    expect(page.get_by_text("folds to 8 Ω · draws 3.000 A")).to_be_visible()
    inside = page.get_by_role("row", name=re.compile("^R0 1"))  # of the supply, as a part
    expect(inside).to_contain_text("3.000 V")
    supply = page.get_by_role("row", name=re.compile("^supply"))
    expect(supply).to_contain_text("24.00 V")
    expect(supply).to_contain_text("72.00 W")
    page.get_by_role("button", name="start").click()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("No third wire leaves between R3 and R4")).to_be_visible()
    expect(page.get_by_text("2 Ω + 4 Ω = 6 Ω")).to_be_visible()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text("6 Ω ∥ 6 Ω = 1 ÷ (1/6 Ω + 1/6 Ω) = 3 Ω")).to_be_visible()
    page.get_by_label("Parallel by").select_option("product over sum")
    expect(page.get_by_text("6 Ω · 6 Ω ÷ (6 Ω + 6 Ω) = 3 Ω")).to_be_visible()
    page.keyboard.press("ArrowRight")
    page.get_by_role("button", name="one", exact=True).focus()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_text("F3 is R0 + R1 + F2: all carry its 3.000 A")).to_be_visible()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_text("F2 is R2 ∥ F1: all have its 9.000 V")).to_be_visible()
    row = page.get_by_role("row", name=re.compile("^R1 4"))
    expect(row).to_contain_text("12.00 V")
    expect(row).to_contain_text("36.00 W")
    page.get_by_role("tab", name="Checks").click()
    expect(page.get_by_text("does not hold")).to_have_count(0)
    page.get_by_role("tab", name="Other ways").click()
    expect(page.get_by_text("they do not agree")).to_have_count(0)
    kept(page)
    page.reload()
    expect(page.locator("#network")).to_have_value("R1=4 + (R2=6 || (R3=2 + R4=4))")


def test_why_two_parts_are_what_they_are(page: Page) -> None:
    open_network(page)
    page.get_by_role("button", name="R1 4.7 kΩ").click()
    page.get_by_role("button", name="R2 15 kΩ").press("Enter")
    expect(page.get_by_text("R1 and R2: neither.")).to_be_visible()
    expect(page.get_by_text("They meet at A, but R3 also leaves there")).to_be_visible()
    page.get_by_role("button", name="L1 10 MΩ").click()
    page.get_by_role("button", name="R4 3.9 kΩ").click()
    expect(page.get_by_text("in parallel.")).to_be_visible()


def test_a_switch_is_thrown_and_compared(page: Page) -> None:
    open_network(page)
    page.get_by_role("tab", name="Compare").click()
    page.get_by_label("Set this beside the same network").select_option("with S1 closed")
    # By hand: S1 shorts what hangs at A, so all 12 V lie across R1
    expect(page.get_by_role("row", name=re.compile("^R1 6.076 V 12.00 V"))).to_be_visible()
    page.get_by_label("Set this beside the same network").select_option("all its parts in series")
    # By hand: 4.7 + 15 + 2.7 + 3.9 kΩ
    expect(page.get_by_role("row", name=re.compile("^whole"))).to_contain_text("26.3 kΩ")
    page.get_by_role("button", name="S1 open").click()
    expect(page.get_by_text("folds to 4.7 kΩ")).to_be_visible()
    expect(page.get_by_role("button", name="S1 closed")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_text("No current whatever the supply: R2, R3, R4")).to_be_visible()


def test_a_network_is_edited_on_its_drawing(page: Page) -> None:
    open_network(page)
    write(page, "R1=1k + R2=2k")
    parts = page.get_by_role("group", name="Schematic").get_by_role("button")
    for drawn, shown, action, value, text in (
        (2, "R2 2 kΩ", "in parallel", "2k", "R1=1k + (R2=2k || R3=2k)"),
        (3, "R2 2 kΩ", "change to it", "3k", "R1=1k + (R2=3k || R3=2k)"),
        (3, "R2 3 kΩ", "in series", "100", "R1=1k + ((R2=3k + R4=100) || R3=2k)"),
        (4, "R2 3 kΩ", "take out", "", "R1=1k + (R4=100 || R3=2k)"),
    ):
        expect(parts).to_have_count(drawn)  # a part moves as long as the drawing is not the new one
        page.get_by_role("button", name=shown).click()
        page.get_by_label("value to use").fill(value)
        page.get_by_role("button", name=action).click()
        expect(page.locator("#network")).to_have_value(text)
    expect(parts).to_have_count(3)


def test_what_cannot_be_read_is_marked_at_the_very_character(page: Page) -> None:
    open_network(page)
    write(page, "1k + (2k || 3x)")
    expect(page.locator("mark")).to_have_text("3")
    expect(page.get_by_text("“x” is no unit or prefix of a resistance")).to_be_visible()
    write(page, "1k + (2k")
    expect(page.locator("mark")).to_have_text("⎵")
    write(page, "1k + @A + 2k", "B 1k")
    expect(page.get_by_text("the network has no junction called “B”")).to_be_visible()


def test_an_unknown_part_is_found(page: Page) -> None:
    open_network(page)
    page.get_by_label("supply voltage").fill("12 V")
    page.get_by_role("tab", name="Unknown").click()
    page.get_by_label("Write ? for the value").fill("R1=10k + @OUT + R2=?")
    page.get_by_label("junction", exact=True).fill("OUT")
    page.get_by_label("known figure").fill("4 V")
    page.keyboard.press("Enter")
    # By hand: 4/(12 − 4)·10 kΩ = 5 kΩ, next to 5.1 kΩ of E24
    expect(page.get_by_text("R2 = 5 kΩ")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile(r"^5\.1 kΩ 4\.0530 V"))).to_be_visible()


def test_twenty_parts_and_a_bridge_are_drawn_and_saved(page: Page) -> None:
    open_network(page)
    ladder = "R1=10" + "".join(
        f" + @T{k} + (R{3 * k - 1}={k}k || (R{3 * k}=2k2 + R{3 * k + 1}=470))" for k in range(1, 7)
    )
    write(page, ladder + " + R20=1k")
    plan = page.get_by_role("group", name="Schematic")
    expect(plan.get_by_role("button")).to_have_count(20)
    for text in plan.locator("text").all():
        box = text.bounding_box()
        assert box is not None
        assert box["height"] >= 8  # readable: not scaled to nothing
    write(page, "R1 in a 100\nR2 in b 220\nR3 a 0 330\nR4 b 0 150\nR5 a b 47")
    expect(plan.get_by_role("button")).to_have_count(5)
    # A bridge has four junctions: the supply's ends and the two it bridges
    page.get_by_label("colour junctions").check()
    hues = {path.get_attribute("class") for path in plan.locator("path[class*=junction-]").all()}
    assert len(hues) == 4
    page.get_by_label("Symbol").select_option("zigzag")
    with page.expect_download() as download:
        page.get_by_role("button", name="save as SVG").click()
    svg = Path(download.value.path()).read_text()
    assert svg.startswith("<svg")
    assert "R5" in svg
    assert "class=" not in svg


def test_any_two_give_the_others(page: Page) -> None:
    page.get_by_role("link", name="Reference").click()
    page.get_by_label("voltage V").fill("8V8")
    page.get_by_label("current I").fill("40 mA")
    # Common practice, worked by hand in the trade: 220 Ω
    expect(page.get_by_text("220.00 Ω")).to_be_visible()
    expect(page.get_by_text("by R = V / I and P = V · I")).to_be_visible()
    page.get_by_label("power P").fill("3k3")
    expect(page.get_by_text("“3k3” is a resistance; wanted is a power")).to_be_visible()


def test_axe_finds_nothing_serious_where_one_folds(page: Page) -> None:
    # axe-core, WCAG rules: nothing serious or critical, view by view
    open_network(page)
    page.get_by_role("button", name="R1 4.7 kΩ").click()
    found = serious_findings(page, "fold")
    for tab in ("Checks", "Other ways", "Compare", "Unknown"):
        page.get_by_role("tab", name=tab).click()
        found += serious_findings(page, tab)
    page.get_by_role("link", name="Reference").click()
    page.get_by_label("voltage V").fill("5")
    found += serious_findings(page, "reference")
    assert found == []


def test_a_choice_is_folded_from_its_sheet(page: Page) -> None:
    page.get_by_role("link", name="Battery sense").click()
    page.get_by_role("button", name="fold it step by step").click()
    expect(page.locator("#network")).to_have_value("R1=200k + @OUT + R2=56k")
    expect(page.get_by_label("loads at junctions")).to_have_value("OUT 1 MΩ ± 10 %")
    # The same figures as on the sheet: 3.018 V at OUT, 56.91 µA from the supply
    expect(page.get_by_text("folds to 253 kΩ · draws 56.91 µA")).to_be_visible()
    expect(page.get_by_role("group", name="Schematic")).to_contain_text("3.018 V")
    page.get_by_role("button", name="R2 ∥ L1").click()
    expect(page.get_by_text("R2 and L1 have both ends in common")).to_be_visible()
    # Looked at, it is kept nowhere; changed, it is a design
    page.get_by_label("Name of the design").fill("Battery sense, as a network")
    kept(page)
    page.get_by_role("link", name="lowfold").click()
    row = design_row(page, "Battery sense, as a network")
    expect(row).to_contain_text("spread uses 81 % of the window")


def test_the_letter_of_a_voltage_and_the_figures_are_the_readers_choice(page: Page) -> None:
    open_network(page)
    page.get_by_label("Letter of a voltage").select_option("U")
    expect(page.get_by_role("columnheader", name="U", exact=True)).to_be_visible()
    expect(page.get_by_text("I of F4, U = I · R")).to_be_visible()
    page.get_by_label("Figures", exact=True).select_option("6 figures")
    # By hand: 3.9 kΩ beside 10 MΩ, plus 2.7 kΩ, beside 15 kΩ is 4582.6 Ω; 12 V · 4582.6/9282.6
    expect(page.get_by_role("row", name=re.compile("^R2 15"))).to_contain_text("5.92412 V")
    page.reload()
    expect(page.get_by_role("columnheader", name="U", exact=True)).to_be_visible()


LONG = (
    "R1=4k7 + @A + (R2=15k || (R3=2k7 + @B + (R4=3k9 || (R5=1k + @C + (R6=8k2 || (R7=1k5 + @D + "
    "(R8=5k6 || (R9=2k2 + @E + (R10=6k8 || (R11=1k + @F + (R12=3k3 || (R13=470 + @G + (R14=2k2 || "
    "(R15=330 + @H + (R16=1k || (R17=220 + @I + (R18=680 || (R19=150 + @J + R20=470))))))))))))))))))"
)
MESH = "\n".join(
    f"R{k} {a} {b} {ohms}"
    for k, (a, b, ohms) in enumerate(
        [
            ("in", "a", "4k75"), ("a", "b", "12k1"), ("b", "c", "226k"), ("c", "d", "1M05"),
            ("d", "0", "4k75"), ("in", "c", "12k1"), ("a", "d", "226k"), ("b", "0", "1M05"),
            ("c", "0", "4k75"), ("in", "d", "12k1"),
        ],
        1,
    )
)  # fmt: skip
BRIDGE = "R1 in a 1k2\nR2 in b 1k8\nR3 a b 3k3\nR4 a 0 1k\nR5 b 0 1k7"

#: Writing that lies on other writing, or on a part, by more than its own box's margin.
OVERLAPS = """() => {
  const svg = document.querySelector("svg[aria-label^=Schematic]");
  const scale = svg.getScreenCTM().a;
  const texts = [...svg.querySelectorAll("text")].map((t) => [t.textContent.trim(), t]);
  const parts = [...svg.querySelectorAll("rect")].map((r) => ["a part", r]);
  const meets = (a, b) => {
    const [p, q] = [a.getBoundingClientRect(), b.getBoundingClientRect()];
    const wide = Math.min(p.right, q.right) - Math.max(p.left, q.left);
    const tall = Math.min(p.bottom, q.bottom) - Math.max(p.top, q.top);
    return wide > 2 * scale && tall > 3.5 * scale;
  };
  return texts.flatMap(([name, text], k) =>
    [...texts.slice(k + 1), ...parts].filter(([, o]) => meets(text, o)).map(([o]) => [name, o]),
  );
}"""


def test_names_and_figures_lie_on_nothing_at_any_step(page: Page) -> None:
    open_network(page)
    for text in (LONG, MESH, BRIDGE):
        write(page, text)
        for digits in ("8",):
            page.get_by_label("Figures").select_option(digits)
            answered(page)
            steps = page.locator("ol button")
            assert steps.count() > 4
            for place in range(0, steps.count(), 5):
                steps.nth(place).click()
                assert page.evaluate(OVERLAPS) == [], (text[:20], digits, place)


def test_the_first_and_the_last_step_stay_in_sight_of_many(page: Page) -> None:
    open_network(page)
    write(page, LONG)
    first, last = (page.get_by_role("button", name=name, exact=True) for name in ("start", "one"))
    for place in ("start", "10", "one"):
        page.get_by_role("button", name=place, exact=True).click()
        for end in (first, last):
            expect(end).to_be_in_viewport(ratio=1)
        here = page.locator("button[aria-current=step]")
        expect(here).to_have_text(place)
        expect(here).to_be_in_viewport(ratio=1)


def test_a_drawing_is_looked_at_near_by_wheel_keys_and_buttons(page: Page) -> None:
    open_network(page)
    drawing = page.locator("svg[aria-label^=Schematic]")
    whole = drawing.get_attribute("viewBox")
    page.keyboard.press("z")
    near = drawing.get_attribute("viewBox")
    assert near != whole
    page.keyboard.press("Shift+ArrowRight")
    assert drawing.get_attribute("viewBox") != near
    page.keyboard.press("0")
    assert drawing.get_attribute("viewBox") == whole
    drawing.hover()
    page.mouse.wheel(0, -100)
    expect(page.get_by_role("button", name="125 %")).to_be_visible()
    page.get_by_role("button", name="125 %").click()
    assert drawing.get_attribute("viewBox") == whole


def test_the_heights_move_with_fold_and_unfold_and_the_table_fills(page: Page) -> None:
    open_network(page)
    write(page, "R1=4 + @A + (R2=6 || (R3=2 + @B + R4=4))")
    page.get_by_label("supply voltage").fill("21 V")
    answered(page)
    page.locator("h2", has_text="Fold").click()
    page.keyboard.press("h")
    picture = page.get_by_role("img", name=re.compile("Potentials as heights"))
    # By hand: 4 + 6 ∥ 6 = 7 Ω, 3 A: 12 V fall on R1, 9 V on the rest, 3 V and 6 V in its string
    expect(picture).to_have_accessible_name(re.compile("R1 falls 12.00 V"))
    expect(picture).to_have_accessible_name(re.compile("R3 falls 3.000 V"))
    page.get_by_role("button", name="one", exact=True).click()
    expect(picture).to_have_accessible_name(re.compile("F3 falls 21.00 V"))
    table = page.locator("[data-filling]")
    expect(
        table.get_by_role("row", name=re.compile("^F3 7 Ω 21.00 V 3.000 A 63.00 W"))
    ).to_be_visible()
    expect(table.get_by_label("not found yet")).to_have_count(12)
    page.keyboard.press("ArrowLeft")
    expect(table.get_by_role("row", name=re.compile("^R1 4 Ω 12.00 V 3.000 A"))).to_be_visible()
    expect(table.get_by_text("I of F3, V = I · R")).to_have_count(2)
    page.keyboard.press("ArrowLeft")
    expect(table.get_by_text("V of F2, I = V / R")).to_have_count(2)
    expect(table.get_by_label("not found yet")).to_have_count(6)


def test_two_parts_of_a_folded_step_are_asked_about_there(page: Page) -> None:
    open_network(page)
    write(page, "R1=4 + (R2=6 || (R3=2 + R4=4))")
    page.get_by_role("button", name="R3 + R4", exact=True).click()
    page.get_by_role("button", name=re.compile("^F1 6 Ω")).click()
    page.get_by_role("button", name=re.compile("^R2 6 Ω")).click()
    expect(page.get_by_text("F1 and R2: in parallel.")).to_be_visible()
