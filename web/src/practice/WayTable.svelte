<script lang="ts">
  import type { BitsLine } from "$api";

  type Props = { name: string; lines: BitsLine[] };
  let { name, lines }: Props = $props();
  const bits = (told: number) =>
    Math.abs(told) < 0.05 ? "0.0" : told.toFixed(1).replace("-", "−");
  const percent = (p: number) =>
    p > 0.995 && p < 1 ? "> 99 %" : p > 0 && p < 0.005 ? "< 1 %" : `${Math.round(100 * p)} %`;
</script>

<div class="wide-table">
  <table class="mt-2 w-full text-note" data-way={name}>
    <caption class="label-small text-left">{name}</caption>
    <thead class="text-soft text-left">
      <tr>
        <th class="w-[42%] font-normal" scope="col">reading</th>
        <th class="pl-2 text-right font-normal whitespace-nowrap" scope="col">shows</th>
        <th class="pl-2 text-right font-normal whitespace-nowrap" scope="col">bits told</th>
        <th class="w-[26%] pl-3 font-normal" scope="col">likeliest then</th>
        <th class="pl-2 text-right font-normal whitespace-nowrap" scope="col">true one</th>
      </tr>
    </thead>
    <tbody>
      {#each lines as line, k (k)}
        <tr class="border-crease border-t align-baseline">
          <td class="py-0.5 pr-2">{line.words}</td>
          <td class="text-right font-semibold whitespace-nowrap">{line.shows}</td>
          <td class="text-right">{line.told_bits === null ? "" : bits(line.told_bits)}</td>
          <td class="pl-3">{line.likeliest.split(":")[0]}</td>
          <td class="text-right">{percent(line.truth)}</td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>
