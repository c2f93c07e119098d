<script lang="ts">
  /** A part as drawings show it: a box, a zigzag, or a switch; where it stands, turned as it lies. */
  type Props = {
    x: number;
    y: number;
    /** From one lead to the other, halved. */
    half: number;
    angle?: number;
    symbol?: "rectangle" | "zigzag" | "open" | "closed";
    hot?: boolean;
    heavy?: boolean;
    /** A load is no part of the board. */
    dashed?: boolean;
    stroke?: number;
  };
  let { x, y, half, angle = 0, symbol = "rectangle", ...looks }: Props = $props();

  const stroke = $derived(looks.heavy ? 3 : (looks.stroke ?? 1.6));
  const line = $derived(looks.hot ? "stroke-copper" : "stroke-ink");
  /** Six strokes between the leads (IEEE Std 315). */
  const zigzag = $derived(
    `M0 ${-half}` +
      [1, 3, 5, 7, 9, 11].map((k, i) => `L${i % 2 ? -8 : 8} ${-half + (k * half) / 6}`).join("") +
      `L0 ${half}`,
  );
</script>

<g transform="translate({x} {y}) rotate({angle})" stroke-width={stroke}>
  {#if symbol === "rectangle"}
    <rect
      x="-9"
      y={-half}
      width="18"
      height={2 * half}
      class="{looks.hot ? 'fill-wash' : 'fill-leaf'} {line}"
      stroke-dasharray={looks.dashed ? "4 3" : undefined}
    />
  {:else if symbol === "zigzag"}
    <rect x="-9" y={-half} width="18" height={2 * half} stroke="none" class="fill-paper" />
    <path d={zigzag} fill="none" stroke-linejoin="round" class={line} />
  {:else}
    <path
      d={symbol === "closed"
        ? `M0 ${-half}V${half}`
        : `M0 ${-half}L12 ${half - 6}M0 ${half - 4}V${half}`}
      stroke="currentColor"
    />
    {#each [6 - half, half - 6] as end (end)}
      <circle cx="0" cy={end} r="3" stroke="none" fill="currentColor" />
    {/each}
  {/if}
</g>
