<script lang="ts">
  /** The drawing with the places the leads go; what was read stands beside them. */
  import type { RoundAnswer, StepAnswer } from "$api";
  import LeadMark from "../kit/LeadMark.svelte";
  import PartSymbol from "../kit/PartSymbol.svelte";
  import SupplyMark from "../kit/SupplyMark.svelte";
  import { Writing } from "../kit/writing.svelte";
  import type { BenchState } from "./bench.svelte";

  type Props = { bench: BenchState; round: RoundAnswer };
  let { bench, round }: Props = $props();

  /** How far a drawing may grow beyond the size its writing is set in. */
  const ENLARGED = 1.25;
  const drawing = $derived(round.drawing);
  const half = $derived(drawing.symbol / 2);
  const dense = $derived(drawing.stacked);
  const step = $derived(bench.step);
  const box = $derived({ width: drawing.width + 60, height: drawing.height + 58 });
  const writing = new Writing(() => box);
  const names = $derived(writing.much === "names");
  const nodes = $derived(Object.entries(round.places));
  /** Part by part, what it was measured as. */
  const measured = $derived(Object.fromEntries(round.measured.map((p) => [p.ref, p.shown])));
  const values = $derived(Object.fromEntries(round.parts.map((p) => [p.ref, p.shown])));
  /** What the black lead lies on. */
  const zero = $derived(round.low ? "0 V" : "0");
  const volts = $derived(
    Object.fromEntries(
      round.steps
        .filter((s) => s.asked.kind === "voltage" && s.asked.against === zero)
        .map((s) => [s.asked.at as string, s]),
    ) as Record<string, StepAnswer>,
  );
  const apart = $derived(step?.asked.kind === "resistance" && step.ref !== null);
  const inSupply = $derived(step?.asked.through === "supply");
  const part = $derived(drawing.parts.find((p) => p.name === step?.ref) ?? null);

  /** Where the red and the black lead are put. */
  const leads = $derived.by(() => {
    if (apart && part)
      return [
        { x: part.x, y: part.y - half },
        { x: part.x, y: part.y + half },
      ];
    return (step?.leads ?? []).map((name) => round.places[name]).filter((p) => p !== undefined);
  });
  /** What the hypothesis under the cursor is about, and what it says each junction would read. */
  const suspects = $derived(bench.amiss ? (bench.suspects.hypothesis?.refs ?? []) : []);
  const foreseen = $derived<Record<string, string>>(
    bench.supposed !== null
      ? bench.foreseen
      : bench.amiss
        ? (bench.suspects.hypothesis?.volts ?? {})
        : {},
  );
  const read = (one: StepAnswer | undefined) =>
    one?.reading && !one.reading.wrong ? one.reading.shown : "";
</script>

<svg
  viewBox="-34 -36 {box.width} {box.height}"
  width={box.width * ENLARGED}
  height={box.height * ENLARGED}
  class="max-h-full max-w-full"
  bind:contentRect={writing.seen}
  role="group"
  aria-label="Schematic of {round.board}; a click puts the leads there"
>
  <g stroke="currentColor" stroke-width="1.6" fill="none" stroke-linecap="square">
    {#each drawing.wires as wire, i (i)}<path d="M{wire.x1} {wire.y1}L{wire.x2} {wire.y2}" />{/each}
  </g>
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
  <g
    class={drawing.supply ? "cursor-pointer" : ""}
    onclick={() => drawing.supply && bench.point({ supply: true })}
  >
    <SupplyMark
      {drawing}
      supply={inSupply ? "A" : round.supply_measured || round.supply}
      low={round.low}
      hot={inSupply}
      at={(size) => writing.at(size)}
    />
  </g>
  {#each [...drawing.parts, ...drawing.loads] as p (p.name)}
    {@const load = drawing.loads.includes(p)}
    {@const hot = p.name === step?.ref}
    <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
    <g class="cursor-pointer" onclick={() => bench.point({ ref: p.name })}>
      <rect x={p.x - 20} y={p.y - half} width="40" height={2 * half} fill="transparent" />
      {#if values[p.name] || load}
        <PartSymbol x={p.x} y={p.y} {half} {hot} heavy={hot} dashed={load} />
        {#if suspects.includes(p.name)}
          <path
            data-suspect={p.name}
            d="M{p.x - 13} {p.y - half - 4}H{p.x + 13}V{p.y + half + 4}H{p.x - 13}Z"
            fill="none"
            class="stroke-fail"
            stroke-width="2"
            stroke-dasharray="6 3"
          />
          <text
            x={p.x - 21}
            y={p.y + 5}
            text-anchor="end"
            font-size={writing.at(15)}
            class="fill-fail">?</text
          >
        {/if}
      {:else}
        <PartSymbol x={p.x} y={p.y} {half} symbol="open" />
      {/if}
      <text
        x={p.x + 15}
        y={p.y + 1}
        font-size={writing.at(dense ? 12 : 13)}
        class={hot ? "fill-copper" : "fill-ink"}
      >
        {p.name}
        {#if !names}<tspan font-weight="600">{values[p.name] ?? round.hung[p.name] ?? ""}</tspan
          >{/if}
        {#if measured[p.name] && !names}
          <tspan
            x={p.x + 15}
            dy={writing.at(15)}
            font-size={writing.at(12)}
            class="fill-copper"
            font-weight="600">{measured[p.name]}</tspan
          >
        {/if}
      </text>
    </g>
  {/each}
  {#each nodes as [name, at] (name)}
    {@const one = volts[name]}
    <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
    <g class={one ? "cursor-pointer" : ""} onclick={() => bench.point({ node: name })}>
      <circle cx={at.x} cy={at.y} r="15" fill="transparent" />
      <circle cx={at.x} cy={at.y} r="3.4" fill="currentColor" />
      <text
        x={at.x + (name === "0" ? 0 : 10)}
        y={at.y + (name === "0" ? 17 : -7)}
        font-size={writing.at(dense ? 11.5 : 12.5)}
        class="fill-ink"
        >{name}
        {#if read(one) && !names}<tspan font-weight="600" class="fill-copper">{read(one)}</tspan
          >{/if}</text
      >
      {#if one && foreseen[name] && !names}
        <text
          x={at.x + 11}
          y={at.y + 15}
          font-size={writing.at(11)}
          class="fill-fail stroke-base-100"
          stroke-width="3"
          paint-order="stroke"
          data-foreseen={name}>? {foreseen[name]}</text
        >
      {/if}
    </g>
  {/each}
  {#each leads as lead, i (i)}<LeadMark
      x={lead.x}
      y={lead.y}
      red={i === 0}
      times={writing.at(14) / 14}
      wired
    />{/each}
</svg>
