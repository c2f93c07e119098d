<script lang="ts">
  /** The leads on the drawing of a board. */
  import LeadMark from "../kit/LeadMark.svelte";
  import type { PracticeQuestion } from "$api";
  import type { BoardState } from "./board.svelte";

  type Props = {
    question: PracticeQuestion;
    board: BoardState;
    /** The leads, so many times as large. */ times: number;
  };
  let { question, board, times }: Props = $props();
  const drawing = $derived(question.picture.drawing);
  const point = $derived(board.point);
  const part = $derived(
    drawing.parts.find((p) => p.name === (point?.part ?? point?.through)) ?? null,
  );
  const inSupply = $derived(point?.through === "supply");
  const leads = $derived.by(() => {
    if (!point) return [];
    if (point.kind === "voltage")
      return [point.at, point.against]
        .map((name) => question.picture.places[name ?? ""])
        .filter((p) => p !== undefined);
    if (point.kind === "resistance" && part)
      return [
        { x: part.x, y: part.y - drawing.symbol / 2 },
        { x: part.x, y: part.y + drawing.symbol / 2 },
      ];
    return [];
  });
  const series = $derived(
    point?.kind !== "current"
      ? null
      : inSupply
        ? drawing.supply
        : part
          ? { x: part.x, y: part.y - drawing.symbol / 2 - 8 }
          : null,
  );
</script>

{#if part}
  <rect
    x={part.x - 13}
    y={part.y - drawing.symbol / 2 - 4}
    width="26"
    height={drawing.symbol + 8}
    fill="none"
    class="stroke-copper"
    stroke-width="1.6"
    stroke-dasharray="3 3"
  />
{/if}
{#if series}
  <circle cx={series.x} cy={series.y} r="12" class="fill-wash stroke-copper" stroke-width="2" />
  <text x={series.x} y={series.y + 4.5} text-anchor="middle" font-size="13" class="fill-ink">A</text
  >
{/if}
{#each leads as lead, i (i)}<LeadMark x={lead.x} y={lead.y} red={i === 0} {times} />{/each}
