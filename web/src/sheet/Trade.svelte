<script lang="ts">
  import { scaleLinear, scaleLog } from "d3-scale";

  import type { SheetState } from "./sheet.svelte";
  import { counted } from "../shell/counted";

  type Props = { sheet: SheetState };
  let { sheet }: Props = $props();

  let width = $state(600);
  let height = $state(240);
  const BELOW = 46;
  const LEFT = 64;
  const found = $derived(sheet.trades);
  const points = $derived(found?.trades ?? []);
  const x = $derived.by(() => {
    const amps = every.map((p) => p.amps);
    const [least, most] = [Math.min(...amps), Math.max(...amps)];
    const room = most > least ? [least / 1.3, most * 1.3] : [least / 3, most * 3];
    return scaleLog(room, [LEFT, width - 16]);
  });
  const y = $derived(
    scaleLinear([0, (found?.within ?? 0.01) * 1.06], [height - BELOW, 10]).nice(5),
  );
  const beaten = $derived(found?.beaten ?? []);
  const every = $derived([...points, ...beaten]);
  /** What was picked, also while the sheet is still being asked about it. */
  const picked = $derived(sheet.cursor ?? sheet.shown?.notation);
  const place = $derived(points.findIndex((p) => p.notation === picked));
  const here = $derived(every.find((p) => p.notation === picked));
  const percent = (value: number) => `${+(100 * value).toPrecision(3)} %`;
  const amps = (value: number) => {
    const step = Math.floor(Math.log10(value) / 3 + 1e-9);
    const unit = { [-4]: "pA", [-3]: "nA", [-2]: "µA", [-1]: "mA", 0: "A" }[step] ?? "A";
    return `${+(value / 1000 ** step).toPrecision(3)} ${unit}`;
  };
  const ticks = $derived(x.ticks(6).filter((t) => /^[125]/.test(t.toExponential())));

  function onkeydown(event: KeyboardEvent) {
    const step = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (!step || points.length === 0) return;
    event.preventDefault();
    event.stopPropagation();
    const next = Math.min(Math.max(place + step, 0), points.length - 1);
    pick(points[next]);
  }

  function pick(point: (typeof points)[number] | undefined) {
    if (point) sheet.lookAt(point.notation);
  }
</script>

{#if sheet.trouble}
  <p class="text-fail mt-6">✕ {sheet.trouble}</p>
{:else if !found}
  <p class="text-soft mt-6 flex items-center gap-2" role="status">
    <span class="loading loading-dots loading-xs" aria-hidden="true"></span> Working out what accuracy
    costs in current…
  </p>
{:else if points.length === 0}
  <p class="text-soft border-crease mt-6 border-l-2 py-1 pl-3">
    Nothing lies within the accepted deviation, so there is nothing to trade.
  </p>
{:else}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    class="min-h-0 flex-1 pt-2"
    bind:clientWidth={width}
    bind:clientHeight={height}
    role="application"
    tabindex="0"
    aria-label="Error against current: {counted(
      found.count,
      'choice',
    )} that nothing beats in both. {here
      ? `At ${here.off} and ${here.draws.text} ${here.draws.unit}`
      : 'Arrow keys pick one'}"
    {onkeydown}
  >
    <svg {width} {height} class="block text-note" aria-hidden="true">
      <rect
        x={LEFT}
        y={y(found.within)}
        width={Math.max(width - 16 - LEFT, 0)}
        height={Math.max(y(0) - y(found.within), 0)}
        fill="var(--window)"
      />
      {#each y.ticks(5) as tick (tick)}
        <path d="M{LEFT} {y(tick)}H{width - 16}" class="stroke-crease" />
        <text x={LEFT - 8} y={y(tick) + 4} text-anchor="end" class="fill-soft">{percent(tick)}</text
        >
      {/each}
      {#each ticks as tick (tick)}
        <path d="M{x(tick)} {y(0)}v5" class="stroke-soft" />
        <text x={x(tick)} y={y(0) + 18} text-anchor="middle" class="fill-soft">{amps(tick)}</text>
      {/each}
      <text x={width - 16} y={height - 14} text-anchor="end" class="fill-ink">
        drawn from the supply
      </text>
      <text x={LEFT + 6} y={22} class="fill-ink">off by, nominal</text>
      <polyline
        points={points.map((p) => `${x(p.amps)},${y(Math.abs(p.error))}`).join(" ")}
        class="stroke-soft fill-none"
        stroke-dasharray="3 3"
      />
      {#each beaten as point (point.notation)}
        <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
        <circle
          cx={x(point.amps)}
          cy={y(Math.abs(point.error))}
          r={point === here ? 5 : 2.5}
          class="cursor-pointer {point === here ? 'fill-copper' : 'fill-soft hover:fill-copper'}"
          opacity={point === here ? 1 : 0.55}
          onclick={() => pick(point)}
        />
      {/each}
      {#each points as point, i (point.notation)}
        <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
        <g
          class="cursor-pointer"
          data-trade={i}
          transform="translate({x(point.amps)} {y(Math.abs(point.error))})"
          onclick={() => pick(point)}
        >
          <circle r="11" fill="transparent" />
          <circle
            r={i === place ? 6 : 4}
            class={i === place ? "fill-copper" : "fill-ink hover:fill-copper"}
          />
        </g>
      {/each}
      {#if here}
        {@const right = x(here.amps) > width - 150}
        <text
          x={x(here.amps) + (right ? -12 : 12)}
          y={Math.max(y(Math.abs(here.error)) - 10, 14)}
          text-anchor={right ? "end" : "start"}
          class="fill-copper font-semibold">{here.off} · {here.draws.text} {here.draws.unit}</text
        >
      {/if}
    </svg>
  </div>
  <p class="text-soft pb-2 text-note">
    Nothing beats the large points in both; to come nearer than one of them, one further right has
    to be taken. {found.count > points.length
      ? `${points.length} of ${found.count} are shown.`
      : found.count === 1
        ? "There is one: it is the nearest and draws least."
        : `There are ${found.count}.`} Small points are some of the others.
  </p>
{/if}
