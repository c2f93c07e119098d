<script lang="ts">
  import type { TokenReading } from "$api";

  type Props = {
    name: string;
    label: string;
    text: string;
    reading: TokenReading | undefined;
    /** Id of a list of what is usually written here. */
    usual?: string | undefined;
    onfocus: () => void;
    onblur: () => void;
    oninput: (text: string) => void;
  };
  let { name, label, text, reading, usual, onfocus, onblur, oninput }: Props = $props();
  let entered = "";

  const wrong = $derived(reading?.ok === false && reading.text === text);

  /** Too long for one line of the sentence. */
  const long = $derived(name === "sensor");

  function enter(event: FocusEvent & { currentTarget: HTMLInputElement | HTMLTextAreaElement }) {
    entered = text;
    event.currentTarget.select();
    onfocus();
  }

  function undo(event: KeyboardEvent) {
    if (event.key === "Enter" && long) event.preventDefault();
    if (event.key !== "Escape" || text === entered) return;
    event.preventDefault();
    oninput(entered);
  }

  const common = $derived({
    "data-token": name,
    "aria-label": label,
    "aria-invalid": wrong,
    "aria-describedby": "token-words",
    autocomplete: "off",
    autocapitalize: "off",
    spellcheck: false,
  } as const);
  const look = $derived(
    `text-copper field-sizing-content max-w-full min-w-3 rounded-t-[3px] border-b px-0.5 leading-6 font-semibold focus:bg-wash focus:outline-1 focus:outline-copper ${
      wrong ? "border-fail text-fail border-b-2 border-dashed" : "border-copper"
    }`,
  );
</script>

{#if long}
  <textarea
    {...common}
    class="{look} block w-full resize-none"
    rows={Math.ceil((text.length + 1) / 24)}
    maxlength={400}
    value={text}
    onfocus={enter}
    {onblur}
    onkeydown={undo}
    oninput={(event) => oninput(event.currentTarget.value)}></textarea>
{:else}
  <input
    {...common}
    class={look}
    size={Math.max(text.length, 1)}
    maxlength={80}
    list={usual}
    value={text}
    onfocus={enter}
    {onblur}
    onkeydown={undo}
    oninput={(event) => oninput(event.currentTarget.value)}
  />
{/if}
