<script lang="ts">
  /** Ten questions with numbers in a row, and the answers on a sheet of their own. */
  import { getPracticeSheet, type Drill } from "$api";
  import { DRILLS } from "./practice.svelte";
  import Sketch from "./Sketch.svelte";

  type Props = { params?: { drill?: string; level?: string; seed?: string } };
  let { params }: Props = $props();
  const drill = $derived((params?.drill ?? "estimate") as Drill);
  const level = $derived(Number(params?.level));
  const seed = $derived(Number(params?.seed));
  const name = $derived(DRILLS.find(([one]) => one === drill)?.[1] ?? "");
  const found = $derived(getPracticeSheet({ drill, level, seed, count: 10 }));
</script>

<div class="h-full overflow-auto px-8 pt-5 pb-8">
  {#await found}
    <p class="text-soft p-10" role="status">Ten questions are drawn…</p>
  {:then { data, error }}
    {#if error}
      <p class="text-fail p-10" role="alert">✕ {error.detail}</p>
    {:else}
      <div class="flex items-baseline gap-4">
        <h1 class="font-serif text-figure font-semibold">
          {name}, level {level}, numbers {seed} to {seed + data.lines.length - 1}
        </h1>
        <button type="button" class="btn btn-sm off-paper ml-auto" onclick={() => window.print()}
          >Print, the answers on a sheet of their own</button
        >
        <a class="off-paper underline" href="#/practice/{drill}">back</a>
      </div>
      <p class="text-soft off-paper text-note">
        The same drill, level and numbers give the same ten anywhere. Nothing here counts as asked.
      </p>
      <ol class="mt-3 grid grid-cols-2 gap-x-8 gap-y-4 max-[900px]:grid-cols-1" data-sheet>
        {#each data.lines as line, k (k)}
          <li class="border-crease break-inside-avoid border-t pt-2">
            <p>
              <strong>{k + 1}.</strong>
              {line.question.words}.
              <span class="text-soft text-note">number {line.question.seed}</span>
            </p>
            <div class="flex items-center gap-3">
              <div class="h-56 min-w-0 flex-1">
                <Sketch picture={line.question.picture} label={line.question.words} />
              </div>
              {#if line.readings.length > 0}
                <table class="text-note">
                  <tbody>
                    {#each line.readings as r (r.where)}
                      <tr
                        ><td class="pr-2">{r.where}</td><td
                          class="text-right font-semibold whitespace-nowrap">{r.shows}</td
                        ></tr
                      >
                    {/each}
                  </tbody>
                </table>
              {/if}
            </div>
          </li>
        {/each}
      </ol>
      <section class="mt-8 break-before-page" data-answers>
        <h2 class="font-serif text-figure font-semibold">
          Answers: {name}, level {level}, from {seed}
        </h2>
        <ol class="mt-2">
          {#each data.lines as line, k (k)}
            <li class="border-crease border-t py-1"><strong>{k + 1}.</strong> {line.words}</li>
          {/each}
        </ol>
      </section>
    {/if}
  {/await}
</div>
