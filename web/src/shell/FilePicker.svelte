<script lang="ts">
  /** A button that takes a file; the browser's own field for it is out of sight. */
  type Props = { words: string; label: string; accept: string; onfile: (file: File) => void };
  let { words, label, accept, onfile }: Props = $props();
  let picker: HTMLInputElement;
</script>

<input
  bind:this={picker}
  type="file"
  {accept}
  class="sr-only"
  tabindex="-1"
  aria-label={label}
  onchange={(event) => {
    const file = event.currentTarget.files?.[0];
    if (file) onfile(file);
    event.currentTarget.value = "";
  }}
/>
<button type="button" class="btn btn-sm" onclick={() => picker.click()}>{words}</button>
