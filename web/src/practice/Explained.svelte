<script lang="ts">
  import { tick } from "svelte";

  import Bits from "./Bits.svelte";
  import type { PracticeState } from "./practice.svelte";
  import WayTable from "./WayTable.svelte";

  type Props = { practice: PracticeState; onnext: () => void };
  let { practice, onnext }: Props = $props();
  const answer = $derived(practice.answer);
  const WAYS = { upright: "upright", lying: "on its side", slanted: "slanting" } as const;
  let next = $state<HTMLButtonElement>();

  $effect(() => {
    if (practice.answer) void tick().then(() => next?.focus({ preventScroll: true }));
  });
</script>

{#if answer}
  <div class="flex min-h-0 flex-1 flex-col" data-explained>
    <p class="text-read leading-snug" role="status" data-verdict={answer.right ? "right" : "wrong"}>
      {#if answer.right}<span class="text-pass font-semibold">● Right.</span>
      {:else}<span class="text-fail font-semibold">✕ Not so.</span>{/if}
      {answer.words}.
    </p>
    <div class="mt-2 min-h-0 flex-1 overflow-auto">
      {#if answer.taken && answer.short}
        <Bits taken={answer.taken} short={answer.short} />
        <WayTable name="Your way" lines={answer.taken} />
        <WayTable name="A short way" lines={answer.short} />
        <p class="text-soft mt-2 text-note">{answer.note}</p>
      {:else if answer.pictures.length > 0}
        {#each answer.steps as step, k (k)}<p class="mb-2">{step.words}</p>{/each}
        <p class="label-small mt-3">
          The same network, drawn <kbd class="kbd kbd-xs text-base-content">← →</kbd>
        </p>
        <div class="mt-1 flex gap-2">
          {#each answer.pictures as picture, k (picture.way)}
            <button
              type="button"
              class="rounded-field cursor-pointer border px-2 py-1 {practice.at === k
                ? 'border-copper bg-wash font-semibold'
                : 'border-crease'}"
              aria-pressed={practice.at === k}
              onclick={() => (practice.at = k)}>{WAYS[picture.way]}</button
            >
          {/each}
        </div>
      {:else}
        <p class="label-small">
          How one goes in the head <kbd class="kbd kbd-xs text-base-content">↑ ↓</kbd>
        </p>
        <ol class="mt-1">
          {#each answer.steps as step, k (k)}
            <li>
              <button
                type="button"
                class="w-full cursor-pointer border-l-2 px-2 py-1 text-left {practice.at === k
                  ? 'border-copper bg-wash'
                  : 'border-transparent'}"
                aria-current={practice.at === k ? "step" : undefined}
                onclick={() => (practice.at = k)}
                ><span class="text-soft mr-1">{k + 1}</span> {step.words}</button
              >
            </li>
          {/each}
        </ol>
      {/if}
    </div>
    <button bind:this={next} type="button" class="btn btn-primary mt-2 h-11" onclick={onnext}
      >Next question <kbd class="kbd kbd-xs text-base-content">Enter</kbd></button
    >
  </div>
{/if}
