<script lang="ts">
  import { onMount } from "svelte";

  import type { Design } from "$api";
  import Heading from "../designs/Heading.svelte";
  import Notice from "../shell/Notice.svelte";
  import { imagesOf, PhotographDrop } from "../record/photographs.svelte";
  import { status } from "../shell/status.svelte";
  import { BenchState } from "./bench.svelte";
  import BenchPlan from "./BenchPlan.svelte";
  import Bin from "../marks/Bin.svelte";
  import Face from "./Face.svelte";
  import FaultTableView from "./FaultTableView.svelte";
  import Readings from "./Readings.svelte";
  import Suspicions from "./Suspicions.svelte";
  import ToldMark from "./ToldMark.svelte";
  import { inDialog, pressed, step } from "../kit/keys";

  type Props = { design: Design };
  let { design }: Props = $props();
  // The page is keyed by the design: each has a state of its own, made once.
  const bench = new BenchState((() => design)());
  const round = $derived(bench.round);
  /** The point that something is dropped on, else the one under the cursor. */
  const drop = new PhotographDrop((files, at) => {
    const key = at?.closest<HTMLElement>("[data-point]")?.dataset.point;
    void bench.photograph(files, key ?? bench.at);
  });
  const VERDICTS = { pass: "as expected", marginal: "off", fail: "far out" } as const;

  onMount(() => {
    status.kept = "";
    void bench.open();
    return () => bench.close();
  });

  function onkeydown(event: KeyboardEvent) {
    if (event.defaultPrevented || inDialog()) return;
    const at = event.target as Element;
    if (at.matches("select, textarea")) return;
    const by = step(event, "walk");
    const other = step(event, "suspects");
    if (by) bench.walk(by);
    // No reading is written with a t, so that it takes one even while the line is being typed in.
    else if (pressed(event, "take")) void bench.take();
    else if (other && bench.suspects.diagnosis) bench.suspects.move(other);
    else if (pressed(event, "follow") && bench.suspects.diagnosis) void bench.follow();
    else return;
    event.preventDefault();
  }
</script>

<svelte:window
  {onkeydown}
  onpagehide={() => bench.typed && void bench.keep(false)}
  onpaste={(event) => {
    const files = imagesOf(event.clipboardData);
    if (files.length > 0 && !document.querySelector("[data-beside]")) void bench.photograph(files);
  }}
  ondragover={(event) => drop.over(event)}
  ondragleave={(event) => drop.left(event)}
  ondrop={(event) => drop.dropped(event)}
/>

<div class="flex h-full flex-col">
  <Heading {design} at="bench">
    <span data-build>
      {#if round}
        <ToldMark
          told={round.build.verdict ? VERDICTS[round.build.verdict] : null}
          word={round.build.words}
        />
      {/if}
    </span>
  </Heading>

  {#if bench.unbuilt}
    <div class="p-8">
      <p class="text-read">Nothing to build yet: {bench.unbuilt}.</p>
      <p class="mt-2">
        <a class="text-copper underline underline-offset-4" href="#/designs/{design.id}"
          >To the sheet</a
        >
      </p>
    </div>
  {:else if !round}
    <p class="text-soft p-8" role="status">
      {#if bench.trouble}<span class="text-fail">✕ {bench.trouble}</span>
      {:else}<span class="loading loading-dots loading-xs" aria-hidden="true"></span> Working out what
        the meter should say…{/if}
    </p>
  {:else}
    <div class="bench at-bench min-h-0 flex-1 overflow-y-auto">
      <div class="drawing border-crease"><BenchPlan {bench} {round} /></div>
      <div class="face border-crease"><Face {bench} {round} /></div>
      <div class="readings border-crease">
        {#if bench.lost}
          <Notice tone="wrong">
            <span class="text-fail">✕ {bench.lost}</span>
            {#if bench.unkept > 0}
              <button type="button" class="btn btn-xs" onclick={() => bench.keepAgain()}
                >Keep it now</button
              >
            {/if}
          </Notice>
        {:else if bench.trouble}
          <Notice tone="wrong"><span class="text-fail">✕ {bench.trouble}</span></Notice>
        {/if}
        <Readings {bench} {round} />
        {#if bench.mended && !bench.amiss}
          <Notice tone="done">{bench.mended}</Notice>
        {/if}
        {#if bench.amiss}<Suspicions {bench} />{/if}
        <FaultTableView {bench} />
        <Bin parts={round.parts} />
      </div>
    </div>
  {/if}
</div>

<style>
  /* Drawing, meter, table: side by side where there is room, else the table below. */
  .bench {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    grid-template-rows: minmax(344px, auto) auto;
    grid-template-areas: "drawing face" "readings readings";
  }
  .drawing {
    display: flex;
    align-items: center;
    justify-content: center;
    grid-area: drawing;
    border-right-width: 1px;
    min-height: 0;
  }
  .face {
    grid-area: face;
  }
  .readings {
    grid-area: readings;
    border-top-width: 1px;
    padding: 0.75rem 1.25rem;
  }
  /* A telephone beside the board: one below the other. */
  @media (max-width: 640px) {
    .bench {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto;
      grid-template-areas: "drawing" "face" "readings";
    }
    .drawing {
      height: 300px;
      border-right-width: 0;
    }
    .face {
      border-top-width: 1px;
    }
    .readings {
      padding-inline: 0.75rem;
    }
  }
  @media (min-width: 1100px) {
    .bench {
      grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
      grid-template-rows: minmax(0, 1fr) auto;
      grid-template-areas: "drawing readings" "face readings";
    }
    .readings {
      border-top-width: 0;
      overflow-y: auto;
    }
    .face {
      border-top-width: 1px;
      border-right-width: 1px;
    }
  }
  @media print {
    .bench {
      display: block;
    }
  }
</style>
