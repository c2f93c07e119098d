<script lang="ts">
  import VerdictMark from "../shell/VerdictMark.svelte";
  import type { OpenedState } from "./opened.svelte";

  type Props = { view: OpenedState };
  let { view }: Props = $props();
  const advising = $derived(view.advising);
  const advised = $derived(advising.answer);
</script>

{#if view.followed}
  <div role="status" class="border-copper mt-1 mb-3 flex items-center gap-4 border-l-2 py-1 pl-3">
    <span>Done: {view.followed.way.words}.</span>
    <button type="button" class="btn btn-xs ml-auto" onclick={() => view.putBack()}
      >Put it back</button
    >
  </div>
{/if}
{#if advising.trouble}<p class="text-fail mt-2">✕ {advising.trouble}</p>
{:else if !advised}
  <p class="text-soft mt-2 flex items-center gap-2" role="status">
    <span class="loading loading-dots loading-xs" aria-hidden="true"></span>
    Trying what would pass…
    {#if advising.work.running}
      <span class="text-note">{advising.work.job?.words}</span>
      <button type="button" class="btn btn-xs" onclick={() => advising.work.cancel()}>Cancel</button
      >
    {/if}
  </p>
{:else if advised.verdict === "pass"}
  <p class="mt-2">It passes as it is.</p>
{:else if advised.verdict === null}
  <p class="mt-2">Nothing is judged, so there is nothing to mend.</p>
{:else}
  {#if advised.limit}
    <p class="border-fail mt-1 mb-2 border-l-2 pl-2">✕ {advised.limit}</p>
  {:else if advised.ways.length === 0}
    <p class="mt-2">
      Nothing that was tried passes: tighter and larger parts, other choices, one part more, a finer
      series. Accept more, or ask for less.
    </p>
  {/if}
  {#if advised.looked && !advised.limit}
    <p class="text-soft mt-1 text-note">{advised.looked}</p>
  {/if}
  {#if advised.ways.length > 0}
    <p class="text-soft mt-1 text-note">
      Each was tried on this need before it is told, and any one is enough; a marginal one leaves
      less than a tenth.
    </p>
    <ul class="mt-1">
      {#each advised.ways as way, k (k)}
        <li class="border-crease flex items-center gap-4 border-b py-2">
          <div class="min-w-0 flex-1">
            <p class="font-semibold">{way.words}</p>
            <p class="text-soft text-note">{way.brings}</p>
          </div>
          <VerdictMark verdict={way.verdict} word={way.verdict ?? "not judged"} />
          <button type="button" class="btn btn-sm" onclick={() => view.follow(way)}>Do this</button>
        </li>
      {/each}
    </ul>
  {/if}
{/if}
