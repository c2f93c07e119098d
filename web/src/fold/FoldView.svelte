<script lang="ts">
  import { push } from "svelte-spa-router";
  import { onDestroy } from "svelte";

  import { tabOf } from "../opened/opened.svelte";
  import Opened from "../opened/Opened.svelte";
  import Conflict from "../shell/Conflict.svelte";
  import { FoldState } from "./fold.svelte";
  import FoldTitle from "./FoldTitle.svelte";
  import NetworkBrief from "./NetworkBrief.svelte";
  import Sides from "./Sides.svelte";
  import Stepper from "./Stepper.svelte";

  type Props = { id: number };
  let { id }: Props = $props();
  let fold = $state.raw<FoldState>();
  let opened = $state<ReturnType<typeof Opened>>();

  $effect(() => {
    const made = new FoldState(id);
    fold = made;
    void made.open();
    return () => made.close();
  });
  onDestroy(() => fold?.close());

  function onkeydown(event: KeyboardEvent) {
    if (!fold || event.defaultPrevented || document.querySelector("dialog[open]")) return;
    const at = event.target as Element;
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const tab = tabOf(event);
    if (tab && fold.folded) {
      event.preventDefault();
      opened?.open(tab);
    } else if (step && !at.matches("input, textarea, select")) {
      event.preventDefault();
      fold.go(step);
    }
  }

  async function settle(how: "theirs" | "mine" | "both") {
    const copy = await fold?.settle(how);
    if (copy) await push(`/designs/${copy}`);
  }
</script>

<svelte:window {onkeydown} onpagehide={() => fold?.keep(true)} />

{#if fold && fold.revision > 0}
  <div class="flex h-full flex-col">
    <FoldTitle {fold} />
    {#if fold.conflict}<Conflict theirs={fold.conflict} onsettle={settle} />{/if}
    <div class="on-paper-apart grid min-h-0 flex-1 grid-cols-[290px_minmax(0,1fr)_372px]">
      <NetworkBrief {fold} />
      <Stepper {fold} />
      <Sides {fold} onopen={(tab) => opened?.open(tab)} />
    </div>
  </div>
  <Opened subject={fold} bind:this={opened} />
{:else}
  <p class="text-soft p-10" role="status">Opening the design…</p>
{/if}
