<script lang="ts">
  import Router from "svelte-spa-router";

  import Breath from "./breath/Breath.svelte";
  import BoardView from "./board/BoardView.svelte";
  import BenchPage from "./bench/BenchPage.svelte";
  import DesignPage from "./designs/DesignPage.svelte";
  import DesignsView from "./designs/DesignsView.svelte";
  import DrawerView from "./drawer/DrawerView.svelte";
  import FamiliesView from "./drawer/FamiliesView.svelte";
  import MetersView from "./drawer/MetersView.svelte";
  import PracticeView from "./practice/PracticeView.svelte";
  import PrintedSheet from "./practice/PrintedSheet.svelte";
  import RecordPage from "./record/RecordPage.svelte";
  import SensorView from "./sensor/SensorView.svelte";
  import ReferenceView from "./reference/ReferenceView.svelte";
  import Header from "./shell/Header.svelte";
  import Keys from "./shell/Keys.svelte";
  import NotFound from "./shell/NotFound.svelte";

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

<svelte:window {onkeydown} />

<!-- Every view stands beside another window, and on a telephone beside the board. -->
<div class="flex h-full min-w-[320px] flex-col">
  <Header onkeys={() => keys?.open()} onneed={() => breath?.open()} />
  <main class="min-h-0 flex-1">
    <Router
      routes={{
        "/": DesignsView,
        "/designs/:id": DesignPage,
        "/designs/:id/bench": BenchPage,
        "/designs/:id/record": RecordPage,
        "/board": BoardView,
        "/sensor": SensorView,
        "/drawer": DrawerView,
        "/drawer/families": FamiliesView,
        "/drawer/meters": MetersView,
        "/practice/sheet/:drill/:level/:seed": PrintedSheet,
        "/practice/:drill?/:id?": PracticeView,
        "/reference": ReferenceView,
        "*": NotFound,
      }}
    />
  </main>
</div>
<Keys bind:this={keys} />
<Breath bind:this={breath} />
