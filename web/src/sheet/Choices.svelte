<script lang="ts">
  import FigureText from "../shell/FigureText.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import { FILTER_WORDS, ORDER_WORDS, type Filter, type Order } from "./ordering";
  import { PREFERENCE_WORDS } from "./sentences";
  import ScaleBar from "./ScaleBar.svelte";
  import Schematic from "./Schematic.svelte";
  import type { SheetState } from "./sheet.svelte";
  import Trade from "./Trade.svelte";

  type Props = { sheet: SheetState; list?: HTMLElement | undefined };
  let { sheet, list = $bindable() }: Props = $props();

  const answer = $derived(sheet.understood);
  /** Read in lines of one value each, with what the tap is seen as. */
  const legs = $derived(sheet.kind === "divider" || sheet.kind === "feedback");
  const columns = $derived(
    legs ? "cells legs" : sheet.kind === "ladder" ? "cells taps" : "cells parts",
  );
  const heads = $derived({
    lines: {
      resistance: "parts",
      divider: "upper / lower",
      feedback: "upper / lower",
      ladder: "top to bottom",
    }[sheet.kind],
    output: {
      resistance: "resistance",
      divider: "output",
      feedback: "output",
      ladder: "worst tap",
    }[sheet.kind],
  });
  const orders = Object.keys(ORDER_WORDS) as Order[];
  const filters = Object.keys(FILTER_WORDS) as Filter[];
  const rowId = (index: number) => `choice-${index}`;
  const here = $derived(sheet.shown ? sheet.rows.indexOf(sheet.shown) : -1);

  $effect(() => {
    // Within the list alone: where the whole sheet is scrolled, that stands still
    const row = list?.querySelector<HTMLElement>(`#${rowId(here)}`);
    const frame = list?.parentElement;
    if (!row || !frame) return;
    const [at, seen] = [row.getBoundingClientRect(), frame.getBoundingClientRect()];
    if (at.top < seen.top) frame.scrollTop -= seen.top - at.top;
    else if (at.bottom > seen.bottom) frame.scrollTop += at.bottom - seen.bottom;
  });
</script>

<section
  class="choices flex min-h-0 flex-col px-5 pt-4 max-sm:px-3"
  aria-labelledby="choices-title"
  aria-busy={sheet.asking}
>
  <div class="flex flex-wrap items-baseline gap-x-2">
    <h2 id="choices-title" class="label-small">Choices</h2>
    {#if answer}
      <span class="text-soft text-note">
        {PREFERENCE_WORDS[answer.prefer]} of {answer.searched
          .toLocaleString("en")
          .replaceAll(",", "\u202f")}
        {answer.what}{answer.exact ? ", exact" : ""}; of the best {answer.looked_at} what passes first{sheet.stale
          ? "; for the need as last understood"
          : ""}
      </span>
      <span class="text-soft ml-auto min-w-0 truncate text-note" title={answer.advice}
        >{answer.advice}</span
      >
    {/if}
  </div>
  {#if answer && !sheet.trading}
    <p class="mt-1 line-clamp-2 min-h-[2.5em] text-note leading-snug" data-careful>
      {#if answer.careful}
        <button
          type="button"
          class="hover:text-copper cursor-pointer text-left"
          title={answer.careful.words}
          aria-keyshortcuts="c"
          onclick={() => sheet.lookAtCareful()}
          ><span class="text-copper" aria-hidden="true">◆</span>
          <span class="label-small">A careful designer takes</span>
          {answer.careful.words}</button
        >
      {:else if sheet.rescue?.cheapest}
        {@const way = sheet.rescue.cheapest}
        <button
          type="button"
          class="hover:text-copper cursor-pointer text-left"
          title="{way.words}: {way.brings}"
          aria-keyshortcuts="c"
          onclick={() => sheet.lookAtCareful()}
          ><span class="text-copper" aria-hidden="true">◇</span>
          <span class="label-small">None of these passes; the cheapest change</span>
          {way.words}: {way.brings}.</button
        >
      {:else if sheet.rescue}
        <span class="text-soft" title={sheet.rescue.denied || sheet.rescue.limit}
          >None of these passes. {sheet.rescue.denied ||
            sheet.rescue.limit ||
            sheet.rescue.looked}</span
        >
      {:else if sheet.advising.trouble}
        <span class="text-soft" role="status"
          >None of these passes; what would was not found out: {sheet.advising.trouble}</span
        >
      {:else if sheet.rows.length > 0}
        <span class="text-soft" role="status"
          >None of these passes; what would is being looked for…
          {#if sheet.advising.work.running}({sheet.advising.work.job?.words})
            <button type="button" class="link" onclick={() => sheet.advising.work.cancel()}
              >Cancel</button
            >{/if}</span
        >
      {/if}
    </p>
  {/if}
  {#if answer && sheet.understood?.scale}
    <div class="off-paper text-soft mt-1 flex flex-wrap items-center gap-1 text-note">
      <label class="sr-only" for="order">Order</label>
      <select id="order" class="quiet" bind:value={sheet.order}>
        {#each orders as order (order)}<option value={order}>{ORDER_WORDS[order]}</option>{/each}
      </select>
      <label class="sr-only" for="filter">Show</label>
      <select id="filter" class="quiet" bind:value={sheet.filter}>
        {#each filters as filter (filter)}<option value={filter}>{FILTER_WORDS[filter]}</option
          >{/each}
      </select>
      {#if sheet.shown && !sheet.trading}
        <button
          type="button"
          class="btn btn-xs ml-1"
          disabled={sheet.stale}
          aria-keyshortcuts="Enter"
          onclick={() => sheet.pin()}
          >{sheet.shown.pinned ? "let go" : "pin"}
          <kbd class="kbd kbd-xs max-sm:hidden">Enter</kbd></button
        >
        <button
          type="button"
          class="btn btn-xs"
          aria-pressed={sheet.held !== null}
          aria-keyshortcuts="b"
          onclick={() => sheet.hold()}
          >{sheet.held === null ? "set beside" : "alone again"}
          <kbd class="kbd kbd-xs max-sm:hidden">b</kbd></button
        >
        {#if sheet.shown.decades.length > 0}
          <button
            type="button"
            class="btn btn-xs"
            aria-label="÷ 10: the same ratio a decade down (←)"
            disabled={!sheet.shown.before}
            onclick={() => sheet.decade(-1)}>÷ 10</button
          >
          <button
            type="button"
            class="btn btn-xs"
            aria-label="× 10: the same ratio a decade up (→)"
            disabled={!sheet.shown.after}
            onclick={() => sheet.decade(1)}>× 10</button
          >
        {/if}
      {/if}
      {#if answer.trades}
        <button
          type="button"
          class="hover:text-copper ml-auto cursor-pointer underline underline-offset-4"
          aria-pressed={sheet.trading}
          onclick={() => sheet.trade(!sheet.trading)}
          >{sheet.trading ? "back to the list" : "accuracy against current"}</button
        >
      {/if}
    </div>
  {/if}

  {#if sheet.trading && answer?.trades}
    <Trade {sheet} />
  {:else if answer?.scale && sheet.rows.length > 0}
    <div
      class="border-crease text-soft {columns} items-end border-b pt-2 pb-1.5 text-note"
      aria-hidden="true"
    >
      <span class="drawn"></span>
      <span class={legs ? "text-right" : ""}>{heads.lines}</span>
      <span class="text-right">{heads.output}</span>
      <span class="text-right">off by</span>
      <span class="scale flex justify-between px-3 whitespace-nowrap"
        ><span>{answer.scale.low_shown}</span><span>{answer.scale.high_shown}</span></span
      >
      <span class="draws text-right">draws</span>
      {#if legs}<span class="source text-right">R out</span>{/if}
      <span class="cost text-right">to buy</span>
      <span class="mark"></span>
    </div>
    <div class="min-h-0 flex-1 overflow-y-auto">
      <div
        bind:this={list}
        role="listbox"
        tabindex="0"
        aria-label="Choices"
        aria-activedescendant={here >= 0 ? rowId(here) : undefined}
        class="focus-visible:outline-offset-[-2px] {sheet.stale ? 'saturate-0' : ''}"
      >
        {#each sheet.rows as row, index (row.notation)}
          <!-- svelte-ignore a11y_click_events_have_key_events -->
          <div
            id={rowId(index)}
            role="option"
            tabindex="-1"
            aria-selected={row === sheet.shown}
            class="border-crease row {columns} cursor-pointer items-center border-b text-right {row ===
            sheet.shown
              ? 'bg-wash shadow-[inset_3px_0_0_var(--color-copper)]'
              : 'hover:bg-leaf'}"
            onclick={() => sheet.stand(row.notation)}
            ondblclick={() => sheet.pin()}
          >
            <span class="drawn text-soft flex justify-center"
              ><Schematic drawing={row.small} height={34} /></span
            >
            <span class="leading-[17px] {legs ? '' : 'text-left font-semibold'}">
              {#each row.lines as line, i (i)}<span class="block truncate" title={line}>{line}</span
                >{/each}
            </span>
            <span class="font-semibold"><FigureText figure={row.output} /></span>
            <span><FigureText figure={row.off} /></span>
            <span class="scale"><ScaleBar scale={answer.scale} {row} /></span>
            <span class="draws"><FigureText figure={row.draws} /></span>
            {#if legs}<span class="source"><FigureText figure={row.source} /></span>{/if}
            <span class="cost text-soft text-note leading-[16px]" data-cost>
              <span class="block">{row.series || "no series"}</span>
              <span class="block whitespace-nowrap">
                {row.distinct}
                {row.distinct === 1 ? "value" : "values"}{#if row.decades.length > 0}<span
                    class="text-copper ml-1"
                    title="the same ratio in {row.decades.length} other decades: ← →">⇄</span
                  >{/if}
              </span>
            </span>
            <span class="mark flex flex-col items-center leading-none">
              <span class="flex max-w-9 flex-wrap items-center justify-center gap-x-1 gap-y-0.5">
                {#if row.notation === sheet.held}<span
                    class="text-copper text-note"
                    role="img"
                    aria-label="held">◧</span
                  >{/if}
                {#if row.notation === answer.careful?.notation}<span
                    class="text-copper text-note"
                    title="what a careful designer takes">◆</span
                  >{/if}
                <VerdictMark verdict={row.verdict} bare />
              </span>
              {#if row.pinned}<span class="text-copper mt-0.5 text-note font-semibold">pin</span
                >{:else if !row.listed}<span class="text-soft mt-0.5 text-note">seen</span>{/if}
            </span>
          </div>
        {/each}
      </div>
      {#if answer.more}
        <button
          type="button"
          class="off-paper text-soft hover:text-copper w-full cursor-pointer py-2 text-note"
          onclick={() => sheet.listMore()}>list more</button
        >
      {/if}
    </div>
  {:else if answer}
    <p class="text-soft border-crease mt-6 border-l-2 py-1 pl-3">
      {answer.reason ?? "None of the listed choices is left by what is shown: show all."}
    </p>
  {:else}
    <p class="text-soft mt-6" role="status">
      {sheet.answer ? "Choices appear once every figure of the need is understood." : "Searching…"}
    </p>
  {/if}
</section>

<style>
  .choices {
    container-type: inline-size;
  }
  .cells {
    display: grid;
    column-gap: 0.5rem;
  }
  .legs {
    grid-template-columns: 34px 84px 70px 70px minmax(0, 1fr) 62px 66px 58px 38px;
  }
  .taps {
    grid-template-columns: 34px minmax(0, 130px) 72px 72px minmax(0, 1fr) 64px 62px 40px;
  }
  .parts {
    grid-template-columns: 40px minmax(0, 1fr) 80px 66px minmax(124px, 1.3fr) 56px 58px 36px;
  }
  .row {
    height: 42px;
  }
  /* What the gates and the network say too gives way first. */
  @container (max-width: 600px) {
    .cells :is(.source, .cost) {
      display: none;
    }
    .legs {
      grid-template-columns: 34px 84px 70px 70px minmax(0, 1fr) 62px 38px;
    }
    .taps {
      grid-template-columns: 34px minmax(0, 130px) 72px 72px minmax(0, 1fr) 64px 40px;
    }
    .parts {
      grid-template-columns: 40px minmax(0, 1fr) 80px 66px minmax(124px, 1.3fr) 56px 36px;
    }
  }
  /* On a telephone the scale stands below the figures. */
  @container (max-width: 460px) {
    .cells.cells {
      grid-template-columns: minmax(0, 1fr) 84px 72px 38px;
    }
    .cells :is(.drawn, .draws) {
      display: none;
    }
    .cells .scale {
      order: 1;
      grid-column: 1 / -1;
    }
    .row {
      height: 74px;
    }
  }
  .quiet {
    cursor: pointer;
    border-radius: 3px;
    background: transparent;
    padding: 1px 2px;
    margin-left: -2px;
  }
  .quiet:hover {
    color: var(--color-copper);
  }
  .quiet :global(option) {
    background: var(--color-base-200);
    color: var(--color-base-content);
  }
</style>
