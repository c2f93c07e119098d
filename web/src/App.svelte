<script lang="ts">
  import Router from "svelte-spa-router";
  import { wrap } from "svelte-spa-router/wrap";

  import Breath from "./breath/Breath.svelte";
  import BenchPage from "./bench/BenchPage.svelte";
  import DesignPage from "./designs/DesignPage.svelte";
  import DraftPage from "./designs/DraftPage.svelte";
  import FoldedPage from "./designs/FoldedPage.svelte";
  import DesignsView from "./designs/DesignsView.svelte";
  import Header from "./shell/Header.svelte";
  import { status } from "./shell/status.svelte";
  import Keys from "./shell/Keys.svelte";
  import { outbox } from "./shell/outbox.svelte";
  import NotFound from "./shell/NotFound.svelte";

  /** What waits from before is sent before anything is read. */
  const sent = outbox.begin();
  let keys = $state<ReturnType<typeof Keys>>();
  let breath = $state<ReturnType<typeof Breath>>();

  function onkeydown(event: KeyboardEvent) {
    const typing =
      event.target instanceof Element && event.target.matches("input, textarea, select");
    if (event.key === "?" && !typing) {
      event.preventDefault();
      keys?.open();
    }
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
  <Header onkeys={() => keys?.open()} onneed={() => breath?.open()} />
  <main class="min-h-0 flex-1">
    {#await sent then}
      <Router
        routes={{
          "/": DesignsView,
          "/new/folded": FoldedPage,
          "/new/:kind": DraftPage,
          "/designs/:id": DesignPage,
          "/designs/:id/fold": FoldedPage,
          "/designs/:id/bench": BenchPage,
          "/designs/:id/record": wrap({
            asyncComponent: () => import("./record/RecordPage.svelte"),
          }),
          "/help": wrap({ asyncComponent: () => import("./help/HelpView.svelte") }),
          "/drawer": wrap({ asyncComponent: () => import("./drawer/DrawerView.svelte") }),
          "/drawer/families": wrap({
            asyncComponent: () => import("./drawer/FamiliesView.svelte"),
          }),
          "/drawer/meters": wrap({ asyncComponent: () => import("./drawer/MetersView.svelte") }),
          "/practice/sheet/:drill/:level/:seed": wrap({
            asyncComponent: () => import("./practice/PrintedSheet.svelte"),
          }),
          "/practice/:drill?/:id?": wrap({
            asyncComponent: () => import("./practice/PracticeView.svelte"),
          }),
          "/reference": wrap({ asyncComponent: () => import("./reference/ReferenceView.svelte") }),
          "*": NotFound,
        }}
      />
    {/await}
  </main>
</div>
<Keys bind:this={keys} />
<Breath bind:this={breath} />
