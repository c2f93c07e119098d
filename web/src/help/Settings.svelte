<script lang="ts">
  /** What a new need begins with, and the decimal sign of what is copied. */
  import { DEFAULTS, own } from "./own.svelte";
</script>

<h2 class="mt-6 font-serif text-read font-semibold" id="settings">Settings</h2>
<p class="text-soft mt-1 max-w-prose text-note">
  A new need begins with what stands here, and its sentence names it; empty is as Lowfold has it.
  Kept in this browser.
</p>
<div class="mt-2 flex flex-wrap gap-x-6 gap-y-2" data-settings>
  {#each DEFAULTS as [token, words, usual] (token)}
    <label class="flex items-baseline gap-2">
      <span class="text-soft">{words}</span>
      <input
        class="input input-sm w-32"
        placeholder={usual}
        maxlength="80"
        autocomplete="off"
        value={own.text(token)}
        oninput={(event) => own.type(token, event.currentTarget.value)}
      />
    </label>
  {/each}
</div>
<label class="mt-3 flex items-center gap-2">
  <input type="checkbox" class="checkbox checkbox-xs" bind:checked={own.comma} />
  copy figures with a decimal comma
</label>
