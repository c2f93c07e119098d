<script lang="ts">
  import { onMount } from "svelte";

  import Minute from "./Minute.svelte";
  import type { PracticeState } from "./practice.svelte";

  type Props = { practice: PracticeState };
  let { practice }: Props = $props();
  const question = $derived(practice.question);
  const HINTS: Record<string, string> = { V: "3V2", A: "1.5 mA", Ω: "4k7" };
  let text = $state("");
  let line = $state<HTMLInputElement>();

  // A question that arrives takes no keys from another line that is being written
  onMount(() => {
    if (!document.activeElement?.matches("input, textarea, select")) line?.focus();
  });
</script>

{#if question}
  <form
    onsubmit={(event) => {
      event.preventDefault();
      if (text.trim()) void practice.give({ value: text });
    }}
  >
    <label for="estimate" class="label-small">Your estimate, in {question.unit}</label>
    <div class="mt-1 flex gap-2">
      <input
        id="estimate"
        bind:this={line}
        bind:value={text}
        class="border-copper placeholder:text-soft min-w-0 flex-1 border-b-2 px-1 text-[26px] leading-10 font-semibold placeholder:font-normal"
        placeholder={HINTS[question.unit ?? "Ω"]}
        autocomplete="off"
        autocapitalize="off"
        spellcheck="false"
        maxlength="60"
        aria-invalid={Boolean(practice.objection)}
        aria-describedby="estimate-words"
      />
      <button class="btn btn-primary h-11" disabled={practice.busy || !text.trim()}
        >That is it <kbd class="kbd kbd-xs text-base-content max-[900px]:hidden">Enter</kbd></button
      >
    </div>
    <p class="mt-1 min-h-9 text-note" id="estimate-words" aria-live="polite">
      {#if practice.objection}<span class="text-fail">✕ {practice.objection}</span>
      {:else}<span class="text-soft"
          >Within {Math.round(100 * (question.within ?? 0))} %, in the head. A minute is enough.</span
        >{/if}
    </p>
    <Minute />
  </form>
{/if}
