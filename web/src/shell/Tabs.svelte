<script lang="ts" generics="Name extends string">
  import type { Snippet } from "svelte";

  type Props = {
    tabs: readonly (readonly [Name, string])[];
    value: Name;
    label: string;
    /** Space round the tabs and round the panel. */
    inset?: string;
    /** Many names in little room. */
    tight?: boolean;
    children: Snippet;
  };
  let { tabs, value = $bindable(), label, inset = "", tight = false, children }: Props = $props();
  const id = $props.id();
  let list = $state<HTMLElement>();

  /** Arrows go round the tabs and choose as they go, as the pattern for tabs has it. */
  function onkeydown(event: KeyboardEvent) {
    const at = tabs.findIndex(([name]) => name === value);
    const to = { ArrowRight: at + 1, ArrowLeft: at - 1, Home: 0, End: tabs.length - 1 }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    value = tabs.at(to % tabs.length)?.[0] ?? value;
    list?.querySelector<HTMLElement>(`[data-tab="${value}"]`)?.focus();
  }
</script>

<div class="flex min-h-0 flex-1 flex-col">
  <div
    bind:this={list}
    role="tablist"
    tabindex="-1"
    aria-label={label}
    class="border-crease flex overflow-x-auto overflow-y-hidden border-b pt-2 {tight
      ? 'text-note gap-3'
      : 'gap-4'} {inset}"
    {onkeydown}
  >
    {#each tabs as [name, words] (name)}
      <button
        type="button"
        role="tab"
        id="{id}-{name}"
        aria-selected={name === value}
        aria-controls="{id}-panel"
        tabindex={name === value ? 0 : -1}
        data-tab={name}
        class="hover:text-copper aria-selected:border-copper aria-selected:text-copper -mb-px cursor-pointer border-b-2 border-transparent pb-1.5 whitespace-nowrap aria-selected:font-semibold"
        onclick={() => (value = name)}>{words}</button
      >
    {/each}
  </div>
  <div
    role="tabpanel"
    id="{id}-panel"
    aria-labelledby="{id}-{value}"
    tabindex="0"
    class="min-h-0 flex-1 overflow-auto focus-visible:outline-offset-[-2px] {inset}"
  >
    {@render children()}
  </div>
</div>
