<script lang="ts">
  /** The parts of several designs together, what the drawer has of them taken off. */
  import Sideways from "../shell/Sideways.svelte";
  import { listParts, type Design, type PartsAnswer } from "$api";
  import { Latest } from "../shell/latest";
  import { counted } from "../shell/counted";

  type Props = { designs: Design[]; onclose: () => void };
  let { designs, onclose }: Props = $props();

  const latest = new Latest();
  let found = $state.raw<PartsAnswer | null>(null);
  let trouble = $state("");
  let boards = $state<Record<number, number>>({});
  const ids = $derived(designs.map((design) => design.id));
  const counts = $derived(ids.map((id) => boards[id] ?? 1).join(","));
  const address = $derived(`/api/designs/parts.csv?ids=${ids.join(",")}&boards=${counts}`);

  $effect(() => {
    void latest.of(listParts(ids, counts)).then((answer) => {
      if (!answer) return;
      trouble = answer.error ? `Not listed: ${answer.error.detail}.` : "";
      if (answer.data) found = answer.data;
    });
  });
</script>

<section
  class="border-copper mb-3 max-h-[60%] shrink-0 overflow-y-auto border-l-2 pl-4"
  aria-labelledby="parts-title"
  data-parts
>
  <div class="flex items-baseline gap-3">
    <h2 id="parts-title" class="font-semibold">
      {#if found}{counted(found.to_buy, "part")} to buy{:else}Parts to buy{/if}
    </h2>
    <a class="btn btn-xs" href={address} download>Export CSV</a>
    <button type="button" class="btn btn-xs" onclick={onclose}>Close</button>
  </div>
  <p class="mt-1 flex flex-wrap gap-x-5 gap-y-1">
    {#each designs as design (design.id)}
      <label class="flex items-baseline gap-1.5">
        <input
          type="number"
          min="0"
          max="99999"
          class="input input-xs w-16 text-right"
          value={boards[design.id] ?? 1}
          oninput={(event) => {
            const count = event.currentTarget.valueAsNumber;
            if (count >= 0) boards[design.id] = Math.floor(count);
          }}
        />
        × {design.name || "Untitled"}
      </label>
    {/each}
  </p>
  {#if trouble}<p class="text-fail mt-1" role="alert">✕ {trouble}</p>{/if}
  {#if found}
    <Sideways>
      <table class="mt-1">
        <thead>
          <tr class="text-soft text-left text-note [&>th]:pr-5 [&>th]:font-normal">
            <th class="text-right">to buy</th>
            <th class="text-right">in the drawer</th>
            <th class="text-right">value</th>
            <th>tolerance</th>
            <th>size</th>
            <th>for</th>
          </tr>
        </thead>
        <tbody>
          {#each found.lines as line (`${line.ohm} ${line.tolerance} ${line.size}`)}
            <tr class="[&>td]:py-0.5 [&>td]:pr-5">
              <td class="text-right font-semibold">{line.to_buy}</td>
              <td class="text-soft text-right">{line.in_drawer}</td>
              <td class="text-right font-semibold">{line.value}</td>
              <td>{line.tolerance}</td>
              <td>{line.size}</td>
              <td class="text-soft">{line.refs.join(", ")}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </Sideways>
    {#each found.left_out as words, k (k)}<p class="text-soft">Left out: {words}.</p>{/each}
  {/if}
</section>
