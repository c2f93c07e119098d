"""The bench as somebody with the leads in hand uses it."""

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

from lowfold.demo.bench import NAME, stand_in
from lowfold.sim.board import drawn_board
from lowfold.sim.server import StandIn
from tests import plain
from tests.conftest import Server
from tests.e2e.test_sheet import serious_findings


@pytest.fixture
def meter(demo: Server) -> Iterator[StandIn]:
    """The demo's stand-in, known to the server under test."""
    with stand_in() as found:
        kept = {"resource": found.resource, "name": NAME}
        plain.put(f"{demo.url}/api/instruments", json=kept).raise_for_status()
        yield found


def open_bench(page: Page, name: str = "Battery sense") -> None:
    page.get_by_role("link", name=name).click()
    page.get_by_role("link", name="bench").click()
    page.locator("[data-reading]").wait_for()  # a server that has just started takes its time
    expect(page.locator("[data-reading]")).to_be_focused()


def choose(page: Page, what: str) -> None:
    page.locator("[data-meter]").select_option(label=what)
    page.locator("[data-reading]").focus()


def read(page: Page, text: str) -> None:
    """Type a reading and keep it."""
    page.locator("[data-reading]").fill(text)
    page.keyboard.press("Enter")


def test_a_board_is_walked_by_keyboard_with_all_as_expected(page: Page) -> None:
    open_bench(page)
    doing = page.locator("[data-doing]")
    expect(doing).to_have_text("Power off. R1 out of the circuit, one lead on each of its ends.")
    for text, following in [
        ("200k1", "R2 out of the circuit"),
        ("56k05", "One lead on in, the other on 0."),
        ("256k2", "Red lead on in, black on 0."),
        ("14.40 V", "Red lead on OUT, black on 0."),
        ("3V01", "open the supply's wire"),
    ]:
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        expect(doing).to_contain_text(following)
    page.keyboard.type("57 uA")
    expect(page.locator("[data-told]")).to_contain_text("as expected")
    page.keyboard.press("Enter")
    expect(page.locator("[data-build]")).to_contain_text("6 of 6 as expected")
    page.get_by_role("link", name="sheet").click()
    gate = page.locator("article", has=page.get_by_role("heading", name="Build"))
    expect(gate).to_contain_text("6 of 6 as expected")
    expect(gate).to_contain_text("pass")
    page.reload()
    expect(gate).to_contain_text("6 of 6 as expected")


def test_one_reading_far_out_stops_the_round(page: Page) -> None:
    open_bench(page)
    read(page, "200k1")
    expect(page.locator("[data-doing]")).to_contain_text("R2 out of the circuit")
    read(page, "5k6")
    stop = page.get_by_role("alert")
    expect(stop).to_contain_text("Stop at R2, lifted out: it reads 5.6 kΩ")
    expect(stop).to_contain_text("4 more points are folded away")
    expect(page.locator("[data-build]")).to_contain_text("stop: 1 of 6 as expected")
    expect(page.locator("[data-point]")).to_have_count(2)
    stop.get_by_role("button", name="Open them all the same").click()
    expect(page.locator("[data-point]")).to_have_count(6)
    # The right part put in and read again: the round goes on
    page.locator("[data-point='resistance R2']").click()
    read(page, "56k1")
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(page.locator("[data-build]")).to_contain_text("2 of 6 as expected")


def test_readings_are_taken_from_the_stand_in_with_one_key(page: Page, meter: StandIn) -> None:
    open_bench(page)
    choose(page, f"{NAME} (bench, 6½ digits)")
    for count in range(1, 7):
        page.keyboard.press("t")
        expect(page.locator("[data-build]")).to_contain_text(f"{count} of 6 as expected")
    expect(page.locator("[data-as-built]")).to_contain_text("The sheet with these parts:")
    expect(page.get_by_role("button", name="Take reading")).to_be_enabled()
    meter.close()
    page.keyboard.press("t")
    expect(page.get_by_role("alert")).to_contain_text("No reading: the meter")
    expect(page.locator("[data-build]")).to_contain_text("6 of 6 as expected")


def test_what_is_not_understood_is_kept_as_typed(page: Page) -> None:
    open_bench(page)
    read(page, "about right")
    expect(page.locator("#face-words")).to_contain_text("“about right”")
    page.reload()
    expect(page.locator("[data-point='resistance R1']")).to_contain_text("not understood")
    expect(page.locator("[data-reading]")).to_have_value("about right")
    page.locator("[data-reading]").fill("")
    page.keyboard.press("Enter")
    expect(page.locator("[data-point='resistance R1']")).to_contain_text("to be read")


def test_a_reading_is_not_lost_while_the_server_is_away(page: Page, demo: Server) -> None:
    open_bench(page)
    demo.stop()
    read(page, "200k1")
    expect(page.get_by_role("alert")).to_contain_text("“200k1” at R1, lifted out is not kept")
    demo.start()
    page.get_by_role("button", name="Keep it now").click()
    expect(page.locator("[data-build]")).to_contain_text("1 of 6 as expected")
    page.reload()
    expect(page.locator("[data-build]")).to_contain_text("1 of 6 as expected")


def test_the_leads_are_walked_and_put_by_a_click(page: Page) -> None:
    open_bench(page, "Old probe board")
    for _ in range(6):
        page.keyboard.press("ArrowDown")
    expect(page.locator("[data-doing]")).to_contain_text("Red lead on A, black on 0.")
    expect(page.locator("[data-lead=red]")).to_have_count(1)
    page.locator("svg[role=group] text", has_text=re.compile("^B")).click()
    expect(page.locator("[data-doing]")).to_contain_text("Red lead on B, black on 0.")
    # With the power on the leads go across a part; with it off the part is lifted out
    page.locator("svg[role=group] text", has_text="R3").click()
    expect(page.locator("[data-doing]")).to_contain_text("Red lead on A, black on B.")
    page.locator("[data-point='resistance R1']").click()
    page.locator("svg[role=group] text", has_text="R3").click()
    expect(page.locator("[data-doing]")).to_contain_text("R3 out of the circuit")


def test_a_reading_is_taken_wherever_it_says_it_was_read(page: Page) -> None:
    open_bench(page)
    read(page, "OUT 3V005")
    out = page.locator("[data-point='voltage OUT 0']")
    expect(out).to_contain_text("3.005 V")
    expect(page.locator("[data-point='resistance R1']")).to_contain_text("to be read")
    read(page, "V(R1) 11.38")
    expect(page.locator("[data-point='voltage in OUT']")).to_contain_text("11.38 V")
    read(page, "I(R1)=56.9uA")
    expect(page.locator("[data-point='current R1']")).to_contain_text("56.9 µA")
    page.reload()
    expect(out).to_contain_text("3.005 V")


def test_the_fault_table_opens_and_tells_what_each_fault_reads(page: Page) -> None:
    open_bench(page)
    table = page.locator("[data-faults]")
    table.locator("summary").click()
    # By hand: with R2 open OUT is 14.4 V · 909k / (909k + 200k), 909k being load and meter
    row = table.get_by_role("row", name=re.compile("^R2 open"))
    expect(row).to_contain_text("11.8 V")
    expect(table.get_by_role("row", name=re.compile("^R1 ten times its value"))).to_be_visible()
    names = table.locator("tbody tr td:first-child").all_inner_texts()
    assert len(names) == len(set(names))
    # What if: the row that is looked at stands on the drawing, and what was read beside it
    row.get_by_role("button").click()
    expect(page.locator("[data-foreseen=OUT]")).to_contain_text("11.8 V")
    expect(table.locator("[data-read-so-far]")).to_contain_text("—")
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-foreseen=OUT]")).not_to_contain_text("11.8 V")
    table.locator("summary").click()
    expect(page.locator("[data-foreseen]")).to_have_count(0)


def test_a_meter_changes_what_is_expected(page: Page) -> None:
    open_bench(page)
    out = page.locator("[data-point='voltage OUT 0']")
    expect(out).to_contain_text("3.0054 V")
    choose(page, "needle, 20 kΩ/V")
    # By hand: 20 kΩ/V on its 2.5 V range is 50 kΩ beside 53.03 kΩ: 25.735 kΩ; 14.4 · 25.735/225.735
    expect(out).to_contain_text("1.6417 V")


def test_nothing_is_pinned_yet(page: Page) -> None:
    page.get_by_role("link", name="Solar sense").click()
    page.get_by_role("link", name="bench").click()
    page.get_by_text("no choice is pinned yet: pin one on the sheet").wait_for()
    page.get_by_role("link", name="To the sheet").click()
    expect(page.locator("[role=option]").first).to_be_visible()


@pytest.mark.parametrize("width", [720, 1280, 1920])
def test_nothing_is_cut_off_and_axe_finds_nothing(page: Page, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 900})
    open_bench(page)
    read(page, "1k")
    expect(page.get_by_role("alert")).to_be_visible()
    furthest = """Math.max(...[...document.querySelectorAll('.bench *')].map(
        (one) => one.getBoundingClientRect().right))"""
    assert page.evaluate(furthest) <= width
    assert serious_findings(page, f"bench at {width}") == []
    page.set_viewport_size({"width": 1280, "height": 800})


def test_a_part_is_read_by_keyboard_alone(page: Page) -> None:
    page.get_by_role("link", name="Reference").click()
    page.get_by_role("tab", name="Bands and codes").click()
    page.locator("[data-bands]").focus()
    page.keyboard.press("Delete")
    # Common practice, worked by hand in the trade: blue, grey, black, gold, red is 68.0 Ω ± 2 %
    page.keyboard.type("680g2")
    readings = page.locator("[data-mark-readings]")
    expect(readings.locator("li").first).to_contain_text("68 Ω ± 2 %")
    page.locator("[data-measured]").fill("68.7")
    expect(readings.locator("li").first).to_contain_text("● it may be")
    page.locator("[data-mark-text]").fill("66B")
    expect(readings.locator("li").first).to_contain_text("4.75 kΩ")
    page.locator("[data-mark-text]").fill("red red")
    expect(readings).to_contain_text("2 bands are seen; a resistor has 3 to 6")
    page.locator("[data-write=ohm]").fill("4k75")
    expect(page.locator("[data-written]")).to_contain_text("66B")
    assert serious_findings(page, "here") == []
    page.get_by_role("tab", name="Standard values").click()
    page.locator("[data-find]").fill("4k12")
    expect(page.get_by_text("is a value of E96, E192")).to_be_visible()
    assert serious_findings(page, "here") == []


def test_a_meter_of_ones_own(page: Page) -> None:
    page.get_by_role("link", name="Drawer").click()
    page.get_by_role("link", name="meters").click()
    page.get_by_role("button", name="A meter of your own").click()
    page.locator("#meter-name").fill("shelf, 4000 counts")
    page.locator("#meter-volts").fill("4 V ± (0.5 % + 1)")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("alert")).to_contain_text("line 1: 1 counts of what?")
    page.locator("#meter-volts").fill("4 V ± (0.5 % + 1), resolution 1 mV")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("row", name=re.compile("shelf, 4000 counts yours"))).to_be_visible()
    page.get_by_label("Resource name").fill("nonsense")
    page.get_by_role("button", name="Put on").click()
    expect(page.get_by_role("alert")).to_contain_text("is no VISA resource name")
    page.get_by_label("Resource name").fill("TCPIP::127.0.0.1::5025::SOCKET")
    page.get_by_role("button", name="Put on").click()
    expect(page.get_by_text("TCPIP0::127.0.0.1::5025::SOCKET").first).to_be_visible()
    assert serious_findings(page, "here") == []
    page.get_by_role("button", name="Take out shelf, 4000 counts").click()
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("row", name=re.compile("shelf, 4000 counts yours"))).to_be_visible()


def test_a_hidden_fault_is_found_by_following_the_advice(page: Page, demo: Server) -> None:
    board = drawn_board(
        "R1=4k7 + @A + (R2=15k || (R3=2k7 + @B + R4=3k9))", 12.0,
        tolerance=0, fault="R3 open", loads=[("B", 10e6)], seed=3,
    )  # fmt: skip
    with StandIn(board) as meter:
        kept = {"resource": meter.resource, "name": "on the probe board"}
        plain.put(f"{demo.url}/api/instruments", json=kept).raise_for_status()
        network = "R1=4k7 + @A + (R2=15k || (R3=2k7 + @B + R4=3k9))"
        brief = {"network": network, "supply_v": "12 V", "loads": "B 10 MΩ", "tolerance": "5 %"}
        built = {"name": "Probe board, built", "kind": "network", "brief": brief}
        where = plain.post(f"{demo.url}/api/designs", json=built).json()["id"]
        page.reload()
        open_bench(page, "Probe board, built")
        choose(page, "on the probe board (bench, 6½ digits)")
        page.locator("[data-point='voltage A 0']").click()
        page.keyboard.press("t")
        advice = page.locator("[data-advice]")
        verdict = page.locator("[data-verdict]")
        expect(advice).to_be_visible()
        for _ in range(4):
            if verdict.inner_text().startswith("R3 open, with"):
                break
            seen = page.locator("[data-point]", has_text="far out").count()
            before = verdict.inner_text()
            page.keyboard.press("f")
            expect(page.locator("tr[aria-current=step]")).not_to_contain_text("far out")
            page.keyboard.press("t")
            expect(page.locator("tr[aria-current=step]")).not_to_contain_text("to be read")
            expect(verdict).not_to_have_text(before)
            assert seen >= 1
        expect(verdict).to_have_text(re.compile("^R3 open, with (over )?9"))
        expect(page.locator("[data-suspect=R3]")).to_have_count(1)
        expect(page.locator("[data-argument]")).to_contain_text("nothing read speaks against it")
        expect(page.locator("[data-course]")).to_be_visible()
        expect(page.locator("[data-changed]")).to_contain_text("R3 open")
        page.get_by_text("How it is weighed").click()
        page.get_by_label("a joint, a wire or a part open").fill("0")
        page.keyboard.press("Tab")
        expect(verdict).not_to_contain_text("R3 open, with")
        page.get_by_role("button", name="Back to the start values").click()
        expect(verdict).to_contain_text("R3 open, with")
        assert serious_findings(page, "suspicions") == []
        page.get_by_role("button", name="It was this: mended").click()
        expect(page.get_by_text("R3 open: mended.")).to_be_visible()
        expect(page.locator("[data-build]")).to_contain_text("not built")
        entries = plain.get(f"{demo.url}/api/designs/{where}/record").json()
        assert [e["text"] for e in entries if e["kind"] == "finding"] == [
            "R3 open: found and mended."
        ]
