<script lang="ts">
  import type { WatchedJob } from "./job.svelte";

  type Props = { of: WatchedJob; label: string };
  let { of, label }: Props = $props();
</script>

<div role="status" class="border-copper flex min-w-0 items-center gap-3 border-l-2 py-1 pl-3">
  <progress
    class="progress progress-primary w-24"
    max="1"
    value={of.job?.progress ?? 0}
    aria-label={label}
  ></progress>
  <span class="text-soft truncate">{of.job?.words}</span>
  <button type="button" class="btn btn-xs ml-auto" onclick={() => of.cancel()}>Cancel</button>
</div>
