<script lang="ts">
  import MarkWords from "../marks/MarkWords.svelte";
  import PartMark from "../marks/PartMark.svelte";
  import type { WritingMarks } from "./marks.svelte";

  type Props = { writing: WritingMarks };
  let { writing }: Props = $props();

  const ASKED = [
    ["ohm", "value"],
    ["tolerance", "tolerance"],
    ["tcr", "ppm/K"],
  ] as const;
  const CODES = {
    letter: "letter",
    three: "three digits",
    four: "four digits",
    e96: "E96",
  } as const;
</script>

<section aria-labelledby="writing-title">
  <h2 id="writing-title" class="font-serif text-read font-semibold">How it is marked</h2>
  <div class="mt-2 flex flex-wrap gap-5">
    {#each ASKED as [field, words] (field)}
      <label class="flex items-baseline gap-2"
        ><span class="text-soft">{words}</span>
        <input
          data-write={field}
          class="text-copper border-copper w-18 border-b px-0.5 text-right font-semibold"
          autocomplete="off"
          spellcheck="false"
          maxlength="40"
          bind:value={writing[field]}
          oninput={() => writing.write()}
        /></label
      >
    {/each}
  </div>
  <div class="mt-3" aria-live="polite" data-written>
    {#if writing.wrong}<p class="text-fail">✕ {writing.wrong}</p>
    {:else if writing.answer}
      {#each Object.entries(writing.answer.bands) as [count, bands] (count)}
        <div class="border-crease flex min-h-9 items-center gap-3 border-b py-1">
          <span class="text-soft w-16 text-note">{count} bands</span>
          {#if bands}<PartMark look="bands" {bands} code="" />{/if}
          <span class="min-w-0 text-note leading-tight"
            ><MarkWords
              mark={{
                bands: bands ?? [],
                code: "",
                why: writing.answer.reasons[`bands.${count}`] ?? "",
              }}
            /></span
          >
        </div>
      {/each}
      {#each Object.entries(CODES) as [kind, words] (kind)}
        {@const code = writing.answer.codes[kind]}
        <div class="border-crease flex min-h-9 items-center gap-3 border-b py-1">
          <span class="text-soft w-16 text-note">{words}</span>
          {#if code}<PartMark
              look={kind === "letter" ? "printed" : "chip"}
              bands={[]}
              {code}
            />{/if}
          <span class="min-w-0 text-note leading-tight"
            ><MarkWords
              mark={{
                bands: [],
                code: code ?? "",
                why: writing.answer.reasons[`codes.${kind}`] ?? "",
              }}
            /></span
          >
        </div>
      {/each}
    {/if}
  </div>
</section>
