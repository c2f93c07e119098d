<script lang="ts">
  import Bin from "../marks/Bin.svelte";
  import type { ShownAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import Schematic from "./Schematic.svelte";

  type Props = { choice: ShownAnswer | null; stale: boolean; onfold: () => void };
  let { choice, stale, onfold }: Props = $props();
  const dense = $derived((choice?.table.length ?? 0) > 5);
</script>

<section
  class="fold border-crease flex min-h-0 flex-col border-t px-5 pt-3 pb-4"
  aria-labelledby="fold-title"
>
  <h2 id="fold-title" class="label-small flex items-baseline gap-3">
    The network
    {#if choice}<code
        class="text-soft min-w-0 truncate font-sans text-note font-normal tracking-normal"
        title={choice.notation}>{choice.notation}</code
      >
      <button
        type="button"
        class="text-soft hover:text-copper ml-auto cursor-pointer text-note font-normal tracking-normal whitespace-nowrap underline underline-offset-4"
        aria-keyshortcuts="Alt+4"
        onclick={onfold}>fold it step by step <kbd class="kbd kbd-xs">Alt 4</kbd></button
      >{/if}
  </h2>
  {#if choice}
    <div class="both grid min-h-0 flex-1 gap-4 pt-2 {stale ? 'saturate-0' : ''}">
      <div class="flex min-h-0 items-center justify-center">
        <Schematic drawing={choice.drawing} height={230} {choice} />
      </div>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <div class="min-h-0 overflow-y-auto" role="group" tabindex="0" aria-label="Part by part">
        <table class="w-full text-right text-note">
          <thead>
            <tr class="text-soft border-crease border-b">
              <th class="py-1 text-left font-normal">part</th>
              <th class="font-normal">R</th><th class="font-normal">V</th>
              <th class="font-normal">I</th><th class="font-normal">P</th>
            </tr>
          </thead>
          <tbody>
            {#each choice.table as row (row.name)}
              <tr class="border-crease border-b {row.role === 'supply' ? 'text-soft' : ''}">
                <td class="{dense ? 'py-0' : 'py-1'} text-left">{row.name}</td>
                <td><FigureText figure={row.resistance} /></td>
                <td><FigureText figure={row.voltage} /></td>
                <td><FigureText figure={row.current} /></td>
                <td><FigureText figure={row.power} /></td>
              </tr>
            {/each}
          </tbody>
        </table>
        <p class="mt-2 text-note">
          {#each choice.balances as balance, i (balance.name)}
            {i ? " · " : ""}<span
              class={balance.holds ? "text-pass" : "text-fail"}
              aria-hidden="true">{balance.holds ? "●" : "✕"}</span
            >
            <span class="text-soft">{balance.holds ? "" : "not: "}{balance.name}</span>
          {/each}
        </p>
        <Bin parts={choice.parts} />
        {#each choice.cautions as caution (caution.message)}
          <p class="border-marginal mt-2 border-l-2 pl-2 text-note leading-snug">
            <strong class="text-marginal">Caution.</strong>
            {caution.message}
          </p>
        {/each}
      </div>
    </div>
  {:else}
    <p class="text-soft mt-4">Nothing chosen to draw.</p>
  {/if}
</section>

<style>
  .fold {
    container-type: inline-size;
  }
  .both {
    grid-template-columns: minmax(0, 1fr) minmax(0, 306px);
  }
  @container (max-width: 520px) {
    .both {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
