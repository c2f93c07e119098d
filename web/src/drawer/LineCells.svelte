<script lang="ts">
  import type { Draft, DrawerState } from "./drawer.svelte";

  type Props = { stock: DrawerState; onkeep: () => void };
  let { stock, onkeep }: Props = $props();

  const CELLS: { name: keyof Draft; label: string; hint: string; right: boolean }[] = [
    { name: "ohm", label: "value", hint: "4k7", right: true },
    { name: "count", label: "how many", hint: "plenty", right: true },
    { name: "tolerance", label: "tolerance", hint: "1 %", right: true },
    { name: "family", label: "family", hint: "1/4 W film", right: false },
  ];
  const wrong = $derived(Object.values(stock.wrong)[0]);

  function onkeydown(event: KeyboardEvent) {
    if (event.key === "Enter") {
      event.preventDefault();
      onkeep();
    } else if (event.key === "Escape" && stock.editing !== null) {
      event.preventDefault();
      stock.leave();
    }
  }
</script>

<tr class="border-crease border-b [&>td]:py-1.5 [&>td]:pr-4">
  {#each CELLS as cell (cell.name)}
    <td class={cell.right ? "" : "pl-3"}>
      <input
        data-cell={cell.name}
        class="text-copper placeholder:text-soft w-full border-b px-0.5 font-semibold placeholder:font-normal focus:bg-wash {cell.right
          ? 'text-right'
          : ''} {stock.wrong[cell.name] ? 'border-fail border-dashed' : 'border-copper'}"
        aria-label={cell.label}
        aria-invalid={cell.name in stock.wrong}
        aria-describedby="line-words"
        placeholder={cell.hint}
        autocomplete="off"
        spellcheck="false"
        maxlength="80"
        bind:value={stock.draft[cell.name]}
        {onkeydown}
      />
    </td>
  {/each}
  <td class="text-right whitespace-nowrap">
    <button type="button" class="btn btn-xs" onclick={onkeep}
      >{stock.editing === null ? "Put in" : "Keep"}</button
    >
    {#if stock.editing !== null}
      <button type="button" class="btn btn-xs" onclick={() => stock.leave()}>Leave</button>
    {/if}
  </td>
</tr>
<tr>
  <td colspan="5" class="h-6 text-note" id="line-words" aria-live="polite">
    {#if wrong}<span class="text-fail">✕ {wrong}</span>{/if}
  </td>
</tr>
