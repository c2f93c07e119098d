<script lang="ts">
  import { getDesign, type Design } from "$api";
  import FoldView from "../fold/FoldView.svelte";
  import SheetView from "../sheet/SheetView.svelte";

  type Props = { params?: { id?: string } };
  let { params }: Props = $props();
  const id = $derived(Number(params?.id));
  const found = $derived(getDesign(id));
  const missing = (outcome: { data?: Design; error?: { status: number; detail: string } }) =>
    outcome.error?.status === 404 || outcome.error?.status === 422
      ? "There is no such design."
      : (outcome.error?.detail ?? "");
</script>

{#await found}
  <p class="text-soft p-10" role="status">Opening the design…</p>
{:then outcome}
  {#if outcome.data?.kind === "network"}
    {#key id}<FoldView {id} />{/key}
  {:else if outcome.data}
    <SheetView {id} kind={outcome.data.kind} />
  {:else}
    <div class="p-10" role="alert">
      <h1 class="font-serif text-xl font-semibold">{missing(outcome)}</h1>
      <p class="mt-2"><a class="link text-copper" href="#/">Back to the designs</a></p>
    </div>
  {/if}
{/await}
