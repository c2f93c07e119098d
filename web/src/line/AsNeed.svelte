<script lang="ts">
  /** What was looked for and not found may be a need: it is opened as one. */
  import { push } from "svelte-spa-router";
  import { untrack } from "svelte";

  import { KIND_WORDS } from "../designs/kinds";
  import { NeedState } from "./need.svelte";

  type Props = { text: string };
  let { text }: Props = $props();
  const need = new NeedState();
  $effect(() => {
    const said = text;
    untrack(() => void need.type(said));
  });

  async function open() {
    const id = await need.make();
    if (id) await push(`/designs/${id}`);
  }
</script>

{#if need.read?.kind && need.read.unread.length === 0}
  <p class="mt-3" data-as-need>
    Read as a need it is <strong>{KIND_WORDS[need.read.kind]}</strong
    >{#each need.said as one (one.name)}<span class="text-soft">, {one.label}</span>
      <span class="font-semibold">{one.shown}</span>{/each}
    <button type="button" class="btn btn-primary btn-sm ml-3" disabled={need.making} onclick={open}
      >Open its sheet</button
    >
    {#if need.trouble}<span class="text-fail" role="alert">✕ {need.trouble}</span>{/if}
  </p>
{/if}
