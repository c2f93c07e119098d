<script lang="ts">
  import Router, { router } from "svelte-spa-router";

  import BenchPage from "./bench/BenchPage.svelte";
  import DesignPage from "./designs/DesignPage.svelte";
  import DesignsView from "./designs/DesignsView.svelte";
  import DrawerView from "./drawer/DrawerView.svelte";
  import FamiliesView from "./drawer/FamiliesView.svelte";
  import MetersView from "./drawer/MetersView.svelte";
  import RecordPage from "./record/RecordPage.svelte";
  import ReferenceView from "./reference/ReferenceView.svelte";
  import Header from "./shell/Header.svelte";
  import Keys from "./shell/Keys.svelte";
  import NotFound from "./shell/NotFound.svelte";

  let keys = $state<ReturnType<typeof Keys>>();

  function onkeydown(event: KeyboardEvent) {
    const typing =
      event.target instanceof Element && event.target.matches("input, textarea, select");
    if (event.key === "?" && !typing) {
      event.preventDefault();
      keys?.open();
    }
  }
</script>

<svelte:window {onkeydown} />

<!-- The bench and the record stand beside another window; what is designed needs more room. -->
<div
  class="flex h-full flex-col {/\/(bench|record)$/.test(router.location)
    ? 'min-w-[680px]'
    : 'min-w-[1024px]'}"
>
  <Header onkeys={() => keys?.open()} />
  <main class="min-h-0 flex-1">
    <Router
      routes={{
        "/": DesignsView,
        "/designs/:id": DesignPage,
        "/designs/:id/bench": BenchPage,
        "/designs/:id/record": RecordPage,
        "/drawer": DrawerView,
        "/drawer/families": FamiliesView,
        "/drawer/meters": MetersView,
        "/reference": ReferenceView,
        "*": NotFound,
      }}
    />
  </main>
</div>
<Keys bind:this={keys} />
