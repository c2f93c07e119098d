<script lang="ts">
  import { router } from "svelte-spa-router";

  import { counted } from "./counted";
  import { outbox } from "./outbox.svelte";
  import Waiting from "./Waiting.svelte";
  import { status } from "./status.svelte";
  import { theme } from "./theme.svelte";

  type Props = { onkeys: () => void; onneed: () => void };
  let { onkeys, onneed }: Props = $props();

  const VIEWS = [
    { at: "/", words: "Designs" },
    { at: "/drawer", words: "Drawer" },
    { at: "/practice", words: "Practice" },
    { at: "/reference", words: "Reference" },
  ];
  let waiting = $state<ReturnType<typeof Waiting>>();
  const shortened = (text: string) => (text.length > 24 ? `${text.slice(0, 23)}…` : text);
  const HELD = "Held in this browser, and kept as soon as the server takes it";
  const WORDS = { daylight: "light", lamplight: "dark" } as const;
  const place = $derived(router.location);
  const ofOne = $derived(place.startsWith("/designs/") || place.startsWith("/new/"));
</script>

<header
  class="border-crease flex min-h-11 shrink-0 flex-wrap items-center gap-x-[clamp(0.8rem,2vw,1.75rem)] border-b px-5 max-sm:px-3"
>
  <a href="#/" class="flex items-center gap-2 font-serif text-figure font-semibold">
    <svg viewBox="0 0 24 14" class="text-copper h-3.5 w-6" aria-hidden="true">
      <path
        d="M1 13 8 2l4 6 3-5 8 10ZM8 2l2 11M15 3l-1 10"
        fill="none"
        stroke="currentColor"
        stroke-width="1.6"
        stroke-linejoin="round"
      />
    </svg>
    lowfold
  </a>
  <nav
    aria-label="Views"
    class="flex gap-x-[clamp(0.7rem,2vw,1.5rem)] max-sm:order-last max-sm:w-full max-sm:justify-between"
  >
    {#each VIEWS as view (view.at)}
      {@const here = view.at === "/" ? place === "/" || ofOne : place.startsWith(view.at)}
      <a
        href="#{view.at}"
        class="border-b-2 py-1 {here
          ? 'border-copper font-semibold'
          : 'text-soft hover:text-ink border-transparent'}"
        aria-current={here ? "page" : undefined}>{view.words}</a
      >
    {/each}
  </nav>
  <div class="text-soft ml-auto flex items-center gap-x-[clamp(0.5rem,1.4vw,1rem)]">
    <span
      role="status"
      class={(ofOne && status.trouble) || outbox.waiting > 0 ? "text-fail font-semibold" : ""}
      title={outbox.waiting > 0 ? HELD : undefined}
      >{#if outbox.waiting > 0}
        <button
          type="button"
          class="cursor-pointer underline underline-offset-4"
          onclick={() => waiting?.open()}
          >✕ {outbox.waiting === 1 && outbox.listed[0]
            ? `“${shortened(outbox.listed[0].words)}”`
            : counted(outbox.waiting, "change")} not kept yet</button
        >
      {:else if ofOne}{status.kept}{/if}</span
    >
    <button
      type="button"
      class="hover:text-ink cursor-pointer whitespace-nowrap"
      onclick={onneed}
      title="A need in one line"
    >
      <kbd class="kbd kbd-xs">+</kbd> a need
    </button>
    <button type="button" class="hover:text-ink cursor-pointer whitespace-nowrap" onclick={onkeys}>
      <kbd class="kbd kbd-xs">?</kbd> help
    </button>
    <button
      type="button"
      class="hover:text-ink cursor-pointer whitespace-nowrap sm:w-14 sm:text-right"
      onclick={() => theme.toggle()}
      aria-label="Change to {WORDS[theme.other]}"
    >
      ◐ <span class="max-sm:hidden">{WORDS[theme.other]}</span>
    </button>
  </div>
</header>
<Waiting bind:this={waiting} />
