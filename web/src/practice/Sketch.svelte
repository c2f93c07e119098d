<script lang="ts">
  /** A network as a question shows it: upright, lying or slanting; what it is about is lit. */
  import type { Snippet } from "svelte";

  import type { Picture } from "$api";

  import PartSymbol from "../kit/PartSymbol.svelte";
  import SupplyMark from "../kit/SupplyMark.svelte";
  import { Writing } from "../kit/writing.svelte";

  type Props = {
    picture: Picture;
    label: string;
    /** Drawn over it, in its own units: the leads of a meter. */
    over?: Snippet<[number]>;
    onpart?: (ref: string) => void;
    onnode?: (name: string) => void;
  };
  let { picture, label, over, onpart, onnode }: Props = $props();

  const LARGEST = 1.35;
  const COLOURS = ["#b4532a", "#2f7fb5", "#3f8f5f", "#9a6cc0"];
  const drawing = $derived(picture.drawing);
  const half = $derived(drawing.symbol / 2);
  const lying = $derived(picture.way === "lying");
  const lowest = $derived(
    picture.way === "upright"
      ? Math.max(...picture.drawing.wires.flatMap((wire) => [wire.y1, wire.y2]))
      : -Infinity,
  );
  /** Upright, branches leave to the right of a junction. */
  const toTheLeft = (name: string) => picture.way === "upright" && !["in", "0"].includes(name);
  /** Room at each side: the supply and names stand outside what is drawn. */
  const room = $derived({ left: 40, top: lying ? 44 : 36, right: lying ? 40 : 24, below: 34 });
  const box = $derived({
    width: drawing.width + room.left + room.right,
    height: drawing.height + room.top + room.below,
  });
  const type = new Writing(() => box);
  /** Drawn small, the writing of a part stands in two lines. */
  const small = $derived(type.scale < 0.9);
  const lit = $derived(new Map(picture.nets.map((net, k) => [net, COLOURS[k % COLOURS.length]])));

  /** Where the writing of a part stands: to its right, or above it where it lies. */
  function writing(angle: number) {
    const turn = (angle * Math.PI) / 180;
    let [x, y] = [Math.cos(turn), Math.sin(turn)];
    // Beside a part that stands, above one that lies
    if (x < 0 || (x <= 0.45 && y > 0)) [x, y] = [-x, -y];
    return Math.abs(x) > 0.45
      ? { x: x * 17, y: y * 18 + 4, anchor: "start" as const }
      : { x: x * 16, y: y * 24, anchor: "middle" as const };
  }
  const parts = $derived([...drawing.parts, ...drawing.loads]);
</script>

<svg
  viewBox="{-room.left} {-room.top} {box.width} {box.height}"
  width={box.width * LARGEST}
  height={box.height * LARGEST}
  class="max-h-full max-w-full"
  bind:contentRect={type.seen}
  role="img"
  aria-label={label}
  data-sketch={picture.way}
>
  <g stroke="currentColor" fill="none" stroke-linecap="round">
    {#each drawing.wires as wire, i (i)}
      {@const colour = wire.net === null || wire.net === undefined ? undefined : lit.get(wire.net)}
      <path
        d="M{wire.x1} {wire.y1}L{wire.x2} {wire.y2}"
        stroke={colour ?? "currentColor"}
        stroke-width={colour ? 4 : 1.6}
        data-lit={colour ? wire.net : undefined}
      />
    {/each}
  </g>
  <SupplyMark {drawing} supply={picture.supply} at={(size) => type.at(size)} />
  {#each drawing.ends as end (end.name)}
    <text
      x={end.x}
      y={end.y + (end.name === "0" ? 22 : -12)}
      text-anchor="middle"
      font-size={type.at(13)}
      class="fill-ink">{end.name === "0" ? "0" : `+ ${picture.supply}`}</text
    >
  {/each}
  {#each drawing.dots as dot, i (i)}
    <circle cx={dot.x} cy={dot.y} r="3.4" fill="currentColor" />
    {#if dot.name && !(dot.name in picture.places)}
      <text
        x={dot.x - 8}
        y={dot.y - 7}
        text-anchor="end"
        font-size={type.at(12.5)}
        stroke-width="3"
        paint-order="stroke"
        class="stroke-base-100 fill-soft">{dot.name}</text
      >
    {/if}
  {/each}
  {#each parts as p (p.name)}
    {@const hot = picture.hot.includes(p.name)}
    {@const beside = picture.beside.includes(p.name)}
    {@const at = writing(p.angle)}
    <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
    <g class={onpart ? "cursor-pointer" : ""} onclick={() => onpart?.(p.name)} data-part={p.name}>
      <PartSymbol
        x={p.x}
        y={p.y}
        {half}
        angle={p.angle}
        symbol={picture.shown[p.name] !== undefined
          ? "rectangle"
          : picture.closed.includes(p.name)
            ? "closed"
            : "open"}
        {hot}
        heavy={hot}
        stroke={beside ? 2.4 : 1.6}
        dashed={drawing.loads.includes(p)}
      />
      <text
        x={p.x + at.x}
        y={p.y + at.y - (small ? type.at(13) * (at.anchor === "middle" ? 1 : 0.5) : 0)}
        text-anchor={at.anchor}
        font-size={type.at(13)}
        stroke-width="4"
        paint-order="stroke"
        class="stroke-base-100 {hot ? 'fill-copper' : 'fill-ink'}"
        >{p.name}
        <tspan
          font-weight="600"
          x={small ? p.x + at.x : undefined}
          dy={small ? type.at(13) : undefined}
          >{picture.shown[p.name] ?? (picture.closed.includes(p.name) ? "closed" : "open")}</tspan
        ></text
      >
    </g>
  {/each}
  {#each Object.entries(picture.places) as [name, place] (name)}
    <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
    <g class={onnode ? "cursor-pointer" : ""} onclick={() => onnode?.(name)}>
      <circle cx={place.x} cy={place.y} r="15" fill="transparent" />
      <circle cx={place.x} cy={place.y} r="3.4" fill="currentColor" />
      {#if picture.hot.includes(name)}
        <circle
          cx={place.x}
          cy={place.y}
          r="10"
          fill="none"
          class="stroke-copper"
          stroke-width="2.4"
        />
      {/if}
      <text
        x={place.x + (toTheLeft(name) ? -9 : 10)}
        y={name === "0" ? Math.max(place.y, lowest) + 17 : place.y + (toTheLeft(name) ? 3 : -7)}
        text-anchor={toTheLeft(name) ? "end" : "start"}
        font-size={type.at(12.5)}
        stroke-width="3"
        paint-order="stroke"
        class="stroke-base-100 {picture.hot.includes(name) ? 'fill-copper' : 'fill-ink'}"
        font-weight={picture.hot.includes(name) ? 700 : 400}>{name}</text
      >
    </g>
  {/each}
  {@render over?.(type.at(14) / 14)}
</svg>
