<script lang="ts">
  import Sideways from "../shell/Sideways.svelte";
  import Bin from "../marks/Bin.svelte";
  import FigureText from "../shell/FigureText.svelte";
  import Tabs from "../shell/Tabs.svelte";
  import type { FoldState } from "./fold.svelte";
  import Compare from "./Compare.svelte";
  import Filling from "./Filling.svelte";
  import EditPart from "./EditPart.svelte";
  import UnknownPart from "./UnknownPart.svelte";

  import type { Tab } from "../opened/opened.svelte";
  import Gates from "../sheet/Gates.svelte";

  type Props = { fold: FoldState; onopen: (tab: Tab) => void };
  let { fold, onopen }: Props = $props();
  const TABS = [
    ["table", "Table"],
    ["gates", "Gates"],
    ["checks", "Checks"],
    ["ways", "Other ways"],
    ["compare", "Compare"],
    ["unknown", "Unknown"],
  ] as const;
  let tab = $state<(typeof TABS)[number][0]>("table");
  const folded = $derived(fold.folded);
</script>

<section class="flex min-h-0 flex-col px-5 py-4 {fold.stale ? 'saturate-0' : ''}">
  <div class="border-crease min-h-[5.4rem] border-b pb-2" aria-live="polite">
    <h2 class="label-small">Why?</h2>
    {#if fold.relation}
      <p class="mt-1 text-body leading-snug">
        <strong class="text-copper"
          >{fold.picked.join(" and ")}: {["neither", "not told"].includes(fold.relation.kind)
            ? fold.relation.kind
            : `in ${fold.relation.kind}`}.</strong
        >
        {fold.relation.reason}
      </p>
    {:else}
      <p class="text-soft mt-1 text-note">
        {fold.picked.length === 1
          ? `${fold.picked[0]} is picked; pick another part of the drawing, or edit this one:`
          : "Pick two parts of the drawing: in series, in parallel, or neither, and why."}
      </p>
      {#if fold.picked.length === 1}<EditPart {fold} />{/if}
    {/if}
  </div>
  <Tabs tabs={TABS} bind:value={tab} label="What to show" tight>
    {#if tab === "unknown"}
      <UnknownPart {fold} />
    {:else if tab === "gates"}
      {#if fold.understood?.gates_trouble}
        <p class="text-fail py-3 text-note">✕ {fold.understood.gates_trouble}</p>
      {:else}
        {#each fold.understood?.cautions ?? [] as caution (caution.message)}
          <p class="border-marginal mt-1 border-l-2 pl-2 text-note leading-snug">
            <strong class="text-marginal">Caution.</strong>
            {caution.message}
          </p>
        {/each}
        <div class="-mx-5">
          <Gates
            tight
            gates={fold.understood?.gates ?? null}
            stale={fold.stale}
            id={fold.id}
            build={fold.build.round}
            {onopen}
          />
        </div>
      {/if}
    {:else if folded && tab === "table" && fold.place > 0 && folded.whole}
      <Filling {fold} {folded} />
    {:else if folded && tab === "table"}
      <Sideways>
        <table class="w-full text-right text-note">
          <thead>
            <tr class="text-soft border-crease border-b">
              <th class="py-1 text-left font-normal">part</th>
              <th class="font-normal">R</th><th class="font-normal">{fold.letter}</th>
              <th class="font-normal">I</th><th class="font-normal">P</th>
            </tr>
          </thead>
          <tbody>
            {#each folded.table as row (row.ref)}
              <tr class="[&>td]:pt-1">
                <td class="text-left font-semibold">{row.ref}</td>
                <td><FigureText figure={row.resistance} /></td>
                <td><FigureText figure={row.voltage} /></td>
                <td><FigureText figure={row.current} /></td>
                <td><FigureText figure={row.power} /></td>
              </tr>
              <tr class="border-crease border-b">
                <td colspan="5" class="text-soft pb-1 text-left text-note">{fold.say(row.rule)}</td>
              </tr>
            {/each}
            <tr class="text-soft [&>td]:py-1">
              <td class="text-left">supply</td>
              <td><FigureText figure={folded.total} /></td>
              <td><FigureText figure={folded.terminal} /></td>
              <td><FigureText figure={folded.draws} /></td>
              <td><FigureText figure={folded.gives} /></td>
            </tr>
          </tbody>
        </table>
      </Sideways>
      {#if fold.understood}<Bin parts={fold.understood.parts} />{/if}
    {:else if folded && tab === "checks"}
      <ul class="text-note">
        {#each folded.checks as check (check.name)}
          <li class="border-crease flex gap-2 border-b py-1">
            <span class={check.holds ? "text-pass" : "text-fail"} aria-hidden="true"
              >{check.holds ? "●" : "✕"}</span
            >
            <span class="min-w-0 flex-1 break-words"
              >{check.holds ? "" : "does not hold: "}{check.name}</span
            >
            <span class="text-soft">{check.residual}</span>
          </li>
        {/each}
      </ul>
      <p class="text-soft mt-2 text-note">
        Sums of drops round loops, of currents at junctions, of powers: what is left over is
        rounding.
      </p>
    {:else if folded && tab === "compare"}
      <Compare {fold} {folded} />
    {:else if folded && tab === "ways"}
      {#each folded.ways as way (way.at)}
        <div class="border-crease border-b py-1.5 text-note">
          <p>
            <span class={way.agree ? "text-pass" : "text-fail"} aria-hidden="true"
              >{way.agree ? "●" : "✕"}</span
            >
            <strong>{way.at}</strong> folded <FigureText figure={way.folded} />, node equations
            <FigureText figure={way.equations} />{way.agree ? "" : ": they do not agree"}
          </p>
          <p class="text-soft">
            {#if way.divider}divider rule <FigureText figure={way.divider} /> ({way.divider_words})
            {:else}divider rule {way.divider_words}{/if}
          </p>
        </div>
      {/each}
      {#if folded.equations.names.length > 0}
        <h3 class="label-small mt-3">Node equations</h3>
        <Sideways>
          <table class="mt-1 text-right text-note">
            <tbody>
              {#each folded.equations.rows as row, i (i)}
                <tr class="[&>td]:py-0.5 [&>td]:pl-2">
                  <td class="text-soft text-left">{folded.equations.names[i]}</td>
                  {#each row as cell, k (k)}
                    <td class="whitespace-nowrap"
                      >{cell}&nbsp;<span class="text-soft">V{folded.equations.names[k]}</span></td
                    >
                  {/each}
                  <td class="whitespace-nowrap">= {folded.equations.entering[i]}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </Sideways>
      {/if}
    {:else if !folded}
      <p class="text-soft py-3 text-note">Once the network is understood.</p>
    {/if}
  </Tabs>
</section>
