<script lang="ts">
  /** The name of a design over its bench or its record, and how it stands there. */
  import type { Snippet } from "svelte";

  import type { Design } from "$api";
  import Places from "./Places.svelte";

  type Props = { design: Design; at: "bench" | "record"; children: Snippet };
  let { design, at, children }: Props = $props();
</script>

<svelte:head><title>{design.name || "Untitled"} · {at} – Lowfold</title></svelte:head>

<div
  class="border-crease flex min-h-12 shrink-0 items-center gap-x-4 border-b px-5 max-sm:flex-wrap max-sm:px-3 max-sm:py-1"
>
  <h1
    class="truncate font-serif text-figure font-semibold max-sm:w-full"
    title={design.name || "Untitled"}
  >
    {design.name || "Untitled"}
  </h1>
  <Places id={design.id} {at} />
  <div class="ml-auto whitespace-nowrap" aria-live="polite">{@render children()}</div>
</div>
