<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import type { OpenedAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import Cautions from "./Cautions.svelte";

  type Props = { answer: OpenedAnswer };
  let { answer }: Props = $props();
</script>

<Cautions cautions={answer.cautions} about={["leg-fails", "hazardous-voltage"]} />
{#if answer.faults.length === 0}
  <p class="mt-2">Too many parts to look at one by one.</p>
{:else}
  <p class="text-soft mt-1 text-note">One fault at a time, all else nominal.</p>
  <Sideways>
    <table class="mt-1 w-full text-note">
      <tbody>
        {#each answer.faults as fault, k (k)}
          <tr class="border-crease border-b [&>td]:py-1">
            <td class="w-36">{fault.words}</td>
            <td>
              {#if fault.supply_shorted}<span class="text-fail">✕ the supply is shorted</span>
              {:else if fault.runs_away}<span class="text-fail"
                  >✕ as high as the regulator can drive it</span
                >
              {:else}
                {#each Object.entries(fault.outputs) as [at, figure] (at)}
                  <span class="mr-4"
                    >{at}
                    <FigureText {figure} />{#if fault.above.includes(at)}<span
                        class="text-fail ml-2"
                      >
                        ✕ above what it feeds stands</span
                      >{/if}</span
                  >
                {/each}
              {/if}
            </td>
            <td class="text-fail text-right"
              >{fault.hot.length ? `✕ too hot: ${fault.hot.join(", ")}` : ""}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </Sideways>
{/if}
