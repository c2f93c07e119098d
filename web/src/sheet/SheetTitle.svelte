<script lang="ts">
  import type { Figure } from "$api";
  import Title from "../designs/Title.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import type { Copied } from "../shell/copied";
  import type { SheetState } from "./sheet.svelte";

  type Props = { sheet: SheetState };
  let { sheet }: Props = $props();
  const WORDS = { pass: "Pass", marginal: "Marginal", fail: "Fail", none: "Not judged" } as const;
  const verdict = $derived(sheet.shown?.verdict ?? null);
  /** The choice with its figures: a line each for what it is, then gates and parts as a table. */
  function copied(): Copied | null {
    const choice = sheet.inFull;
    if (!choice || sheet.stale) return null;
    const of = (figure: Figure | null) => (figure ? `${figure.text} ${figure.unit}` : "");
    const gates = choice.gates.map((gate) => [
      gate.name,
      `${of(gate.figure)} ${gate.of}`.trim(),
      gate.margin,
      gate.verdict ?? "not judged",
    ]);
    const parts = choice.table.map((row) =>
      [row.resistance, row.voltage, row.current, row.power].map(of),
    );
    return {
      words: [sheet.name, standing?.need ?? "", choice.notation].filter(Boolean),
      rows: [
        ...gates,
        ["part", "R", "V", "I", "P"],
        ...parts.map((cells, k) => [choice.table[k]?.name ?? "", ...cells]),
      ],
    };
  }
  const standing = $derived(sheet.answer?.standing);
</script>

<Title design={sheet} {copied} title={sheet.stale ? "" : (sheet.shown?.words ?? "")}>
  {#if sheet.stale}
    <VerdictMark verdict={null} word="Waiting" />
    <span class="text-soft">— {standing?.words}</span>
  {:else if sheet.slow}
    <span class="loading loading-dots loading-xs" aria-hidden="true"></span>
    <span class="text-soft">searching</span>
  {:else if sheet.answer}
    <VerdictMark {verdict} word={WORDS[verdict ?? "none"]} />
    <span class="text-soft"
      >— {sheet.shown?.pinned ? "pinned" : "under the cursor"}: {sheet.shown?.words ??
        standing?.words}</span
    >
  {/if}
</Title>
