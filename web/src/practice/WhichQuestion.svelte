<script lang="ts">
  /** Level, number, one's own network, ten for a class. */
  import { LEVELS, type Asked, type PracticeState } from "./practice.svelte";

  type Props = { practice: PracticeState };
  let { practice }: Props = $props();
  let number = $state("");
  let own = $state(false);
  let network = $state("");
  let supply = $state("14.4 V");
  const seed = $derived(practice.question?.seed);

  /** Put it, and leave the keys to the question. */
  function put(asked: Asked) {
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    void practice.put({ level: practice.level, ...asked });
  }
</script>

<div class="flex flex-wrap items-center gap-x-4 gap-y-1 text-note" data-which>
  <span class="flex items-center gap-1" role="group" aria-label="Level">
    <span class="text-soft">level</span>
    {#each LEVELS as level (level)}
      <button
        type="button"
        class="rounded-field h-7 w-7 cursor-pointer border {practice.level === level
          ? 'border-copper bg-wash font-semibold'
          : 'border-crease'}"
        aria-pressed={practice.level === level}
        onclick={() => put({ level })}>{level}</button
      >
    {/each}
  </span>
  <form
    class="flex items-center gap-1"
    onsubmit={(event) => {
      event.preventDefault();
      if (/^\d{1,10}$/.test(number.trim())) put({ seed: Number(number) });
      number = "";
    }}
  >
    <label class="text-soft" for="practice-number">number</label>
    <input
      id="practice-number"
      class="border-crease placeholder:text-ink w-24 border-b px-1"
      inputmode="numeric"
      maxlength="10"
      autocomplete="off"
      placeholder={seed === undefined ? "" : String(seed)}
      bind:value={number}
    />
  </form>
  <button
    type="button"
    class="hover:text-copper cursor-pointer underline decoration-dotted"
    aria-expanded={own}
    onclick={() => (own = !own)}>your own network</button
  >
  <a
    class="hover:text-copper inline-flex min-h-6 items-center underline decoration-dotted"
    href="#/practice/sheet/{practice.drill}/{practice.level}/{seed ?? 1}">ten to print</a
  >
  {#if own}
    <form
      class="flex w-full items-center gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        put({ network, supply_v: supply });
      }}
    >
      <label class="text-soft" for="practice-own">network</label>
      <input
        id="practice-own"
        class="border-copper placeholder:text-soft min-w-0 flex-1 border-b px-1"
        placeholder="360k + @OUT + 180k"
        maxlength="4000"
        autocomplete="off"
        spellcheck="false"
        bind:value={network}
      />
      <label class="text-soft" for="practice-supply">on</label>
      <input
        id="practice-supply"
        class="border-copper w-20 border-b px-1"
        maxlength="40"
        autocomplete="off"
        bind:value={supply}
      />
      <button class="btn btn-sm" disabled={!network.trim() || practice.busy}>Ask about it</button>
    </form>
  {/if}
</div>
