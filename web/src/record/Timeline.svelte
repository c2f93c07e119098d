<script lang="ts">
  /** Newest first: a rule down the page, what happened at its right, when at its left. */
  import ToldMark from "../bench/ToldMark.svelte";
  import { KINDS } from "./kinds";
  import type { Line, RecordState } from "./record.svelte";

  type Props = { record: RecordState };
  let { record }: Props = $props();

  const day = new Intl.DateTimeFormat([], { dateStyle: "medium" });
  const time = new Intl.DateTimeFormat([], { timeStyle: "short" });
  const dayOf = (line: Line | undefined) => (line ? day.format(Date.parse(line.at)) : "");

  function facts(line: Line): string {
    const { entry } = line;
    if (!entry) return "";
    const point = (entry.point ?? {}) as Record<string, string>;
    const where = [point.at, point.against && `against ${point.against}`, point.across];
    const through = point.through && `through ${point.through}`;
    const lifted = point.part && `${point.part}, lifted out`;
    const told = [...where, through, lifted].filter(Boolean).join(" ");
    const meter = entry.meter ? `with the ${entry.meter}` : "";
    const of = entry.of == null ? "" : `of no. ${record.numbers[entry.of] ?? "?"}`;
    const back =
      entry.corrects == null ? "" : `corrects no. ${record.numbers[entry.corrects] ?? "?"}`;
    return [told, meter, of, back].filter(Boolean).join(" · ");
  }
</script>

{#if record.entries === null}
  <p class="text-soft mt-4" role="status">Reading the record…</p>
{:else if record.shown.length === 0}
  <p class="text-soft mt-4">
    {record.lines.length === 0
      ? "Nothing is written down yet. A line, a reading or a photograph begins the record."
      : "Nothing that is shown has these words."}
  </p>
{:else}
  <ol class="mt-2" aria-label="Entries, the newest first">
    {#each record.shown as line, i (line.key)}
      {@const kind = KINDS[line.kind]}
      {@const taken = line.entry && record.corrected[line.entry.id]}
      {#if dayOf(line) !== dayOf(record.shown[i - 1])}
        <li class="label-small pt-3 pb-1">{dayOf(line)}</li>
      {/if}
      <li
        class="grid grid-cols-[3.5rem_1.25rem_minmax(0,1fr)_auto] gap-x-2 py-1"
        data-entry={line.kind}
      >
        <time class="text-soft pt-0.5 text-right text-note" datetime={line.at}
          >{time.format(Date.parse(line.at))}</time
        >
        <span
          class="text-center {line.kind === 'revision' ? 'text-crease' : 'text-copper'}"
          aria-hidden="true">{kind.shape}</span
        >
        <div class="min-w-0">
          {#if line.revision}
            <p class="text-soft text-note">
              <span class="whitespace-nowrap">revision {line.revision.revision}:</span>
              {line.text}
            </p>
          {:else}
            <p class="leading-snug break-words {taken ? 'text-soft line-through' : ''}">
              <span class="sr-only">{kind.word}: </span>
              {#if line.kind === "reading"}
                <strong>{line.entry?.shown || `“${line.text}”`}</strong>
                {#if line.entry?.verdict}
                  <ToldMark told={line.entry.verdict as "as expected"} />
                {/if}
              {:else}<span class="font-serif">{line.text}</span>{/if}
            </p>
            <p class="text-soft text-note">
              no. {line.number} · {kind.word}{facts(line) ? ` · ${facts(line)}` : ""}{taken
                ? ` · corrected by no. ${taken}`
                : ""}
            </p>
            {#if line.entry?.evidence != null}
              <a
                href="/api/designs/{record.id}/evidence/{line.entry.evidence}"
                target="_blank"
                rel="noopener"
                class="mt-1 inline-block"
              >
                <img
                  src="/api/designs/{record.id}/evidence/{line.entry.evidence}/thumbnail"
                  alt={line.text}
                  loading="lazy"
                  class="border-crease max-h-44 max-w-full rounded-field border"
                />
              </a>
            {/if}
          {/if}
        </div>
        <div class="text-note whitespace-nowrap">
          {#if line.revision}
            {@const revision = line.revision.revision}
            <button
              type="button"
              class="btn btn-xs {record.picked.includes(revision) ? 'btn-primary' : ''}"
              aria-pressed={record.picked.includes(revision)}
              onclick={() => record.pick(revision)}>compare</button
            >
            {#if revision !== record.design.revision}
              <button type="button" class="btn btn-xs" onclick={() => record.restore(revision)}
                >restore</button
              >
            {/if}
          {:else if line.entry && line.kind !== "photo" && line.kind !== "correction"}
            {@const id = line.entry.id}
            <button
              type="button"
              class="btn btn-xs"
              aria-pressed={record.target === id}
              aria-label="Put photographs to no. {line.number}"
              onclick={() => (record.target = record.target === id ? null : id)}>▣ +</button
            >
          {/if}
        </div>
      </li>
    {/each}
  </ol>
{/if}
