<script lang="ts">
  import FigureText from "../shell/FigureText.svelte";
  import type { FoldState } from "./fold.svelte";

  type Props = { fold: FoldState };
  let { fold }: Props = $props();
  const folded = $derived(fold.folded);
</script>

<div class="border-crease flex h-12 shrink-0 items-center gap-4 border-b px-5">
  <h1 class="sr-only">{fold.name || "Untitled"}</h1>
  <input
    class="hover:border-crease focus:border-copper -ml-1.5 field-sizing-content max-w-md min-w-24 rounded-field border border-transparent px-1.5 font-serif text-xl font-semibold"
    aria-label="Name of the design"
    maxlength="200"
    placeholder="Untitled"
    value={fold.name}
    oninput={(event) => fold.rename(event.currentTarget.value)}
  />
  <span class="text-soft whitespace-nowrap">network · revision {fold.revision}</span>
  <div class="ml-auto truncate" aria-live="polite">
    {#if fold.trouble}<span class="text-fail">✕ {fold.trouble}</span>
    {:else if fold.stale}<span class="text-soft">○ Waiting — as last understood</span>
    {:else if folded?.total}
      <span class="text-soft">folds to</span> <strong><FigureText figure={folded.total} /></strong>
      <span class="text-soft">· draws</span>
      <FigureText figure={folded.draws} />
      <span class="text-soft">· gives</span>
      <FigureText figure={folded.gives} />
    {:else if folded}<span class="text-soft">Nothing conducts between the supply's ends.</span>{/if}
  </div>
</div>
