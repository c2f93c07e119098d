<script lang="ts">
  /** A design of a kind as it begins: nothing of it is kept until something is typed. */
  import type { Design } from "$api";
  import FoldView from "../fold/FoldView.svelte";
  import NotFound from "../shell/NotFound.svelte";
  import SheetView from "../sheet/SheetView.svelte";
  import { KIND_WORDS } from "./kinds";
  import { begun } from "./begun";

  type Props = { params?: { kind?: string } };
  let { params }: Props = $props();
  const kind = $derived(params?.kind as Design["kind"]);
</script>

{#key kind}
  {#if kind === "sensor"}
    {#await import("../sensor/SensorView.svelte") then { default: SensorView }}
      <SensorView design={begun(kind)} />
    {/await}
  {:else if kind === "board"}
    {#await import("../board/BoardView.svelte") then { default: BoardView }}
      <BoardView design={begun(kind)} />
    {/await}
  {:else if kind === "network"}<FoldView design={begun(kind, { network: "" })} />
  {:else if kind in KIND_WORDS}<SheetView design={begun(kind)} />
  {:else}<NotFound />{/if}
{/key}
