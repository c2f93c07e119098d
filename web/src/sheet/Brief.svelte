<script lang="ts">
  import { tick } from "svelte";

  import { PREFERENCE_WORDS, SENTENCES, type Clause, type Piece } from "./sentences";
  import type { SheetState } from "./sheet.svelte";
  import Token from "./Token.svelte";

  type Props = { sheet: SheetState };
  let { sheet }: Props = $props();
  let focused = $state<string | null>(null);
  let opened = $state<string[]>([]);

  const tokens = $derived(sheet.answer?.tokens ?? {});
  const named = (clause: Clause) =>
    clause.pieces.flatMap((piece) => ("token" in piece ? [piece.token] : []));
  const stated = (clause: Clause) =>
    opened.includes(clause.offer) ||
    named(clause).some((name) => tokens[name] !== undefined && !tokens[name].absent);
  const pieces = $derived(
    SENTENCES[sheet.kind].flatMap((piece): Piece[] =>
      "offer" in piece ? (stated(piece) ? piece.pieces : []) : [piece],
    ),
  );
  const offers = $derived(
    SENTENCES[sheet.kind].filter(
      (piece): piece is Clause => "offer" in piece && !stated(piece) && sheet.answer !== null,
    ),
  );
  const wrong = $derived(Object.keys(tokens).filter((name) => tokens[name]?.ok === false));
  const spoken = $derived(
    focused && tokens[focused]?.ok === false ? focused : (wrong[0] ?? focused),
  );

  const FAMILY_FIGURES = ["tolerance", "tcr", "drift"];
  const asFamily = $derived(FAMILY_FIGURES.every((name) => sheet.text(name) === "family"));

  async function open(clause: Clause) {
    opened = [...opened, clause.offer];
    await tick();
    document.querySelector<HTMLElement>(`[data-token="${named(clause)[0]}"]`)?.focus();
  }
</script>

<section class="flex min-h-0 flex-col overflow-y-auto px-5 py-4" aria-labelledby="need-title">
  <h2 id="need-title" class="label-small">The need</h2>
  <p class="mt-1.5 font-serif text-[16.5px] leading-[1.86rem]">
    {#each pieces as piece, i ("token" in piece ? piece.token : `words ${i}`)}{#if "words" in piece}<span
          >{piece.words}</span
        >{:else}<Token
          name={piece.token}
          label={tokens[piece.token]?.label ?? piece.token}
          text={sheet.text(piece.token)}
          reading={tokens[piece.token]}
          usual={piece.token === "rating" ? "families" : undefined}
          onfocus={() => (focused = piece.token)}
          onblur={() => (focused = null)}
          oninput={(text) => sheet.type(piece.token, text)}
        />{/if}{/each}
  </p>
  <div class="mt-1 min-h-[3.4rem] text-[13px] leading-snug" id="token-words" aria-live="polite">
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
      <p class="text-soft">allowed {sheet.understood.scale.window_shown}</p>
    {/if}
    {#if sheet.answer?.problem}
      <p class="text-fail">✕ {sheet.answer.problem}</p>
    {/if}
  </div>
  <datalist id="families">
    {#each sheet.families as name (name)}<option value={name}></option>{/each}
  </datalist>
  {#if offers.length > 0}
    <p class="text-soft -mt-1 text-[13px] leading-6">
      Say also:
      {#each offers as offer (offer.offer)}
        <button
          type="button"
          class="decoration-crease hover:text-copper hover:decoration-copper mr-2 cursor-pointer underline underline-offset-4"
          onclick={() => open(offer)}>{offer.offer}</button
        >
      {/each}
      {#if !asFamily}
        <button
          type="button"
          class="decoration-crease hover:text-copper hover:decoration-copper cursor-pointer underline underline-offset-4"
          title="Tolerance, temperature coefficient and drift as the family named here"
          onclick={() => FAMILY_FIGURES.forEach((name) => sheet.type(name, "family"))}
          >figures of the family</button
        >
      {/if}
    </p>
  {/if}

  {#if (sheet.answer?.preferences.length ?? 0) > 1}
    <h2 class="label-small mt-4" id="prefer-title">Choose for</h2>
    <div class="mt-1.5 flex flex-wrap gap-2" role="radiogroup" aria-labelledby="prefer-title">
      {#each sheet.answer?.preferences ?? [] as option (option)}
        {@const on = (sheet.answer?.prefer ?? sheet.prefer) === option}
        <button
          type="button"
          role="radio"
          aria-checked={on}
          class="cursor-pointer rounded-full border px-3 py-0.5 {on
            ? 'border-copper text-copper bg-wash font-semibold'
            : 'border-crease bg-leaf hover:border-copper'}"
          onclick={() => sheet.choose(option)}>{PREFERENCE_WORDS[option] ?? option}</button
        >
      {/each}
    </div>
  {/if}

  <label class="label-small mt-4" for="why">Why this one</label>
  <textarea
    id="why"
    rows="4"
    maxlength="20000"
    placeholder="For whoever reads this next year"
    class="hover:border-crease focus:border-copper placeholder:text-soft mt-1 -ml-1.5 resize-none rounded-field border border-transparent px-1.5 py-1 font-serif text-[14.5px] leading-6"
    value={sheet.why}
    oninput={(event) => sheet.explain(event.currentTarget.value)}></textarea>

  <p class="text-soft mt-auto pt-3 text-[13px] leading-7">
    <kbd class="kbd kbd-xs">Tab</kbd> figure · <kbd class="kbd kbd-xs">↑</kbd>
    <kbd class="kbd kbd-xs">↓</kbd> choices · <kbd class="kbd kbd-xs">Enter</kbd> pin
  </p>
</section>
