<script lang="ts">
  import FilePicker from "../shell/FilePicker.svelte";
  import type { Taker } from "./taker.svelte";

  type Props = { stock: Taker; href: string; name: string };
  let { stock, href, name }: Props = $props();
</script>

<div class="ml-auto flex items-center gap-2">
  <FilePicker
    words="Import CSV"
    label="CSV file"
    accept=".csv,text/csv"
    onfile={(file) => stock.open(file)}
  />
  <a class="btn btn-sm" {href} download={name}>Export CSV</a>
</div>
