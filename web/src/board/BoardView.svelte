<script lang="ts">
  /** A whole board at once: a need a line on the left, what was chosen for each on the right. */
  import Sideways from "../shell/Sideways.svelte";
  import { push } from "svelte-spa-router";
  import { onMount } from "svelte";

  import Title from "../designs/Title.svelte";
  import Why from "../designs/Why.svelte";
  import Conflict from "../shell/Conflict.svelte";
  import { inherit, type Draft } from "../shell/kept.svelte";
  import Missing from "../shell/Missing.svelte";
  import FilePicker from "../shell/FilePicker.svelte";
  import Notice from "../shell/Notice.svelte";
  import Progress from "../shell/Progress.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import { BoardState, EXAMPLE } from "./board.svelte";
  import { counted } from "../shell/counted";

  type Props = { design: Draft };
  let { design }: Props = $props();
  // The page is keyed by the design: each has a state of its own, made once.
  const board = new BoardState((() => design)());
  const result = $derived(board.result);

  onMount(() => {
    if (!board.id) inherit(board, "lowfold-board", (needs) => ({ needs }));
    board.open();
    if (!board.text) document.getElementById("needs")?.focus();
    return () => {
      board.choosing.close();
      board.close();
    };
  });

  async function settle(how: "theirs" | "mine" | "both") {
    const copy = await board.settle(how);
    if (copy) await push(`/designs/${copy}`);
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      void board.choose(false);
    }
  }
</script>

<svelte:window {onkeydown} onpagehide={() => board.keep(true)} />

{#if board.missing}
  <Missing what={board.missing} />
{:else}
  <div class="flex h-full flex-col">
    <Title design={board}>
      <span class="text-soft">{counted(board.count, "need")}</span>
    </Title>
    {#if board.conflict}<Conflict theirs={board.conflict} onsettle={settle} />{/if}
    <section
      class="flex min-h-0 flex-1 flex-col px-6 pt-3 pb-3 max-sm:px-3"
      aria-labelledby="board-title"
    >
      <div class="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <h2 id="board-title" class="label-small">A whole board</h2>
        <p class="text-soft">A need a line, each chosen and judged; what fails comes first.</p>
        <div class="ml-auto flex flex-wrap items-center gap-2">
          <FilePicker
            words="Import CSV"
            label="File of needs"
            accept=".csv,.txt,text/csv,text/plain"
            onfile={(file) => board.takeIn(file)}
          />
          <button
            type="button"
            class="btn btn-sm"
            disabled={!result || board.choosing.running}
            onclick={() => board.choose(true)}
            title="Out of as few different values as possible">Share values</button
          >
          <button type="button" class="btn btn-sm" disabled={!result} onclick={() => board.save()}
            >Export CSV</button
          >
          <button
            type="button"
            class="btn btn-sm"
            disabled={!result || board.stale || board.making}
            onclick={() => board.makeDesigns(result?.rows ?? [])}>Keep as designs</button
          >
        </div>
      </div>
      {#if board.choosing.trouble}
        <Notice tone="wrong"><span class="text-fail">✕ {board.choosing.trouble}</span></Notice>
      {:else if board.said}
        <Notice tone="done">{board.said} <a class="underline" href="#/">Designs</a></Notice>
      {/if}
      <div class="board grid min-h-0 flex-1 gap-5">
        <div class="lines kept-high flex min-h-0 flex-col overflow-y-auto">
          <label class="label-small" for="needs">{counted(board.count, "need")}</label>
          <textarea
            id="needs"
            spellcheck="false"
            class="border-crease focus:border-copper mt-1.5 min-h-40 flex-1 resize-none rounded-field border px-2 py-1.5 font-sans leading-6"
            value={board.text}
            placeholder="Battery sense: 14.4 V to 3 V within 4 % into 1 MΩ"
            oninput={(event) => board.type(event.currentTarget.value)}></textarea>
          {#if !board.text.trim()}
            <p class="text-soft mt-1 text-note">
              A need a line, with or without a name before a colon; or
              <button
                type="button"
                class="text-copper cursor-pointer underline underline-offset-4"
                onclick={() => board.type(EXAMPLE)}>take an example</button
              >
            </p>
          {/if}
          <div class="mt-2 flex min-h-9 items-center gap-3">
            {#if board.choosing.running}
              <div class="min-w-0 flex-1"><Progress of={board.choosing} label="Choosing" /></div>
            {:else}
              <button
                type="button"
                class="btn btn-sm btn-primary"
                disabled={!board.text.trim()}
                onclick={() => board.choose(false)}>Choose for all</button
              >
              <span class="text-soft text-note"><kbd class="kbd kbd-xs">Ctrl Enter</kbd></span>
            {/if}
          </div>
          <p class="text-soft mt-2 text-note leading-snug">
            A name before a colon, or a table with columns <em>name</em> and <em>need</em>. Each is
            read as the one line behind <kbd class="kbd kbd-xs">+</kbd> is: nothing is guessed.
          </p>
          <Why design={board} label="What it is" />
        </div>
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div
          class="min-h-0 overflow-auto {board.stale ? 'saturate-0' : ''}"
          role="group"
          aria-label="Choices"
          tabindex="0"
        >
          {#if result}
            <p class="mb-1" role="status">
              {#if result.failing}<strong class="text-fail"
                  >✕ {result.failing} fail or are not understood</strong
                >
                ·{/if}
              {#if result.marginal}<strong class="text-marginal"
                  >◐ {result.marginal} marginal</strong
                > ·{/if}
              <span class="text-pass">● {result.passing} pass</span>
              <span class="text-soft"
                >· {result.values.length} different values to buy{result.fewest === null
                  ? ""
                  : result.fewest
                    ? ", no fewer would do among the 60 nearest choices of each"
                    : ", the fewest met in the time there is"}{board.stale
                  ? " · for the lines as they were"
                  : ""}</span
              >
            </p>
            <Sideways>
              <table class="w-full text-note">
                <thead>
                  <tr
                    class="text-soft border-crease border-b text-left [&>th]:py-1 [&>th]:pr-3 [&>th]:font-normal"
                  >
                    <th>line</th><th>need</th><th>take</th>
                    <th class="text-right">gives</th><th class="text-right">off by</th>
                    <th class="text-right">draws</th><th>of</th><th>stands</th>
                  </tr>
                </thead>
                <tbody>
                  {#each result.rows as row (row.line)}
                    <tr class="border-crease border-b align-top [&>td]:py-1.5 [&>td]:pr-3">
                      <td class="text-soft text-right">{row.line}</td>
                      <td>
                        {#if row.name}<span class="block font-serif font-semibold">{row.name}</span
                          >{/if}
                        {#if row.unread.length}
                          {@const signs = Array.from(row.text)}
                          {@const first = row.unread[0]}
                          <span class="text-soft"
                            >{signs.slice(0, first?.from).join("")}<mark
                              class="bg-fail text-paper px-0.5"
                              >{signs.slice(first?.from, first?.to).join("")}</mark
                            >{signs.slice(first?.to).join("")}</span
                          >
                        {:else}<span class="text-soft">{row.text}</span>{/if}
                      </td>
                      <td class="font-semibold">
                        {#each row.values as value, i (i)}<span class="block whitespace-nowrap"
                            >{value}</span
                          >{/each}
                      </td>
                      <td class="text-right whitespace-nowrap">{row.gives}</td>
                      <td class="text-right whitespace-nowrap">{row.off}</td>
                      <td class="text-right whitespace-nowrap">{row.draws}</td>
                      <td class="text-soft">{row.series}</td>
                      <td>
                        <VerdictMark
                          verdict={row.choice ? row.verdict : "fail"}
                          word={row.choice ? (row.verdict ?? "not judged") : "no choice"}
                        />
                        <span class="text-soft block leading-snug">{row.words}</span>
                        {#if row.cost}<span class="text-soft block leading-snug"
                            >sharing: {row.cost}</span
                          >{/if}
                      </td>
                    </tr>
                  {/each}
                </tbody>
              </table>
            </Sideways>
          {:else if !board.choosing.running}
            <p class="text-soft border-crease mt-6 border-l-2 py-1 pl-3">
              Nothing is chosen yet: write or paste the needs, then <kbd class="kbd kbd-xs"
                >Ctrl Enter</kbd
              >.
            </p>
          {/if}
        </div>
      </div>
    </section>
  </div>
{/if}

<style>
  .board {
    grid-template-columns: minmax(260px, 26rem) minmax(0, 1fr);
  }
  @media (max-width: 1000px) {
    .board {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto minmax(12rem, 1fr);
      overflow-y: auto;
    }
    .lines {
      min-height: auto;
      overflow-y: visible;
    }
  }
</style>
