<script lang="ts">
  type Props = { id: number; at: "sheet" | "bench" };
  let { id, at }: Props = $props();
  const places = $derived({ sheet: `#/designs/${id}`, bench: `#/designs/${id}/bench` } as const);
  const names = ["sheet", "bench"] as const;
</script>

<nav class="off-paper flex gap-4" aria-label="Of this design">
  {#each names as name (name)}
    <a
      href={places[name]}
      aria-current={name === at ? "page" : undefined}
      class={name === at ? "text-copper font-semibold" : "text-soft hover:text-copper"}>{name}</a
    >
  {/each}
</nav>
