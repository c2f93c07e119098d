<script lang="ts">
  import type { RoundAnswer, StepAnswer } from "$api";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import type { BenchState } from "./bench.svelte";
  import LimitScale from "./LimitScale.svelte";
  import ToldMark from "./ToldMark.svelte";
  import { counted } from "../shell/counted";

  type Props = { bench: BenchState; round: RoundAnswer };
  let { bench, round }: Props = $props();
  const between = (step: StepAnswer) => (step.low ? `${step.low} – ${step.high}` : step.limits);
  let body = $state<HTMLElement>();

  $effect(() => {
    const key = bench.at;
    body?.querySelector(`[data-point="${CSS.escape(key)}"]`)?.scrollIntoView({ block: "nearest" });
  });
</script>

<div class="flex flex-wrap items-baseline gap-x-3">
  <h2 class="label-small">Readings</h2>
  <span class="text-soft text-note"
    >{round.build.taken} of {round.build.total} taken · drop or paste photographs on a reading</span
  >
  {#if bench.sending > 0}<span
      class="loading loading-dots loading-xs"
      role="status"
      aria-label="keeping a photograph"
    ></span>{/if}
  {#if round.measured.length > 0 || round.supply_measured}
    <label class="ml-auto flex items-center gap-2 text-note">
      <input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={bench.asBuilt}
        onchange={(event) => bench.takeAsBuilt(event.currentTarget.checked)}
      />
      expect from what was measured
    </label>
  {:else if !bench.asBuilt}
    <button
      type="button"
      class="text-copper ml-auto cursor-pointer text-note underline underline-offset-4"
      onclick={() => bench.takeAsBuilt(true)}>expect from what was measured</button
    >
  {/if}
</div>
<table class="mt-1 w-full border-collapse text-right" bind:this={body}>
  <thead>
    <tr class="border-crease border-b [&>th]:py-1 [&>th]:pl-3">
      <th class="label-small !pl-1 text-left">point</th>
      <th class="label-small">expected</th>
      <th class="label-small max-sm:hidden">between</th>
      <th class="label-small max-sm:hidden"><span class="sr-only">on one scale</span></th>
      <th class="label-small">read</th>
      <th class="label-small text-left">verdict</th>
    </tr>
  </thead>
  {#each bench.shown as step, i (step.key)}
    {@const here = step.key === bench.at}
    <tbody>
      {#if step.group !== bench.shown[i - 1]?.group}
        <tr
          ><th
            colspan="6"
            scope="rowgroup"
            class="text-soft pt-2 pl-1 text-left text-note font-normal">{step.group}</th
          ></tr
        >
      {/if}
      <tr
        data-point={step.key}
        class="border-crease cursor-pointer border-b [&>td]:h-10 [&>td]:pl-3 {here
          ? 'bg-wash'
          : 'hover:bg-wash'}"
        aria-current={here ? "step" : undefined}
        onclick={() => bench.stand(step.key)}
      >
        <td class="text-left whitespace-nowrap !pl-1 {here ? 'font-semibold' : ''}">
          <span class="text-copper inline-block w-3" aria-hidden="true">{here ? "▸" : ""}</span>
          <button type="button" class="cursor-pointer" tabindex="-1">{step.name}</button>
        </td>
        <td class="font-semibold whitespace-nowrap"
          >{step.expected}<span class="text-soft block text-note font-normal sm:hidden"
            >{between(step)}</span
          ></td
        >
        <td class="text-soft text-note whitespace-nowrap max-sm:hidden">{between(step)}</td>
        <td class="max-sm:hidden"
          ><div class="w-[clamp(4.5rem,12vw,9rem)]"><LimitScale {step} /></div></td
        >
        <td
          class="whitespace-nowrap {step.reading?.wrong
            ? 'text-fail'
            : 'text-copper font-semibold'}"
          title={step.reading?.wrong}
          >{step.reading ? step.reading.shown || `“${step.reading.text}”` : ""}</td
        >
        <td class="text-left whitespace-nowrap"
          ><ToldMark
            told={step.told}
            {...step.reading?.wrong ? { word: "not understood" } : {}}
          />{#if bench.photographsAt(step.key) > 0}<span class="text-copper ml-2 text-note"
              >▣ {bench.photographsAt(step.key)}<span class="sr-only"> photographs</span></span
            >{/if}</td
        >
      </tr>
    </tbody>
  {/each}
</table>
{#if round.stop}
  <div class="border-fail mt-3 border-l-4 py-1 pl-3" role="alert">
    <p class="text-fail text-read font-semibold">✕ {round.stop}.</p>
    {#if bench.folded > 0}
      <p class="mt-1">
        {bench.folded === 1 ? "One more point is" : `${bench.folded} more points are`} folded away: a
        round is not filled in past a reading that is far out.
        <button
          type="button"
          class="text-copper cursor-pointer underline underline-offset-4"
          onclick={() => (bench.opened = true)}>Open them all the same</button
        >
      </p>
    {/if}
  </div>
{/if}
{#if round.hidden}
  <p class="border-marginal mt-3 border-l-2 py-0.5 pl-3 leading-snug" data-hidden>
    <strong>The current is low.</strong>
    {round.hidden}.
  </p>
{/if}
{#if round.why}<p class="text-soft mt-3 leading-snug">{round.why}.</p>{/if}
{#if round.elsewhere > 0}
  <p class="text-soft mt-3 text-note">
    {counted(round.elsewhere, "reading")} of this design {round.elsewhere === 1 ? "is" : "are"} of another
    board: its values were other ones then. The record keeps what was read.
  </p>
{/if}
{#if round.measured.length > 0}
  <div class="border-crease mt-4 border-t pt-2" data-as-built>
    <h3 class="label-small">As built</h3>
    <p class="mt-1 flex flex-wrap gap-x-5">
      {#each round.measured as part (part.ref)}
        <span class="whitespace-nowrap"
          >{part.ref} <strong>{part.shown}</strong>
          <span class="text-soft text-note">{part.around}</span></span
        >
      {/each}
      {#if round.supply_measured}<span>supply <strong>{round.supply_measured}</strong></span>{/if}
    </p>
    {#if round.gates.length > 0}
      <p class="mt-1.5 flex flex-wrap gap-x-5">
        <span class="text-soft">The sheet with these parts:</span>
        {#each round.gates as gate (gate.name)}
          <span class="whitespace-nowrap">
            {gate.name}
            {#if gate.figure}<strong>{gate.figure.text} {gate.figure.unit}</strong>{/if}
            <VerdictMark verdict={gate.verdict} /></span
          >
        {/each}
      </p>
    {/if}
  </div>
{/if}
