<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import Notice from "../shell/Notice.svelte";
  import Progress from "../shell/Progress.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import type { SharingState } from "./sharing.svelte";
  import { counted } from "../shell/counted";

  type Props = { sharing: SharingState; ontaken: () => void };
  let { sharing, ontaken }: Props = $props();
  const result = $derived(sharing.result);

  async function take() {
    await sharing.take();
    ontaken();
  }
</script>

{#if sharing.trouble}
  <Notice tone="wrong">
    <span class="text-fail">✕ {sharing.trouble}</span>
    <button type="button" class="btn btn-xs" onclick={() => sharing.close()}>Close</button>
  </Notice>
{:else if sharing.job?.state === "running"}
  <div class="mb-4"><Progress of={sharing} label="Sharing values" /></div>
{:else if sharing.job?.state === "cancelled"}
  <Notice tone="done">Cancelled; nothing is changed.</Notice>
{:else if result}
  <section class="border-copper mb-5 border-l-2 py-1 pl-4" aria-labelledby="shared-title">
    <h2 id="shared-title" class="font-semibold">
      {counted(result.values.length, "different value")} for {counted(
        result.choices.length,
        "design",
      )}{result.before ? `; the choices made now take ${result.before}` : ""}
    </h2>
    <p class="text-soft mt-0.5">
      {result.values.join(" · ")} — {result.complete
        ? "no choices that pass need fewer"
        : "the fewest among those that pass of the nearest 500 choices of each"}
    </p>
    <Sideways>
      <table class="mt-2">
        <tbody>
          {#each result.choices as choice (choice.id)}
            <tr class="[&>td]:py-0.5 [&>td]:pr-5">
              <td class="font-serif font-semibold">{choice.name}</td>
              <td>{choice.notation}</td>
              <td><VerdictMark verdict={choice.verdict} word={choice.words} /></td>
              <td class="text-soft">{choice.cost}</td>
            </tr>
          {/each}
          {#each result.left_out as design (design.id)}
            <tr class="[&>td]:py-0.5 [&>td]:pr-5">
              <td class="font-serif font-semibold">{design.name}</td>
              <td colspan="3" class="text-fail">✕ left as it is: {design.words}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </Sideways>
    <div class="mt-2 flex gap-2">
      <button type="button" class="btn btn-sm" onclick={take}>Pin these</button>
      <button type="button" class="btn btn-sm" onclick={() => sharing.close()}>Leave it</button>
    </div>
  </section>
{:else if sharing.taken}
  <Notice tone="done">{sharing.taken}</Notice>
{/if}
