<script lang="ts">
  /** Two choices: drawn one beside the other, and between them what differs, line by line. */
  import type { BesideAnswer, ShownAnswer } from "$api";
  import Schematic from "./Schematic.svelte";

  type Props = { beside: BesideAnswer | null; held: string; onletgo: () => void };
  let { beside, held, onletgo }: Props = $props();

  const same = $derived(beside !== null && beside.one.notation === beside.two.notation);
</script>

{#snippet side(choice: ShownAnswer, title: string)}
  <div class="flex min-h-0 min-w-0 flex-col">
    <p class="text-note leading-snug">
      <span class="label-small">{title}</span>
      <code class="text-soft block truncate font-sans" title={choice.notation}
        >{choice.notation}</code
      >
    </p>
    <div class="flex min-h-0 flex-1 items-center justify-center">
      <Schematic drawing={choice.drawing} height={220} {choice} />
    </div>
  </div>
{/snippet}

<section
  class="border-crease flex min-h-0 flex-col border-t px-5 pt-3 pb-3"
  aria-labelledby="beside-title"
>
  <h2 id="beside-title" class="label-small flex items-baseline gap-3">
    Side by side
    <span class="text-soft text-note font-normal tracking-normal"
      ><kbd class="kbd kbd-xs">↑</kbd> <kbd class="kbd kbd-xs">↓</kbd> another ·
      <kbd class="kbd kbd-xs">b</kbd> let go</span
    >
    <button
      type="button"
      class="text-soft hover:text-copper ml-auto cursor-pointer text-note font-normal tracking-normal underline underline-offset-4"
      onclick={onletgo}>back to the network</button
    >
  </h2>
  {#if beside}
    <div
      class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,320px)_minmax(0,1fr)] gap-4 pt-2"
    >
      {@render side(beside.one, "held")}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <div class="min-h-0 overflow-y-auto" role="group" tabindex="0" aria-label="What differs">
        {#if same}
          <p class="text-soft py-2">This one is held: walk to another to set it beside.</p>
        {:else}
          <p class="border-copper border-l-2 pl-2 text-note leading-snug" aria-live="polite">
            {beside.words}
          </p>
        {/if}
        <table class="mt-2 w-full text-note">
          <caption class="sr-only">What differs between the two; the better one is marked</caption>
          <tbody>
            {#each beside.lines as line (line.what)}
              <tr class="border-crease border-b">
                <td class="py-0.5 text-right {line.better === 'one' ? 'font-semibold' : ''}">
                  {line.one}
                  <span class="text-copper" aria-hidden="true"
                    >{line.better === "one" ? "◂" : "\u2007"}</span
                  >{#if line.better === "one"}<span class="sr-only">, {line.by}</span>{/if}
                </td>
                <th class="text-soft px-1 text-center font-normal" scope="row">{line.what}</th>
                <td class="text-left {line.better === 'two' ? 'font-semibold' : ''}">
                  <span class="text-copper" aria-hidden="true"
                    >{line.better === "two" ? "▸" : "\u2007"}</span
                  >
                  {line.two}{#if line.better === "two"}<span class="sr-only">, {line.by}</span>{/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {@render side(beside.two, "under the cursor")}
    </div>
  {:else}
    <p class="text-soft mt-4" role="status">Setting {held} beside the one under the cursor…</p>
  {/if}
</section>
