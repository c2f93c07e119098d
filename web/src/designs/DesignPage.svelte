<script lang="ts">
  import { getDesign } from "$api";
  import FoldView from "../fold/FoldView.svelte";
  import Missing from "../shell/Missing.svelte";
  import SheetView from "../sheet/SheetView.svelte";

  type Props = { params?: { id?: string } };
  let { params }: Props = $props();
  const id = $derived(Number(params?.id));
  const found = $derived(getDesign(id));
</script>

{#await found}
  <p class="text-soft p-10" role="status">Opening the design…</p>
{:then { data, error }}
  {#key data?.id}
    {#if error}
      <Missing
        what={[404, 422].includes(error.status) ? "There is no such design." : error.detail}
      />
    {:else if data.kind === "sensor"}
      {#await import("../sensor/SensorView.svelte") then { default: SensorView }}
        <SensorView design={data} />
      {/await}
    {:else if data.kind === "board"}
      {#await import("../board/BoardView.svelte") then { default: BoardView }}
        <BoardView design={data} />
      {/await}
    {:else if data.kind === "network"}
      <FoldView design={data} />
    {:else}
      <SheetView design={data} />
    {/if}
  {/key}
{/await}
