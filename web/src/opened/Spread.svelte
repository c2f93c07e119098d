<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import type { OpenedAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import Progress from "../shell/Progress.svelte";
  import type { Distribution, OpenedState } from "./opened.svelte";
  import Scatter from "./Scatter.svelte";
  import Tornado from "./Tornado.svelte";

  type Props = { view: OpenedState; answer: OpenedAnswer };
  let { view, answer }: Props = $props();

  const WAYS: Record<Distribution, string> = {
    uniform: "anywhere in its range",
    normal: "normally, 3σ at the ends",
  };
  const ways = Object.keys(WAYS) as Distribution[];
</script>

<div class="mb-2 flex h-9 items-center gap-x-4 text-note whitespace-nowrap">
  <span class="text-soft">Each part lies</span>
  <div role="radiogroup" aria-label="How parts are drawn" class="flex gap-3">
    {#each ways as way (way)}
      <label class="flex cursor-pointer items-center gap-1.5">
        <input
          type="radio"
          name="distribution"
          class="radio radio-xs"
          checked={view.distribution === way}
          onchange={() => view.spreadAs(way)}
        />{WAYS[way]}
      </label>
    {/each}
  </div>
  <div class="ml-auto min-w-0">
    {#if view.many.running}<Progress of={view.many} label="Drawing samples" />
    {:else}
      {#if view.many.trouble}<span class="text-fail">✕ {view.many.trouble}</span>
      {:else if view.many.job?.state === "cancelled"}
        <span class="text-soft" role="status">Cancelled; the first look is shown.</span>{/if}
      <button
        type="button"
        class="text-soft hover:text-copper ml-3 cursor-pointer underline underline-offset-4"
        onclick={() => view.drawMany()}>draw ten million</button
      >
    {/if}
  </div>
</div>
{#each view.scatters as picture (picture.name)}<Scatter {picture} />{/each}

<h3 class="label-small mt-4">The corners, exact over every value's range</h3>
<Sideways>
  <table class="mt-1 w-full text-note">
    <tbody>
      {#each answer.corners as corner (corner.at + corner.name)}
        <tr class="border-crease border-b [&>td]:py-0.5">
          <td class="w-28"
            >{corner.at && corner.at !== "OUT" ? `${corner.at} ` : ""}{corner.name}</td
          >
          <td class="w-24 text-right"><FigureText figure={corner.value} /></td>
          <td class="w-20 text-right">{corner.off}</td>
          <td class="text-soft pl-5">{corner.words}</td>
        </tr>
      {/each}
    </tbody>
  </table>
</Sideways>

<h3 class="label-small mt-4">What contributes how much, of the accepted deviation</h3>
<Tornado lines={answer.contributions} />
