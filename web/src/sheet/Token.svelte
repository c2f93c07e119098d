<script lang="ts">
  import type { TokenAnswer } from "$api";

  type Props = {
    name: string;
    label: string;
    text: string;
    reading: TokenAnswer | undefined;
    /** Id of a list of what is usually written here. */
    usual?: string | undefined;
    onfocus: () => void;
    onblur: () => void;
    oninput: (text: string) => void;
  };
  let { name, label, text, reading, usual, onfocus, onblur, oninput }: Props = $props();
  let entered = "";

  const wrong = $derived(reading?.ok === false && reading.text === text);

  function enter(event: FocusEvent & { currentTarget: HTMLInputElement }) {
    entered = text;
    event.currentTarget.select();
    onfocus();
  }

  function undo(event: KeyboardEvent) {
    if (event.key !== "Escape" || text === entered) return;
    event.preventDefault();
    oninput(entered);
  }
</script>

<input
  data-token={name}
  class="text-copper field-sizing-content max-w-full min-w-3 rounded-t-[3px] border-b px-0.5 leading-6 font-semibold focus:bg-wash focus:outline-1 focus:outline-copper {wrong
    ? 'border-fail text-fail border-b-2 border-dashed'
    : 'border-copper'}"
  size={Math.max(text.length, 1)}
  aria-label={label}
  aria-invalid={wrong}
  aria-describedby="token-words"
  autocomplete="off"
  autocapitalize="off"
  spellcheck="false"
  maxlength={name === "sensor" ? 400 : 80}
  list={usual}
  value={text}
  onfocus={enter}
  {onblur}
  onkeydown={undo}
  oninput={(event) => oninput(event.currentTarget.value)}
/>
