<script lang="ts">
  import type { MetersState } from "./meters.svelte";

  type Props = { meters: MetersState };
  let { meters }: Props = $props();
</script>

<h2 class="mt-7 font-serif text-read font-semibold">Read over a wire</h2>
<p class="text-soft mt-0.5">
  A meter that speaks SCPI, by its VISA resource name. At the bench one key takes its reading.
</p>
<ul class="border-crease mt-2 border-t">
  {#each meters.found?.instruments ?? [] as one (one.resource)}
    <li class="border-crease flex items-baseline gap-4 border-b py-1.5">
      <strong>{one.name}</strong>
      <code class="text-note">{one.resource}</code>
      <span class="text-soft">{one.meter}</span>
      <button
        type="button"
        class="text-soft hover:text-fail ml-auto cursor-pointer"
        aria-label="Take off {one.name}"
        onclick={() => meters.disconnect(one)}>✕</button
      >
    </li>
  {:else}
    <li class="text-soft border-crease border-b py-1.5">None yet.</li>
  {/each}
</ul>
<form
  class="mt-3 flex flex-wrap items-baseline gap-3"
  aria-label="A meter on a wire"
  onsubmit={(event) => {
    event.preventDefault();
    void meters.connect();
  }}
>
  <input
    class="input input-sm w-72"
    aria-label="Resource name"
    aria-invalid={meters.wireWrong !== ""}
    placeholder="TCPIP::192.168.1.20::5025::SOCKET"
    autocomplete="off"
    spellcheck="false"
    maxlength="200"
    bind:value={meters.wire.resource}
  />
  <input
    class="input input-sm w-44"
    aria-label="What it is called"
    placeholder="on the left shelf"
    autocomplete="off"
    maxlength="60"
    bind:value={meters.wire.name}
  />
  <select
    class="select select-sm w-52"
    aria-label="Which meter it is"
    bind:value={meters.wire.meter}
  >
    <option value="">bench, 6½ digits</option>
    {#each meters.found?.meters ?? [] as meter (meter.name)}
      {#if !meter.name.startsWith("bench")}<option>{meter.name}</option>{/if}
    {/each}
  </select>
  <button class="btn btn-sm" disabled={!meters.wire.resource.trim()}>Put on</button>
  {#if meters.wireWrong}<p class="text-fail text-note" role="alert">✕ {meters.wireWrong}</p>{/if}
</form>
