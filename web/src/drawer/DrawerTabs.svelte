<script lang="ts">
  type Props = { at: "stock" | "families" | "meters" };
  let { at }: Props = $props();
  const PLACES = {
    stock: "#/drawer",
    families: "#/drawer/families",
    meters: "#/drawer/meters",
  } as const;
  const places = Object.keys(PLACES) as (keyof typeof PLACES)[];
</script>

<nav class="flex gap-4" aria-label="In the drawer">
  {#each places as place (place)}
    <a
      href={PLACES[place]}
      aria-current={place === at ? "page" : undefined}
      class={place === at ? "text-copper font-semibold" : "text-soft hover:text-copper"}>{place}</a
    >
  {/each}
</nav>
