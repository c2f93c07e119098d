<script lang="ts">
  /** The one line itself: what is typed, what was understood of it, and what would be chosen. */
  import { push } from "svelte-spa-router";

  import FigureText from "../shell/FigureText.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import Schematic from "../sheet/Schematic.svelte";
  import { KIND_WORDS } from "../designs/kinds";
  import { pressed } from "../kit/keys";
  import type { NeedState } from "./need.svelte";

  type Props = { need: NeedState; onmade?: () => void };
  let { need, onmade }: Props = $props();
  let line: HTMLTextAreaElement;
  const MOST = 24_000;
  const MOST_ROWS = 6;
  const rows = $derived(Math.min(MOST_ROWS, need.text.split("\n").length));
  /** Tab took words and nothing was typed since: the next one leaves the line, as anywhere. */
  let taken = false;
  /** Nothing is opened that is half understood. */
  const opens = $derived(need.read?.unread.length ? "To what is marked" : "Open its sheet");

  export function focus(): void {
    line.focus();
  }

  function onkeydown(event: KeyboardEvent) {
    const meaning = event.altKey ? Number(/^Digit([1-9])$/.exec(event.code)?.[1] ?? 0) : 0;
    const atEnd = line.selectionStart === need.text.length;
    if (event.key === "Enter" && !event.shiftKey) void make();
    else if (meaning > 0 && need.mean(meaning - 1)) line.focus();
    else if (pressed(event, "next") && !taken && atEnd && need.takeNext()) taken = true;
    else return;
    event.preventDefault();
  }

  async function make() {
    const id = await need.make();
    const open = need.open;
    if (!id) {
      // Nothing is opened that is half understood: there it is
      if (open) {
        line.focus();
        line.setSelectionRange(...open);
      }
      return;
    }
    onmade?.();
    // The keys are the sheet's: Enter pins what is under its cursor
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    // A board that was read is gone on with at the bench
    await push(need.read?.readings.length ? `/designs/${id}/bench` : `/designs/${id}`);
  }
</script>

<form
  onsubmit={(event) => {
    event.preventDefault();
    void make();
  }}
>
  <label id="need-title" for="need-line" class="label-small">The need, in one line</label>
  <textarea
    id="need-line"
    bind:this={line}
    class="border-copper placeholder:text-soft mt-1 block w-full resize-none overflow-x-hidden border-b-2 px-1 text-figure leading-10"
    {rows}
    placeholder="14.4 V to 3 V within 4 % into 1 MΩ"
    maxlength={MOST}
    autocomplete="off"
    autocapitalize="off"
    spellcheck="false"
    aria-describedby="need-read"
    value={need.text}
    {onkeydown}
    oninput={(event) => {
      taken = false;
      void need.type(event.currentTarget.value);
    }}></textarea>
  <p
    id="need-read"
    class="mt-2 min-h-6 leading-relaxed whitespace-pre-line"
    aria-live="polite"
    data-pieces
  >
    {#each need.pieces as piece, i (i)}{#if piece.message}<mark
          class="border-fail text-fail border-b-2 border-dashed bg-transparent">{piece.text}</mark
        >{:else if piece.token}<span class="border-copper text-copper border-b font-semibold"
          >{piece.text}</span
        >{:else}<span class="text-soft">{piece.text}</span>{/if}{/each}
  </p>
  <p class="text-soft flex min-h-6 flex-wrap gap-x-3 text-note" data-next>
    {#each need.next as one, i (one.text)}
      <button
        type="button"
        class="hover:text-copper cursor-pointer whitespace-nowrap"
        tabindex="-1"
        onclick={() => {
          need.takeNext(i);
          line.focus();
        }}
        >{#if i === 0}<kbd class="kbd kbd-xs mr-1">Tab</kbd>{/if}{one.text.replace(
          /^[\s,]+/,
          "",
        )}</button
      >
    {/each}
  </p>
  <ul class="min-h-10 text-note">
    {#each need.read?.unread ?? [] as one (one.from)}
      <li>
        <span class="text-fail">✕ <strong>{one.text}</strong>: {one.message}</span>
        {#each one.instead as said, i (said)}
          <button
            type="button"
            class="btn btn-xs ml-1"
            disabled={one !== need.asked}
            onclick={() => {
              need.mean(i);
              line.focus();
            }}
            >{said}{#if one === need.asked}
              <kbd class="kbd kbd-xs">Alt {i + 1}</kbd>{/if}</button
          >
        {/each}
      </li>
    {/each}
    {#if need.trouble}<li class="text-fail" role="alert">✕ {need.trouble}</li>{/if}
  </ul>
  <div class="border-crease min-h-34 border-t pt-2" data-meant>
    {#if need.read?.kind}
      <p class="text-read">
        <strong>{KIND_WORDS[need.read.kind]}</strong
        >{#each need.read.kind === "board" ? [] : need.said as one (one.name)}<span
            class="text-soft">, {one.label}</span
          >
          <span class={one.wrong ? "text-fail" : "font-semibold"}
            >{one.wrong ? `✕ ${one.wrong}` : one.shown}</span
          >{/each}
      </p>
      {#if need.first}
        <div
          class="mt-2 flex items-center gap-4 {need.stale ? 'opacity-50' : ''}"
          aria-busy={need.stale}
          data-first
        >
          <Schematic drawing={need.first.small} height={40} />
          <span class="leading-[17px] font-semibold">
            {#each need.first.lines as text, i (i)}<span class="block">{text}</span>{/each}
          </span>
          <span><FigureText figure={need.first.output} /></span>
          <span class="text-soft">off by <FigureText figure={need.first.off} /></span>
          <VerdictMark verdict={need.first.verdict} />
          <button class="btn btn-primary btn-sm ml-auto" disabled={need.making}
            >{opens} <kbd class="kbd kbd-xs text-base-content">Enter</kbd></button
          >
        </div>
        <p
          class="mt-1 line-clamp-3 min-h-[2.5em] text-note leading-snug {need.stale
            ? 'opacity-50'
            : ''}"
          data-careful
        >
          {#if need.sheet?.careful}
            <span class="text-copper" aria-hidden="true">◆</span>
            <span class="label-small">A careful designer takes</span>
            <kbd class="kbd kbd-xs" title="on its sheet">c</kbd>
            {need.sheet.careful.words}
          {:else if need.rescue?.cheapest}
            <span class="text-copper" aria-hidden="true">◇</span>
            <span class="label-small">None passes; the cheapest change</span>
            <kbd class="kbd kbd-xs" title="on its sheet">c</kbd>
            {need.rescue.cheapest.words}: {need.rescue.cheapest.brings}.
          {:else if need.rescue}
            <span class="text-soft"
              >None passes. {need.rescue.denied || need.rescue.limit || need.rescue.looked}</span
            >
          {:else if need.advising.trouble}
            <span class="text-soft"
              >None passes; what would was not found out: {need.advising.trouble}</span
            >
          {/if}
        </p>
      {:else if need.read.kind === "board"}
        <p class="mt-2 flex items-center gap-4" data-board>
          <span>{need.read.tokens.needs?.split("\n").length} needs, one a line</span>
          <button class="btn btn-primary btn-sm ml-auto" disabled={need.making}
            >{opens} <kbd class="kbd kbd-xs text-base-content">Enter</kbd></button
          >
        </p>
      {:else if need.network}
        <p
          class="mt-2 flex items-center gap-4 {need.stale ? 'opacity-50' : ''}"
          aria-busy={need.stale}
          data-folds
        >
          {#if need.network.folded?.total}
            <span>folds to <strong><FigureText figure={need.network.folded.total} /></strong></span>
          {:else}<span class="text-soft">Its sheet says what is missing.</span>{/if}
          <button class="btn btn-primary btn-sm ml-auto" disabled={need.making}
            >{opens} <kbd class="kbd kbd-xs text-base-content">Enter</kbd></button
          >
        </p>
      {:else if need.sheet}
        <p class="text-soft mt-2">
          {need.sheet.reason ?? need.sheet.problem ?? "Its sheet says what is missing."}
          <button class="btn btn-sm ml-2" disabled={need.making}>{opens}</button>
        </p>
      {/if}
    {:else}
      <p class="text-soft">
        Such as 4k53 1 %, 250 Ω from the drawer, 0.8 V reference to 3.3 V, 5 V to 3.2 V and 1.4 V,
        11 to 14.4 V to 2.9 to 3.1 V, a third of 14.4 V, or a network: 120 + (220 || 330) on 14.4 V.
      </p>
    {/if}
  </div>
</form>
