<script lang="ts">
  /** A part as it lies in the bin: its bands, the mark on a chip, or its value in print. */
  import type { PartLook } from "$api";
  import { BANDS, isColour } from "./colours";

  type Props = { look: PartLook["look"]; bands: string[]; code: string; height?: number };
  let { look, bands, code, height = 20 }: Props = $props();

  const words = $derived(
    bands.length > 0 ? `bands ${bands.join(", ")}` : code ? `marked ${code}` : "not marked",
  );
  /** 11 px on screen, however small the part is drawn. */
  const size = $derived((11.1 * 24) / height);
  /** The last band stands apart, so that one sees from which end it is read. */
  const x = (i: number) => (i === bands.length - 1 && bands.length > 3 ? 66 : 22 + i * 9);
</script>

{#if look === "bands"}
  <svg viewBox="0 0 100 24" {height} width={(height * 100) / 24} role="img" aria-label={words}>
    <path d="M0 12H12M88 12H100" class="stroke-soft" stroke-width="2" />
    <path
      d="M12 6Q12 3 16 3H26Q30 3 32 5H68Q70 3 74 3H84Q88 3 88 6V18Q88 21 84 21H74Q70 21 68 19H32Q30 21 26 21H16Q12 21 12 18Z"
      fill="#d9c7a3"
      class="stroke-ink"
      stroke-width="0.8"
    />
    {#each bands as band, i (i)}
      <rect
        x={bands.length === 1 ? 47 : x(i)}
        y={i === 0 || x(i) > 68 ? 3 : 5}
        width="5.5"
        height={i === 0 || x(i) > 68 ? 18 : 14}
        fill={isColour(band) ? BANDS[band].fill : "none"}
        stroke="#1b1b1b"
        stroke-width="0.4"
      />
    {/each}
  </svg>
{:else}
  <svg viewBox="0 0 60 24" {height} width={(height * 60) / 24} role="img" aria-label={words}>
    {#if look === "chip"}
      <rect x="4" y="3" width="52" height="18" fill="#1f2224" stroke="#8d9196" stroke-width="0.8" />
      <rect x="4" y="3" width="8" height="18" fill="#c6cace" />
      <rect x="48" y="3" width="8" height="18" fill="#c6cace" />
      <text x="30" y="16.5" text-anchor="middle" font-size={size} fill="#f7f7f4">{code}</text>
    {:else}
      <rect
        x="2"
        y="3"
        width="56"
        height="18"
        rx="2"
        fill="#eceae4"
        stroke="#8d9196"
        stroke-width="0.8"
      />
      <text x="30" y="16.5" text-anchor="middle" font-size={size} fill="#1b1b1b">{code}</text>
    {/if}
  </svg>
{/if}
