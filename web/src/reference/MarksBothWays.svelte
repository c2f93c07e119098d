<script lang="ts">
  import { onMount } from "svelte";

  import BandPicker from "./BandPicker.svelte";
  import { ReadingMarks, WritingMarks } from "./marks.svelte";
  import Written from "./Written.svelte";

  const reading = new ReadingMarks();
  const writing = new WritingMarks();

  onMount(() => {
    void reading.read();
    void writing.write();
  });
</script>

<div class="grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-8 pt-4 pb-8">
  <section aria-labelledby="reading-title">
    <h2 id="reading-title" class="font-serif text-read font-semibold">What a part says it is</h2>
    <BandPicker {reading} />
    <div class="mt-3 flex flex-wrap items-baseline gap-5">
      <label class="flex items-baseline gap-2"
        ><span class="text-soft">or typed</span>
        <input
          data-mark-text
          class="text-copper border-copper placeholder:text-soft w-52 border-b px-0.5 font-semibold placeholder:font-normal"
          placeholder="BN BK RD GD, 4K7, 472, 66B"
          autocomplete="off"
          spellcheck="false"
          maxlength="120"
          value={reading.text}
          oninput={(event) => reading.type(event.currentTarget.value)}
        /></label
      >
      <label class="flex items-baseline gap-2"
        ><span class="text-soft">measured</span>
        <input
          data-measured
          class="text-copper border-copper placeholder:text-soft w-24 border-b px-0.5 text-right font-semibold placeholder:font-normal"
          placeholder="998 Ω"
          autocomplete="off"
          spellcheck="false"
          maxlength="40"
          value={reading.measured}
          oninput={(event) => reading.measure(event.currentTarget.value)}
        /></label
      >
    </div>
    <div class="mt-3 min-h-40" aria-live="polite" data-mark-readings>
      {#if reading.wrong}<p class="text-fail">✕ {reading.wrong}</p>
      {:else if reading.answer}
        <ol>
          {#each reading.answer.readings as one, i (i)}
            <li class="border-crease border-b py-1.5">
              <strong class={i === 0 ? "text-figure" : "text-read"}
                >{one.words.split("; ")[0]}</strong
              >
              <span class="text-soft">{one.words.split("; ").slice(1).join("; ")}</span>
              {#if one.holds !== null}
                <span class={one.holds ? "text-pass" : "text-fail"}
                  >{one.holds ? "● it may be" : "✕ it is not"}</span
                >
              {/if}
              {#if i === 0 && one.bin}<p class="text-soft text-note">{one.bin}.</p>{/if}
            </li>
          {/each}
        </ol>
        {#if reading.answer.also.length > 0}
          <details class="mt-2">
            <summary class="cursor-pointer"
              >Were one colour another, easily taken for it: {reading.answer.also.length}</summary
            >
            <ul class="mt-1 text-note">
              {#each reading.answer.also as one, i (i)}
                <li class="py-0.5">
                  band {one.band}
                  {one.instead} for {one.seen}: <strong>{one.words.split("; ")[0]}</strong>
                  <span class="text-soft">{one.words.split("; ").slice(1).join("; ")}</span>
                  {#if one.holds !== null}<span class={one.holds ? "text-pass" : "text-soft"}
                      >{one.holds ? "● it may be" : ""}</span
                    >{/if}
                </li>
              {/each}
            </ul>
          </details>
        {/if}
      {:else}<p class="text-soft">Three to six bands.</p>{/if}
    </div>
  </section>
  <Written {writing} />
</div>
