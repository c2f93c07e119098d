<script lang="ts">
  /** How often each kind of fault is met, to be changed by who knows better. */
  import { PriorsState } from "./priors.svelte";

  type Props = { onkept: () => void };
  let { onkept }: Props = $props();

  const state = new PriorsState();
  void state.open();
  const changed = $derived(state.priors.some((p) => p.weight !== p.start));

  async function weigh(kind: string, text: string): Promise<void> {
    if (await state.weigh(kind, text)) onkept();
  }
  async function reset(): Promise<void> {
    if (await state.reset()) onkept();
  }
</script>

<div class="mt-2" data-priors>
  <p>
    How often each kind is met, against the others (start values: common practice).
    {#if changed}
      <button type="button" class="btn btn-xs ml-1" onclick={reset}>Back to the start values</button
      >
    {/if}
  </p>
  {#if state.trouble}<p class="text-error" role="alert">{state.trouble}</p>{/if}
  <ul class="mt-1 grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-x-6">
    {#each state.priors as prior (prior.kind)}
      <li class="border-crease flex items-center gap-2 border-b py-0.5">
        <label class="grow" for="prior-{prior.kind}">{prior.words}</label>
        {#if prior.weight !== prior.start}<span>was {prior.start}</span>{/if}
        <input
          id="prior-{prior.kind}"
          class="input input-xs w-16 text-right"
          inputmode="decimal"
          value={prior.weight}
          onchange={(event) => weigh(prior.kind, event.currentTarget.value)}
        />
      </li>
    {/each}
  </ul>
</div>
