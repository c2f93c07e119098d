<script lang="ts">
  import { onMount, tick } from "svelte";

  import type { MeterAnswer } from "$api";
  import Notice from "../shell/Notice.svelte";
  import CsvButtons from "./CsvButtons.svelte";
  import DrawerTabs from "./DrawerTabs.svelte";
  import MeterSheet from "./MeterSheet.svelte";
  import { MetersState } from "./meters.svelte";
  import Taking from "./Taking.svelte";
  import Wires from "./Wires.svelte";

  const meters = new MetersState();

  onMount(() => {
    void meters.load();
  });

  async function edit(meter: MeterAnswer | null) {
    meters.edit(meter);
    await tick();
    document.querySelector<HTMLElement>(meter ? "#meter-volts" : "#meter-name")?.focus();
  }

  const counted = (meter: MeterAnswer) =>
    (["volts", "amps", "ohms"] as const)
      .filter((kind) => meter[kind].length > 0)
      .map((kind) => `${meter[kind].length} of ${kind}`)
      .join(", ") || "no ranges: no error at all";
</script>

<svelte:head><title>Meters – Lowfold</title></svelte:head>

<section class="mx-auto h-full max-w-5xl overflow-y-auto px-8 py-7" aria-labelledby="meters-title">
  <div class="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-2">
    <h1 id="meters-title" class="font-serif text-figure font-semibold">Drawer</h1>
    <DrawerTabs at="meters" />
    <p class="text-soft">typical to start from; the meter's own data sheet rules</p>
    <CsvButtons stock={meters} href="/api/meters/csv" name="lowfold-meters.csv" />
  </div>

  <Taking stock={meters} />
  {#if meters.trouble}
    <Notice tone="wrong"><span class="text-fail">✕ {meters.trouble}</span></Notice>
  {/if}
  {#if meters.removed}
    <Notice tone="done">
      <span
        >{meters.removed.name} is {meters.removed.replaces
          ? "as it ships again"
          : "taken out"}.</span
      >
      <button type="button" class="btn btn-xs" onclick={() => meters.putBack()}>Put it back</button>
    </Notice>
  {/if}

  {#if meters.found === null}
    <p class="text-soft" role="status">{meters.trouble ? "" : "Reading the meters…"}</p>
  {:else}
    {#if meters.draft}<MeterSheet {meters} draft={meters.draft} />
    {:else}
      <button type="button" class="btn btn-sm mb-2" onclick={() => edit(null)}
        >A meter of your own</button
      >
    {/if}
    <div class="wide-table">
      <table class="w-full border-collapse">
        <thead>
          <tr class="border-crease border-b text-left [&>th]:py-2 [&>th]:pr-3">
            <th class="label-small">meter</th>
            <th class="label-small text-right">input</th>
            <th class="label-small text-right">leads</th>
            <th class="label-small pl-4">ranges</th>
            <th class="w-36"><span class="sr-only">what can be done</span></th>
          </tr>
        </thead>
        <tbody>
          {#each meters.found.meters as meter (meter.name)}
            <tr class="border-crease hover:bg-wash border-b [&>td]:py-1.5 [&>td]:pr-3">
              <td class="font-semibold"
                >{meter.name}
                {#if !meter.typical}<span class="text-copper ml-1 text-note">yours</span>{/if}</td
              >
              <td class="text-right whitespace-nowrap">{meter.words.input}</td>
              <td class="text-right whitespace-nowrap">{meter.words.leads}</td>
              <td class="text-soft pl-4">{counted(meter)}</td>
              <td class="text-right whitespace-nowrap">
                <button
                  type="button"
                  class="text-soft hover:text-copper cursor-pointer"
                  aria-label="Change {meter.name}"
                  onclick={() => edit(meter)}>change</button
                >
                {#if !meter.typical}
                  <button
                    type="button"
                    class="text-soft hover:text-fail ml-3 cursor-pointer"
                    aria-label={meter.replaces
                      ? `Make ${meter.name} as it ships again`
                      : `Take out ${meter.name}`}
                    onclick={() => meters.remove(meter)}>✕</button
                  >
                {/if}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
    <Wires {meters} />
  {/if}
</section>
