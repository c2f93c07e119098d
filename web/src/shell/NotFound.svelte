<script lang="ts">
  import { link } from "svelte-spa-router";
</script>

<div class="p-10">
  <h1 class="font-serif text-figure font-semibold">There is no such view</h1>
  <p class="mt-2"><a class="link text-copper" href="/" use:link>Back to the designs</a></p>
</div>
