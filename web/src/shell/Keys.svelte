<script lang="ts">
  import { push } from "svelte-spa-router";

  import Listed from "../help/Listed.svelte";
  import { WRITING } from "../help/lists";
  import { KEYS } from "../kit/keys";

  let dialog: HTMLDialogElement;

  export function open(): void {
    dialog.showModal();
  }
</script>

<dialog bind:this={dialog} class="modal" aria-labelledby="keys-title">
  <!-- Scrolled by the arrow keys, for which it takes the focus itself -->
  <div class="modal-box bg-leaf border-crease max-h-[calc(100dvh-4rem)] border outline-none">
    <h2 id="keys-title" class="mb-3 font-serif text-read font-semibold">Help: keys and notation</h2>
    {#each [KEYS, WRITING] as list, i (i)}
      <Listed {list} />
    {/each}
    <form method="dialog" class="modal-action mt-0 items-center">
      <button class="text-copper mr-auto underline underline-offset-4" onclick={() => push("/help")}
        >All of the help, and settings</button
      >
      <button class="btn btn-sm">Close</button>
    </form>
  </div>
  <form method="dialog" class="modal-backdrop"><button>close</button></form>
</dialog>
