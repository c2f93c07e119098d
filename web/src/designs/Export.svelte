<script lang="ts">
  /** What leaves a design from where one works on it: a copy, the paper, print, every file. */
  import { fetchFile, writeNeed } from "$api";
  import { putOut, type Copied } from "../shell/copied";
  import { download } from "../shell/download";
  import type { KeptDesign } from "../shell/kept.svelte";

  type Props = { design: KeptDesign; copied?: (() => Copied | null) | undefined };
  let { design, copied }: Props = $props();
  let opened = $state(false);
  let said = $state("");
  let box = $state<HTMLDetailsElement>();
  const undecided = $derived(design.kind !== "network" && design.choice === null);

  async function paper() {
    said = "being made…";
    await design.keep();
    const { data, error } = await fetchFile(`/api/designs/${design.id}/handover.pdf`);
    said = error ? `Not made: ${error.detail}.` : "";
    if (data) download(data.file, data.name);
  }

  async function copy() {
    const out = copied?.();
    if (!out) return;
    await putOut(out);
    said = "copied";
  }
  /** The need as somebody would say it: to be pasted into one line here, or on the command line. */
  async function asLine() {
    const { kind } = design;
    if (kind === "sensor" || kind === "board") return;
    const { data, error } = await writeNeed({ kind, brief: design.brief });
    if (error) said = `Not written: ${error.detail}.`;
    else {
      await putOut({ words: [data.line], rows: [] });
      const rest = data.left_out.map((name) => name.replaceAll("_", " ")).join(", ");
      said = `copied: ${data.line}${rest ? `; it has no words for ${rest}` : ""}`;
    }
  }
</script>

<svelte:window
  onclick={(event) => opened && !box?.contains(event.target as Node) && (opened = false)}
  onkeydown={(event) => event.key === "Escape" && (opened = false)}
/>

<details class="off-paper dropdown" bind:this={box} bind:open={opened}>
  <summary class="hover:text-copper text-soft cursor-pointer list-none whitespace-nowrap"
    >export ▾</summary
  >
  {#if opened}<div
      class="dropdown-content bg-leaf border-crease z-10 mt-1 flex w-72 flex-col gap-1 rounded-box border p-3 max-sm:right-0"
    >
      {#if copied}
        <button type="button" class="btn btn-sm justify-start" onclick={copy}
          >Copy <kbd class="kbd kbd-xs">Ctrl C</kbd></button
        >
        <p class="text-soft text-note leading-snug">
          The choice with its figures: text, and a table where a spreadsheet takes it.
        </p>
      {/if}
      {#if design.kind !== "sensor" && design.kind !== "board"}
        <button type="button" class="btn btn-sm justify-start" onclick={asLine}
          >The need as one line</button
        >
      {/if}
      <button type="button" class="btn btn-sm justify-start" onclick={paper}>PDF</button>
      {#if undecided}
        <p class="border-marginal border-l-2 pl-2 text-note leading-snug">
          No choice is pinned: the PDF shows the need and says that nothing is decided.
        </p>
      {/if}
      <button type="button" class="btn btn-sm justify-start" onclick={() => window.print()}
        >Print <kbd class="kbd kbd-xs">Ctrl P</kbd></button
      >
      <a
        class="text-copper text-note underline underline-offset-4"
        href="#/designs/{design.id}/record">JSON, CSV, Markdown, SVG: beside its record</a
      >
      <p class="text-note" role="status">{said}</p>
    </div>{/if}
</details>
