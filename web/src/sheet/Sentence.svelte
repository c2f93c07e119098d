<script lang="ts">
  import { tick, type Snippet } from "svelte";

  import type { TokenReading } from "$api";
  import { signed } from "../shell/copied";
  import type { Clause, Piece } from "./sentences";
  import Token from "./Token.svelte";
  import { typing } from "../kit/keys";

  type Typed = {
    families: string[];
    text: (token: string) => string;
    type: (token: string, text: string) => void;
  };
  type Props = {
    sentence: (Piece | Clause)[];
    tokens: Record<string, TokenReading>;
    of: Typed;
    focused: string | null;
    /** What was understood, between the sentence and what could be said besides. */
    children: Snippet;
  };
  let { sentence, tokens, of, focused = $bindable(), children }: Props = $props();
  let opened = $state<string[]>([]);

  const named = (clause: Clause) =>
    clause.pieces.flatMap((piece) => ("token" in piece ? [piece.token] : []));
  const stated = (clause: Clause) =>
    opened.includes(clause.offer) ||
    named(clause).some((name) => tokens[name] !== undefined && !tokens[name].absent);
  const pieces = $derived(
    sentence.flatMap((piece): Piece[] =>
      "offer" in piece ? (stated(piece) ? piece.pieces : []) : [piece],
    ),
  );
  const offers = $derived(
    sentence.filter(
      (piece): piece is Clause =>
        "offer" in piece && !stated(piece) && !named(piece).some((name) => tokens[name]?.by),
    ),
  );
  /** What a figure was taken with though nobody wrote it: the ± 10 % about a load. */
  function taken(name: string): string {
    const { shown, ok } = tokens[name] ?? { shown: "", ok: false };
    const text = of.text(name);
    const at = shown.lastIndexOf("±");
    const alone = ok && at > 0 && !/[±,;]|\+\/-/.test(text) && name !== focused;
    return alone ? shown.slice(at) : "";
  }
  const FAMILY_FIGURES = ["tolerance", "tcr", "drift"];
  const asFamily = $derived(FAMILY_FIGURES.every((name) => of.text(name) === "family"));

  /** What is selected of it is copied as it reads, figures too. */
  function copySentence(event: ClipboardEvent) {
    if (typing(event)) return;
    if (document.getSelection()?.isCollapsed ?? true) return;
    const said = pieces.map((p) => ("words" in p ? p.words : of.text(p.token))).join("");
    event.clipboardData?.setData("text/plain", signed(said));
    event.preventDefault();
  }

  async function open(clause: Clause) {
    opened = [...opened, clause.offer];
    await tick();
    document.querySelector<HTMLElement>(`[data-token="${named(clause)[0]}"]`)?.focus();
  }
</script>

<p class="mt-1.5 font-serif text-read leading-[1.86rem]" oncopy={copySentence}>
  {#each pieces as piece, i ("token" in piece ? piece.token : `words ${i}`)}{#if "words" in piece}<span
        >{piece.words}</span
      >{:else if tokens[piece.token]?.by}<span
        class="font-semibold"
        title="said with the {tokens[tokens[piece.token]?.by ?? '']?.label}"
        >{tokens[piece.token]?.shown}</span
      >{:else}<Token
        name={piece.token}
        label={tokens[piece.token]?.label ?? piece.token}
        text={of.text(piece.token)}
        reading={tokens[piece.token]}
        usual={piece.token === "rating" ? "families" : undefined}
        onfocus={() => (focused = piece.token)}
        onblur={() => (focused = null)}
        oninput={(text) => of.type(piece.token, text)}
      />{#if taken(piece.token)}<span class="text-soft text-note whitespace-nowrap"
          >&nbsp;{taken(piece.token)}</span
        >{/if}{/if}{/each}
</p>
<datalist id="families">
  {#each of.families as name (name)}<option value={name}></option>{/each}
</datalist>
{@render children()}
{#if Object.keys(tokens).length > 0 && (offers.length > 0 || !asFamily)}
  <p
    class="rest off-paper text-soft text-note leading-6 [&>button]:cursor-pointer [&>button]:underline [&>button]:decoration-crease [&>button]:underline-offset-4 [&>button:hover]:text-copper"
  >
    Say also:
    {#each offers as offer (offer.offer)}
      <button type="button" class="mr-2" onclick={() => open(offer)}>{offer.offer}</button>
    {/each}
    {#if !asFamily}
      <button
        type="button"
        title="Tolerance, temperature coefficient and drift as the family named here"
        onclick={() => FAMILY_FIGURES.forEach((name) => of.type(name, "family"))}
        >figures of the family</button
      >
    {/if}
  </p>
{/if}
