<script lang="ts">
  import type { Snippet } from "svelte";

  type Props = {
    /** What went wrong is told at once; what was done, when there is time. */
    tone: "wrong" | "done" | "caution";
    children: Snippet;
  };
  let { tone, children }: Props = $props();
  const RULES = {
    wrong: "border-fail",
    done: "border-copper",
    caution: "border-marginal",
  } as const;
</script>

<div
  role={tone === "wrong" ? "alert" : tone === "done" ? "status" : undefined}
  class="mb-3 flex items-center gap-4 border-l-2 py-1 pl-3 {RULES[tone]}"
>
  {@render children()}
</div>
