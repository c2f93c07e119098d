<script lang="ts">
  import type { Drawing, ShownAnswer, TableRow } from "$api";

  import SupplyMark from "../kit/SupplyMark.svelte";
  import { Writing } from "../kit/writing.svelte";

  type Props = {
    drawing: Drawing;
    height: number;
    /** With writing beside the parts; without, the drawing is a sketch. */
    choice?: ShownAnswer;
  };
  let { drawing, height, choice }: Props = $props();

  /** How far a drawing may grow beyond the size its writing is set in. */
  const ENLARGED = 1.5;
  const full = $derived(choice !== undefined);
  const dense = $derived(drawing.stacked);
  const margin = $derived(full ? { left: 30, right: 0, y: 8 } : { left: 5, right: 5, y: 1 });
  const part = $derived(full ? { w: 18, h: dense ? 36 : 44 } : { w: 6, h: 11 });
  const box = $derived({
    width: drawing.width + margin.left + margin.right,
    height: drawing.height + 2 * margin.y,
  });
  const figures = $derived(
    Object.fromEntries((choice?.table ?? []).map((row) => [row.name, row])) as Record<
      string,
      TableRow
    >,
  );
  const writing = new Writing(() => box);
  const text = (figure: TableRow["voltage"]) => (figure ? `${figure.text} ${figure.unit}` : "");
  /** Voltage and current share a line where there is room for it. */
  const lines = (row: TableRow) => {
    if (writing.much !== "figures") return [];
    const flow = [text(row.voltage), text(row.current)].filter(Boolean);
    return dense ? flow : [flow.join(" · "), text(row.power)].filter(Boolean);
  };
</script>

<svg
  viewBox="{-margin.left} {-margin.y} {box.width} {box.height}"
  width={full ? box.width * ENLARGED : (box.width * height) / Math.max(box.height, height)}
  height={full ? box.height * ENLARGED : height}
  class="max-h-full max-w-full"
  bind:contentRect={writing.seen}
  role="img"
  aria-label={choice ? `Schematic of ${choice.notation}` : "sketch"}
>
  <g stroke="currentColor" stroke-width={full ? 1.6 : 1} fill="none" stroke-linecap="square">
    {#each drawing.wires as wire, i (i)}
      <path d="M{wire.x1} {wire.y1}L{wire.x2} {wire.y2}" />
    {/each}
  </g>
  <g stroke="currentColor" stroke-width={full ? 1.6 : 1} class="fill-leaf">
    {#each drawing.parts as p (p.name)}
      <rect x={p.x - part.w / 2} y={p.y - part.h / 2} width={part.w} height={part.h} />
    {/each}
    {#each drawing.loads as p (p.name)}
      <rect
        x={p.x - part.w / 2}
        y={p.y - part.h / 2}
        width={part.w}
        height={part.h}
        class="stroke-copper fill-wash"
        stroke-dasharray="4 3"
      />
    {/each}
  </g>
  <SupplyMark
    {drawing}
    supply={choice?.supply ?? ""}
    low={choice?.low ?? ""}
    at={(size) => writing.at(size)}
    width={full ? 1.6 : 1}
  />
  {#if choice}
    {#each drawing.dots as dot, i (i)}
      <circle cx={dot.x} cy={dot.y} r="3.2" fill="currentColor" />
      {#if dot.name}
        {@const volts = choice.taps[dot.name]}
        <text
          x={dot.x + 9}
          y={dot.y - 5}
          font-size={writing.at(dense ? 11.5 : 12.5)}
          class="fill-ink"
        >
          {dot.name}
          {#if volts && writing.much !== "names"}<tspan font-weight="600"
              >{volts.text} {volts.unit}</tspan
            >{/if}
        </text>
      {/if}
    {/each}
    {#each [...drawing.parts, ...drawing.loads] as p (p.name)}
      {@const row = figures[p.name] ?? figures[`load ${p.name}`]}
      {#if row}
        <text
          x={p.x + 15}
          y={p.y + 4 - 7.5 * lines(row).length - (dense ? 3 : 0)}
          font-size={writing.at(dense ? 12 : 13)}
          class="fill-ink"
        >
          {row.name.replace("load ", dense ? "" : "load ")}
          {#if writing.much !== "names"}<tspan font-weight="600">{`${text(row.resistance)} `}</tspan
            >{/if}
          {#each lines(row) as line, i (i)}
            <tspan x={p.x + 15} dy="15" font-size="12" class="fill-soft">{`${line} `}</tspan>
          {/each}
        </text>
      {/if}
    {/each}
  {/if}
</svg>
