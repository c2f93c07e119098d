<script lang="ts">
  import { scaleLinear } from "d3-scale";

  import type { PowerPicture } from "$api";
  import Axes from "../kit/Axes.svelte";

  type Props = { power: PowerPicture };
  let { power }: Props = $props();

  const WIDTH = 700;
  const HEIGHT = 210;
  const [LEFT, RIGHT, TOP, BASE] = [52, WIDTH - 12, 12, HEIGHT - 40];

  const rated = $derived(power.parts.filter((part) => part.share !== null));
  const most = $derived(Math.max(1, ...rated.map((part) => part.share ?? 0)));
  const along = $derived(power.curves.flatMap((c) => c.points.map((p) => p.ambient_c)));
  const [coldest, hottest] = $derived([Math.min(...along), Math.max(...along)]);
  const x = $derived(scaleLinear([coldest, hottest], [LEFT, RIGHT]));
  const y = $derived(scaleLinear([0, 1.18 * most], [BASE, TOP]));
  type Curve = PowerPicture["curves"][number];
  const curve = (c: Curve, share: number) =>
    c.points.map((p) => `${x(p.ambient_c)},${y(share * p.share)}`).join(" ");
  /** Where a curve bends down, with room for its name. */
  const bend = (c: Curve) => x(c.points[1]?.ambient_c ?? coldest) + 8;
  const percent = (value: number) => `${value && value < 0.01 ? "< 1" : Math.round(100 * value)} %`;
  const signed = (value: number) => `${value < 0 ? "−" : ""}${Math.abs(value)}`;
  const NAMED = 3;
  const LABELLED = 8;
  const GAP = 14;
  /** One label for parts that take the same share, on either side, none over another. */
  const labels = $derived.by(() => {
    const groups: Record<string, typeof rated> = {};
    for (const part of rated) {
      const key = `${percent(part.share ?? 0)} ${part.verdict}`;
      groups[key] = [...(groups[key] ?? []), part];
    }
    const hottestFirst = Object.values(groups).sort(
      (a, b) => (b[0]?.share ?? 0) - (a[0]?.share ?? 0),
    );
    const next = { left: BASE - 6, right: BASE - 6 };
    return hottestFirst
      .slice(0, LABELLED)
      .reverse()
      .map((parts, i) => {
        const share = parts[0]?.share ?? 0;
        const side: "left" | "right" = i % 2 ? "left" : "right";
        const at = Math.min(y(share) + 4, next[side]);
        next[side] = at - GAP;
        const names =
          parts.length > NAMED ? `${parts.length} parts` : parts.map((p) => p.ref).join(", ");
        return {
          words: `${names} ${percent(share)}`,
          fails: parts[0]?.verdict === "fail",
          side,
          at,
        };
      });
  });
  const told = $derived(
    rated
      .map((part) => `${part.ref} at ${percent(part.share ?? 0)}, ${part.verdict ?? "not judged"}`)
      .join("; "),
  );
</script>

<figure class="wide-table">
  <svg
    viewBox="0 0 {WIDTH} {HEIGHT}"
    class="w-full min-w-[600px] text-note"
    role="img"
    aria-label="Derating: share of the rating against ambient temperature. At {power.ambient_c} °C: {told}."
  >
    {#each power.curves as c (c.name)}
      <polygon
        points="{curve(c, power.allowed)} {x(hottest)},{y(0)} {x(coldest)},{y(0)}"
        fill="var(--window)"
      />
      <polyline points={curve(c, 1)} class="stroke-ink fill-none" stroke-width="1.6" />
      <polyline
        points={curve(c, power.allowed)}
        class="stroke-copper fill-none"
        stroke-dasharray="5 3"
        stroke-width="1.4"
      />
      {#if c.name}<text x={bend(c)} y={y(1) + 2} class="fill-ink">{c.name}</text>{/if}
    {/each}
    <path d="M{x(power.ambient_c)} {TOP}V{BASE}" class="stroke-soft" stroke-dasharray="2 3" />
    {#each rated as part (part.ref)}
      {@const failing = part.verdict === "fail"}
      <g
        transform="translate({x(power.ambient_c)} {y(part.share ?? 0)})"
        class={failing ? "fill-fail stroke-fail" : "fill-ink stroke-ink"}
      >
        {#if failing}<path d="M-5 -5L5 5M-5 5L5 -5" stroke-width="2.2" />
        {:else}<circle r="4" />{/if}
      </g>
    {/each}
    {#each labels as { words, fails, side, at }, k (k)}
      <text
        x={x(power.ambient_c) + (side === "left" ? -10 : 10)}
        y={at}
        text-anchor={side === "left" ? "end" : "start"}
        class={fails ? "fill-fail font-semibold" : "fill-ink"}>{words}</text
      >
    {/each}
    <Axes
      x={{ scale: x, ticks: x.ticks(9), write: signed, name: "ambient, °C" }}
      y={{ scale: y, ticks: y.ticks(5), write: percent, name: "of the rating" }}
      frame={{ left: LEFT, right: RIGHT, top: TOP, base: BASE }}
    />
  </svg>
  <figcaption class="text-soft text-note">
    The full line is what the rating stands, the broken one what may be used; each part's point is
    its worst power at the hottest ambient. A cross is above what may be used.
  </figcaption>
</figure>
