<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import { scaleLinear } from "d3-scale";

  import type { ContributionLine } from "$api";

  type Props = { lines: ContributionLine[] };
  let { lines }: Props = $props();

  const WIDTH = 380;
  const most = $derived(Math.max(...lines.map((c) => Math.abs(c.share)), 0.01));
  const x = $derived(scaleLinear([-most, most], [20, WIDTH - 20]).nice());
  const name = (c: ContributionLine) => (c.at && c.at !== "OUT" ? `${c.at} ${c.name}` : c.name);
</script>

{#if lines.length === 0}
  <p class="text-soft text-note">Nothing may deviate.</p>
{:else}
  <Sideways>
    <table class="mt-1 w-full text-note">
      <tbody>
        {#each lines as c (c.at + c.name)}
          <tr>
            <td class="w-24 py-0.5">{name(c)}</td>
            <td style="width: {WIDTH}px">
              <svg width={WIDTH} height="12" class="block" aria-hidden="true">
                <path d="M{x(0)} 0V12" class="stroke-soft" />
                <rect
                  x={Math.min(x(0), x(c.share))}
                  width={Math.abs(x(c.share) - x(0))}
                  y="1.5"
                  height="9"
                  class="fill-copper"
                />
              </svg>
            </td>
            <td class="pl-3 text-right">{c.words}</td>
          </tr>
        {/each}
        <tr aria-hidden="true">
          <td></td>
          <td>
            <svg width={WIDTH} height="20" class="block text-note">
              <path d="M20 0.5H{WIDTH - 20}" class="stroke-soft" />
              {#each x.ticks(5) as tick (tick)}
                <path d="M{x(tick)} 0v4" class="stroke-soft" />
                <text x={x(tick)} y="16" text-anchor="middle" class="fill-soft"
                  >{tick < 0 ? "−" : ""}{+Math.abs(100 * tick).toPrecision(3)} %</text
                >
              {/each}
            </svg>
          </td>
          <td></td>
        </tr>
      </tbody>
    </table>
  </Sideways>
  <p class="text-soft text-note">
    Each at the high end of its own range, the others nominal, in per cent of what is accepted; to
    the right it lifts the figure. Tighten the longest bar first.
  </p>
{/if}
