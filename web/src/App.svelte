<script lang="ts">
  import Router from "svelte-spa-router";

  import DesignPage from "./designs/DesignPage.svelte";
  import DesignsView from "./designs/DesignsView.svelte";
  import DrawerView from "./drawer/DrawerView.svelte";
  import FamiliesView from "./drawer/FamiliesView.svelte";
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

<div class="flex h-full min-w-[1024px] flex-col">
  <Header onkeys={() => keys?.open()} />
  <main class="min-h-0 flex-1">
    <Router
      routes={{
        "/": DesignsView,
        "/designs/:id": DesignPage,
        "/drawer": DrawerView,
        "/drawer/families": FamiliesView,
        "/reference": ReferenceView,
        "*": NotFound,
      }}
    />
  </main>
</div>
<Keys bind:this={keys} />
