<script lang="ts">
  /** Where a lead of the meter is put: red and +, or black and −. */
  type Props = {
    x: number;
    y: number;
    red: boolean;
    /** With its wire. */
    wired?: boolean;
    /** So many times as large, where the drawing is small. */
    times?: number;
  };
  let { x, y, red, wired = false, times = 1 }: Props = $props();
  const down = $derived(red ? -1 : 1);
</script>

<g
  class="pointer-events-none"
  data-lead={red ? "red" : "black"}
  transform={times > 1
    ? `translate(${x * (1 - times)} ${y * (1 - times)}) scale(${times})`
    : undefined}
>
  {#if wired}
    <path
      d="M{x - 7} {y + 7 * down}L{x - 22} {y + 16 * down}"
      stroke={red ? "#c1272d" : "currentColor"}
      stroke-width="3"
    />
  {/if}
  <circle
    cx={x}
    cy={y}
    r="9"
    fill={red ? "#c1272d" : "#1b1b1b"}
    stroke="#f7f7f4"
    stroke-width="1.5"
  />
  <text {x} y={y + 4.5} text-anchor="middle" font-size="14" font-weight="700" fill="#f7f7f4"
    >{red ? "+" : "−"}</text
  >
</g>
