<script lang="ts">
  /** How Lowfold is worked with, on one page; and one's own ways. */
  import Listed from "./Listed.svelte";
  import { KEYS } from "../kit/keys";
  import { WRITING } from "./lists";
  import Settings from "./Settings.svelte";

  const PARTS: [string, string[]][] = [
    [
      "State a need",
      [
        "Press + and say it in one line: 14.4 V to 3 V within 4 % into 1 MΩ. Or begin a kind under Designs and fill in the sentence; every figure takes the field's notation, and says at once how it was understood.",
        "Choices are searched exactly and judged at their worst corner. ◆ marks what a careful designer takes; where none passes, ◇ tells the cheapest change that does.",
      ],
    ],
    [
      "Judge a choice",
      [
        "Value is how near the nominal is, Spread what tolerance, temperature and drift make of it at the worst corner, Load what hanging the load on does to it, Power how hot the hottest part gets against its derated rating, Build what was measured.",
        "Open a gate for its full picture: distribution and tornado, load line, derating, faults, and what would pass.",
      ],
    ],
    [
      "Build and measure",
      [
        "The bench says where the leads go, on which range, and what the meter should show. Type what it reads, with its unit. The first reading far out ends the round; then what may be wrong stands there with its probability, and which point tells most.",
        "Measure ohms with the power off. Above 60 V DC or 30 V AC rms, and on anything tied to the mains, contact can injure or kill: follow the local code and have licensed practice do it.",
      ],
    ],
    [
      "Keep and hand on",
      [
        "Everything typed is kept at once. The record holds decisions, readings, mends and photographs; from there a design goes out as PDF, JSON, CSV, Markdown or SVG, and a JSON file is taken in again with Import under Designs.",
        "Nothing leaves this computer by itself, and nothing is fetched.",
      ],
    ],
  ];
  const LICENCES = [
    ["scripts", "scripts"],
    ["literata", "Literata"],
    ["source-sans-3", "Source Sans 3"],
    ["tailwindcss", "styles"],
    ["daisyui", "themes"],
  ] as const;
</script>

<svelte:head><title>Help – Lowfold</title></svelte:head>

<section class="h-full overflow-y-auto" aria-labelledby="help-title">
  <div class="mx-auto max-w-4xl px-8 pt-5 pb-10 max-sm:px-3">
    <h1 id="help-title" class="font-serif text-figure font-semibold">Help</h1>
    {#each PARTS as [title, said] (title)}
      <h2 class="mt-5 font-serif text-read font-semibold">{title}</h2>
      {#each said as words (words)}<p class="mt-1.5 max-w-prose leading-relaxed">{words}</p>{/each}
    {/each}
    <Settings />
    {#each [["Keys", KEYS], ["Notation", WRITING]] as const as [title, list] (title)}
      <h2 class="mt-6 font-serif text-read font-semibold">{title}</h2>
      <Listed {list} />
    {/each}
    <p class="text-soft text-note">
      Results are design aids: the data sheet, the local code and a qualified person decide.
    </p>
    <p class="text-soft text-note mt-2">
      Open work that ships with Lowfold, under its own licences:
      {#each LICENCES as [file, words], at (file)}{at ? ", " : ""}<a
          class="text-copper underline underline-offset-4"
          href="/licences/{file}.txt"
          target="_blank">{words}</a
        >{/each}.
    </p>
  </div>
</section>
