<script lang="ts">
  import { push } from "svelte-spa-router";
  import { onMount, tick } from "svelte";

  import { begun, handed } from "../designs/begun";
  import { tabOf } from "../opened/opened.svelte";
  import Opened from "../opened/Opened.svelte";
  import Conflict from "../shell/Conflict.svelte";
  import type { Draft } from "../shell/kept.svelte";
  import Missing from "../shell/Missing.svelte";
  import Brief from "./Brief.svelte";
  import Choices from "./Choices.svelte";
  import Fold from "./Fold.svelte";
  import Gates from "./Gates.svelte";
  import SheetTitle from "./SheetTitle.svelte";
  import SideBySide from "./SideBySide.svelte";
  import { SheetState } from "./sheet.svelte";
  import { inDialog, pressed, step } from "../kit/keys";

  type Props = { design: Draft };
  let { design }: Props = $props();
  // The page is keyed by the design: each has a state of its own, made once.
  const sheet = new SheetState((() => design)());
  let list = $state<HTMLElement>();
  let opened = $state<ReturnType<typeof Opened>>();

  const firstFigure = () => document.querySelector<HTMLElement>("[data-token]");

  onMount(() => {
    sheet.open();
    // A need that says nothing yet is there to be written
    if (Object.keys(sheet.brief).length === 0) void tick().then(() => firstFigure()?.focus());
    return () => sheet.close();
  });

  function onkeydown(event: KeyboardEvent) {
    if (event.defaultPrevented || inDialog()) return;
    const at = event.target as Element;
    const by = step(event, "walk");
    const decade = step(event, "aside");
    const tab = tabOf(event);
    if (pressed(event, "fold")) {
      event.preventDefault();
      void foldIt();
    } else if (event.key === "Tab" && !event.shiftKey && at === document.body) {
      event.preventDefault();
      firstFigure()?.focus();
    } else if (tab && sheet.shown) {
      event.preventDefault();
      opened?.open(tab);
    } else if (by && !at.matches("textarea, select, input[type=radio]")) {
      event.preventDefault();
      sheet.walk(by);
    } else if (decade && !sheet.trading) {
      event.preventDefault();
      sheet.decade(decade);
    } else if (pressed(event, "hold")) {
      event.preventDefault();
      sheet.hold();
    } else if (pressed(event, "careful")) {
      event.preventDefault();
      sheet.lookAtCareful();
    } else if (pressed(event, "asItWas") && sheet.held) {
      sheet.hold();
    } else if (event.key === "Enter" && at.matches("[data-token]")) {
      event.preventDefault();
      list?.focus();
    } else if (pressed(event, "pin") && !at.matches("button, a")) {
      event.preventDefault();
      sheet.pin();
    }
  }

  /** Folding is a view of the choice: nothing is kept for it. */
  async function foldIt() {
    const { inFull, id, name } = sheet;
    if (!inFull) return;
    const why = `${inFull.notation}, from “${name}”.`;
    handed.draft = begun("network", inFull.as_network, { name: `${name}, folded`, why, from: id });
    const choice = encodeURIComponent(inFull.notation);
    await push(id ? `/designs/${id}/fold?choice=${choice}` : "/new/folded");
  }

  async function settle(how: "theirs" | "mine" | "both") {
    const copy = await sheet.settle(how);
    if (copy) await push(`/designs/${copy}`);
  }
</script>

<svelte:window {onkeydown} onpagehide={() => sheet.keep(true)} />

{#if sheet.missing}
  <Missing what={sheet.missing} />
{:else}
  <div class="flex h-full flex-col">
    <SheetTitle {sheet} />
    {#if sheet.conflict}<Conflict theirs={sheet.conflict} onsettle={settle} />{/if}
    <div class="sheet on-paper-apart grid min-h-0 flex-1">
      <Brief {sheet} />
      <div class="middle border-crease grid min-h-0 {sheet.held ? 'beside' : ''}">
        <Choices {sheet} bind:list />
        {#if sheet.held}
          <SideBySide beside={sheet.beside} held={sheet.held} onletgo={() => sheet.hold()} />
        {:else}
          <Fold choice={sheet.inFull} stale={sheet.stale} onfold={foldIt} />
        {/if}
      </div>
      <Gates
        gates={sheet.inFull?.gates ?? null}
        stale={sheet.stale}
        id={sheet.id}
        build={sheet.build.round}
        onopen={(tab) => opened?.open(tab)}
      />
    </div>
  </div>
  <Opened subject={sheet} bind:this={opened} />
{/if}

<style>
  .sheet {
    grid-template-columns: clamp(290px, 19vw, 400px) minmax(0, 1fr) clamp(250px, 17vw, 340px);
  }
  /* No line of writing may widen a column over its neighbour. */
  .middle {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: minmax(0, 1fr) minmax(304px, 37%);
    border-inline-width: 1px;
  }
  .middle.beside {
    grid-template-rows: minmax(0, 1fr) minmax(420px, 48%);
  }
  /* Two columns: the need folded to its sentence above, the gates beside the choices. */
  @media (max-width: 1200px) {
    .sheet {
      grid-template-columns: minmax(0, 1fr) 250px;
      grid-template-rows: auto minmax(0, 1fr);
    }
    .sheet > :global(.need) {
      grid-column: 1 / -1;
      max-height: 60vh;
      border-bottom: 1px solid var(--color-crease);
    }
    .middle {
      grid-template-rows: minmax(0, 1fr) minmax(236px, 34%);
      border-inline-start-width: 0;
    }
  }
  /* One below the other, the whole scrolled: the need, the choices, the gates, the network. */
  @media (max-width: 900px) {
    .sheet {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto;
      overflow-y: auto;
      align-content: start;
    }
    .sheet > :global(.need) {
      max-height: none;
    }
    .middle {
      display: contents;
    }
    .sheet :global(section) {
      min-height: auto;
      overflow-y: visible;
    }
    .middle > :global([aria-labelledby="choices-title"]) {
      order: 1;
      height: 430px;
    }
    .sheet > :global([aria-label="Gates"]) {
      order: 2;
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
      border-top: 1px solid var(--color-crease);
    }
    .middle > :global(*) {
      order: 3;
    }
    .sheet :global(section) {
      padding-inline: max(0.75rem, min(1.25rem, 3vw));
    }
  }
</style>
