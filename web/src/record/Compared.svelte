<script lang="ts">
  /** Two revisions beside each other: what is different, in the words of the trade. */
  import type { Compared } from "$api";
  import type { RecordState } from "./record.svelte";

  type Props = { record: RecordState; compared: Compared };
  let { record, compared }: Props = $props();
</script>

<section class="border-copper mb-5 border-l-2 pl-3" aria-labelledby="compared-title" data-compared>
  <div class="flex items-baseline gap-2">
    <h2 id="compared-title" class="label-small">
      Revision {compared.before.revision} and {compared.after.revision}
    </h2>
    <button
      type="button"
      class="text-copper ml-auto cursor-pointer text-note underline underline-offset-4"
      onclick={() => {
        record.picked = [];
        record.compared = null;
      }}>close</button
    >
  </div>
  {#if compared.changes.length === 0}
    <p class="mt-1">Nothing that is kept is different.</p>
  {:else}
    <div class="wide-table">
      <table class="mt-1 w-full">
        <thead>
          <tr class="text-soft border-crease border-b text-left text-note [&>th]:py-1 [&>th]:pr-3">
            <th class="font-normal">what</th>
            <th class="font-normal">{compared.before.revision}</th>
            <th class="font-normal">{compared.after.revision}</th>
          </tr>
        </thead>
        <tbody>
          {#each compared.changes as change (change.what)}
            <tr class="border-crease border-b align-baseline [&>td]:py-1 [&>td]:pr-3">
              <td class="text-soft text-note">{change.what}</td>
              <td class="break-words">{change.before || "none"}</td>
              <td class="font-semibold break-words">{change.after || "none"}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
</section>
