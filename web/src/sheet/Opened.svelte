<script lang="ts">
  import { askOpened, type OpenedAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import Scatter from "./Scatter.svelte";
  import type { SheetState } from "./sheet.svelte";

  type Props = { sheet: SheetState };
  let { sheet }: Props = $props();
  let dialog: HTMLDialogElement;
  let answer = $state.raw<OpenedAnswer | null>(null);
  let trouble = $state("");

  export async function open() {
    const choice = sheet.shown?.notation;
    if (!choice) return;
    answer = null;
    trouble = "";
    dialog.showModal();
    const { data, error } = await askOpened({ kind: sheet.kind, brief: sheet.brief, choice });
    answer = data ?? null;
    trouble = error?.detail ?? "";
  }

  const most = $derived(
    Math.max(...(answer?.contributions ?? []).map((c) => Math.abs(c.share)), 1),
  );
</script>

<dialog bind:this={dialog} class="modal" aria-labelledby="opened-title">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="modal-box bg-leaf border-crease max-w-3xl border shadow-none" tabindex="0">
    <h2 id="opened-title" class="font-serif text-lg font-semibold">{sheet.shown?.notation}</h2>
    {#if trouble}<p class="text-fail mt-3">✕ {trouble}</p>
    {:else if !answer}
      <p class="text-soft mt-3 flex items-center gap-2" role="status">
        <span class="loading loading-dots loading-xs" aria-hidden="true"></span> Drawing a hundred thousand
        of them…
      </p>
    {:else}
      {#if answer.scatters.length > 0}
        <h3 class="label-small mt-4">Scatter</h3>
        {#each answer.scatters as picture (picture.name)}<Scatter {picture} />{/each}
      {:else}
        <p class="text-soft mt-3 text-[13px]">A feedback pair is not sampled: see its corners.</p>
      {/if}
      {#if answer.contributions.length > 0}
        <h3 class="label-small mt-4">What contributes how much, of the accepted deviation</h3>
        <table class="mt-1 w-full text-[13px]">
          <tbody>
            {#each answer.contributions as c (c.at + c.name)}
              <tr>
                <td class="w-24 py-0.5">{c.at !== "OUT" ? `${c.at} ` : ""}{c.name}</td>
                <td>
                  <svg
                    viewBox="-100 0 200 10"
                    class="h-2.5 w-full"
                    preserveAspectRatio="none"
                    aria-hidden="true"
                  >
                    <path d="M0 0V10" class="stroke-soft" vector-effect="non-scaling-stroke" />
                    <rect
                      x={Math.min(0, (100 * c.share) / most)}
                      width={(100 * Math.abs(c.share)) / most}
                      y="1"
                      height="8"
                      class="fill-copper"
                    />
                  </svg>
                </td>
                <td class="w-44 pl-3 text-right">{c.words}</td>
              </tr>
            {/each}
          </tbody>
        </table>
        <p class="text-soft text-[13px]">
          Each at the high end of its own range, the others nominal; to the right it lifts the
          output.
        </p>
      {/if}
      {#if answer.parts.length > 0}
        <h3 class="label-small mt-4">Power at worst</h3>
        <p class="text-soft text-[13px]">{answer.derating}.</p>
        <table class="mt-1 w-full text-[13px]">
          <tbody>
            {#each answer.parts as part (part.ref)}
              <tr class="border-crease border-b [&>td]:py-0.5">
                <td class="w-16">{part.ref}</td>
                <td class="w-52"
                  ><FigureText figure={part.worst} /> of <FigureText figure={part.allowed} /></td
                >
                <td class="w-16 text-right"
                  >{part.used === null ? "" : `${Math.round(100 * part.used)} %`}</td
                >
                <td class="text-soft pl-4">{part.words}</td>
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
      {#if answer.faults.length > 0}
        <h3 class="label-small mt-4">If one part fails</h3>
        <table class="mt-1 w-full text-[13px]">
          <tbody>
            {#each answer.faults as fault (fault.words)}
              <tr class="border-crease border-b [&>td]:py-0.5">
                <td class="w-36">{fault.words}</td>
                <td>
                  {#if fault.supply_shorted}<span class="text-fail">✕ the supply is shorted</span>
                  {:else}
                    {#each Object.entries(fault.outputs) as [at, volts] (at)}
                      <span class="mr-4">{at} <FigureText figure={volts} /></span>
                    {/each}
                  {/if}
                </td>
                <td class="text-fail"
                  >{fault.hot.length ? `✕ too hot: ${fault.hot.join(", ")}` : ""}</td
                >
              </tr>
            {/each}
          </tbody>
        </table>
      {/if}
    {/if}
    <form method="dialog" class="modal-action mt-3"><button class="btn btn-sm">Close</button></form>
  </div>
  <form method="dialog" class="modal-backdrop"><button>close</button></form>
</dialog>
