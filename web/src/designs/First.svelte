<script lang="ts">
  /** Nothing is here yet: the one line, three needs to take at a key, and what else there is. */
  import { onMount } from "svelte";

  import { NeedState } from "../line/need.svelte";
  import Line from "../line/Line.svelte";
  import { inDialog } from "../kit/keys";

  const EXAMPLES = [
    ["14.4 V to 3 V within 4 % into 1 MΩ, at most 80 µA", "a battery voltage for an input"],
    ["250 Ω within 2 %, 20 mA", "a resistance that nobody makes"],
    ["0.8 V reference to 3.6 V within 4 %", "the feedback pair of a regulator"],
  ] as const;
  const need = new NeedState();
  let line: ReturnType<typeof Line>;
  onMount(() => line.focus());

  function take(text: string) {
    void need.type(text);
    line.focus();
  }

  function onkeydown(event: KeyboardEvent) {
    // Once something is typed, these keys are its meanings'
    if (!event.altKey || need.text || inDialog()) return;
    const example = EXAMPLES[Number(event.key) - 1];
    if (!example) return;
    event.preventDefault();
    take(example[0]);
  }
</script>

<svelte:window {onkeydown} />

<div class="border-crease border-t pt-5" data-first-minute>
  <p class="text-soft mb-4 max-w-prose">
    Nothing here yet. Say what you need as you would say it; while you type it stands below what was
    understood, and the parts that would be chosen. Enter opens its sheet.
  </p>
  <Line bind:this={line} {need} />
  <h2 class="label-small mt-4">Or take one of these</h2>
  <ul class="mt-1">
    {#each EXAMPLES as [text, what], i (text)}
      <li class="border-crease border-b">
        <button
          type="button"
          class="hover:bg-wash flex min-h-10 w-full cursor-pointer flex-wrap items-baseline gap-x-3 py-1.5 text-left"
          onclick={() => take(text)}
        >
          <kbd class="kbd kbd-xs {need.text ? 'invisible' : ''}">Alt {i + 1}</kbd>
          <span class="font-semibold">{text}</span>
          <span class="text-soft text-note">{what}</span>
        </button>
      </li>
    {/each}
  </ul>
</div>
