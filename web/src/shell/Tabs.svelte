<script lang="ts" generics="Name extends string">
  import { Tabs } from "bits-ui";
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
</script>

<Tabs.Root bind:value class="flex min-h-0 flex-1 flex-col">
  <Tabs.List
    aria-label={label}
    class="border-crease flex overflow-x-auto overflow-y-hidden border-b pt-2 {tight
      ? 'text-note gap-3'
      : 'gap-4'} {inset}"
  >
    {#each tabs as [name, words] (name)}
      <Tabs.Trigger
        value={name}
        data-tab={name}
        class="hover:text-copper data-[state=active]:border-copper data-[state=active]:text-copper -mb-px cursor-pointer border-b-2 border-transparent pb-1.5 whitespace-nowrap data-[state=active]:font-semibold"
        >{words}</Tabs.Trigger
      >
    {/each}
  </Tabs.List>
  <Tabs.Content
    {value}
    class="min-h-0 flex-1 overflow-auto focus-visible:outline-offset-[-2px] {inset}"
  >
    {@render children()}
  </Tabs.Content>
</Tabs.Root>
