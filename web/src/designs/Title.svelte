<script lang="ts">
  import type { Snippet } from "svelte";

  import type { KeptDesign } from "../shell/kept.svelte";
  import { copyOut, type Copied } from "../shell/copied";
  import Export from "./Export.svelte";
  import Places from "./Places.svelte";
  import { inDialog, pressed } from "../kit/keys";

  type Props = {
    design: KeptDesign;
    children: Snippet;
    title?: string;
    /** What a copy of it is. */ copied?: () => Copied | null;
  };
  let { design, children, title = "", copied }: Props = $props();

  function onkeydown(event: KeyboardEvent) {
    const key = pressed(event, "undo");
    if (!key || inDialog()) return;
    event.preventDefault();
    design.undo(key.toLowerCase() === "y" || event.shiftKey);
  }
</script>

<svelte:window {onkeydown} oncopy={(event) => copied && copyOut(event, copied())} />
<svelte:head
  ><title>{design.name || "Untitled"}{title ? ` · ${title}` : ""} – Lowfold</title></svelte:head
>

<div
  class="border-crease flex min-h-12 shrink-0 items-center gap-x-4 border-b px-5 max-[760px]:flex-wrap max-[760px]:py-1 max-sm:px-3"
>
  <h1 class="sr-only">{design.name || "Untitled"}</h1>
  <input
    class="hover:border-crease focus:border-copper text-figure -ml-1.5 field-sizing-content max-w-md min-w-24 shrink rounded-field max-sm:w-full border border-transparent px-1.5 font-serif font-semibold"
    aria-label="Name of the design"
    maxlength="200"
    placeholder="Untitled"
    title={design.name}
    value={design.name}
    oninput={(event) => design.rename(event.currentTarget.value)}
  />
  <span class="text-soft border-crease rounded-full border px-2 text-note whitespace-nowrap"
    >{design.kind}</span
  >
  {#if design.id}<Places id={design.id} at="sheet" />
  {:else if design.from}
    <a
      class="text-copper whitespace-nowrap underline underline-offset-4"
      href="#/designs/{design.from}">back to its sheet</a
    >
  {/if}
  {#if design.id}<Export {design} {copied} />{/if}
  <span class="off-paper flex gap-1">
    <button
      type="button"
      class="btn btn-xs btn-ghost"
      disabled={!design.undoable}
      aria-label="Undo"
      title="Undo (Ctrl Z)"
      onclick={() => design.undo()}>↶</button
    >
    <button
      type="button"
      class="btn btn-xs btn-ghost"
      disabled={!design.redoable}
      aria-label="Do again"
      title="Do again (Ctrl Shift Z)"
      onclick={() => design.undo(true)}>↷</button
    >
  </span>
  <div
    class="shrink-[99] truncate max-[760px]:w-full min-[761px]:ml-auto min-[761px]:min-w-24"
    aria-live="polite"
    {title}
  >
    {#if design.trouble}<span class="text-fail">✕ {design.trouble}</span>
    {:else}{@render children()}{/if}
  </div>
</div>
