<script lang="ts">
  import Why from "../designs/Why.svelte";
  import Sentence from "../sheet/Sentence.svelte";
  import { NETWORK_SENTENCE } from "../sheet/sentences";
  import type { FoldState } from "./fold.svelte";

  type Props = { fold: FoldState };
  let { fold }: Props = $props();
  let focused = $state<string | null>(null);

  const tokens = $derived(fold.answer?.tokens ?? {});
  const wrong = $derived(Object.keys(tokens).find((name) => tokens[name]?.ok === false));
  const spoken = $derived(wrong ?? focused ?? "network");
  const empty = $derived(fold.text("network").trim() === "");
  const bad = $derived(!empty && tokens.network?.ok === false ? tokens.network : undefined);
  const EXAMPLE = "R1=36k + @A + (R2=18k || (R3=8k2 + R4=10k))";
  /** The text up to the first character that does not fit, it, and the rest. */
  const marked = $derived.by(() => {
    const at = bad?.position;
    if (bad === undefined || at === null || at === undefined) return null;
    return [bad.text.slice(0, at), bad.text.slice(at, at + 1) || "⎵", bad.text.slice(at + 1)];
  });
</script>

<section
  class="kept-high flex min-h-0 flex-col overflow-y-auto px-5 py-4"
  aria-labelledby="network-title"
>
  <label id="network-title" class="label-small" for="network">The network</label>
  <textarea
    id="network"
    rows="4"
    maxlength="20000"
    spellcheck="false"
    class="mt-1.5 -ml-1 resize-y rounded-field border px-1.5 py-1 font-sans text-body leading-6 {bad
      ? 'border-fail border-dashed'
      : 'border-crease focus:border-copper'}"
    aria-invalid={bad !== undefined}
    aria-describedby="token-words"
    placeholder={EXAMPLE}
    value={fold.text("network")}
    onfocus={() => (focused = "network")}
    oninput={(event) => fold.type("network", event.currentTarget.value)}></textarea>
  <div class="mt-1.5"></div>
  <Sentence sentence={NETWORK_SENTENCE} {tokens} of={fold} bind:focused>
    <div
      class="mt-1 min-h-[3.6rem] text-note leading-snug break-words"
      id="token-words"
      aria-live="polite"
    >
      {#if marked}
        <p class="font-sans">
          {marked[0]}<mark class="bg-fail text-paper px-0.5">{marked[1]}</mark>{marked[2]}
        </p>
      {/if}
      {#if empty}
        <p class="text-soft">
          Write it as it is drawn, or
          <button
            type="button"
            class="text-copper cursor-pointer underline underline-offset-4"
            onclick={() => fold.type("network", EXAMPLE)}>take an example</button
          >:
          <code>{EXAMPLE}</code>
        </p>
      {:else if spoken && tokens[spoken]?.ok === false}
        <p class="text-fail">
          ✕ <strong>{tokens[spoken]?.label}:</strong>
          {tokens[spoken]?.message}
        </p>
      {:else if spoken && tokens[spoken]}
        <p class="text-soft line-clamp-3">
          {tokens[spoken]?.label}: <strong class="text-ink">{tokens[spoken]?.shown}</strong>
        </p>
      {/if}
    </div>
  </Sentence>
  {#if (fold.understood?.switches.length ?? 0) > 0}
    <h2 class="label-small mt-2">Switches</h2>
    <div class="mt-1.5 flex flex-wrap gap-2">
      {#each fold.understood?.switches ?? [] as s (s.ref)}
        <button
          type="button"
          aria-pressed={s.closed}
          class="cursor-pointer rounded-full border px-3 py-0.5 {s.closed
            ? 'border-copper text-copper bg-wash font-semibold'
            : 'border-crease bg-leaf hover:border-copper'}"
          onclick={() => fold.throwSwitch(s.ref)}>{s.ref} {s.closed ? "closed" : "open"}</button
        >
      {/each}
    </div>
  {/if}
  <details class="text-soft mt-4 text-note leading-6">
    <summary class="cursor-pointer">How to write a network</summary>
    <p>
      <code>+</code> in series, <code>||</code> in parallel, brackets; <code>R1=4k7</code> names a
      part, <code>@OUT</code> a junction, <code>S1</code> a switch. What does not fold is written
      one part a line: <code>R1 in a 4k7</code>, with <code>in</code> and <code>0</code> the supply's
      ends.
    </p>
  </details>
  <Why design={fold} label="What it is" />
  <p class="off-paper text-soft mt-auto pt-3 text-note leading-7">
    <kbd class="kbd kbd-xs">→</kbd> fold · <kbd class="kbd kbd-xs">←</kbd> unfold · click two parts: why
  </p>
</section>
