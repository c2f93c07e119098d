<script lang="ts">
  import type { MeterDraft, MetersState } from "./meters.svelte";

  type Props = { meters: MetersState; draft: MeterDraft };
  let { meters, draft }: Props = $props();

  const SHORT = [
    ["name", "name"],
    ["input", "input of volts"],
    ["leads", "leads, in ohms"],
  ] as const;
  const LONG = [
    ["volts", "volts"],
    ["amps", "amps"],
    ["ohms", "ohms"],
  ] as const;
  const KNOWN = [...SHORT, ...LONG].map(([name]) => name as string);
  const elsewhere = $derived(
    Object.entries(meters.wrong).filter(([field]) => !KNOWN.includes(field)),
  );
</script>

<form
  class="border-copper mb-5 border-l-2 py-1 pl-4"
  aria-label="A meter's data sheet"
  onsubmit={(event) => {
    event.preventDefault();
    void meters.keep();
  }}
>
  <div class="flex flex-wrap gap-5">
    {#each SHORT as [field, words] (field)}
      <label class="flex items-baseline gap-2" for="meter-{field}"
        ><span class="text-soft">{words}</span>
        <input
          id="meter-{field}"
          class="text-copper border-b px-0.5 font-semibold {field === 'name'
            ? 'w-56'
            : 'w-24'} {meters.wrong[field] ? 'border-fail border-dashed' : 'border-copper'}"
          aria-invalid={field in meters.wrong}
          readonly={field === "name" && meters.changing}
          autocomplete="off"
          spellcheck="false"
          maxlength="60"
          bind:value={draft[field]}
        /></label
      >
    {/each}
    <label class="flex items-center gap-2"
      ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={draft.of_full} />
      <span class="text-soft">per cent of full scale</span></label
    >
  </div>
  {#each LONG as [field, words] (field)}
    <label class="mt-2 grid grid-cols-[4rem_1fr] gap-2" for="meter-{field}"
      ><span class="text-soft">{words}</span>
      <textarea
        id="meter-{field}"
        rows={Math.min(Math.max((draft[field] ?? "").split("\n").length, 1), 8)}
        class="resize-y rounded-field border px-1.5 py-0.5 text-note leading-6 {meters.wrong[field]
          ? 'border-fail border-dashed'
          : 'border-crease focus:border-copper'}"
        aria-invalid={field in meters.wrong}
        spellcheck="false"
        maxlength="4000"
        bind:value={draft[field]}></textarea></label
    >
    {#if meters.wrong[field]}
      <p class="text-fail pl-18 text-note" role="alert">✕ {meters.wrong[field]}</p>
    {/if}
  {/each}
  {#each [...SHORT.filter(([f]) => meters.wrong[f]).map( ([f]) => [f, meters.wrong[f]] ), ...elsewhere] as [field, message] (field)}
    <p class="text-fail mt-1 text-note" role="alert">✕ {field}: {message}</p>
  {/each}
  <p class="text-soft mt-2 text-note">
    One range a line: where it ends ± (% of reading + counts), then resolution, burden, jack and
    fuse as far as it has them.
  </p>
  <div class="mt-2 flex gap-2">
    <button class="btn btn-sm">Keep</button>
    <button type="button" class="btn btn-sm" onclick={() => meters.leave()}>Leave</button>
  </div>
</form>
