<script lang="ts">
  import { push } from "svelte-spa-router";

  import { KEYS, WRITING } from "../help/lists";

  let dialog: HTMLDialogElement;

  export function open(): void {
    dialog.showModal();
  }
</script>

<dialog bind:this={dialog} class="modal" aria-labelledby="keys-title">
  <div class="modal-box bg-leaf border-crease border">
    <h2 id="keys-title" class="mb-3 font-serif text-read font-semibold">Help: keys and notation</h2>
    {#each [KEYS, WRITING] as list, i (i)}
      <dl
        class="border-crease grid grid-cols-[11rem_1fr] max-sm:grid-cols-[7rem_1fr] gap-y-1.5 border-t py-3"
      >
        {#each list as [key, meaning] (meaning)}
          <dt class="font-semibold">{key}</dt>
          <dd class="text-soft">{meaning}</dd>
        {/each}
      </dl>
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
