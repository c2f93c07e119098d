<script lang="ts">
  import type { Design } from "$api";

  type Props = { theirs: Design; onsettle: (how: "theirs" | "mine" | "both") => void };
  let { theirs, onsettle }: Props = $props();
</script>

<div role="alert" class="bg-wash border-copper flex items-center gap-3 border-b px-5 py-2">
  <span class="mr-auto">
    <strong>Changed elsewhere meanwhile.</strong> Revision {theirs.revision} of “{theirs.name}” is
    stored; what is on screen is not. Nothing of either is lost.
  </span>
  <button type="button" class="btn btn-sm" onclick={() => onsettle("theirs")}
    >Take the stored one</button
  >
  <button type="button" class="btn btn-sm" onclick={() => onsettle("mine")}
    >Put this one over it</button
  >
  <button type="button" class="btn btn-sm" onclick={() => onsettle("both")}>Keep both</button>
</div>
