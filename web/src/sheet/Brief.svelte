<script lang="ts">
  import Why from "../designs/Why.svelte";
  import Sentence from "./Sentence.svelte";
  import { PREFERENCE_WORDS, SENTENCES } from "./sentences";
  import type { SheetState } from "./sheet.svelte";

  type Props = { sheet: SheetState };
  let { sheet }: Props = $props();
  let focused = $state<string | null>(null);
  /** In a narrow window the need is its sentence, until more of it is asked for. */
  let whole = $state(false);

  const tokens = $derived(sheet.answer?.tokens ?? {});
  const wrong = $derived(Object.keys(tokens).filter((name) => tokens[name]?.ok === false));
  const spoken = $derived(
    focused && tokens[focused]?.ok === false ? focused : (wrong[0] ?? focused),
  );
</script>

<section
  class="need kept-high flex min-h-0 flex-col overflow-y-auto px-5 py-4 {whole ? 'whole' : ''}"
  aria-labelledby="need-title"
>
  <h2 id="need-title" class="label-small flex items-baseline gap-3">
    The need
    <button
      type="button"
      class="unfold text-soft hover:text-copper ml-auto cursor-pointer text-note font-normal tracking-normal underline underline-offset-4"
      aria-expanded={whole}
      onclick={() => (whole = !whole)}>{whole ? "its sentence alone" : "more of it"}</button
    >
  </h2>
  <Sentence sentence={SENTENCES[sheet.kind]} {tokens} of={sheet} bind:focused>
    <div class="mt-1 min-h-[3.4rem] text-note leading-snug" id="token-words" aria-live="polite">
      {#if spoken && tokens[spoken]?.ok === false}
        <p class="text-fail">
          <span aria-hidden="true">✕</span> <strong>{tokens[spoken]?.label}:</strong>
          {tokens[spoken]?.message}
        </p>
      {:else if spoken && tokens[spoken]}
        <p class="text-soft">
          {tokens[spoken]?.label}: understood as
          <strong class="text-ink">{tokens[spoken]?.shown}</strong>
        </p>
      {:else if sheet.understood?.scale}
        <p class="text-soft">
          allowed {sheet.understood.scale.window_shown}{#if sheet.answer?.granted}<span
              class="block"
              data-granted>{sheet.answer.granted}</span
            >{/if}
        </p>
      {/if}
      {#if sheet.answer?.problem}
        <p class="text-fail">✕ {sheet.answer.problem}</p>
      {/if}
    </div>
  </Sentence>

  {#if (sheet.answer?.preferences.length ?? 0) > 1}
    <h2 class="rest label-small mt-3" id="prefer-title">Choose for</h2>
    <div class="rest mt-1.5 flex flex-wrap gap-2" role="radiogroup" aria-labelledby="prefer-title">
      {#each sheet.answer?.preferences ?? [] as option (option)}
        {@const on = (sheet.answer?.prefer ?? sheet.prefer) === option}
        <input
          type="radio"
          name="prefer"
          class="btn btn-sm text-body checked:border-copper checked:bg-wash checked:text-copper border-crease bg-leaf rounded-full px-3 font-normal checked:font-semibold"
          aria-label={PREFERENCE_WORDS[option] ?? option}
          checked={on}
          onchange={() => sheet.choose(option)}
        />
      {/each}
    </div>
  {/if}

  <div class="rest contents"><Why design={sheet} label="Why this one" /></div>

  <p class="rest off-paper text-soft mt-auto pt-1 text-note leading-6">
    <kbd class="kbd kbd-xs">Tab</kbd> figure · <kbd class="kbd kbd-xs">↑</kbd>
    <kbd class="kbd kbd-xs">↓</kbd> choices · <kbd class="kbd kbd-xs">Enter</kbd> pin
  </p>
</section>

<style>
  .unfold {
    display: none;
  }
  @media (max-width: 1200px) {
    .unfold {
      display: inline;
    }
    .need {
      padding-block: 10px;
    }
    .need:not(.whole) :global(.rest) {
      display: none;
    }
    .need :global(#token-words) {
      min-height: 1.3rem;
    }
  }
</style>
