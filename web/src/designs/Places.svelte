<script lang="ts">
  import Beside from "../record/Beside.svelte";

  type Props = { id: number; at: "sheet" | "bench" | "record" };
  let { id, at }: Props = $props();
  const places = $derived({
    sheet: `#/designs/${id}`,
    bench: `#/designs/${id}/bench`,
    record: `#/designs/${id}/record`,
  } as const);
  let beside = $state(false);
  const names = ["sheet", "bench", "record"] as const;
</script>

<svelte:window
  onkeydown={(event) => {
    const typing =
      event.target instanceof Element && event.target.matches("input, textarea, select");
    const to = { 0: "#/", 1: places.sheet, 2: places.bench, 3: places.record }[event.key];
    if (to && event.altKey && !document.querySelector("dialog[open]")) {
      event.preventDefault();
      location.hash = to;
      return;
    }
    if (event.key !== "r" || typing || event.ctrlKey || event.metaKey || event.altKey) return;
    if (at === "record" || document.querySelector("dialog[open]")) return;
    event.preventDefault();
    beside = !beside;
  }}
/>

<nav class="off-paper flex gap-4" aria-label="Of this design">
  {#each names as name (name)}
    <a
      href={places[name]}
      title="Alt {names.indexOf(name) + 1}"
      aria-keyshortcuts="Alt+{names.indexOf(name) + 1}"
      aria-current={name === at ? "page" : undefined}
      class={name === at ? "text-copper font-semibold" : "text-soft hover:text-copper"}>{name}</a
    >
  {/each}
  {#if at !== "record"}
    <button
      type="button"
      class="hover:text-copper cursor-pointer {beside ? 'text-copper' : 'text-soft'}"
      aria-pressed={beside}
      aria-label="Record beside the work"
      title="Record beside the work (r)"
      onclick={() => (beside = !beside)}>◨</button
    >
  {/if}
</nav>
{#if beside}<Beside {id} onclose={() => (beside = false)} />{/if}
