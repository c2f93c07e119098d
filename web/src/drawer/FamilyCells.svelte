<script lang="ts">
  import { CELLS, type Cell, type FamiliesState } from "./families.svelte";

  type Props = { families: FamiliesState; onkeep: () => void };
  let { families, onkeep }: Props = $props();

  const cells = Object.entries(CELLS) as [Cell, string][];
  const HINTS: Partial<Record<Cell, string>> = {
    name: "thin film 0603",
    rating_w: "100 mW",
    limiting_v: "√(P·R)",
  };
  const wrong = $derived(Object.values(families.wrong)[0]);

  function onkeydown(event: KeyboardEvent) {
    if (event.key === "Enter") {
      event.preventDefault();
      onkeep();
    } else if (event.key === "Escape" && families.editing) {
      event.preventDefault();
      families.leave();
    }
  }
</script>

<tr class="border-crease border-b [&>td]:py-1.5 [&>td]:pr-3">
  {#each cells as [name, label] (name)}
    <td>
      <input
        data-cell={name}
        class="text-copper placeholder:text-soft focus:bg-wash w-full border-b px-0.5 font-semibold placeholder:font-normal {name ===
        'name'
          ? ''
          : 'text-right'} {families.wrong[name] ? 'border-fail border-dashed' : 'border-copper'}"
        aria-label={label}
        aria-invalid={name in families.wrong}
        aria-describedby="family-words"
        placeholder={HINTS[name] ?? ""}
        autocomplete="off"
        spellcheck="false"
        maxlength="60"
        readonly={name === "name" && families.editing !== ""}
        bind:value={families.draft[name]}
        {onkeydown}
      />
    </td>
  {/each}
  <td></td>
  <td class="text-right whitespace-nowrap">
    <button type="button" class="btn btn-xs" onclick={onkeep}
      >{families.editing ? "Keep" : "Put in"}</button
    >
    {#if families.editing}
      <button type="button" class="btn btn-xs" onclick={() => families.leave()}>Leave</button>
    {/if}
  </td>
</tr>
<tr>
  <td colspan="10" class="h-6 text-note" id="family-words" aria-live="polite">
    {#if wrong}<span class="text-fail">✕ {wrong}</span>{/if}
  </td>
</tr>
