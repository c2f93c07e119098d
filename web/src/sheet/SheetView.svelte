<script lang="ts">
  import { push } from "svelte-spa-router";
  import { onDestroy } from "svelte";

  import type { BriefKind } from "$api";
  import { tabOf } from "../opened/opened.svelte";
  import Opened from "../opened/Opened.svelte";
  import Conflict from "../shell/Conflict.svelte";
  import Brief from "./Brief.svelte";
  import Choices from "./Choices.svelte";
  import Fold from "./Fold.svelte";
  import Gates from "./Gates.svelte";
  import SheetTitle from "./SheetTitle.svelte";
  import { SheetState } from "./sheet.svelte";

  type Props = { id: number; kind: BriefKind };
  let { id, kind }: Props = $props();
  let sheet = $state.raw<SheetState>();
  let list = $state<HTMLElement>();
  let opened = $state<ReturnType<typeof Opened>>();

  $effect(() => {
    const opened = new SheetState(id, kind);
    sheet = opened;
    void opened.open();
    return () => opened.close();
  });
  onDestroy(() => sheet?.close());

  function onkeydown(event: KeyboardEvent) {
    if (!sheet || event.defaultPrevented || document.querySelector("dialog[open]")) return;
    const at = event.target as Element;
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const tab = tabOf(event);
    if (tab && sheet.shown) {
      event.preventDefault();
      opened?.open(tab);
    } else if (step && !at.matches("textarea")) {
      event.preventDefault();
      sheet.walk(step);
    } else if (event.key === "Enter" && at.matches("[data-token]")) {
      event.preventDefault();
      list?.focus();
    } else if (event.key === "Enter" && !at.matches("button, a, input, textarea")) {
      event.preventDefault();
      sheet.pin();
    }
  }

  async function foldIt() {
    const made = await sheet?.asNetwork();
    if (made) await push(`/designs/${made}`);
  }

  async function settle(how: "theirs" | "mine" | "both") {
    const copy = await sheet?.settle(how);
    if (copy) await push(`/designs/${copy}`);
  }
</script>

<svelte:window {onkeydown} onpagehide={() => sheet?.keep(true)} />

{#if sheet?.missing}
  <div class="p-10" role="alert">
    <h1 class="font-serif text-xl font-semibold">{sheet.missing}</h1>
    <p class="mt-2"><a class="link text-copper" href="#/">Back to the designs</a></p>
  </div>
{:else if sheet && sheet.revision > 0}
  <div class="flex h-full flex-col">
    <SheetTitle {sheet} />
    {#if sheet.conflict}<Conflict theirs={sheet.conflict} onsettle={settle} />{/if}
    <div class="on-paper-apart grid min-h-0 flex-1 grid-cols-[290px_minmax(0,1fr)_250px]">
      <Brief {sheet} />
      <div class="border-crease grid min-h-0 grid-rows-[minmax(0,1fr)_304px] border-x">
        <Choices {sheet} bind:list />
        <Fold choice={sheet.shown} stale={sheet.stale} onfold={foldIt} />
      </div>
      <Gates
        gates={sheet.shown?.gates ?? null}
        stale={sheet.stale}
        onopen={(tab) => opened?.open(tab)}
      />
    </div>
  </div>
  <Opened subject={sheet} bind:this={opened} />
{:else}
  <p class="text-soft p-10" role="status">Opening the design…</p>
{/if}
