<script lang="ts">
  import type { Design } from "$api";
  import VerdictMark from "../shell/VerdictMark.svelte";

  type Props = {
    design: Design;
    picked: boolean;
    onpick: (on: boolean) => void;
    oncopy: () => void;
    onremove: () => void;
  };
  let { design, picked, onpick, oncopy, onremove }: Props = $props();

  const gates = $derived(Object.entries(design.standing?.gates ?? {}));
  const when = $derived(
    new Date(design.updated).toLocaleString([], { dateStyle: "medium", timeStyle: "short" }),
  );
</script>

<label class="-m-1 grid place-items-center p-1">
  <input
    type="checkbox"
    class="checkbox checkbox-xs"
    aria-label="Pick {design.name}"
    checked={picked}
    onchange={(event) => onpick(event.currentTarget.checked)}
  />
</label>
<span class="min-w-0">
  <a
    href="#/designs/{design.id}"
    data-design={design.id}
    title={design.name}
    class="block min-h-6 truncate font-serif text-read font-semibold hover:underline"
    >{design.name || "Untitled"}</a
  >
  <span
    class="text-soft block truncate text-note"
    title={design.tags.map((tag) => `#${tag}`).join(" ")}
    >{design.kind}{#each design.tags as tag (tag)}<span class="ml-1.5">#{tag}</span>{/each}</span
  >
</span>
<span class="truncate" title={design.standing?.need}>{design.standing?.need ?? ""}</span>
<span class="truncate text-right font-semibold" title={design.standing?.figure}
  >{design.standing?.figure ?? ""}</span
>
<span class="min-w-0">
  {#if design.standing === null}
    <VerdictMark verdict={null} word="not worked out yet" />
  {:else}
    <span class="block truncate" title={design.standing.words}>
      {#if design.kind !== "network" || design.standing.verdict}
        <VerdictMark verdict={design.standing.verdict} />
      {/if}
      <span class="text-soft ml-1">{design.standing.words}</span>
    </span>
  {/if}
  {#if gates.length > 0}
    <span class="flex gap-3 text-note">
      {#each gates as [name, verdict] (name)}
        <span class="text-soft whitespace-nowrap">{name} <VerdictMark {verdict} bare /></span>
      {/each}
    </span>
  {/if}
</span>
<span class="text-soft text-note">{when}</span>
<span class="flex justify-end gap-3">
  <button
    type="button"
    class="text-soft hover:text-copper cursor-pointer text-note"
    aria-label="Copy {design.name}"
    title="Begin a design as this one is"
    onclick={oncopy}>copy</button
  >
  <button
    type="button"
    class="text-soft hover:text-fail cursor-pointer"
    aria-label="Delete {design.name}"
    onclick={onremove}>✕</button
  >
</span>
