<script lang="ts">
  import { push } from "svelte-spa-router";
  import { onMount } from "svelte";

  import { tabOf } from "../opened/opened.svelte";
  import Opened from "../opened/Opened.svelte";
  import Conflict from "../shell/Conflict.svelte";
  import type { Draft } from "../shell/kept.svelte";
  import Missing from "../shell/Missing.svelte";
  import { FoldState } from "./fold.svelte";
  import FoldTitle from "./FoldTitle.svelte";
  import NetworkBrief from "./NetworkBrief.svelte";
  import Sides from "./Sides.svelte";
  import Stepper from "./Stepper.svelte";
  import { inDialog, pressed, step, typing } from "../kit/keys";

  type Props = { design: Draft };
  let { design }: Props = $props();
  // The page is keyed by the design: each has a state of its own, made once.
  const fold = new FoldState((() => design)());
  let opened = $state<ReturnType<typeof Opened>>();

  onMount(() => {
    fold.open();
    if (!fold.text("network")) document.getElementById("network")?.focus();
    return () => fold.close();
  });

  function onkeydown(event: KeyboardEvent) {
    if (event.defaultPrevented || inDialog()) return;
    const by = step(event, "aside");
    const tab = tabOf(event);
    if (tab && fold.folded) {
      event.preventDefault();
      opened?.open(tab);
    } else if (typing(event)) {
      return;
    } else if (fold.view.key(event)) {
      event.preventDefault();
    } else if (pressed(event, "heights")) {
      event.preventDefault();
      fold.showHeights(!fold.tall);
    } else if (by) {
      event.preventDefault();
      fold.go(by);
    }
  }

  async function settle(how: "theirs" | "mine" | "both") {
    const copy = await fold.settle(how);
    if (copy) await push(`/designs/${copy}`);
  }
</script>

<svelte:window {onkeydown} onpagehide={() => fold.keep(true)} />

{#if fold.missing}
  <Missing what={fold.missing} />
{:else}
  <div class="flex h-full flex-col">
    <FoldTitle {fold} />
    {#if fold.conflict}<Conflict theirs={fold.conflict} onsettle={settle} />{/if}
    <div class="network on-paper-apart grid min-h-0 flex-1">
      <NetworkBrief {fold} />
      <Stepper {fold} />
      <Sides {fold} onopen={(tab) => opened?.open(tab)} />
    </div>
  </div>
  <Opened subject={fold} bind:this={opened} />
{/if}

<style>
  .network {
    grid-template-columns: clamp(290px, 19vw, 400px) minmax(0, 1fr) clamp(372px, 24vw, 480px);
  }
  /* Beside another window: the drawing first, what is said of it below, the whole scrolled. */
  @media (max-width: 1000px) {
    .network {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto 640px auto;
      overflow-y: auto;
    }
    .network > :global(section:not(:nth-child(2))) {
      min-height: auto;
      overflow: visible;
    }
  }
</style>
