<script lang="ts">
  import Router from "svelte-spa-router";
  import type { AsyncSvelteComponent } from "svelte-spa-router";
  import { wrap } from "svelte-spa-router/wrap";
  import { onMount } from "svelte";

  import { inDialog, pressed } from "./kit/keys";
  import { Later } from "./kit/later.svelte";
  import DesignsView from "./designs/DesignsView.svelte";
  import Header from "./shell/Header.svelte";
  import { status } from "./shell/status.svelte";
  import { outbox } from "./shell/outbox.svelte";
  import NotFound from "./shell/NotFound.svelte";

  /** What waits from before is sent before anything is read. */
  const sent = outbox.begin();
  const later = (asyncComponent: () => Promise<object>) =>
    wrap({ asyncComponent: asyncComponent as AsyncSvelteComponent });
  const designPage = () => import("./designs/DesignPage.svelte");
  const line = new Later(() => import("./line/LineDialog.svelte"));
  const keys = new Later(() => import("./shell/Keys.svelte"));
  /** What is opened next, most often: it is there before it is asked for. */
  onMount(() => {
    const timer = setTimeout(() => void line.load().then(designPage), 300);
    return () => clearTimeout(timer);
  });

  function onkeydown(event: KeyboardEvent) {
    const asked = pressed(event, "help")
      ? keys
      : pressed(event, "line") || pressed(event, "lineAnywhere")
        ? line
        : null;
    if (!asked || inDialog()) return;
    event.preventDefault();
    void asked.open();
  }
</script>

<svelte:window
  {onkeydown}
  onfocus={() => void outbox.deliver()}
  onbeforeunload={(event) => {
    if (status.trouble || outbox.waiting > 0) event.preventDefault();
  }}
/>

<!-- Every view stands beside another window, and on a telephone beside the board. -->
<div class="flex h-full min-w-[320px] flex-col">
  <Header onkeys={() => keys.open()} onneed={() => line.open()} />
  <main class="min-h-0 flex-1">
    {#await sent then}
      <Router
        routes={{
          "/": DesignsView,
          "/new/folded": later(() => import("./designs/FoldedPage.svelte")),
          "/new/:kind": later(() => import("./designs/DraftPage.svelte")),
          "/designs/:id": later(designPage),
          "/designs/:id/fold": later(() => import("./designs/FoldedPage.svelte")),
          "/designs/:id/bench": later(() => import("./bench/BenchPage.svelte")),
          "/designs/:id/record": later(() => import("./record/RecordPage.svelte")),
          "/help": later(() => import("./help/HelpView.svelte")),
          "/drawer": later(() => import("./drawer/DrawerView.svelte")),
          "/drawer/families": later(() => import("./drawer/FamiliesView.svelte")),
          "/drawer/meters": later(() => import("./drawer/MetersView.svelte")),
          "/practice/sheet/:drill/:level/:seed": later(
            () => import("./practice/PrintedSheet.svelte"),
          ),
          "/practice/:drill?/:id?": later(() => import("./practice/PracticeView.svelte")),
          "/reference": later(() => import("./reference/ReferenceView.svelte")),
          "*": NotFound,
        }}
      />
    {/await}
  </main>
</div>
{#if keys.part}<keys.part bind:this={keys.shown} />{/if}
{#if line.part}<line.part bind:this={line.shown} />{/if}
