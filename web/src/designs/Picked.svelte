<script lang="ts">
  /** What can be done with the designs that are picked, and with files. */
  import type { Design } from "$api";
  import type { DesignsState } from "./designs.svelte";
  import type { SharingState } from "./sharing.svelte";

  type Props = {
    designs: DesignsState;
    sharing: SharingState;
    picked: Design[];
    onbuy: () => void;
  };
  let { designs, sharing, picked = $bindable(), onbuy }: Props = $props();
  let picker = $state<HTMLInputElement>();
  const ids = $derived(picked.map((design) => design.id));
  const shareable = $derived(
    picked
      .filter((design) => !["network", "sensor", "board"].includes(design.kind))
      .map((design) => design.id),
  );
</script>

<div class="border-crease flex flex-wrap items-center gap-2 border-t pt-2.5">
  <button
    type="button"
    class="btn btn-sm"
    disabled={shareable.length < 2 || sharing.job?.state === "running"}
    title="A choice for each, out of as few different values as possible"
    onclick={() => sharing.start(shareable)}>Share values</button
  >
  <button type="button" class="btn btn-sm" disabled={picked.length === 0} onclick={onbuy}
    >Parts to buy</button
  >
  {#if picked.length > 0}
    <a class="btn btn-sm" href="/api/designs/handover.json?ids={ids.join(',')}" download>Export</a>
  {:else}
    <button type="button" class="btn btn-sm" disabled>Export</button>
  {/if}
  <span class="text-soft text-note">
    {#if picked.length > 0}
      {picked.length} picked
      <button
        type="button"
        class="text-copper cursor-pointer underline underline-offset-4"
        onclick={() => (picked = [])}>none</button
      >
    {:else}pick designs: share values, list parts, export one file{/if}
  </span>
  <span class="ml-auto flex items-center gap-2">
    <input
      bind:this={picker}
      type="file"
      accept=".json,application/json"
      multiple
      class="sr-only"
      tabindex="-1"
      aria-label="File to import"
      onchange={(event) => {
        void designs.takeIn([...(event.currentTarget.files ?? [])]);
        event.currentTarget.value = "";
      }}
    />
    <button type="button" class="btn btn-sm" onclick={() => picker?.click()}>Import</button>
    <button
      type="button"
      class="btn btn-sm"
      aria-expanded={designs.deleted !== null}
      onclick={() => {
        if (designs.deleted) designs.deleted = null;
        else void designs.lookAtDeleted();
      }}>Deleted</button
    >
  </span>
  <p class="text-soft w-full text-note">
    Results are design aids: the data sheet, the local code and a qualified person decide.
  </p>
</div>
