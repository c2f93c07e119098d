<script lang="ts">
  /** What the meter would read with each likely fault, to take to the bench without a screen. */
  import Sideways from "../shell/Sideways.svelte";
  import type { BenchState } from "./bench.svelte";

  type Props = { bench: BenchState };
  let { bench }: Props = $props();
</script>

<svelte:window onbeforeprint={() => void bench.tabulate()} />

{#if bench.round?.powered}
  <details
    class="border-crease mt-4 border-t pt-2 print:block"
    data-faults
    ontoggle={(event) => event.currentTarget.open && void bench.tabulate()}
  >
    <summary class="label-small cursor-pointer">Fault table, for paper</summary>
    {#if bench.faults}
      <Sideways>
        <table class="mt-1 w-full border-collapse text-right text-note">
          <thead>
            <tr class="border-crease border-b">
              <th class="text-left font-semibold">fault</th>
              {#each bench.faults.points as point, k (k)}<th class="pl-3 font-semibold">{point}</th
                >{/each}
            </tr>
          </thead>
          <tbody>
            {#each bench.faults.rows as row, k (k)}
              <tr class="border-crease border-b">
                <td class="py-0.5 text-left">{row.words}</td>
                {#each row.reads as value, i (i)}<td class="pl-3 whitespace-nowrap">{value}</td
                  >{/each}
              </tr>
            {/each}
          </tbody>
        </table>
      </Sideways>
    {:else}<p class="text-soft text-note" role="status">Working it out…</p>{/if}
  </details>
{/if}
