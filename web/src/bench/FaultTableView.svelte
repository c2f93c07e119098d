<script lang="ts">
  /**
   * What the meter would read with each likely fault: to take to the bench without a screen, and to
   * ask what if. The row that is looked at stands on the drawing beside what was read.
   */
  import Sideways from "../shell/Sideways.svelte";
  import type { BenchState } from "./bench.svelte";

  type Props = { bench: BenchState };
  let { bench }: Props = $props();

  function look(row: number | null) {
    bench.supposed = bench.supposed === row ? null : row;
  }

  function onkeydown(event: KeyboardEvent) {
    const rows = [...document.querySelectorAll<HTMLElement>("[data-what-if]")];
    const by = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    const next = rows[rows.indexOf(event.currentTarget as HTMLElement) + by];
    if (!by || !next) return;
    event.preventDefault();
    event.stopPropagation();
    next.focus();
    bench.supposed = Number(next.dataset.whatIf);
  }
</script>

<svelte:window onbeforeprint={() => void bench.tabulate()} />

{#if bench.round?.powered}
  <details
    class="border-crease mt-4 border-t pt-2 print:block"
    data-faults
    ontoggle={(event) => {
      if (event.currentTarget.open) void bench.tabulate();
      else bench.supposed = null;
    }}
  >
    <summary class="label-small cursor-pointer">What if: each likely fault, also for paper</summary>
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
            {#if bench.supposed !== null}
              <tr class="border-crease text-copper border-b font-semibold" data-read-so-far>
                <td class="text-left">read so far</td>
                {#each bench.faults.junctions as name, i (i)}<td class="pl-3 whitespace-nowrap"
                    >{bench.readAt(name)}</td
                  >{/each}
              </tr>
            {/if}
            {#each bench.faults.rows as row, k (k)}
              {@const here = bench.supposed === k}
              <tr class="border-crease border-b {here ? 'bg-wash' : ''}">
                <td class="text-left"
                  ><button
                    type="button"
                    class="hover:text-copper min-h-6 w-full cursor-pointer text-left {here
                      ? 'font-semibold'
                      : ''}"
                    aria-pressed={here}
                    data-what-if={k}
                    onclick={() => look(k)}
                    {onkeydown}>{row.words}</button
                  ></td
                >
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
