"""Anybody's data in any window: no writing lies over other writing, nothing is wider than its window.

Needs that are not the demo's: long names, four taps, three parts, some that pass and some that fail.
"""

from typing import Any

import pytest
from playwright.sync_api import Page

from tests.conftest import Server
from tests.e2e.conftest import answered, settled

NAME = "Bias of the long-named second amplifier beside the mooring winch, spare board"
NEEDS: dict[str, dict[str, Any]] = {
    "three parts, failing": {
        "kind": "resistance",
        "brief": {"target_ohm": "380.03", "within": "1 %", "max_parts": "3"},
    },
    "loaded, too hot": {
        "kind": "divider",
        "brief": {"supply_v": "24 V", "target_v": "7.54 V", "within": "3 %", "load": "4.7k or open"},
    },
    "four taps": {
        "kind": "ladder",
        "brief": {
            "supply_v": "14.4 V", "tap1_v": "11 V", "tap2_v": "8.25 V", "tap3_v": "5.5 V",
            "tap4_v": "2.75 V", "within": "4 %",
        },
    },
    "feedback": {
        "kind": "feedback",
        "brief": {"reference_v": "0.8 V", "target_v": "5.12 V", "within": "3 %"},
    },
}  # fmt: skip
WIDTHS = (720, 900, 1024, 1100, 1200, 1280, 1440)

#: Every line of writing as it is seen, cut by what scrolls; those that lie over one another.
OVER_ONE_ANOTHER = """() => {
  const lines = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const node = walker.currentNode, of = node.parentElement, style = getComputedStyle(of);
    const text = node.textContent.trim();
    if (!text || style.visibility === "hidden" || style.display === "none") continue;
    if (of.closest(".sr-only, option, datalist, title, desc, style, script, textarea")) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    for (const rect of range.getClientRects()) {
      // A line's own height is more than its letters'
      const slack = rect.height * 0.22;
      const box = {
        l: rect.left, r: rect.right, t: rect.top + slack, b: rect.bottom - slack, text, of,
      };
      for (let at = of; at; at = at.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(at), seen = at.getBoundingClientRect();
        if (overflowX !== "visible") {
          box.l = Math.max(box.l, seen.left); box.r = Math.min(box.r, seen.right);
        }
        if (overflowY !== "visible") {
          box.t = Math.max(box.t, seen.top); box.b = Math.min(box.b, seen.bottom);
        }
      }
      if (box.r - box.l > 2 && box.b - box.t > 2) lines.push(box);
    }
  }
  const over = [];
  for (let i = 0; i < lines.length; i++) for (let j = i + 1; j < lines.length; j++) {
    const a = lines[i], b = lines[j];
    const wide = Math.min(a.r, b.r) - Math.max(a.l, b.l);
    const high = Math.min(a.b, b.b) - Math.max(a.t, b.t);
    if (a.of !== b.of && wide > 1.5 && high > 1.5) over.push([a.text, b.text]);
  }
  return over;
}"""
TOO_SMALL = """() => [...document.querySelectorAll("body *")].filter((of) =>
  !of.closest("svg, .sr-only") && [...of.childNodes].some((n) => n.nodeType === 3 && n.data.trim())
  && parseFloat(getComputedStyle(of).fontSize) < 11).map((of) => of.textContent)"""


@pytest.mark.parametrize("need", NEEDS)
def test_a_sheet_holds_in_every_window(page: Page, demo: Server, need: str) -> None:
    made = page.request.post(
        f"{demo.url}/api/designs", data={"name": NAME, **NEEDS[need]}, headers={"origin": demo.url}
    )
    page.goto(f"{demo.url}/#/designs/{made.json()['id']}")
    settled(page)
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        answered(page)
        assert page.evaluate(OVER_ONE_ANOTHER) == [], width
        assert page.evaluate("document.documentElement.scrollWidth") <= width
        assert page.evaluate(TOO_SMALL) == [], width
