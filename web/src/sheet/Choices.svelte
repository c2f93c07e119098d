<script lang="ts">
  import FigureText from "../shell/FigureText.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import ScaleBar from "./ScaleBar.svelte";
  import Schematic from "./Schematic.svelte";
  import type { SheetState } from "./sheet.svelte";

  type Props = { sheet: SheetState; list?: HTMLElement | undefined };
  let { sheet, list = $bindable() }: Props = $props();

  const answer = $derived(sheet.understood);
  const divider = $derived(sheet.kind === "divider");
  const columns = $derived(
    divider
      ? "grid-cols-[34px_76px_74px_72px_minmax(0,1fr)_74px_74px_22px]"
      : "grid-cols-[40px_minmax(0,196px)_88px_72px_minmax(0,1fr)_74px_22px]",
  );
  const rowId = (index: number) => `choice-${index}`;
  const here = $derived(sheet.shown ? sheet.rows.indexOf(sheet.shown) : -1);

  $effect(() => {
    list?.querySelector(`#${rowId(here)}`)?.scrollIntoView({ block: "nearest" });
  });
</script>

<section class="flex min-h-0 flex-col px-5 pt-4" aria-labelledby="choices-title">
  <div class="flex items-baseline gap-2">
    <h2 id="choices-title" class="label-small">Choices</h2>
    {#if answer}
      <span class="text-soft text-[13px]">
        best of {answer.searched.toLocaleString("en").replaceAll(",", "\u202f")}
        {divider ? "pairs" : "combinations"}, exact{sheet.stale
          ? "; for the need as last understood"
          : ""}
      </span>
      <span class="text-soft ml-auto truncate text-[13px]" title={answer.advice}
        >{answer.advice}</span
      >
    {/if}
  </div>

  {#if answer?.scale && sheet.rows.length > 0}
    <div
      class="border-crease text-soft grid {columns} items-end gap-x-2 border-b pt-2 pb-1.5 text-[13px]"
      aria-hidden="true"
    >
      <span></span>
      <span class={divider ? "text-right" : ""}>{divider ? "upper / lower" : "parts"}</span>
      <span class="text-right">{divider ? "output" : "resistance"}</span>
      <span class="text-right">off by</span>
      <span class="flex justify-between px-3"
        ><span>{answer.scale.low_shown}</span><span>{answer.scale.high_shown}</span></span
      >
      <span class="text-right">draws</span>
      {#if divider}<span class="text-right">source</span>{/if}
      <span></span>
    </div>
    <div
      bind:this={list}
      role="listbox"
      tabindex="0"
      aria-label="Choices"
      aria-activedescendant={here >= 0 ? rowId(here) : undefined}
      class="min-h-0 flex-1 overflow-y-auto focus-visible:outline-offset-[-2px] {sheet.stale
        ? 'saturate-0'
        : ''}"
    >
      {#each sheet.rows as row, index (row.notation)}
        <!-- svelte-ignore a11y_click_events_have_key_events -->
        <div
          id={rowId(index)}
          role="option"
          tabindex="-1"
          aria-selected={row === sheet.shown}
          class="border-crease grid h-[42px] {columns} cursor-pointer items-center gap-x-2 border-b text-right {row ===
          sheet.shown
            ? 'bg-wash shadow-[inset_3px_0_0_var(--color-copper)]'
            : 'hover:bg-leaf'}"
          onclick={() => (sheet.cursor = row.notation)}
          ondblclick={() => sheet.pin()}
        >
          <span class="text-soft flex justify-center"
            ><Schematic drawing={row.small} height={34} /></span
          >
          <span class="leading-[17px] {divider ? '' : 'text-left font-semibold'}">
            {#each row.lines as line, i (i)}<span class="block truncate">{line}</span>{/each}
          </span>
          <span class="font-semibold"><FigureText figure={row.output} /></span>
          <span><FigureText figure={row.off} /></span>
          <ScaleBar scale={answer.scale} {row} />
          <span><FigureText figure={row.draws} /></span>
          {#if divider}<span><FigureText figure={row.source} /></span>{/if}
          <span class="flex flex-col items-center leading-none">
            <VerdictMark verdict={row.verdict} bare />
            {#if row.pinned}<span class="text-copper mt-0.5 text-[10px] font-semibold">pin</span
              >{/if}
          </span>
        </div>
      {/each}
    </div>
  {:else if answer}
    <p class="text-soft border-crease mt-6 border-l-2 py-1 pl-3">{answer.reason}</p>
  {:else}
    <p class="text-soft mt-6" role="status">
      {sheet.answer ? "Choices appear once every figure of the need is understood." : "Searching…"}
    </p>
  {/if}
</section>
