<script lang="ts">
  /** A sensor in one leg of a divider: its brief, the resistors beside it, its curve, its gates. */
  import { push } from "svelte-spa-router";
  import { onMount } from "svelte";

  import { begun, handed } from "../designs/begun";
  import Title from "../designs/Title.svelte";
  import Why from "../designs/Why.svelte";
  import Conflict from "../shell/Conflict.svelte";
  import type { Copied } from "../shell/copied";
  import FigureText from "../shell/FigureText.svelte";
  import { inherit, type Draft } from "../shell/kept.svelte";
  import Missing from "../shell/Missing.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import Sentence from "../sheet/Sentence.svelte";
  import { SENSOR_SENTENCE } from "../sheet/sentences";
  import Curve from "./Curve.svelte";
  import SensorDrawing from "./SensorDrawing.svelte";
  import { SensorState } from "./sensor.svelte";
  import { inDialog, pressed, step } from "../kit/keys";

  type Props = { design: Draft };
  let { design }: Props = $props();
  // The page is keyed by the design: each has a state of its own, made once.
  const sensor = new SensorState((() => design)());
  let focused = $state<string | null>(null);
  const tokens = $derived(sensor.answer?.tokens ?? {});
  const wrong = $derived(Object.keys(tokens).find((name) => tokens[name]?.ok === false));
  const spoken = $derived(wrong ?? focused);
  const found = $derived(sensor.understood);
  const shown = $derived(found?.shown ?? null);
  const TITLES: Record<string, string> = {
    window: "Window",
    bend: "Straightness",
    load: "Load",
    sensor: "Sensor",
    power: "Power",
  };
  const WORDS = { pass: "Pass", marginal: "Marginal", fail: "Fail" } as const;
  const choice = $derived(found?.choices[sensor.here] ?? null);
  const words = $derived(
    shown ? `${choice?.resistor.text} ${choice?.resistor.unit}, ${choice?.position}` : "",
  );

  onMount(() => {
    if (!sensor.id) inherit(sensor, "lowfold-sensor", (text) => JSON.parse(text) as object);
    sensor.open();
    return () => sensor.close();
  });

  function onkeydown(event: KeyboardEvent) {
    if (event.defaultPrevented || inDialog()) return;
    const by = step(event, "walk");
    const at = event.target as Element;
    if (event.key === "Tab" && !event.shiftKey && at === document.body) {
      event.preventDefault();
      document.querySelector<HTMLElement>("[data-token]")?.focus();
    } else if (by && !at.matches("textarea, select")) {
      event.preventDefault();
      sensor.walk(by);
    } else if (pressed(event, "fold")) {
      event.preventDefault();
      void foldIt();
    } else if (event.key === "Enter" && at.matches("[data-token]:not(textarea)")) {
      event.preventDefault();
      (at as HTMLElement).blur();
    } else if (pressed(event, "pin") && !at.matches("button, a")) {
      event.preventDefault();
      sensor.pin();
    }
  }

  async function settle(how: "theirs" | "mine" | "both") {
    const copy = await sensor.settle(how);
    if (copy) await push(`/designs/${copy}`);
  }

  /** The choice with its figures: gates and points as a table. */
  function copied(): Copied | null {
    if (!shown || sensor.stale) return null;
    const gates = shown.gates.map((g) => [
      g.name,
      `${g.figure.text} ${g.figure.unit} ${g.of}`.trim(),
      g.verdict ?? "not judged",
    ]);
    const points = shown.curve.map((p) => [
      p.label,
      `${p.resistance.text} ${p.resistance.unit}`,
      `${p.shown.text} ${p.shown.unit}`,
    ]);
    return {
      words: [sensor.name, sensor.text("sensor"), shown.network],
      rows: [...gates, ["at", "sensor", "output"], ...points],
    };
  }

  /** As a network of its own: a view of it, kept once it is changed. */
  async function foldIt() {
    if (!shown) return;
    const { id, name } = sensor;
    const why = `${shown.words} The sensor: ${sensor.text("sensor")}. RS1 stands at its first point.`;
    handed.draft = begun("network", shown.as_network, { name: `${name}, folded`, why, from: id });
    await push(id ? `/designs/${id}/fold` : "/new/folded");
  }
</script>

<svelte:window {onkeydown} onpagehide={() => sensor.keep(true)} />

{#if sensor.missing}
  <Missing what={sensor.missing} />
{:else}
  <div class="flex h-full flex-col">
    <Title design={sensor} title={words} {copied}>
      {#if sensor.stale}<span class="text-soft">○ Waiting — as last understood</span>
      {:else if choice}
        <VerdictMark
          verdict={choice.verdict}
          word={choice.verdict ? WORDS[choice.verdict] : "Not judged"}
        />
        <span class="text-soft">— {words}</span>
      {/if}
    </Title>
    {#if sensor.conflict}<Conflict theirs={sensor.conflict} onsettle={settle} />{/if}
    <div class="sensor grid min-h-0 flex-1">
      <section class="min-h-0 overflow-y-auto px-5 py-4" aria-labelledby="sensor-title">
        <h2 id="sensor-title" class="label-small">A sensor in one leg</h2>
        <Sentence sentence={SENSOR_SENTENCE} {tokens} of={sensor} bind:focused>
          <div
            class="mt-1 min-h-[3.2rem] text-note leading-snug"
            id="token-words"
            aria-live="polite"
          >
            {#if spoken && tokens[spoken]?.ok === false}
              <p class="text-fail">
                ✕ <strong>{tokens[spoken]?.label}:</strong>
                {tokens[spoken]?.message}
              </p>
            {:else if spoken && tokens[spoken]}
              <p class="text-soft">
                {tokens[spoken]?.label}: understood as
                <strong class="text-ink">{tokens[spoken]?.shown}</strong>
              </p>
            {/if}
            {#if sensor.trouble}<p class="text-fail">✕ {sensor.trouble}</p>{/if}
          </div>
        </Sentence>
        <p class="text-soft mt-3 text-note leading-snug">
          Each point is what it stands for and the sensor's resistance there, two to nine in order.
          Figures of one unit, such as °C, are taken where they lie; else the points are equally
          spaced.
        </p>
        <Why design={sensor} label="Why this one" />
      </section>

      <section
        class="border-crease flex min-h-0 flex-col border-x px-5 py-4 {sensor.stale
          ? 'saturate-0'
          : ''}"
        aria-labelledby="beside-sensor"
        aria-busy={sensor.asking}
      >
        <h2 id="beside-sensor" class="label-small">
          Beside it
          {#if found}<span class="text-soft text-note font-normal tracking-normal"
              >best of {found.searched}, exact{found.rule ? `; ${found.rule}` : ""}</span
            >{/if}
        </h2>
        {#if found && found.choices.length > 0}
          <div
            class="text-soft mt-2 grid grid-cols-[1fr_1.2fr_1fr_1fr_1fr_5rem] gap-2 text-right text-note"
          >
            <span>resistor</span><span class="text-left">with the</span><span>swing</span><span
              >off the line</span
            ><span>in the sensor</span><span></span>
          </div>
          <div
            role="listbox"
            tabindex="0"
            aria-label="Resistors"
            class="border-crease mt-1 max-h-56 min-h-24 overflow-y-auto border-t"
          >
            {#each found.choices as choice, k (choice.network)}
              <!-- svelte-ignore a11y_click_events_have_key_events -->
              <div
                role="option"
                tabindex="-1"
                aria-selected={k === sensor.here}
                class="border-crease grid cursor-pointer grid-cols-[1fr_1.2fr_1fr_1fr_1fr_5rem] gap-2 border-b py-1 text-right {k ===
                sensor.here
                  ? 'bg-wash shadow-[inset_3px_0_0_var(--color-copper)]'
                  : 'hover:bg-leaf'}"
                onclick={() => sensor.stand(choice.network)}
              >
                <span class="font-semibold"><FigureText figure={choice.resistor} /></span>
                <span class="text-soft text-left">{choice.position}</span>
                <FigureText figure={choice.swing} />
                <FigureText figure={choice.bend} />
                <FigureText figure={choice.heat} />
                <span class="whitespace-nowrap">
                  <VerdictMark verdict={choice.verdict} word={choice.verdict ?? "not judged"} />
                  {#if choice.network === sensor.choice}<span
                      class="text-copper text-note font-semibold">pin</span
                    >{/if}
                </span>
              </div>
            {/each}
          </div>
          {#if shown}
            <div class="mt-4 min-h-0 flex-1 overflow-y-auto">
              <Curve {shown} window={found.window} />
            </div>
          {/if}
        {:else if found}
          <p class="text-soft border-crease mt-6 border-l-2 py-1 pl-3">
            {found.reason ?? "No resistor is left."}
          </p>
        {:else}
          <p class="text-soft mt-6" role="status">Searching…</p>
        {/if}
      </section>

      <section class="min-h-0 overflow-y-auto py-3" aria-label="Gates">
        {#each shown?.gates ?? [] as gate (gate.name)}
          <article class="border-crease border-b px-5 py-2" aria-labelledby="gate-{gate.name}">
            <div class="flex items-baseline justify-between">
              <h2 id="gate-{gate.name}" class="font-semibold">{TITLES[gate.name]}</h2>
              <VerdictMark verdict={gate.verdict} word={gate.verdict ?? "not judged"} />
            </div>
            <p class="leading-7">
              <span class="text-figure font-semibold">{gate.figure.text}</span>
              <span class="unit">{gate.figure.unit} {gate.of}</span>
            </p>
            <p class="text-soft text-note leading-snug">{gate.note}</p>
          </article>
        {/each}
        {#if shown}
          <p class="flex flex-wrap gap-2 px-5 pt-2">
            <button
              type="button"
              class="btn btn-sm"
              disabled={sensor.stale}
              onclick={() => sensor.pin()}
              >{sensor.choice === shown.network ? "let go" : "pin"}
              <kbd class="kbd kbd-xs">Enter</kbd></button
            >
            <button type="button" class="btn btn-sm" onclick={foldIt}
              >fold it step by step <kbd class="kbd kbd-xs">Alt 4</kbd></button
            >
          </p>
          <SensorDrawing {shown} />
        {/if}
        <p class="text-soft px-5 py-2 text-note leading-snug">
          Design aid: the data sheet, the local code and a qualified person decide.
        </p>
      </section>
    </div>
  </div>
{/if}

<style>
  .sensor {
    grid-template-columns: clamp(290px, 19vw, 400px) minmax(0, 1fr) clamp(250px, 18vw, 340px);
  }
  @media (max-width: 1000px) {
    .sensor {
      grid-template-columns: minmax(0, 1fr);
      grid-template-rows: auto auto auto;
      overflow-y: auto;
    }
    .sensor > section {
      min-height: auto;
      overflow: visible;
    }
  }
</style>
