<script lang="ts">
  type Props = { what: string };
  let { what }: Props = $props();
</script>

<div class="p-10" role="alert">
  <h1 class="font-serif text-figure font-semibold">{what}</h1>
  <p class="mt-2"><a class="link text-copper" href="#/">Back to the designs</a></p>
</div>
