<script lang="ts">
  import { tick } from "svelte";

  import type { RoundAnswer } from "$api";
  import type { BenchState } from "./bench.svelte";
  import LimitScale from "./LimitScale.svelte";
  import ToldMark from "./ToldMark.svelte";

  type Props = { bench: BenchState; round: RoundAnswer };
  let { bench, round }: Props = $props();
  let line = $state<HTMLInputElement>();

  const step = $derived(bench.step);
  const LETTERS = { voltage: "V", current: "A", resistance: "Ω" } as const;
  const stopped = $derived(round.stopped !== null && round.steps[round.stopped]?.key === bench.at);

  /** The line takes what is typed wherever the leads go, in place of what was read there. */
  $effect(() => {
    void bench.at;
    void tick().then(() => {
      if (document.activeElement?.matches("select, a")) return;
      line?.focus({ preventScroll: true });
      line?.select();
    });
  });

  function onkeydown(event: KeyboardEvent) {
    if (event.key === "Enter") {
      event.preventDefault();
      void bench.keep();
    } else if (event.key === "Escape" && bench.typed) {
      event.preventDefault();
      bench.undo();
    }
  }
</script>

{#if step}
  <div class="flex h-full flex-col px-5 py-3">
    <div class="flex items-baseline gap-3">
      <h2 class="label-small whitespace-nowrap">Next to do</h2>
      <label class="ml-auto flex min-w-0 items-center gap-2 text-note">
        <span class="text-soft">meter</span>
        <select
          class="select select-xs min-w-0 flex-1 truncate"
          data-meter
          value={bench.chosen}
          onchange={(event) => bench.choose(event.currentTarget.value)}
        >
          {#if bench.instruments.length > 0}
            <optgroup label="read over a wire">
              {#each bench.instruments as one (one.resource)}
                <option value="at {one.resource}">{one.name} ({one.meter})</option>
              {/each}
            </optgroup>
          {/if}
          <optgroup label="read by eye">
            {#each bench.meters as meter (meter.name)}
              <option value={meter.name}>{meter.name}</option>
            {/each}
          </optgroup>
        </select>
      </label>
    </div>
    <p
      class="mt-1 min-h-[2.9rem] text-read leading-snug font-semibold"
      aria-live="polite"
      data-doing
    >
      {step.doing}
    </p>
    <p class="border-marginal mb-1 min-h-9 border-l-2 pl-2 text-note leading-snug">
      {#if step.point.cautions.length > 0}
        <strong class="text-marginal">Caution.</strong>
        {step.point.cautions.map((c) => c.message).join(". ")}.
      {:else}<span class="text-soft"
          >Meter on {step.range || "its range"} first, then touch with the leads.</span
        >{/if}
    </p>
    <div class="border-crease bg-leaf mt-1 rounded-box border px-3 pt-2 pb-2">
      <div class="flex items-baseline gap-3 text-note">
        <span class="text-copper font-semibold">{LETTERS[step.point.kind]}</span>
        <span>{step.range ? `range ${step.range}` : "no range"}</span>
        <span class="text-soft">{step.point.jack ? `jack ${step.point.jack}` : ""}</span>
        <span class="ml-auto whitespace-nowrap"
          ><span class="text-soft">should show</span>
          <strong>{step.point.shows || "—"}</strong></span
        >
      </div>
      <div class="mt-1 flex items-center gap-2">
        <input
          bind:this={line}
          data-reading
          class="placeholder:text-soft focus:outline-copper min-w-0 flex-1 rounded-field bg-transparent px-1 text-right text-[30px] leading-10 font-semibold placeholder:font-normal {step
            .reading?.wrong
            ? 'text-fail'
            : ''}"
          aria-label="What it reads at {step.point.words}"
          aria-invalid={Boolean(step.reading?.wrong)}
          aria-describedby="face-words"
          placeholder="read it here"
          title="Of another point with its name: OUT 3V02, V(R2) 3.1, I(R1) 5mA, R2 56k"
          autocomplete="off"
          autocapitalize="off"
          spellcheck="false"
          maxlength="80"
          value={bench.draft}
          oninput={(event) => bench.type(event.currentTarget.value)}
          {onkeydown}
        />
      </div>
      <LimitScale {step} height={12} />
      <div class="text-soft flex justify-between text-note">
        {#if step.low}
          <span class="w-[39%] text-right">{step.low}</span><span class="w-[39%]">{step.high}</span>
        {:else}<span>{step.limits}</span>{/if}
      </div>
    </div>
    <p class="mt-1 min-h-5 text-note" id="face-words" aria-live="polite" data-told>
      {#if step.reading?.wrong}<span class="text-fail">✕ {step.reading.wrong}</span>
      {:else if step.told}<ToldMark told={step.told} />
        {#if step.hint}<span class="text-soft">· {step.hint}</span>{/if}
      {:else if step.beside}<span class="text-soft">{step.beside}</span>{/if}
    </p>
    <div class="mt-auto flex gap-2 pt-1">
      <button
        type="button"
        class="btn btn-primary h-11 flex-1 px-2 whitespace-nowrap"
        onclick={() => (bench.typed || bench.step?.told ? bench.keep() : bench.walk(1))}
      >
        {bench.typed ? "Keep it" : stopped ? "Take it again" : "Go on"}
        <kbd class="kbd kbd-xs text-base-content max-[1000px]:hidden">Enter</kbd>
      </button>
      <button
        type="button"
        class="btn h-11 flex-1 px-2 whitespace-nowrap"
        disabled={!bench.wire || bench.taking}
        title={bench.wire ? "" : "Choose a meter that is read over a wire"}
        onclick={() => bench.take()}
      >
        {bench.taking ? "Reading…" : "Take reading"}
        <kbd class="kbd kbd-xs text-base-content max-[1000px]:hidden">t</kbd>
      </button>
      <button
        type="button"
        class="btn h-11 w-11"
        aria-label="Point before"
        onclick={() => bench.walk(-1)}>↑</button
      >
      <button
        type="button"
        class="btn h-11 w-11"
        aria-label="Next point"
        onclick={() => bench.walk(1)}>↓</button
      >
    </div>
  </div>
{/if}
