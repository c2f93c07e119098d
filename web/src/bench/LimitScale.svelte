<script lang="ts">
  /**
   * Where a reading lies against what is expected, on the one scale all points share: the middle is
   * what is expected, the window ends at the limits, and beyond four of them it is far out.
   */
  import type { StepAnswer } from "$api";

  type Props = { step: StepAnswer; height?: number };
  let { step, height = 14 }: Props = $props();

  const END = 4.6;
  const place = $derived(
    step.reading?.overload && step.told === "far out"
      ? END
      : step.place === null
        ? null
        : Math.min(Math.max(step.place, -END), END),
  );
  const beyond = $derived(place !== null && Math.abs(place) >= 4);
  const tint = $derived(
    { "as expected": "fill-pass", off: "fill-marginal", "far out": "fill-fail" }[
      step.told ?? "as expected"
    ],
  );
</script>

<svg viewBox="-5 -1 10 2" preserveAspectRatio="none" class="w-full" {height} aria-hidden="true">
  <path d="M-5 0H5" class="stroke-crease" vector-effect="non-scaling-stroke" />
  <rect x="-1" y="-0.9" width="2" height="1.8" fill="var(--window)" />
  <path d="M0 -1V1" class="stroke-soft" vector-effect="non-scaling-stroke" />
  <path
    d="M-1 -1V1M1 -1V1"
    class="stroke-copper"
    stroke-width="1.5"
    vector-effect="non-scaling-stroke"
  />
  <path
    d="M-4 -0.4V0.4M4 -0.4V0.4"
    class="stroke-fail"
    stroke-width="1.5"
    vector-effect="non-scaling-stroke"
  />
  {#if place !== null}
    {#if beyond}
      <path
        d={place > 0 ? "M4.3 -0.9L4.9 0L4.3 0.9Z" : "M-4.3 -0.9L-4.9 0L-4.3 0.9Z"}
        class={tint}
      />
    {:else}
      <rect x={place - 0.09} y="-1" width="0.18" height="2" class={tint} />
    {/if}
  {/if}
</svg>
