<script lang="ts">
  import { scaleLinear, scaleLog } from "d3-scale";

  import type { LinePicture } from "$api";
  import Axes from "../kit/Axes.svelte";

  type Props = { line: LinePicture };
  let { line }: Props = $props();

  const WIDTH = 700;
  const HEIGHT = 230;
  const [LEFT, RIGHT, TOP, BASE] = [52, WIDTH - 12, 12, HEIGHT - 40];

  const last = $derived(line.x.length - 1);
  const bottom = $derived(Math.min(line.window_low, ...line.lowest));
  const top = $derived(Math.max(line.window_high, ...line.highest));
  const room = $derived(0.12 * (top - bottom) || 1);
  const x = $derived(
    (line.logarithmic ? scaleLog() : scaleLinear())
      .domain([line.x[0] ?? 0, line.x[last] ?? 1])
      .range([LEFT, RIGHT]),
  );
  /** Over decades the axis is marked in thousands and millions, else plainly. */
  const xTick = $derived(line.logarithmic ? x.tickFormat(7, "~s") : (tick: number) => `${tick}`);
  const y = $derived(scaleLinear([Math.max(0, bottom - room), top + room], [BASE, TOP]));
  const path = (values: number[]) => values.map((v, i) => `${x(line.x[i] ?? 0)},${y(v)}`).join(" ");
  const band = $derived(
    [
      ...line.highest.map((v, i) => `${x(line.x[i] ?? 0)},${y(v)}`),
      ...line.lowest.map((v, i) => `${x(line.x[i] ?? 0)},${y(v)}`).reverse(),
    ].join(" "),
  );
  /** Between the lightest and the heaviest load that is stated. */
  const range = $derived.by((): [number, number] | null => {
    const at = line.points.filter((p) => p.name !== "open").map((p) => x(p.x));
    return at.length > 1 ? [Math.min(...at), Math.max(...at)] : null;
  });
  /** Points named in the picture: those whose names do not lie over one that says more. */
  const named = $derived.by(() => {
    const kept: { name: string; from: number; to: number }[] = [];
    for (const name of ["nominal", "heaviest", "open", "lightest"]) {
      const point = line.points.find((p) => p.name === name);
      if (!point) continue;
      const from = x(point.x) + 8;
      const to = from + 8 * name.length;
      if (kept.every((k) => to < k.from || from > k.to)) kept.push({ name, from, to });
    }
    return new Set(kept.map((k) => k.name));
  });
  const tenfold = $derived(
    line.stiff !== null && line.stiff <= (line.x[last] ?? 0) ? x(line.stiff) : null,
  );
  const inside = $derived(line.leaves !== null && line.leaves <= (line.x[last] ?? 0));
</script>

<figure class="wide-table">
  <svg
    viewBox="0 0 {WIDTH} {HEIGHT}"
    class="w-full min-w-[600px] text-note"
    role="img"
    aria-label="{line.name} against {line.x_name}. {line.words.join(' ')}"
  >
    <clipPath id="plot-{line.name}"
      ><rect x={LEFT} y={TOP} width={RIGHT - LEFT} height={BASE - TOP} /></clipPath
    >
    <g clip-path="url(#plot-{line.name})">
      <rect
        x={LEFT}
        width={RIGHT - LEFT}
        y={y(line.window_high)}
        height={y(line.window_low) - y(line.window_high)}
        fill="var(--window)"
      />
      <polygon points={band} class="fill-ink" opacity="0.13" />
      <polyline points={path(line.nominal)} class="stroke-ink fill-none" stroke-width="1.8" />
      {#if line.leaves !== null && inside}
        <path d="M{x(line.leaves)} {TOP}V{BASE}" class="stroke-fail" stroke-dasharray="4 3" />
      {/if}
      {#if range}
        <rect
          x={range[0]}
          width={Math.max(range[1] - range[0], 1)}
          y={TOP}
          height={BASE - TOP}
          class="fill-copper"
          opacity="0.09"
        />
      {/if}
      {#if tenfold !== null}
        <path d="M{tenfold} {TOP}V{BASE}" class="stroke-soft" stroke-dasharray="1 3" />
      {/if}
    </g>
    {#if tenfold !== null}
      {@const right = tenfold > RIGHT - 90}
      <text
        x={tenfold + (right ? -6 : 6)}
        y={BASE - 24}
        text-anchor={right ? "end" : "start"}
        class="fill-soft">stiff: {line.stiff_words}</text
      >
    {/if}
    {#if line.leaves !== null && inside}
      {@const right = x(line.leaves) > RIGHT - 150}
      <text
        x={x(line.leaves) + (right ? -6 : 6)}
        y={BASE - 8}
        text-anchor={right ? "end" : "start"}
        class="fill-fail">leaves the window</text
      >
    {/if}
    {#each line.points as point (point.name)}
      <circle
        cx={x(point.x)}
        cy={y(point.y)}
        r={point.name === "nominal" ? 5 : 3.5}
        class="fill-copper"
      />
      {#if named.has(point.name)}
        <text
          x={x(point.x) + 8}
          y={y(point.y) - 7}
          class="fill-copper {point.name === 'nominal' ? 'font-semibold' : ''}">{point.name}</text
        >
      {/if}
    {/each}
    <Axes
      x={{ scale: x, ticks: x.ticks(7), write: xTick, name: `${line.x_name}, ${line.x_unit}` }}
      y={{
        scale: y,
        ticks: y.ticks(5),
        write: y.tickFormat(5),
        name: `${line.name}, ${line.y_unit}`,
      }}
      frame={{ left: LEFT, right: RIGHT, top: TOP, base: BASE }}
    />
  </svg>
  <figcaption class="text-soft text-note">
    The line is nominal, the grey about it every corner, the ground what is allowed{range
      ? ", the stripe what its load may be"
      : ""}.
    {line.points.map((p) => `${p.words}.`).join(" ")}
  </figcaption>
</figure>
