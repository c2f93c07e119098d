<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import type { OpenedAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import Cautions from "./Cautions.svelte";
  import LinePlot from "./LinePlot.svelte";

  type Props = { answer: OpenedAnswer; lightest: string };
  let { answer, lightest }: Props = $props();
</script>

<Cautions cautions={answer.cautions} about={["no-power-supply", "starved-load"]} />
{#each answer.lines as line (line.name)}
  {#if answer.lines.length > 1}<h3 class="mt-3 font-semibold">{line.name}</h3>{/if}
  <LinePlot {line} />
  {#each line.words as words, k (k)}
    <p class="mt-1.5 text-note leading-snug">{words}</p>
  {/each}
  {#if lightest}
    <p class="mt-1.5 text-note leading-snug">
      The lightest string that passes every gate: {lightest}.
    </p>
  {/if}
  {#if line.meters.length > 0}
    <h3 class="label-small mt-4">The meter is a load too: what it would read</h3>
    <Sideways>
      <table class="mt-1 text-note">
        <tbody>
          {#each line.meters as meter (meter.meter)}
            <tr class="border-crease border-b [&>td]:py-0.5">
              <td class="w-44">{meter.meter}</td>
              <td class="w-24 text-right"><FigureText figure={meter.reads} /></td>
              <td class="w-24 text-right">{meter.off}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </Sideways>
  {/if}
{:else}
  {#each answer.load_words as words, k (k)}
    <p class="mt-1.5">{words}</p>
  {/each}
{/each}
