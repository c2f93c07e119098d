<script lang="ts">
  import type { GateAnswer, RoundAnswer } from "$api";
  import type { Tab } from "../opened/opened.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";

  type Props = {
    gates: GateAnswer[] | null;
    stale: boolean;
    id: number;
    /** How far it is built; nothing where no reading was taken. */
    build: RoundAnswer | null;
    /** Where there is little room, the reminder stands only over the full pictures. */
    tight?: boolean;
    onopen: (tab: Tab) => void;
  };
  let { gates, stale, id, build, tight = false, onopen }: Props = $props();

  const TITLES = { value: "Value", spread: "Spread", load: "Load", power: "Power" } as const;
  const PICTURES = { value: "spread", spread: "spread", load: "load", power: "power" } as const;
  const failing = $derived(
    gates?.some((gate) => gate.verdict === "fail" || gate.verdict === "marginal") ?? false,
  );
  const WORDS = { pass: "pass", marginal: "off", fail: "stop", none: "under way" } as const;
  const built = $derived(build ? WORDS[build.build.verdict ?? "none"] : "not judged");
  const fill = (gate: GateAnswer) => Math.min(gate.used ?? 0, 1) * 100;
</script>

<section class="min-h-0 overflow-y-auto {stale ? 'saturate-0' : ''}" aria-label="Gates">
  {#if gates}
    {#each gates as gate (gate.name)}
      <article class="border-crease border-b px-5 py-1.5" aria-labelledby="gate-{gate.name}">
        <div class="flex items-baseline justify-between">
          <h2 id="gate-{gate.name}" class="font-semibold">
            <button
              type="button"
              class="hover:text-copper decoration-crease hover:decoration-copper cursor-pointer underline underline-offset-4"
              title="The full picture"
              onclick={() => onopen(PICTURES[gate.name])}>{TITLES[gate.name]}</button
            >
          </h2>
          <VerdictMark verdict={gate.verdict} word={gate.verdict ?? "not judged"} />
        </div>
        <p class="mt-0.5 flex items-baseline justify-between gap-2 leading-7">
          {#if gate.figure}
            <span>
              <span class="text-figure font-semibold">{gate.figure.text}</span>
              <span class="unit">{gate.figure.unit} {gate.of}</span>
            </span>
            <span class="text-soft text-note whitespace-nowrap">{gate.margin}</span>
          {:else}<span class="text-soft">nothing stated</span>{/if}
        </p>
        <svg
          viewBox="0 0 100 6"
          preserveAspectRatio="none"
          class="mt-1 h-1.5 w-full"
          aria-hidden="true"
        >
          <rect width="100" height="6" class="fill-crease" />
          {#if gate.used !== null}
            <rect
              width={fill(gate)}
              height="6"
              class={{ pass: "fill-ink", marginal: "fill-marginal", fail: "fill-fail" }[
                gate.verdict ?? "pass"
              ]}
            />
            <rect x="99" width="1" height="6" class="fill-copper" />
          {/if}
        </svg>
        {#each gate.notes as note (note)}
          <p class="text-soft mt-1 text-note leading-snug">{note}</p>
        {/each}
      </article>
    {/each}
    <article class="border-crease border-b px-5 py-1.5" aria-labelledby="gate-build">
      <div class="flex items-baseline justify-between">
        <h2 id="gate-build" class="font-semibold">
          <a
            href="#/designs/{id}/bench"
            class="hover:text-copper decoration-crease hover:decoration-copper underline underline-offset-4"
            >Build</a
          >
        </h2>
        <VerdictMark verdict={build?.build.verdict ?? null} word={built} />
      </div>
      <p class="mt-0.5 leading-7">
        {#if build}
          <span class="text-figure font-semibold">{build.build.as_expected}</span>
          <span class="unit">of {build.build.total} as expected</span>
        {:else}<span class="text-soft">not built</span>{/if}
      </p>
    </article>
    <p
      class="off-paper flex gap-4 px-5 pt-2 text-note [&>button]:cursor-pointer [&>button]:underline [&>button]:underline-offset-4"
    >
      <button type="button" class="text-soft hover:text-copper" onclick={() => onopen("faults")}
        >single faults</button
      >
      {#if failing}
        <button type="button" class="text-copper font-semibold" onclick={() => onopen("advice")}
          >what would pass</button
        >
      {/if}
    </p>
    {#if !tight}<p class="text-soft px-5 py-2 text-note leading-snug">
        Design aid: the data sheet, the local code and a qualified person decide.
      </p>{/if}
  {:else}
    <p class="text-soft p-5">The gates open once there is a choice.</p>
  {/if}
</section>
