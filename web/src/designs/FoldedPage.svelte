<script lang="ts">
  /** The choice of a sheet as a network to be folded: a view of it, kept once it is changed. */
  import { router } from "svelte-spa-router";

  import { askShown, getDesign, type BriefKind } from "$api";
  import FoldView from "../fold/FoldView.svelte";
  import Missing from "../shell/Missing.svelte";
  import type { Draft } from "../shell/kept.svelte";
  import { begun, handed } from "./begun";

  type Props = { params?: { id?: string } };
  let { params }: Props = $props();

  async function folded(id: number): Promise<Draft | string> {
    const { draft } = handed;
    handed.draft = null;
    if (draft && draft.from === id) return draft;
    const { data: design, error } = await getDesign(id);
    if (error) return error.status === 404 ? "There is no such design." : error.detail;
    if (design.kind === "network") return design;
    const choice = new URLSearchParams(router.querystring).get("choice") ?? design.choice ?? "";
    const kind = design.kind as BriefKind;
    const brief = design.brief as Record<string, string>;
    const shown = await askShown({ kind, brief, choice });
    if (shown.error) return shown.error.detail;
    return begun("network", shown.data.as_network, {
      name: `${design.name}, folded`,
      why: `${shown.data.notation}, from “${design.name}”.`,
      from: id,
    });
  }
  const found = $derived(folded(Number(params?.id ?? 0)));
</script>

{#await found}
  <p class="text-soft p-10" role="status">Opening the network…</p>
{:then design}
  {#if typeof design === "string"}<Missing what={design} />
  {:else}{#key params?.id}<FoldView {design} />{/key}{/if}
{/await}
