/** What is drawn at one place of a folding: the layout, and what stands beside each part. */
import type { Carried, DrawingAnswer, Figure, FoldAnswer } from "$api";

/** A resistor as a rectangle (IEC 60617) or a zigzag (IEEE Std 315). */
export type Symbol = "rectangle" | "zigzag";

export type Picture = {
  drawing: DrawingAnswer;
  parts: Record<string, Carried>;
  taps: Record<string, Figure>;
  supply: string;
};

export function drawn(folded: FoldAnswer, place: number): Picture {
  const step = folded.steps[place - 1];
  const rows = step ? step.parts : folded.table;
  return {
    drawing: step ? step.drawing : folded.drawing,
    parts: Object.fromEntries(rows.map((row) => [row.ref, row])),
    taps: folded.taps,
    supply: folded.supply,
  };
}

/** The drawing on screen as a file that stands by itself: colours and type written into it. */
export function asSvgFile(shown: SVGSVGElement): Blob {
  const copy = shown.cloneNode(true) as SVGSVGElement;
  const originals = [shown, ...shown.querySelectorAll<SVGElement>("*")];
  [copy, ...copy.querySelectorAll<SVGElement>("*")].forEach((element, i) => {
    const style = getComputedStyle(originals[i] ?? shown);
    element.setAttribute("fill", style.fill);
    element.setAttribute("stroke", style.stroke);
    element.setAttribute("font-family", "sans-serif");
    for (const name of ["class", "role", "tabindex", "aria-label", "aria-pressed"])
      element.removeAttribute(name);
  });
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("color", getComputedStyle(shown).color);
  return new Blob([new XMLSerializer().serializeToString(copy)], { type: "image/svg+xml" });
}

type Point = { x: number; y: number };

/** Which wires hang together without a part between them: a number for each wire, by junction. */
export function junctions(drawing: DrawingAnswer): number[] {
  const wires = drawing.wires;
  const on = (p: Point, w: (typeof wires)[number]) =>
    p.x >= Math.min(w.x1, w.x2) - 0.01 &&
    p.x <= Math.max(w.x1, w.x2) + 0.01 &&
    p.y >= Math.min(w.y1, w.y2) - 0.01 &&
    p.y <= Math.max(w.y1, w.y2) + 0.01;
  const meet = (a: (typeof wires)[number], b: (typeof wires)[number]) =>
    on({ x: a.x1, y: a.y1 }, b) ||
    on({ x: a.x2, y: a.y2 }, b) ||
    on({ x: b.x1, y: b.y1 }, a) ||
    on({ x: b.x2, y: b.y2 }, a);
  const own = wires.map((wire, i) =>
    // The wire through the supply's symbol joins nothing.
    drawing.supply && wire.x1 === drawing.supply.x && wire.x2 === drawing.supply.x ? -1 : i,
  );
  let changed = true;
  while (changed) {
    changed = false;
    for (let i = 0; i < wires.length; i++)
      for (let k = 0; k < i; k++) {
        const [a, b] = [own[i] ?? -1, own[k] ?? -1];
        if (a < 0 || b < 0 || a === b) continue;
        const [one, two] = [wires[i], wires[k]];
        if (!one || !two || !meet(one, two)) continue;
        own[i] = own[k] = Math.min(a, b);
        changed = true;
      }
  }
  const order = [...new Set(own.filter((n) => n >= 0))].sort((a, b) => a - b);
  return own.map((n) => order.indexOf(n));
}
