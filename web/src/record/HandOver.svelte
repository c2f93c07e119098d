<script lang="ts">
  /** A design as a file, on paper, as parts, text or a drawing. */
  import { download } from "../shell/download";
  import { fetchFile, type Design } from "$api";

  type Props = { design: Design };
  let { design }: Props = $props();

  const FILES = [
    ["json", "JSON", "whole, for a Lowfold elsewhere: record and photographs with it"],
    ["pdf", "PDF", "what a reviewer signs: need, choice, gates, parts, readings, record"],
    ["csv", "Parts CSV", "what is to be bought, for a spreadsheet"],
    ["md", "Markdown", "the same as the PDF, to be read anywhere"],
    ["svg", "SVG", "the schematic, as vectors"],
  ] as const;

  const undecided = $derived(design.kind !== "network" && design.choice === null);
  /** Shown once it takes longer than a glance. */
  const SLOW_MS = 500;
  let making = $state("");
  let slow = $state(false);
  let trouble = $state("");

  async function take(ending: string): Promise<void> {
    making = ending;
    trouble = "";
    const timer = setTimeout(() => (slow = true), SLOW_MS);
    const { data, error } = await fetchFile(`/api/designs/${design.id}/handover.${ending}`);
    clearTimeout(timer);
    making = "";
    slow = false;
    if (error) {
      trouble = `Not made: ${error.detail}.`;
      return;
    }
    download(data.file, data.name);
  }
</script>

<h2 class="label-small">Export and print</h2>
<ul class="mt-1" data-hand-over>
  {#each FILES as [ending, word, what] (ending)}
    <li class="border-crease flex items-center gap-3 border-b py-1.5">
      <button
        type="button"
        class="btn btn-sm w-28"
        disabled={making !== ""}
        onclick={() => take(ending)}>{word}</button
      >
      <span class="text-soft text-note leading-snug">
        {#if slow && making === ending}
          <progress class="progress progress-primary w-40" aria-label="being made"></progress>
        {:else}{what}{/if}
      </span>
    </li>
  {/each}
</ul>
<p class="mt-2">
  <button type="button" class="btn btn-sm w-28" onclick={() => window.print()}>Print</button>
  <span class="text-soft ml-3 text-note">what is on screen, every entry in full</span>
</p>
{#if undecided}
  <p class="border-marginal mt-2 border-l-2 pl-2 text-note">
    No choice is pinned: the PDF shows the need and says that nothing is decided.
  </p>
{/if}
{#if trouble}<p class="text-fail mt-2" role="alert">✕ {trouble}</p>{/if}
<p class="text-soft mt-3 text-note leading-snug">
  Paper and file carry the same digest, so that the one can be matched with the other. A file is
  taken in again in the list of designs.
</p>
