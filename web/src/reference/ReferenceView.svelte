<script lang="ts">
  import { onMount } from "svelte";

  import { status } from "../shell/status.svelte";
  import Tabs from "../shell/Tabs.svelte";
  import AnyTwo from "./AnyTwo.svelte";
  import MarksBothWays from "./MarksBothWays.svelte";
  import SeriesTables from "./SeriesTables.svelte";

  const TABS = [
    ["any", "Any two of V, I, R, P"],
    ["series", "Standard values"],
    ["marks", "Bands and codes"],
  ] as const;
  let tab = $state<(typeof TABS)[number][0]>("any");

  onMount(() => (status.kept = ""));
</script>

<svelte:head><title>Reference – Lowfold</title></svelte:head>

<section class="mx-auto flex h-full max-w-5xl flex-col px-8 pt-6">
  <h1 class="font-serif text-figure font-semibold">Reference</h1>
  <Tabs tabs={TABS} bind:value={tab} label="What to look up">
    {#if tab === "any"}<AnyTwo />
    {:else if tab === "series"}<SeriesTables />
    {:else}<MarksBothWays />{/if}
  </Tabs>
</section>
