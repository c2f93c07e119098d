<script lang="ts">
  /** Where the leads can be put, what that costs, and what was read there. */
  import { keyOf, type BoardState } from "./board.svelte";
  import type { PracticeState } from "./practice.svelte";

  type Props = { practice: PracticeState; board: BoardState };
  let { practice, board }: Props = $props();
  let list = $state<HTMLElement>();
  /** What was read at each point last, by its key. */
  const read = $derived(
    Object.fromEntries(
      practice.readings.filter((r) => r.tells).map((r) => [keyOf(r), r.shows]),
    ) as Record<string, string>,
  );

  $effect(() => {
    void board.at;
    list?.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });
  });
</script>

<div
  bind:this={list}
  class="min-h-0 overflow-auto max-[900px]:col-start-2 max-[900px]:row-span-2 max-[900px]:row-start-1"
  role="listbox"
  aria-label="Where to put the leads"
  tabindex="-1"
>
  {#each board.groups as group (group.name)}
    {#if group.points.length > 0}
      <p class="label-small mt-1" id="group-{group.name}">{group.name}</p>
    {/if}
    {#each group.points as one (keyOf(one))}
      {@const here = one === board.point}
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <div
        role="option"
        aria-selected={here}
        tabindex="-1"
        class="flex cursor-pointer items-baseline gap-2 border-l-2 px-2 py-0.5 {here
          ? 'border-copper bg-wash'
          : 'border-transparent'}"
        onclick={() => board.to((p) => p === one)}
      >
        <span class={here ? "font-semibold" : ""}>{one.words}</span>
        <span class="text-copper ml-auto font-semibold whitespace-nowrap"
          >{read[keyOf(one)] ?? ""}</span
        >
        <span class="text-soft w-4 text-right text-note" title="effort">{one.effort}</span>
      </div>
    {/each}
  {/each}
</div>
