<script lang="ts">
  /** What a mark says, in words and letters beside its drawing. */
  import type { PartLook } from "$api";
  import { BANDS, isColour } from "./colours";

  type Props = { mark: Pick<PartLook, "bands" | "code" | "why"> };
  let { mark }: Props = $props();
</script>

{#if mark.bands.length > 0}
  <span title={mark.bands.join(", ")}
    >{mark.bands.map((band) => (isColour(band) ? BANDS[band].letters : band)).join(" ")}</span
  >
  <span class="sr-only">{mark.bands.join(", ")}</span>
{:else if mark.code}<span class="font-semibold">{mark.code}</span>
{:else}<span class="text-soft">{mark.why}</span>{/if}
