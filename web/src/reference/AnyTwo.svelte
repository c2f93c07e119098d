<script lang="ts">
  import { askOhm, type AnyTwoAnswer } from "$api";
  import FigureText from "../shell/FigureText.svelte";
  import { Latest } from "../shell/latest";

  const FOUR = [
    { name: "v", words: "voltage", letter: "V", hint: "8.8 V" },
    { name: "a", words: "current", letter: "I", hint: "40 mA" },
    { name: "ohm", words: "resistance", letter: "R", hint: "220" },
    { name: "w", words: "power", letter: "P", hint: "352 mW" },
  ] as const;
  type Name = (typeof FOUR)[number]["name"];

  let texts = $state<Record<Name, string>>({ v: "", a: "", ohm: "", w: "" });
  /** The two typed last, the later one behind. */
  let given = $state<Name[]>([]);
  let answer = $state.raw<AnyTwoAnswer | null>(null);
  let wrong = $state<Record<string, string>>({});
  const latest = new Latest();

  async function type(name: Name, text: string) {
    texts[name] = text;
    given = text.trim()
      ? [...given.filter((other) => other !== name), name].slice(-2)
      : given.filter((other) => other !== name);
    wrong = {};
    answer = null;
    latest.drop();
    if (given.length < 2) return;
    const found = await latest.of(askOhm(Object.fromEntries(given.map((n) => [n, texts[n]]))));
    if (!found) return;
    const { data, error } = found;
    answer = data ?? null;
    wrong = Object.fromEntries((error?.errors ?? []).map((e) => [e.field, e.message]));
  }
</script>

<div class="max-w-3xl pt-4">
  <h2 class="sr-only">Any two give the others</h2>
  <p class="text-soft">Type two of the four; the last two typed count.</p>
  <div class="border-crease mt-4 border-t">
    {#each FOUR as one (one.name)}
      {@const own = given.includes(one.name)}
      <div
        class="border-crease grid grid-cols-[9rem_12rem_1fr] items-baseline gap-4 border-b py-2.5"
      >
        <label for="any-{one.name}">{one.words} <span class="text-soft">{one.letter}</span></label>
        <input
          id="any-{one.name}"
          class="text-copper placeholder:text-soft border-b px-0.5 text-right font-semibold placeholder:font-normal {wrong[
            one.name
          ]
            ? 'border-fail border-dashed'
            : own
              ? 'border-copper'
              : 'border-crease'}"
          aria-invalid={one.name in wrong}
          placeholder={one.hint}
          autocomplete="off"
          spellcheck="false"
          maxlength="60"
          value={own || given.length < 2 ? texts[one.name] : ""}
          oninput={(event) => type(one.name, event.currentTarget.value)}
        />
        <span aria-live="polite">
          {#if wrong[one.name]}<span class="text-fail text-note">✕ {wrong[one.name]}</span>
          {:else if answer}
            <strong><FigureText figure={answer.shown[one.name] ?? null} /></strong>
          {/if}
        </span>
      </div>
    {/each}
  </div>
  <p class="text-soft mt-3 min-h-6">{answer ? `by ${answer.rules.join(" and ")}` : ""}</p>
</div>
