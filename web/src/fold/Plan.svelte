<script lang="ts">
  import type { Carried, Figure } from "$api";
  import PartSymbol from "../kit/PartSymbol.svelte";
  import SupplyMark from "../kit/SupplyMark.svelte";
  import type { View } from "../kit/view.svelte";
  import Viewed from "../kit/Viewed.svelte";
  import type { Picture, Symbol } from "./drawn";

  type Props = {
    picture: Picture;
    /** Parts that the step at hand made or took apart. */
    lit: string[];
    picked: string[];
    symbol: Symbol;
    /** Give every junction a colour and a stroke of its own. */
    coloured: boolean;
    view: View;
    onpick: (ref: string) => void;
  };
  let { picture, lit, picked, symbol, coloured, view, onpick }: Props = $props();

  const STROKES = [undefined, "7 3", "2 3", "10 3 2 3"];

  const drawing = $derived(picture.drawing);
  const writing = $derived(view.writing);
  const dense = $derived(drawing.stacked);
  const half = $derived(drawing.symbol / 2);
  const text = (figure: Figure | null) => (figure ? `${figure.text} ${figure.unit}` : "");
  const lines = (row: Carried) =>
    (drawing.lines < 3 || writing.much !== "figures"
      ? []
      : dense
        ? [text(row.voltage), text(row.current)]
        : [`${text(row.voltage)} · ${text(row.current)}`, text(row.power)]
    ).filter((line) => line.trim() && line.trim() !== "·");
  const whole = $derived({
    x: -32,
    y: -12,
    width: drawing.width + 40,
    height: drawing.height + (drawing.grounds.length ? 34 : 24),
  });
  /** A junction's name stands above the wire to its right; of many parts, which have no figures, left. */
  const left = (dot: { side: string }) => dot.side === "left" || drawing.lines < 3;
  /** Where a part's writing stands: beside it, or outside of a diamond's arm. */
  const SIDES = {
    right: { x: 15, y: 0, anchor: "start" },
    left: { x: -14, y: 0, anchor: "end" },
    above: { x: 0, y: -18, anchor: "middle" },
    "upper left": { x: -22, y: -14, anchor: "end" },
    "upper right": { x: 22, y: -14, anchor: "start" },
    "lower left": { x: -22, y: 14, anchor: "end" },
    "lower right": { x: 22, y: 14, anchor: "start" },
  } as const;
</script>

<Viewed {view} {whole} label="Schematic: {drawing.parts.map((p) => p.name).join(', ')}">
  <g stroke="currentColor" stroke-width="1.6" fill="none" stroke-linecap="square">
    {#each drawing.wires as wire, i (i)}
      {@const n = coloured ? (wire.net ?? -1) : -1}
      <path
        d="M{wire.x1} {wire.y1}L{wire.x2} {wire.y2}"
        class={n >= 0 ? `junction-${n % 6}` : ""}
        stroke-width={n >= 0 ? 3 : 1.6}
        stroke-dasharray={n >= 0 ? STROKES[Math.floor(n / 6) % 4] : undefined}
      />
    {/each}
  </g>
  <SupplyMark {drawing} supply={picture.supply} low={picture.low} at={(size) => writing.at(size)} />
  {#each drawing.dots as dot, i (i)}
    <circle cx={dot.x} cy={dot.y} r="3.2" fill="currentColor" />
    {#if dot.name}
      <text
        x={left(dot) ? dot.x - 11 : dot.x + 9}
        y={left(dot) && dot.side !== "left" ? dot.y + 4 : dot.y - 5}
        text-anchor={left(dot) ? "end" : "start"}
        font-size={writing.at(dense ? 11.5 : 12.5)}
        class="fill-ink"
      >
        {dot.name}
        {#if picture.taps[dot.name] && drawing.lines >= 3 && writing.much === "figures"}<tspan
            font-weight="600">{text(picture.taps[dot.name] ?? null)}</tspan
          >{/if}
      </text>
    {/if}
  {/each}
  {#each [...drawing.parts, ...drawing.loads] as p (p.name)}
    {@const row = picture.parts[p.name]}
    {@const hot = lit.includes(p.name) || picked.includes(p.name)}
    <g
      role="button"
      tabindex="0"
      aria-pressed={picked.includes(p.name)}
      class="outline-copper cursor-pointer outline-offset-4"
      onclick={() => onpick(p.name)}
      onkeydown={(event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          onpick(p.name);
        }
      }}
    >
      {#if row}
        {@const at = SIDES[p.side]}
        {@const said = lines(row)}
        <PartSymbol
          x={p.x}
          y={p.y}
          {half}
          angle={p.angle}
          {symbol}
          {hot}
          heavy={picked.includes(p.name)}
          dashed={drawing.loads.includes(p)}
        />
        <text
          x={p.x + at.x}
          y={p.y + at.y + 4 - (at.y < 0 ? 15 * said.length : 7.5 * said.length + (dense ? 3 : 0))}
          text-anchor={at.anchor}
          font-size={writing.at(dense ? 12 : 13)}
          class={hot ? "fill-copper" : "fill-ink"}
        >
          {p.name}
          {#if writing.much !== "names"}<tspan font-weight="600">{`${text(row.resistance)} `}</tspan
            >{/if}
          {#each said as line, i (i)}
            <tspan x={p.x + at.x} dy="15" font-size="12" class="fill-soft">{`${line} `}</tspan>
          {/each}
        </text>
      {:else}
        <PartSymbol x={p.x} y={p.y} {half} symbol="open" />
        <text x={p.x + 16} y={p.y + 4} font-size={writing.at(12)} class="fill-ink">{p.name}</text>
      {/if}
    </g>
  {/each}
</Viewed>

<style>
  /* Six hues told apart in both themes and by most eyes; further junctions differ by stroke. */
  .junction-0 {
    stroke: #b4532a;
  }
  .junction-1 {
    stroke: #2f7fb5;
  }
  .junction-2 {
    stroke: #3f8f5f;
  }
  .junction-3 {
    stroke: #9a6cc0;
  }
  .junction-4 {
    stroke: #b08a1e;
  }
  .junction-5 {
    stroke: #5f7f8a;
  }
</style>
