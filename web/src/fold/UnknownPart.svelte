<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import type { FoldState } from "./fold.svelte";

  type Props = { fold: FoldState };
  let { fold }: Props = $props();
  let network = $state("");
  let known = $state<"total_ohm" | "supply_a" | "node">("node");
  let at = $state("");
  let value = $state("");
  const KNOWN = [
    ["node", "the voltage at"],
    ["supply_a", "the supply current"],
    ["total_ohm", "the total resistance"],
  ] as const;
  const percent = (error: number | null) =>
    error === null ? "" : `${error >= 0 ? "+" : "−"}${Math.abs(100 * error).toFixed(2)} %`;

  $effect(() => {
    if (!network) network = fold.text("network");
  });

  function find(event: Event) {
    event.preventDefault();
    void fold.find(network, known, at, value);
  }
</script>

<form class="flex flex-col gap-2 pt-2 text-note" onsubmit={find}>
  <label for="unknown-network">Write ? for the value to be found</label>
  <textarea
    id="unknown-network"
    rows="3"
    class="border-crease focus:border-copper rounded-field border px-1.5 py-1"
    spellcheck="false"
    bind:value={network}></textarea>
  <div class="flex items-center gap-1.5">
    <label class="sr-only" for="unknown-known">What is known</label>
    <select
      id="unknown-known"
      class="bg-leaf border-crease rounded-field border px-1 py-0.5"
      bind:value={known}
    >
      {#each KNOWN as [name, words] (name)}<option value={name}>{words}</option>{/each}
    </select>
    {#if known === "node"}
      <input
        class="border-copper w-14 border-b px-0.5"
        aria-label="junction"
        placeholder="OUT"
        bind:value={at}
      />
    {/if}
    is
    <input
      class="border-copper w-20 border-b px-0.5"
      aria-label="known figure"
      placeholder={{ node: "3V3", supply_a: "2 mA", total_ohm: "4k7" }[known]}
      bind:value
    />
    <button class="btn btn-xs ml-auto">Find it</button>
  </div>
  <div aria-live="polite">
    {#if fold.unknownTrouble}<p class="text-fail">✕ {fold.unknownTrouble}</p>{/if}
    {#if fold.unknown}
      <p class="mt-1 text-read">
        <strong>{fold.unknown.ref} = {fold.unknown.shown}</strong>
      </p>
      <Sideways>
        <table class="mt-1 text-right">
          <thead
            ><tr class="text-soft"
              ><th class="pr-4 font-normal">nearest in E24</th><th class="pr-4 font-normal"
                >gives</th
              ><th class="font-normal">off by</th></tr
            ></thead
          >
          <tbody>
            {#each fold.unknown.nearest as near (near.ohm)}
              <tr
                ><td class="pr-4">{near.shown}</td><td class="pr-4">{near.gives_shown}</td><td
                  >{percent(near.error)}</td
                ></tr
              >
            {/each}
          </tbody>
        </table>
      </Sideways>
    {/if}
  </div>
</form>
