<script lang="ts">
  /** A table wider than its place is moved sideways, alone; and it can be copied. */
  import type { Snippet } from "svelte";

  import { putOut, rowsOf } from "./copied";

  type Props = { children: Snippet };
  let { children }: Props = $props();
  let place: HTMLElement;
  let done = $state(false);

  async function copy() {
    const table = place.querySelector("table");
    if (!table) return;
    await putOut(rowsOf(table));
    done = true;
    setTimeout(() => (done = false), 1500);
  }
</script>

<div class="wide-table" bind:this={place}>{@render children()}</div>
<button
  type="button"
  class="off-paper text-soft hover:text-copper cursor-pointer text-note"
  aria-live="polite"
  onclick={copy}>{done ? "copied" : "copy table"}</button
>
