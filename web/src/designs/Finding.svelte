<script lang="ts">
  /** What is looked for in the list, and its order. */
  import type { DesignsState, Sort, State } from "./designs.svelte";
  import { counted } from "../shell/counted";

  type Props = { designs: DesignsState };
  let { designs }: Props = $props();

  const STATES: [State, string][] = [
    ["", "all"],
    ["pass", "● pass"],
    ["marginal", "◐ marginal"],
    ["fail", "✕ fail"],
    ["none", "○ not judged"],
  ];
  const SORTS: [Sort, string][] = [
    ["changed", "changed last"],
    ["begun", "begun last"],
    ["name", "by name"],
  ];
</script>

<div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2 max-sm:gap-x-2">
  <label class="flex items-baseline gap-2">
    <span class="text-soft">find</span>
    <input
      type="search"
      class="input input-sm w-56 max-sm:w-72"
      maxlength="200"
      placeholder="name, need, reason, record"
      value={designs.words}
      oninput={(event) => designs.find({ words: event.currentTarget.value })}
    />
  </label>
  <label class="flex items-baseline gap-2">
    <span class="text-soft">stands</span>
    <select
      class="select select-sm w-36 max-sm:w-28"
      value={designs.state}
      onchange={(event) => designs.find({ state: event.currentTarget.value as State })}
    >
      {#each STATES as [state, words] (state)}<option value={state}>{words}</option>{/each}
    </select>
  </label>
  {#if designs.tags.length > 0}
    <label class="flex items-baseline gap-2">
      <span class="text-soft">tag</span>
      <select
        class="select select-sm w-36 max-sm:w-28"
        value={designs.tag}
        onchange={(event) => designs.find({ tag: event.currentTarget.value })}
      >
        <option value="">any</option>
        {#each designs.tags as tag (tag)}<option value={tag}>{tag}</option>{/each}
      </select>
    </label>
  {/if}
  <label class="flex items-baseline gap-2">
    <span class="text-soft">order</span>
    <select
      class="select select-sm w-36 max-sm:w-28"
      value={designs.sort}
      onchange={(event) => designs.find({ sort: event.currentTarget.value as Sort })}
    >
      {#each SORTS as [sort, words] (sort)}<option value={sort}>{words}</option>{/each}
    </select>
  </label>
  <span class="text-soft ml-auto text-note" role="status">
    {#if designs.rows}{counted(designs.total, "design")}{/if}
  </span>
</div>
