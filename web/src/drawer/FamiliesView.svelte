<script lang="ts">
  import { onMount, tick } from "svelte";

  import type { FamilyAnswer } from "$api";
  import Notice from "../shell/Notice.svelte";
  import CsvButtons from "./CsvButtons.svelte";
  import DrawerTabs from "./DrawerTabs.svelte";
  import { CELLS, FamiliesState, type Cell } from "./families.svelte";
  import FamilyCells from "./FamilyCells.svelte";
  import Taking from "./Taking.svelte";

  const families = new FamiliesState();
  const cells = Object.keys(CELLS) as Cell[];

  onMount(() => {
    void families.load();
  });

  async function focusCell(cell: Cell) {
    await tick();
    document.querySelector<HTMLElement>(`[data-cell=${cell}]`)?.focus();
  }
  async function keep() {
    const adding = families.editing === "";
    if ((await families.keep()) && adding) await focusCell("name");
  }
  async function edit(family: FamilyAnswer) {
    families.edit(family);
    await focusCell("tolerance");
  }
</script>

<svelte:head><title>Part families – Lowfold</title></svelte:head>

<section
  class="mx-auto h-full max-w-5xl overflow-y-auto px-8 py-7"
  aria-labelledby="families-title"
>
  <div class="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-2">
    <h1 id="families-title" class="font-serif text-figure font-semibold">Drawer</h1>
    <DrawerTabs at="families" />
    <p class="text-soft">typical to start from; the part's own data sheet rules</p>
    <CsvButtons stock={families} href="/api/families/csv" name="lowfold-families.csv" />
  </div>

  <Taking stock={families} />
  {#if families.trouble}
    <Notice tone="wrong"><span class="text-fail">✕ {families.trouble}</span></Notice>
  {/if}
  {#if families.removed}
    <Notice tone="done">
      <span
        >{families.removed.name} is {families.removed.replaces
          ? "as typical again"
          : "taken out"}.</span
      >
      <button type="button" class="btn btn-xs" onclick={() => families.putBack()}
        >Put it back</button
      >
    </Notice>
  {/if}

  {#if families.found === null}
    <p class="text-soft" role="status">{families.trouble ? "" : "Reading the families…"}</p>
  {:else}
    <div class="wide-table">
      <table class="w-full border-collapse">
        <thead>
          <tr class="border-crease border-b [&>th]:py-2 [&>th]:pr-3">
            {#each cells as cell (cell)}
              <th class="label-small {cell === 'name' ? 'w-44 text-left' : 'text-right'}"
                >{CELLS[cell]}</th
              >
            {/each}
            <th class="label-small text-right" title="Above it voltage limits, not power"
              >critical</th
            >
            <th class="w-36"><span class="sr-only">what can be done</span></th>
          </tr>
        </thead>
        <tbody>
          {#if families.editing === ""}<FamilyCells {families} onkeep={keep} />{/if}
          {#each families.found as family (family.name)}
            {#if families.editing === family.name}<FamilyCells {families} onkeep={keep} />
            {:else}
              <tr class="border-crease hover:bg-wash border-b text-right [&>td]:py-1.5 [&>td]:pr-3">
                <td class="text-left font-semibold"
                  >{family.name}
                  {#if !family.typical}<span class="text-copper ml-1 text-note">yours</span
                    >{/if}</td
                >
                {#each cells.slice(1) as cell (cell)}<td class="whitespace-nowrap"
                    >{family.shown[cell]}</td
                  >{/each}
                <td class="text-soft whitespace-nowrap">{family.shown.critical_ohm}</td>
                <td class="whitespace-nowrap">
                  <button
                    type="button"
                    class="text-soft hover:text-copper cursor-pointer"
                    aria-label="Change {family.name}"
                    onclick={() => edit(family)}>change</button
                  >
                  {#if !family.typical}
                    <button
                      type="button"
                      class="text-soft hover:text-fail ml-3 cursor-pointer"
                      aria-label={family.replaces
                        ? `Make ${family.name} typical again`
                        : `Take out ${family.name}`}
                      onclick={() => families.remove(family)}>✕</button
                    >
                  {/if}
                </td>
              </tr>
            {/if}
          {/each}
        </tbody>
      </table>
    </div>
    <p class="text-soft mt-3 max-w-prose text-note leading-snug">
      Name a family where a need says the size: “in thin film 0603”. Where a need says “family” for
      tolerance, coefficient or drift, the family's figure counts. Above the critical resistance the
      limiting voltage is reached before the power.
    </p>
  {/if}
</section>
