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

  function onkeydown(event: KeyboardEvent) {
    const typing =
      event.target instanceof Element && event.target.matches("input, textarea, select");
    const plain = event.key === "+" && !typing && !event.ctrlKey && !event.metaKey;
    const beside = event.altKey && event.key.toLowerCase() === "n";
    if (!(plain || beside) || document.querySelector("dialog[open]")) return;
    event.preventDefault();
    open();
  }
</script>

<svelte:window {onkeydown} />

<dialog bind:this={dialog} class="modal modal-top" aria-labelledby="need-title">
  <div class="modal-box bg-leaf border-crease mx-auto max-w-3xl border" data-line>
    <Line bind:this={line} {need} onmade={() => dialog.close()} />
  </div>
  <form method="dialog" class="modal-backdrop"><button>close</button></form>
</dialog>
