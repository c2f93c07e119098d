<script lang="ts">
  import type { KeptDesign } from "../shell/kept.svelte";
  import { pressed } from "../kit/keys";

  type Props = { design: KeptDesign; label: string };
  let { design, label }: Props = $props();
</script>

<div class="mt-3 flex items-baseline justify-between gap-2">
  <label class="label-small" for="why">{label}</label>
  <button
    type="button"
    class="off-paper text-copper text-note cursor-pointer underline underline-offset-4 disabled:invisible"
    disabled={!design.decidable}
    title="Choice and reason, as they are now (Ctrl Enter in the reason)"
    onclick={() => design.decide()}>into the record</button
  >
</div>
<textarea
  id="why"
  rows="4"
  maxlength="20000"
  placeholder="For whoever reads this next year"
  class="hover:border-crease focus:border-copper placeholder:text-soft text-body mt-1 -ml-1.5 resize-none rounded-field border border-transparent px-1.5 py-1 font-serif leading-6"
  value={design.why}
  onkeydown={(event) => {
    if (!pressed(event, "reason")) return;
    event.preventDefault();
    void design.decide();
  }}
  oninput={(event) => design.explain(event.currentTarget.value)}></textarea>
<label class="mt-1 flex items-baseline gap-2 text-note">
  <span class="text-soft">tags</span>
  <input
    class="hover:border-crease focus:border-copper placeholder:text-soft min-w-0 grow rounded-field border border-transparent px-1.5"
    maxlength="400"
    placeholder="parted by commas"
    value={design.tags.join(", ")}
    onchange={(event) =>
      design.tag(
        event.currentTarget.value
          .split(",")
          .map((tag) => tag.trim().slice(0, 40))
          .filter(Boolean)
          .slice(0, 20),
      )}
  />
</label>
