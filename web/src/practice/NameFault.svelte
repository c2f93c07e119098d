<script lang="ts">
  import type { PracticeState } from "./practice.svelte";

  type Props = { practice: PracticeState };
  let { practice }: Props = $props();
  let kind = $state("");
  let one = $state("");
  let two = $state("");
  let first = $state<HTMLSelectElement>();

  const onkeydown = (event: KeyboardEvent & { currentTarget: HTMLSelectElement }) => {
    if (event.key === "Escape") event.currentTarget.blur();
    else if (event.key === "Enter" && whole) event.currentTarget.form?.requestSubmit();
    else return;
    event.preventDefault();
  };

  export function focus(): void {
    first?.focus();
  }

  const offered = $derived(practice.question?.kinds ?? []);
  const takes = $derived(offered.find((k) => k.kind === kind)?.takes ?? "nothing");
  const parts = $derived(
    Object.keys(practice.question?.picture.shown ?? {}).filter((ref) => !ref.startsWith("L")),
  );
  const nodes = $derived(Object.keys(practice.question?.picture.places ?? {}));
  const names = $derived(takes.includes("part") ? parts : nodes);
  const wanted = $derived(takes === "nothing" ? 0 : takes.startsWith("two") ? 2 : 1);
  const refs = $derived([one, two].slice(0, wanted));
  const whole = $derived(kind !== "" && refs.every((ref) => names.includes(ref)));

  function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    if (whole) void practice.give({ kind: kind as "open", refs });
  }
</script>

<form class="border-crease mt-2 border-t pt-2" {onsubmit} data-naming>
  <label class="label-small" for="fault-kind"
    ><kbd class="kbd kbd-xs text-base-content">n</kbd> It is</label
  >
  <div class="mt-1 flex flex-wrap gap-2">
    <select
      id="fault-kind"
      bind:this={first}
      bind:value={kind}
      class="select select-sm min-w-0 flex-1"
      {onkeydown}
    >
      <option value="" disabled>what is wrong</option>
      {#each offered as k (k.kind)}<option value={k.kind}>{k.words}</option>{/each}
    </select>
    {#each [0, 1].slice(0, wanted) as k (k)}
      <select
        class="select select-sm w-24"
        aria-label={k === 0 ? "Which" : "and which"}
        value={k === 0 ? one : two}
        onchange={(event) => {
          if (k === 0) one = event.currentTarget.value;
          else two = event.currentTarget.value;
        }}
        {onkeydown}
      >
        <option value="" disabled>{takes.includes("part") ? "part" : "junction"}</option>
        {#each names as name (name)}<option value={name}>{name}</option>{/each}
      </select>
    {/each}
    <button class="btn btn-sm btn-primary" disabled={!whole || practice.busy}>That is it</button>
  </div>
</form>
