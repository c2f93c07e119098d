<script lang="ts">
  import type { KeptDesign } from "../shell/kept.svelte";

  type Props = { design: KeptDesign; label: string };
  let { design, label }: Props = $props();
</script>

<label class="label-small mt-4" for="why">{label}</label>
<textarea
  id="why"
  rows="4"
  maxlength="20000"
  placeholder="For whoever reads this next year"
  class="hover:border-crease focus:border-copper placeholder:text-soft text-body mt-1 -ml-1.5 resize-none rounded-field border border-transparent px-1.5 py-1 font-serif leading-6"
  value={design.why}
  oninput={(event) => design.explain(event.currentTarget.value)}></textarea>
