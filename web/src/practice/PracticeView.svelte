<script lang="ts">
  import { onMount, untrack } from "svelte";
  import { push, router } from "svelte-spa-router";

  import type { Drill } from "$api";
  import { status } from "../shell/status.svelte";
  import Board from "./Board.svelte";
  import { BoardState } from "./board.svelte";
  import MeterFace from "./MeterFace.svelte";
  import EstimateAnswer from "./EstimateAnswer.svelte";
  import Explained from "./Explained.svelte";
  import HowOneDoes from "./HowOneDoes.svelte";
  import NameFault from "./NameFault.svelte";
  import PointList from "./PointList.svelte";
  import { DRILLS, PracticeState } from "./practice.svelte";
  import SeriesAnswer from "./SeriesAnswer.svelte";
  import Sketch from "./Sketch.svelte";
  import WhichQuestion from "./WhichQuestion.svelte";
  import { inDialog, typing } from "../kit/keys";

  type Props = { params?: { drill?: string; id?: string } };
  let { params }: Props = $props();
  const practice = new PracticeState();
  const question = $derived(practice.question);
  const board = $derived.by(() => {
    const put = practice.question;
    return put?.drill === "fault"
      ? new BoardState(
          put,
          untrack(() => practice.readings),
        )
      : null;
  });
  let naming = $state<ReturnType<typeof NameFault>>();
  const wanted = $derived((params?.drill ?? "estimate") as Drill);
  const known = $derived(DRILLS.some(([drill]) => drill === wanted));

  onMount(() => (status.kept = ""));
  $effect(() => {
    const [drill, id] = [known ? wanted : "estimate", params?.id];
    const at = id && /^\d+$/.test(id) ? Number(id) : null;
    untrack(() => void practice.open(drill, at, router.location));
  });

  async function measure() {
    if (!board) return;
    await practice.measure(board.asked());
    board.newFuse = false;
  }

  function series(key: string): boolean {
    const relation = ({ s: "series", p: "parallel", n: "neither" } as const)[key];
    if (relation) void practice.give({ relation });
    return relation !== undefined;
  }

  function atBoard(key: string, on: BoardState): boolean {
    if (key === "ArrowDown" || key === "ArrowUp") on.walk(key === "ArrowDown" ? 1 : -1);
    else if (key === "Enter") void measure();
    else if (key === "j") on.nextJack();
    else if (key === "[" || key === "]") on.turn(key === "]" ? 1 : -1);
    else if (key === "n") naming?.focus();
    else return false;
    return true;
  }

  function onkeydown(event: KeyboardEvent) {
    if (event.defaultPrevented || inDialog() || typing(event)) return;
    if (event.ctrlKey || event.metaKey || event.altKey || !question) return;
    const at = event.target as Element;
    if (event.key === "Enter" && at.matches("a, button, label")) return;
    const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    let done = false;
    if (practice.answer) {
      if (step) practice.walk(step);
      done = step !== undefined;
      if (event.key === "Enter") {
        void practice.put();
        done = true;
      }
    } else if (board) done = atBoard(event.key, board);
    else if (question.drill === "series") done = series(event.key);
    if (done) event.preventDefault();
  }
</script>

<svelte:head><title>Practice – Lowfold</title></svelte:head>

<svelte:window {onkeydown} />

<section class="flex h-full flex-col overflow-y-auto" aria-busy={practice.busy}>
  <div class="flex flex-wrap items-baseline gap-x-8 gap-y-1 px-5 pt-3">
    <h1 class="font-serif text-figure font-semibold">Practice</h1>
    <nav aria-label="Drills" class="flex gap-5">
      {#each DRILLS as [drill, words] (drill)}
        <a
          href="#/practice/{drill}"
          class="border-b-2 py-1 {practice.drill === drill
            ? 'border-copper font-semibold'
            : 'text-soft hover:text-ink border-transparent'}"
          aria-current={practice.drill === drill ? "page" : undefined}
          onclick={(event) => {
            event.preventDefault();
            void push(`/practice/${drill}`);
          }}>{words}</a
        >
      {/each}
    </nav>
    <div class="min-w-0 flex-1 max-[900px]:basis-full"><WhichQuestion {practice} /></div>
  </div>
  {#if practice.trouble}
    <p class="text-fail border-fail mx-5 mt-2 border-l-2 pl-2" role="alert">✕ {practice.trouble}</p>
  {/if}
  {#if question}
    {#key question.id}
      <div
        class="grid min-h-0 flex-1 max-[900px]:min-h-[590px] gap-x-5 gap-y-2 px-5 pt-3 pb-2 max-[900px]:grid-cols-1 max-[900px]:grid-rows-2 {practice
          .answer?.taken
          ? 'min-[901px]:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]'
          : 'min-[901px]:grid-cols-[minmax(0,1fr)_minmax(290px,400px)]'}"
      >
        <div class="flex min-h-0 flex-col">
          <p class="text-read leading-snug" data-question>
            {question.words}{question.words.endsWith("?") ? "" : "."}
            {#if question.again}<span class="text-soft text-note">{question.again}.</span>{/if}
          </p>
          <p class="text-soft text-note">
            {question.own ? "your own network, " : ""}{question.title}
          </p>
          <div class="flex min-h-0 flex-1 items-center justify-center pt-1">
            {#if practice.picture}
              {#if board && !practice.answer}
                <Sketch
                  picture={practice.picture}
                  label="The board; a click puts the leads there"
                  onnode={(name) => board.to((p) => p.kind === "voltage" && p.at === name)}
                  onpart={(ref) => board.to((p) => p.through === ref || p.part === ref)}
                >
                  {#snippet over(times: number)}<Board {question} {board} {times} />{/snippet}
                </Sketch>
              {:else}
                <Sketch picture={practice.picture} label={question.words} />
              {/if}
            {/if}
          </div>
        </div>
        <div
          class="border-crease flex min-h-0 flex-col max-[900px]:border-t max-[900px]:pt-2 min-[901px]:border-l min-[901px]:pl-5"
        >
          {#if practice.answer}
            <Explained {practice} onnext={() => practice.put()} />
          {:else if question.drill === "estimate"}<EstimateAnswer {practice} />
          {:else if question.drill === "series"}<SeriesAnswer {practice} />
          {:else if board}
            <div
              class="grid min-h-0 flex-1 grid-rows-[auto_minmax(0,1fr)_auto] gap-x-4 gap-y-2 max-[900px]:grid-cols-2 max-[900px]:grid-rows-[auto_1fr]"
            >
              <MeterFace {practice} {board} onmeasure={measure} />
              <PointList {practice} {board} />
              <NameFault bind:this={naming} {practice} />
            </div>
          {/if}
        </div>
      </div>
    {/key}
  {:else}
    <p class="text-soft flex-1 p-10" role="status">
      {practice.busy ? "A question is drawn…" : ""}
    </p>
  {/if}
  <HowOneDoes {practice} />
</section>
