<script lang="ts">
  /** The output over the sensor's points: nominal, at the resistor's worst, against line and window. */
  import type { SensorShown, WindowEnd } from "$api";

  import { Writing } from "../kit/writing.svelte";

  type Props = { shown: SensorShown; window: WindowEnd[] };
  let { shown, window }: Props = $props();

  const WIDE = 560;
  const TALL = 250;
  const LEFT = 58;
  const writing = new Writing(() => ({ width: LEFT + WIDE, height: TALL + 62 }));
  const curve = $derived(shown.curve);
  const ends = $derived(window.map((end) => end.volts));
  const range = $derived.by(() => {
    const every = curve.flatMap((p) => [p.lowest, p.highest]).concat(ends);
    const [low, high] = [Math.min(...every), Math.max(...every)];
    const room = (high - low || 1) * 0.08;
    return [low - room, high + room] as const;
  });
  const x = (k: number) => LEFT + 20 + (curve[k]?.at ?? 0) * (WIDE - 40);
  const y = (volts: number) => 12 + ((range[1] - volts) / (range[1] - range[0])) * TALL;
  const path = (of: (p: (typeof curve)[number]) => number) =>
    curve.map((p, k) => `${k ? "L" : "M"}${x(k)} ${y(of(p))}`).join("");
  const band = $derived(
    `${path((p) => p.highest)}${curve
      .map((p, k) => `L${x(k)} ${y(p.lowest)}`)
      .toReversed()
      .join("")}Z`,
  );
</script>

<figure>
  <svg
    viewBox="0 0 {LEFT + WIDE} {TALL + 62}"
    class="w-full"
    bind:contentRect={writing.seen}
    role="img"
    aria-label="{shown.words} {curve
      .map((p) => `${p.label}: ${p.shown.text} ${p.shown.unit}`)
      .join('; ')}"
  >
    {#if ends.length}
      {@const [low = 0, high = 0] = ends}
      <rect x={LEFT} width={WIDE} y={y(high)} height={y(low) - y(high)} fill="var(--window)" />
    {/if}
    <path d="M{LEFT} 12V{12 + TALL}H{LEFT + WIDE}" class="stroke-crease" fill="none" />
    <path d={band} class="fill-copper" fill-opacity="0.18" />
    <path
      d={path((p) => p.straight)}
      class="stroke-soft"
      fill="none"
      stroke-dasharray="4 4"
      stroke-width="1.2"
    />
    <path d={path((p) => p.volts)} class="stroke-copper" fill="none" stroke-width="2" />
    {#each curve as p, k (k)}
      <circle cx={x(k)} cy={y(p.volts)} r="4" class="fill-copper" />
      <text
        x={x(k)}
        y={y(p.volts) + (p.volts >= p.straight ? -10 : 20)}
        text-anchor={k === 0 ? "start" : k === curve.length - 1 ? "end" : "middle"}
        font-size={writing.at(12.5)}
        font-weight="600"
        stroke-width="3"
        paint-order="stroke"
        class="stroke-base-100 fill-ink">{p.shown.text} {p.shown.unit}</text
      >
      <text
        x={x(k)}
        y={TALL + 30}
        text-anchor={k === 0 ? "start" : k === curve.length - 1 ? "end" : "middle"}
        font-size={writing.at(12.5)}
        class="fill-ink">{p.label}</text
      >
      <text
        x={x(k)}
        y={TALL + 46}
        text-anchor={k === 0 ? "start" : k === curve.length - 1 ? "end" : "middle"}
        font-size={writing.at(11.5)}
        class="fill-soft">{p.resistance.text} {p.resistance.unit}</text
      >
    {/each}
    {#each window as end (end.volts)}
      <text
        x={LEFT - 6}
        y={y(end.volts) + 4}
        text-anchor="end"
        font-size={writing.at(12)}
        class="fill-soft">{end.shown.text} {end.shown.unit}</text
      >
    {/each}
  </svg>
  <figcaption class="text-soft text-note leading-snug">
    {shown.words} The band is the resistor's worst; dashed, the straight line through first and last{ends.length
      ? "; shaded, the window"
      : ""}.
  </figcaption>
</figure>
