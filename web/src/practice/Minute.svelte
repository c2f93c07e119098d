<script lang="ts">
  /** A minute that runs, without alarm: a hairline that grows shorter. */
  import { onMount } from "svelte";

  const WHOLE_S = 60;
  let began = performance.now();
  let gone = $state(0);
  onMount(() => {
    const beat = setInterval(() => (gone = (performance.now() - began) / 1000), 500);
    return () => clearInterval(beat);
  });
  const left = $derived(Math.max(0, Math.ceil(WHOLE_S - gone)));
</script>

<div class="mt-2 flex items-center gap-3" data-minute>
  <svg viewBox="0 0 60 2" preserveAspectRatio="none" class="h-0.5 flex-1" aria-hidden="true">
    <path d="M0 1H60" class="stroke-crease" stroke-width="2" />
    <path d="M0 1H{Math.max(0, WHOLE_S - gone)}" class="stroke-copper" stroke-width="2" />
  </svg>
  <span class="text-soft w-24 text-right text-note">{left > 0 ? `${left} s` : "over a minute"}</span
  >
</div>
