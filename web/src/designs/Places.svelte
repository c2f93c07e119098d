<script lang="ts">
  import Beside from "../record/Beside.svelte";
  import { inDialog, pressed } from "../kit/keys";

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
    if (inDialog()) return;
    const place = pressed(event, "place");
    if (place) {
      event.preventDefault();
      location.hash = { 0: "#/", 1: places.sheet, 2: places.bench, 3: places.record }[place];
    } else if (pressed(event, "record") && at !== "record") {
      event.preventDefault();
      beside = !beside;
    }
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
