<script lang="ts">
  let dialog: HTMLDialogElement;

  export function open(): void {
    dialog.showModal();
  }

  const KEYS: [string, string][] = [
    ["+  Alt N", "a need in one line, from anywhere; Alt N also while typing"],
    ["Tab", "next figure of the need"],
    ["↑ ↓", "walk the choices, also while typing a figure"],
    ["Enter", "pin the choice under the cursor; from a figure, go to the choices"],
    ["Esc", "put a figure back as it was when entered"],
    ["→ ←", "fold and unfold a step; on a sheet the same ratio a decade up and down"],
    ["z  Z  0", "a drawing nearer, further off, all of it; Shift with an arrow moves it"],
    ["h", "a network's potentials as heights"],
    ["c", "on a sheet: the choice a careful designer takes"],
    ["b", "on a sheet: hold a choice, and set those under the cursor beside it"],
    ["s l p f w", "open spread, load, power, faults, what would pass"],
    ["t", "at the bench: take the reading from the meter on the wire"],
    ["Enter", "at the bench: keep the reading and go on"],
    ["f", "at the bench: put the leads where the next reading tells most"],
    ["PgUp PgDn", "at the bench: walk what may be wrong"],
    ["n  /", "in the record: write a line, find one"],
    ["r", "the record beside the sheet or the bench"],
    ["Ctrl Enter", "in the reason: choice and reason into the record"],
    ["Ctrl Z", "undo; with Shift, do it again"],
    ["s p n", "in practice: series, parallel, neither; at a board: n names the fault"],
    ["j  [ ]", "at a practice board: the lead to the next jack, the range"],
    ["?", "these keys"],
  ];
  const WRITING: [string, string][] = [
    ["4k7  4.7 kΩ  4700", "the same resistance"],
    ["R47  0R1  5L0", "0.47 Ω, 0.1 Ω, 5 mΩ"],
    ["3V3  250 mV", "voltages"],
    ["80 µA  80 uA", "the same current"],
    ["1 %  0.01", "the same fraction"],
    ["m and M", "milli and mega: the one case that matters"],
    ["drawer", "in place of a series: your own stock"],
    ["R2 0.1 % 25 ppm/K", "a part of its own; also its size: R1 1206"],
    ["1k + @A + (2k || 3k)", "a network: series, a named junction, parallel"],
  ];
</script>

<dialog bind:this={dialog} class="modal" aria-labelledby="keys-title">
  <div class="modal-box bg-leaf border-crease border">
    <h2 id="keys-title" class="mb-3 font-serif text-read font-semibold">Keys and notation</h2>
    {#each [KEYS, WRITING] as list, i (i)}
      <dl class="border-crease grid grid-cols-[11rem_1fr] gap-y-1.5 border-t py-3">
        {#each list as [key, meaning] (meaning)}
          <dt class="font-semibold">{key}</dt>
          <dd class="text-soft">{meaning}</dd>
        {/each}
      </dl>
    {/each}
    <form method="dialog" class="modal-action mt-0">
      <button class="btn btn-sm">Close</button>
    </form>
  </div>
  <form method="dialog" class="modal-backdrop"><button>close</button></form>
</dialog>
