<script lang="ts">
  import type { Taker } from "./taker.svelte";

  type Props = { stock: Taker; href: string; name: string };
  let { stock, href, name }: Props = $props();
  let picker: HTMLInputElement;
</script>

<div class="ml-auto flex items-center gap-2">
  <input
    bind:this={picker}
    type="file"
    accept=".csv,text/csv"
    class="sr-only"
    tabindex="-1"
    aria-label="CSV file"
    onchange={(event) => {
      const file = event.currentTarget.files?.[0];
      if (file) void stock.open(file);
      event.currentTarget.value = "";
    }}
  />
  <button type="button" class="btn btn-sm" onclick={() => picker.click()}>Take a CSV</button>
  <a class="btn btn-sm" {href} download={name}>Hand out a CSV</a>
</div>
