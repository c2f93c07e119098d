/** What is drawn at one place of a folding: the layout, and what stands beside each part. */
import type { Carried, Drawing, Figure, FoldAnswer, HeightsAnswer } from "$api";

/** A resistor as a rectangle (IEC 60617) or a zigzag (IEEE Std 315). */
export type Symbol = "rectangle" | "zigzag";

export type Picture = {
  drawing: Drawing;
  parts: Record<string, Carried>;
  taps: Record<string, Figure>;
  supply: string;
  low: string;
  heights: HeightsAnswer | null;
};

export function drawn(folded: FoldAnswer, place: number): Picture {
  const step = folded.steps[place - 1];
  const rows = step ? step.parts : folded.table;
  return {
    drawing: step ? step.drawing : folded.drawing,
    parts: Object.fromEntries(rows.map((row) => [row.ref, row])),
    taps: folded.taps,
    supply: folded.supply,
    low: folded.low,
    heights: (step ? step.heights : folded.heights) ?? null,
  };
}

/** The drawing on screen as a file that stands by itself: colours and type written into it. */
export function asSvgFile(shown: SVGSVGElement): Blob {
  const copy = shown.cloneNode(true) as SVGSVGElement;
  // All of it, however near it is looked at
  const whole = shown.dataset.whole;
  if (whole) {
    const [, , width = "", height = ""] = whole.split(" ");
    copy.setAttribute("viewBox", whole);
    copy.setAttribute("width", width);
    copy.setAttribute("height", height);
  }
  const originals = [shown, ...shown.querySelectorAll<SVGElement>("*")];
  [copy, ...copy.querySelectorAll<SVGElement>("*")].forEach((element, i) => {
    const style = getComputedStyle(originals[i] ?? shown);
    element.setAttribute("fill", style.fill);
    element.setAttribute("stroke", style.stroke);
    element.setAttribute("font-family", "sans-serif");
    for (const name of ["class", "data-whole", "role", "tabindex", "aria-label", "aria-pressed"])
      element.removeAttribute(name);
  });
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("color", getComputedStyle(shown).color);
  return new Blob([new XMLSerializer().serializeToString(copy)], { type: "image/svg+xml" });
}
