<script lang="ts">
  import type { StepAnswer } from "$api";
  import VerdictMark from "../shell/VerdictMark.svelte";

  type Props = { told: StepAnswer["told"]; word?: string };
  let { told, word }: Props = $props();
  const VERDICTS = { "as expected": "pass", off: "marginal", "far out": "fail" } as const;
</script>

<VerdictMark verdict={told ? VERDICTS[told] : null} word={word ?? told ?? "to be read"} />
