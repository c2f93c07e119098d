<script lang="ts">
  import { tick } from "svelte";

  import Tabs from "../shell/Tabs.svelte";
  import VerdictMark from "../shell/VerdictMark.svelte";
  import Advice from "./Advice.svelte";
  import Faults from "./Faults.svelte";
  import LoadLine from "./LoadLine.svelte";
  import { OpenedState, TABS, type Subject, type Tab } from "./opened.svelte";
  import Power from "./Power.svelte";
  import Spread from "./Spread.svelte";

  type Props = { subject: Subject };
  let { subject }: Props = $props();
  let dialog: HTMLDialogElement;
  const view = new OpenedState(() => subject);

  export async function open(tab: Tab) {
    dialog.showModal();
    void view.look(tab);
    await tick();
    dialog.querySelector<HTMLElement>(`[data-tab=${tab}]`)?.focus();
  }
</script>

<dialog
  bind:this={dialog}
  class="modal"
  aria-labelledby="opened-title"
  onclose={() => view.close()}
>
  <div
    class="modal-box bg-leaf border-crease flex h-[640px] max-h-[92vh] max-w-3xl flex-col border p-0 shadow-none"
  >
    <div class="flex items-baseline gap-4 px-6 pt-5 max-sm:px-3">
      <h2
        id="opened-title"
        title={view.title}
        class="min-w-0 truncate font-serif text-read font-semibold"
      >
        {view.title}
      </h2>
      <span class="ml-auto"
        ><VerdictMark
          verdict={view.advising.answer?.verdict ?? null}
          word={view.advising.answer ? (view.advising.answer.verdict ?? "not judged") : ""}
        /></span
      >
    </div>
    <Tabs
      tabs={Object.entries(TABS) as [Tab, string][]}
      bind:value={view.tab}
      label="What is looked into"
      inset="px-6"
    >
      {#if view.tab === "advice"}<Advice {view} />
      {:else if view.trouble}<p class="text-fail mt-3">✕ {view.trouble}</p>
      {:else if !view.answer}
        <p class="text-soft mt-3 flex items-center gap-2" role="status">
          <span class="loading loading-dots loading-xs" aria-hidden="true"></span> Drawing a hundred thousand
          of them…
        </p>
      {:else if view.tab === "spread"}<Spread {view} answer={view.answer} />
      {:else if view.tab === "load"}<LoadLine
          answer={view.answer}
          lightest={view.advising.answer?.lightest ?? ""}
        />
      {:else if view.tab === "power"}<Power answer={view.answer} />
      {:else}<Faults answer={view.answer} />{/if}
    </Tabs>
    <form
      method="dialog"
      class="border-crease flex items-center gap-3 border-t px-6 py-3 max-sm:px-3"
    >
      <p class="text-soft text-note leading-snug">
        Design aid: the data sheet, the local code and a qualified person decide.
      </p>
      <button class="btn btn-sm ml-auto">Close</button>
    </form>
  </div>
  <form method="dialog" class="modal-backdrop"><button>close</button></form>
</dialog>
