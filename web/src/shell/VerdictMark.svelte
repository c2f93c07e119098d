<script lang="ts">
  import type { Verdict } from "$api";

  type Props = { verdict: Verdict; word?: string; bare?: boolean };
  let { verdict, word, bare = false }: Props = $props();

  const MARKS = {
    pass: { shape: "●", tint: "text-pass", word: "pass" },
    marginal: { shape: "◐", tint: "text-marginal", word: "marginal" },
    fail: { shape: "✕", tint: "text-fail", word: "fail" },
    none: { shape: "○", tint: "text-soft", word: "not judged" },
  } as const;
  const mark = $derived(MARKS[verdict ?? "none"]);
</script>

<span class="{mark.tint} whitespace-nowrap">
  <span aria-hidden="true">{mark.shape}</span>
  <span class={bare ? "sr-only" : ""}>{word ?? mark.word}</span>
</span>
