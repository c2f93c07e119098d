<script lang="ts">
  /** What waits in this browser until the server takes it. */
  import { outbox } from "./outbox.svelte";

  let dialog = $state<HTMLDialogElement>();

  export function open(): void {
    dialog?.showModal();
  }
</script>

<dialog bind:this={dialog} class="modal" aria-labelledby="waiting-title">
  <div class="modal-box bg-leaf border-crease border">
    <h2 id="waiting-title" class="mb-1 font-serif text-read font-semibold">Not kept yet</h2>
    <p class="text-soft mb-3">
      {outbox.forbidden
        ? "This browser keeps nothing for the page: leave this tab open until the server takes it."
        : "Held in this browser, through a reload too, until the server takes it."}
    </p>
    <ul>
      {#each outbox.listed as one (one.at)}
        <li class="border-crease flex items-baseline gap-3 border-t py-2">
          <span class="min-w-0 grow">
            {#if one.id}
              <a
                href="#/designs/{one.id}"
                class="text-copper underline underline-offset-4"
                onclick={() => dialog?.close()}>{one.words || "Untitled"}</a
              >
            {:else}{one.words || "Untitled"}{/if}
            {#if one.stuck}<span class="text-fail block">✕ {one.stuck}</span>{/if}
          </span>
          <button type="button" class="btn btn-xs" onclick={() => outbox.throwAway(one.at)}
            >Throw it away</button
          >
        </li>
      {:else}
        <li>All of it is kept.</li>
      {/each}
    </ul>
    <form method="dialog" class="modal-action">
      <button class="btn btn-sm">Close <kbd class="kbd kbd-xs">Esc</kbd></button>
    </form>
  </div>
  <form method="dialog" class="modal-backdrop"><button>close</button></form>
</dialog>
