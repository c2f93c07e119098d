<script lang="ts">
  import { tick } from "svelte";

  import { download } from "../shell/download";
  import { asSvgFile, drawn, type Symbol } from "./drawn";
  import type { FoldState, School } from "./fold.svelte";
  import Heights from "./Heights.svelte";
  import Plan from "./Plan.svelte";
  import { counted } from "../shell/counted";

  type Props = { fold: FoldState };
  let { fold }: Props = $props();

  const SCHOOLS: [School, string][] = [
    ["reciprocals", "reciprocals"],
    ["conductances", "conductances"],
    ["product", "product over sum"],
  ];
  const TITLES = { series: "Series", parallel: "Parallel", "star-delta": "Star to delta" };
  const folding = $derived(fold.direction === "fold");
  const picture = $derived(fold.folded ? drawn(fold.folded, fold.place) : null);
  /** Going forth, what was just made; going back, what was just taken apart. */
  const undone = $derived(folding ? null : (fold.steps[fold.place] ?? null));
  const lit = $derived(folding ? (fold.step?.results ?? []) : (undone?.members ?? []));
  const said = $derived(folding ? fold.step : undone);
  const remains = $derived(
    fold.place === 0
      ? "as it stands"
      : (fold.steps[fold.place - 1]?.remains.replaceAll("\n", "; ") ?? ""),
  );
  let place = $state<HTMLElement>();
  let coloured = $state(false);
  let walk = $state<HTMLElement>();
  /** More steps than there is room to say what each does. */
  const many = $derived(fold.steps.length > 8);

  $effect(() => {
    // In the middle, not under the first and the last, which stay in sight
    const here = walk?.children[fold.place] as HTMLElement | undefined;
    if (!walk || !here) return;
    const ends = fold.place === 0 ? 0 : fold.place === fold.steps.length ? walk.scrollWidth : null;
    walk.scrollLeft = ends ?? here.offsetLeft - walk.clientWidth / 2;
  });

  async function save() {
    fold.view.writing.full = true;
    await tick();
    const shown = place?.querySelector("svg");
    if (!shown) return;
    download(asSvgFile(shown), `${fold.name || "network"}.svg`);
    fold.view.writing.full = false;
  }
</script>

<section
  class="border-crease flex min-h-0 flex-col border-x px-5 py-4 {fold.stale ? 'saturate-0' : ''}"
  aria-labelledby="plan-title"
  aria-busy={fold.asking}
>
  <div class="flex items-baseline gap-3">
    <h2 id="plan-title" class="label-small">Fold</h2>
    <span class="text-soft min-w-0 truncate text-note" title={remains}>{remains}</span>
    <label class="sr-only" for="school">Parallel by</label>
    <select
      id="school"
      class="text-soft ml-auto cursor-pointer bg-transparent text-note"
      value={fold.school}
      onchange={(event) => fold.teach(event.currentTarget.value as School)}
    >
      {#each SCHOOLS as [school, words] (school)}<option value={school}>{words}</option>{/each}
    </select>
    <label class="sr-only" for="symbol">Symbol</label>
    <select
      id="symbol"
      class="text-soft cursor-pointer bg-transparent text-note"
      value={fold.symbol}
      onchange={(event) => fold.drawWith(event.currentTarget.value as Symbol)}
    >
      <option value="rectangle">rectangle</option>
      <option value="zigzag">zigzag</option>
    </select>
    <label class="sr-only" for="letter">Letter of a voltage</label>
    <select
      id="letter"
      class="text-soft cursor-pointer bg-transparent text-note"
      value={fold.letter}
      onchange={(event) => fold.call(event.currentTarget.value === "U" ? "U" : "V")}
    >
      <option value="V">V</option>
      <option value="U">U</option>
    </select>
    <label class="sr-only" for="digits">Figures</label>
    <select
      id="digits"
      class="text-soft cursor-pointer bg-transparent text-note"
      value={fold.digits}
      onchange={(event) => fold.show(Number(event.currentTarget.value))}
    >
      {#each [3, 4, 5, 6, 8] as digits (digits)}<option value={digits}>{digits} figures</option
        >{/each}
    </select>
  </div>

  {#if picture}
    <div class="off-paper text-soft mt-1 flex justify-end gap-4 text-note">
      <label class="hover:text-copper flex cursor-pointer items-center gap-1.5">
        <input
          type="checkbox"
          class="checkbox checkbox-xs"
          checked={fold.tall}
          onchange={(event) => fold.showHeights(event.currentTarget.checked)}
        />
        heights
      </label>
      <label class="hover:text-copper flex cursor-pointer items-center gap-1.5">
        <input type="checkbox" class="checkbox checkbox-xs" bind:checked={coloured} />
        colour junctions
      </label>
      <button
        type="button"
        class="hover:text-copper cursor-pointer underline underline-offset-4"
        onclick={save}>save as SVG</button
      >
    </div>
  {/if}
  <div
    class="grid min-h-0 flex-1 gap-3 py-2 {fold.tall && picture?.heights
      ? 'grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)]'
      : ''}"
  >
    <div bind:this={place} class="min-h-0 min-w-0">
      {#if picture}
        <Plan
          {picture}
          {lit}
          picked={fold.picked}
          symbol={fold.symbol}
          {coloured}
          view={fold.view}
          onpick={(ref) => fold.pick(ref)}
        />
      {:else}
        <p class="text-soft">The drawing appears once the network is understood.</p>
      {/if}
    </div>
    {#if fold.tall && picture?.heights}
      <Heights heights={picture.heights} {lit} letter={fold.letter} />
    {/if}
  </div>

  <div class="border-crease min-h-[10.5rem] border-t pt-3" aria-live="polite">
    {#if said}
      <p class="text-read">
        <strong class="text-copper">{folding ? TITLES[said.kind] : "Unfold"}.</strong>
        {folding ? said.same : said.back}
      </p>
      <p class="mt-1 text-read">
        {#if folding}
          <span class="text-soft">{said.rule}:</span>
          {said.results.length === 1 ? `${said.results[0]} = ` : ""}{said.worked}
        {:else}
          {#each said.unfolded as m, i (m.ref)}{i ? "; " : ""}<strong>{m.ref}</strong>
            {m.voltage?.text}&nbsp;{m.voltage?.unit}, {m.current?.text}&nbsp;{m.current
              ?.unit}{/each}
        {/if}
      </p>
      {#if folding && said.estimate}
        <p class="text-soft mt-1 text-note">In the head: {said.estimate}.</p>
      {/if}
    {:else if fold.steps.length > 0}
      <p class="text-soft text-read">
        {counted(fold.steps.length, "step")}
        {fold.steps.length === 1 ? "folds" : "fold"} this to one resistance, from the far end towards
        the source. Each says what is combined and why it may be.
      </p>
    {:else if fold.folded?.total}
      <p class="text-soft text-read">There is one resistance already; nothing to fold.</p>
    {/if}
    {#if fold.folded?.note}<p class="text-marginal mt-1 text-note">{fold.folded.note}</p>{/if}
    {#if (fold.folded?.idle.length ?? 0) > 0}
      <p class="text-soft mt-1 text-note">
        No current whatever the supply: {fold.folded?.idle.join(", ")}.
      </p>
    {/if}
  </div>

  {#if fold.steps.length > 0}
    <div class="flex items-center gap-2 pt-2">
      <button
        type="button"
        class="btn btn-sm"
        disabled={fold.place === 0}
        onclick={() => fold.go(-1)}
        aria-label="Unfold a step">‹</button
      >
      <ol bind:this={walk} class="flex min-w-0 flex-1 overflow-x-auto">
        {#each [null, ...fold.steps] as step, i (i)}
          <li
            class="flex-1 {i === 0
              ? 'bg-base-100 sticky left-0 min-w-14'
              : i === fold.steps.length
                ? 'bg-base-100 sticky right-0 min-w-11'
                : many
                  ? 'min-w-7'
                  : 'min-w-0'}"
          >
            <button
              type="button"
              class="border-crease w-full cursor-pointer truncate border px-1 py-1 text-note {i ===
              fold.place
                ? 'border-copper bg-wash text-copper font-semibold'
                : 'hover:border-copper'}"
              aria-current={i === fold.place ? "step" : undefined}
              onclick={() => fold.jump(i)}
              >{step === null
                ? "start"
                : i === fold.steps.length
                  ? "one"
                  : many
                    ? i
                    : step.members.join(
                        step.kind === "series" ? " + " : step.kind === "parallel" ? " ∥ " : " ⋆ ",
                      )}</button
            >
          </li>
        {/each}
      </ol>
      <button
        type="button"
        class="btn btn-sm"
        disabled={fold.place === fold.steps.length}
        onclick={() => fold.go(1)}
        aria-label="Fold a step">›</button
      >
    </div>
  {/if}
</section>
