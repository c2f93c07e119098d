<script lang="ts">
  /** The one line itself: what is typed, what was understood of it, and what would be chosen. */
  import { push } from "svelte-spa-router";

  import FigureText from "../shell/FigureText.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import Schematic from "../sheet/Schematic.svelte";
  import { KIND_WORDS } from "../sheet/sentences";
  import type { BreathState } from "./breath.svelte";

  type Props = { breath: BreathState; onmade?: () => void };
  let { breath, onmade }: Props = $props();
  let line: HTMLInputElement;
  const MOST = 400;

  export function focus(): void {
    line.focus();
  }

  async function make() {
    const id = await breath.make();
    if (!id) return;
    onmade?.();
    // The keys are the sheet's: Enter pins what is under its cursor
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    await push(`/designs/${id}`);
  }
</script>

<form
  onsubmit={(event) => {
    event.preventDefault();
    void make();
  }}
>
  <label id="breath-title" for="breath-line" class="label-small">The need, in one line</label>
  <input
    id="breath-line"
    bind:this={line}
    class="border-copper placeholder:text-soft mt-1 w-full border-b-2 px-1 text-figure leading-10"
    placeholder="14.4 V to 3 V within 4 % into 1 MΩ"
    maxlength={MOST}
    autocomplete="off"
    autocapitalize="off"
    spellcheck="false"
    aria-describedby="breath-read"
    value={breath.text}
    oninput={(event) => breath.type(event.currentTarget.value)}
  />
  <p id="breath-read" class="mt-2 min-h-6 leading-relaxed" aria-live="polite" data-pieces>
    {#each breath.pieces as piece, i (i)}{#if piece.message}<mark
          class="border-fail text-fail border-b-2 border-dashed bg-transparent">{piece.text}</mark
        >{:else if piece.token}<span class="border-copper text-copper border-b font-semibold"
          >{piece.text}</span
        >{:else}<span class="text-soft">{piece.text}</span>{/if}{/each}
  </p>
  <ul class="min-h-10 text-note">
    {#each breath.read?.unread ?? [] as one (one.from)}
      <li class="text-fail">✕ <strong>{one.text}</strong>: {one.message}</li>
    {/each}
    {#if breath.trouble}<li class="text-fail" role="alert">✕ {breath.trouble}</li>{/if}
  </ul>
  <div class="border-crease min-h-34 border-t pt-2" data-meant>
    {#if breath.read?.kind}
      <p class="text-read">
        <strong>{KIND_WORDS[breath.read.kind]}</strong>{#each breath.said as one (one.name)}<span
            class="text-soft">, {one.label}</span
          >
          <span class={one.wrong ? "text-fail" : "font-semibold"}
            >{one.wrong ? `✕ ${one.wrong}` : one.shown}</span
          >{/each}
      </p>
      {#if breath.first}
        <div class="mt-2 flex items-center gap-4" data-first>
          <Schematic drawing={breath.first.small} height={40} />
          <span class="leading-[17px] font-semibold">
            {#each breath.first.lines as text, i (i)}<span class="block">{text}</span>{/each}
          </span>
          <span><FigureText figure={breath.first.output} /></span>
          <span class="text-soft">off by <FigureText figure={breath.first.off} /></span>
          <VerdictMark verdict={breath.first.verdict} />
          <button class="btn btn-primary btn-sm ml-auto" disabled={breath.making}
            >Open its sheet <kbd class="kbd kbd-xs text-base-content">Enter</kbd></button
          >
        </div>
        <p class="mt-1 line-clamp-3 min-h-[2.5em] text-note leading-snug" data-careful>
          {#if breath.sheet?.careful}
            <span class="text-copper" aria-hidden="true">◆</span>
            <span class="label-small">A careful designer takes</span>
            <kbd class="kbd kbd-xs" title="on its sheet">c</kbd>
            {breath.sheet.careful.words}
          {:else if breath.rescue?.cheapest}
            <span class="text-copper" aria-hidden="true">◇</span>
            <span class="label-small">None passes; the cheapest change</span>
            <kbd class="kbd kbd-xs" title="on its sheet">c</kbd>
            {breath.rescue.cheapest.words}: {breath.rescue.cheapest.brings}.
          {:else if breath.rescue}
            <span class="text-soft"
              >None passes. {breath.rescue.denied ||
                breath.rescue.limit ||
                breath.rescue.looked}</span
            >
          {:else if breath.advising.trouble}
            <span class="text-soft"
              >None passes; what would was not found out: {breath.advising.trouble}</span
            >
          {/if}
        </p>
      {:else if breath.sheet}
        <p class="text-soft mt-2">
          {breath.sheet.reason ?? breath.sheet.problem ?? "Its sheet says what is missing."}
          <button class="btn btn-sm ml-2" disabled={breath.making}>Open its sheet</button>
        </p>
      {/if}
    {:else}
      <p class="text-soft">
        Such as 4k53 1 %, 250 Ω from the drawer, 0.8 V reference to 3.3 V, 5 V to 3.2 V and 1.4 V.
      </p>
    {/if}
  </div>
</form>
