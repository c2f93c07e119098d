<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import type { OpenedAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import Cautions from "./Cautions.svelte";
  import Derating from "./Derating.svelte";

  type Props = { answer: OpenedAnswer };
  let { answer }: Props = $props();
  const power = $derived(answer.power);
</script>

<Cautions cautions={answer.cautions} about={["hot-part", "hazardous-voltage", "heavy-current"]} />
{#if !power}
  <p class="mt-2">State the voltage across it or the current through it to judge power.</p>
{:else}
  <Derating {power} />
  <Sideways>
    <table class="mt-3 w-full text-note">
      <thead class="text-soft text-left [&_th]:font-normal">
        <tr
          ><th>part</th><th class="text-right">at worst</th><th class="text-right">allowed</th><th
            class="text-right">used</th
          ><th class="text-right">across it</th><th class="text-right">limiting</th><th></th><th
            class="pl-4">smallest rating</th
          ></tr
        >
      </thead>
      <tbody>
        {#each power.parts as part (part.ref)}
          <tr class="border-crease border-b text-right [&>td]:py-0.5">
            <td class="text-left">{part.ref}</td>
            <td><FigureText figure={part.worst} /></td>
            <td><FigureText figure={part.allowed} /></td>
            <td>{part.used === null ? "" : `${Math.round(100 * part.used)} %`}</td>
            <td><FigureText figure={part.volts} /></td>
            <td><FigureText figure={part.limiting} /></td>
            <td><VerdictMark verdict={part.verdict} word={part.verdict ?? "not judged"} /></td>
            <td class="text-soft pl-4 text-left">{part.would}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  </Sideways>
  {#each power.words as words, k (k)}
    <p class="mt-1.5 text-note leading-snug">{words}</p>
  {/each}
{/if}
