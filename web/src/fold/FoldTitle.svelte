<script lang="ts">
  import type { Figure } from "$api";
  import Title from "../designs/Title.svelte";
  import FigureText from "../shell/FigureText.svelte";
  import type { FoldState } from "./fold.svelte";

  type Props = { fold: FoldState };
  let { fold }: Props = $props();
  const folded = $derived(fold.folded);
  const text = (figure: Figure | null) => (figure ? `${figure.text} ${figure.unit}` : "—");
  const title = $derived(
    folded?.total
      ? `folds to ${text(folded.total)} · draws ${text(folded.draws)} · gives ${text(folded.gives)}`
      : "",
  );
</script>

<Title design={fold} {title}>
  {#if !folded}<span class="text-soft">○ nothing written yet</span>
  {:else if fold.stale}<span class="text-soft">○ Waiting — as last understood</span>
  {:else if folded?.total}
    <span class="text-soft">folds to</span> <strong><FigureText figure={folded.total} /></strong>
    <span class="text-soft">· draws</span>
    <FigureText figure={folded.draws} />
    <span class="text-soft">· gives</span>
    <FigureText figure={folded.gives} />
  {:else if folded}<span class="text-soft">Nothing conducts between the supply's ends.</span>{/if}
</Title>
