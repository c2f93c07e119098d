<script lang="ts">
  import { getDesign } from "$api";
  import Missing from "../shell/Missing.svelte";
  import RecordView from "./RecordView.svelte";

  type Props = { params?: { id?: string } };
  let { params }: Props = $props();
  const found = $derived(getDesign(Number(params?.id)));
</script>

{#await found}
  <p class="text-soft p-10" role="status">Opening the record…</p>
{:then { data, error }}
  {#key data?.id}
    {#if error}
      <Missing
        what={[404, 422].includes(error.status) ? "There is no such design." : error.detail}
      />
    {:else}
      <RecordView design={data} />
    {/if}
  {/key}
{/await}
