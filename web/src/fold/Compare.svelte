<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import type { FoldAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import type { FoldState } from "./fold.svelte";

  type Props = { fold: FoldState; folded: FoldAnswer };
  let { fold, folded }: Props = $props();
  const other = $derived(fold.other);
  const there = (ref: string) => other?.table.find((row) => row.ref === ref);
</script>

<div class="pt-2 text-note">
  <label for="compare-with">Set this beside the same network</label>
  <select
    id="compare-with"
    class="bg-leaf border-crease rounded-field border px-1 py-0.5"
    value={fold.compared}
    onchange={(event) => fold.compare(event.currentTarget.value)}
  >
    <option value="">…</option>
    {#each fold.others as what (what)}<option value={what}>{what}</option>{/each}
  </select>
  {#if fold.others.length === 0}
    <p class="text-soft mt-2">There is no switch to throw and no load to take off.</p>
  {:else if other}
    <Sideways>
      <table class="mt-2 w-full text-right">
        <thead>
          <tr class="text-soft border-crease border-b">
            <th class="py-1 text-left font-normal">part</th>
            <th class="font-normal">V</th><th class="font-normal">then</th>
            <th class="font-normal">I</th><th class="font-normal">then</th>
          </tr>
        </thead>
        <tbody>
          {#each folded.table as row (row.ref)}
            {@const then = there(row.ref)}
            {@const moved = then?.voltage?.text !== row.voltage?.text}
            <tr class="border-crease border-b [&>td]:py-1">
              <td class="text-left font-semibold">{row.ref}</td>
              <td><FigureText figure={row.voltage} /></td>
              <td class={moved ? "text-copper" : "text-soft"}
                ><FigureText figure={then?.voltage ?? null} /></td
              >
              <td><FigureText figure={row.current} /></td>
              <td class={moved ? "text-copper" : "text-soft"}
                ><FigureText figure={then?.current ?? null} /></td
              >
            </tr>
          {/each}
          <tr class="[&>td]:py-1">
            <td class="text-left">whole</td>
            <td><FigureText figure={folded.total} /></td>
            <td class="text-copper"><FigureText figure={other.total} /></td>
            <td><FigureText figure={folded.draws} /></td>
            <td class="text-copper"><FigureText figure={other.draws} /></td>
          </tr>
        </tbody>
      </table>
    </Sideways>
  {/if}
</div>
