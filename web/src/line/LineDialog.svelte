<script lang="ts">
  /** One line for a whole need, from anywhere: `+`, or Alt N while typing. */
  import { NeedState } from "./need.svelte";
  import Line from "./Line.svelte";

  const need = new NeedState();
  let dialog: HTMLDialogElement;
  let line: ReturnType<typeof Line>;

  export function open(): void {
    need.clear();
    dialog.showModal();
    line.focus();
  }
</script>

<dialog bind:this={dialog} class="modal modal-top" aria-labelledby="need-title">
  <div class="modal-box bg-leaf border-crease mx-auto max-w-3xl border" data-line>
    <Line bind:this={line} {need} onmade={() => dialog.close()} />
  </div>
  <form method="dialog" class="modal-backdrop"><button>close</button></form>
</dialog>
