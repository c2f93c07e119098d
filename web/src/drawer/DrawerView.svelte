<script lang="ts">
  import { onMount, tick } from "svelte";

  import Notice from "../shell/Notice.svelte";
  import CsvButtons from "./CsvButtons.svelte";
  import { DrawerState } from "./drawer.svelte";
  import DrawerTabs from "./DrawerTabs.svelte";
  import LineCells from "./LineCells.svelte";
  import Taking from "./Taking.svelte";
  import { counted } from "../shell/counted";

  const stock = new DrawerState();
  let dragging = $state(false);

  onMount(() => {
    void stock.load();
  });

  async function keep() {
    const adding = stock.editing === null;
    if ((await stock.keep()) && adding) await focusValue();
  }
  async function focusValue() {
    await tick();
    document.querySelector<HTMLElement>("[data-cell=ohm]")?.focus();
  }
  async function edit(line: Parameters<DrawerState["edit"]>[0]) {
    stock.edit(line);
    await focusValue();
  }
  function dropped(event: DragEvent) {
    event.preventDefault();
    dragging = false;
    const file = event.dataTransfer?.files[0];
    if (file) void stock.open(file);
  }
</script>

<svelte:head><title>Drawer – Lowfold</title></svelte:head>

<section
  class="mx-auto h-full max-w-4xl overflow-y-auto px-8 py-7 {dragging ? 'bg-wash' : ''}"
  aria-labelledby="drawer-title"
  ondragover={(event) => {
    event.preventDefault();
    dragging = true;
  }}
  ondragleave={() => (dragging = false)}
  ondrop={dropped}
>
  <div class="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-2">
    <h1 id="drawer-title" class="font-serif text-figure font-semibold">Drawer</h1>
    <DrawerTabs at="stock" />
    <p class="text-soft">
      {#if stock.found && stock.found.lines.length > 0}
        {counted(stock.found.values, "value")}, {stock.found.parts === null
          ? "some of them plenty"
          : counted(stock.found.parts, "part")}; write “drawer” in a need to choose from it
      {:else}your own stock, for needs that say “from drawer”{/if}
    </p>
    <CsvButtons {stock} href="/api/drawer/csv" name="lowfold-drawer.csv" />
  </div>

  <Taking {stock} />

  {#if stock.trouble}
    <Notice tone="wrong"><span class="text-fail">✕ {stock.trouble}</span></Notice>
  {/if}
  {#if stock.removed}
    <Notice tone="done">
      <span>{stock.removed.value} {stock.removed.unit} is taken out.</span>
      <button type="button" class="btn btn-xs" onclick={() => stock.putBack()}>Put it back</button>
    </Notice>
  {/if}

  {#if stock.found === null}
    <p class="text-soft" role="status">{stock.trouble ? "" : "Reading the drawer…"}</p>
  {:else}
    <div class="wide-table">
      <table class="w-full border-collapse">
        <thead>
          <tr class="border-crease border-b [&>th]:py-2 [&>th]:pr-4">
            <th class="label-small w-40 text-right">value</th>
            <th class="label-small w-32 text-right">how many</th>
            <th class="label-small w-28 text-right">tolerance</th>
            <th class="label-small pl-4 text-left">family</th>
            <th class="w-36"><span class="sr-only">what can be done</span></th>
          </tr>
        </thead>
        <tbody>
          {#if stock.editing === null}
            <LineCells {stock} onkeep={keep} />
          {/if}
          {#each stock.found.lines as line (line.id)}
            {#if stock.editing === line.id}
              <LineCells {stock} onkeep={keep} />
            {:else}
              <tr class="border-crease hover:bg-wash border-b [&>td]:py-1.5 [&>td]:pr-4">
                <td class="text-right font-semibold"
                  >{line.value}&nbsp;<span class="unit">{line.unit}</span></td
                >
                <td class="text-right {line.count === null ? 'text-soft' : ''}"
                  >{line.count ?? "plenty"}</td
                >
                <td class="text-right">{line.tolerance_shown}</td>
                <td class="pl-4">{line.family || "—"}</td>
                <td class="text-right whitespace-nowrap">
                  <button
                    type="button"
                    class="text-soft hover:text-copper cursor-pointer"
                    aria-label="Change {line.value} {line.unit}"
                    onclick={() => edit(line)}>change</button
                  >
                  <button
                    type="button"
                    class="text-soft hover:text-fail ml-3 cursor-pointer"
                    aria-label="Take out {line.value} {line.unit}"
                    onclick={() => stock.remove(line)}>✕</button
                  >
                </td>
              </tr>
            {/if}
          {/each}
        </tbody>
      </table>
    </div>
    {#if stock.found.lines.length === 0}
      <p class="text-soft py-8 text-center">
        Nothing in it yet. Type a value and press Enter, or take a CSV file with the columns value,
        count, tolerance, family; it can be dropped here.
      </p>
    {/if}
  {/if}
</section>
