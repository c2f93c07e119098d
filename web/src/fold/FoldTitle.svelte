<script lang="ts">
  import type { Figure } from "$api";
  import Title from "../designs/Title.svelte";
  import FigureText from "../shell/FigureText.svelte";
  import type { Copied } from "../shell/copied";
  import type { FoldState } from "./fold.svelte";

  type Props = { fold: FoldState };
  let { fold }: Props = $props();
  const folded = $derived(fold.folded);
  const text = (figure: Figure | null) => (figure ? `${figure.text} ${figure.unit}` : "—");
  function copied(): Copied | null {
    if (!folded || fold.stale) return null;
    const rows = folded.table.map((row) => [
      row.ref,
      ...[row.resistance, row.voltage, row.current, row.power].map(text),
    ]);
    return {
      words: [fold.name, fold.text("network"), title].filter(Boolean),
      rows: [["part", "R", "V", "I", "P"], ...rows],
    };
  }
  const title = $derived(
    folded?.total
      ? `folds to ${text(folded.total)} · draws ${text(folded.draws)} · power ${text(folded.gives)}`
      : "",
  );
</script>

<Title design={fold} {title} {copied}>
  {#if !folded}<span class="text-soft">○ nothing written yet</span>
  {:else if fold.stale}<span class="text-soft">○ Waiting — as last understood</span>
  {:else if folded?.total}
    <span class="text-soft">folds to</span> <strong><FigureText figure={folded.total} /></strong>
    <span class="text-soft">· draws</span>
    <FigureText figure={folded.draws} />
    <span class="text-soft">· power</span>
    <FigureText figure={folded.gives} />
  {:else if folded}<span class="text-soft">Nothing conducts between the supply's ends.</span>{/if}
</Title>
