"""Networks drawn at random: series–parallel trees and meshes."""

import itertools
import random

from hypothesis import strategies as st

from lowfold.core.network.tree import Element, Part, Tap, chain, group, number_parts

OHMS = st.sampled_from([1.0, 2.2, 4.7, 10.0, 33.0, 100.0, 470.0, 1e3, 6.8e3, 22e3, 150e3, 1e6])


def trees() -> st.SearchStrategy[Element]:
    """Series–parallel networks of one to eight parts, numbered."""
    leaf: st.SearchStrategy[Element] = OHMS.map(Part)
    grown = st.recursive(
        leaf,
        lambda inner: st.one_of(
            st.lists(inner, min_size=2, max_size=3).map(chain),
            st.lists(inner, min_size=2, max_size=3).map(group),
        ),
        max_leaves=8,
    )
    return grown.map(number_parts)


def random_tree(rng: random.Random, parts: int) -> Element:
    """A series–parallel network of exactly `parts` parts."""
    if parts == 1:
        return Part(rng.choice([10.0, 22.0, 47.0, 100.0, 220.0, 470.0, 1000.0]))
    left = rng.randint(1, parts - 1)
    pair = [random_tree(rng, left), random_tree(rng, parts - left)]
    return chain(pair) if rng.random() < 0.5 else group(pair)


def tapped(upper: Element, lower: Element) -> Element:
    """Two networks in series with the tap OUT between them."""
    return number_parts(chain([upper, Tap("OUT"), lower]))


def random_mesh(rng: random.Random, nodes: int, parts: int) -> str:
    """A netlist whose every node is tied in; bridges and all."""
    names = ["in", "0", *"abcdefgh"[: nodes - 2]]
    pairs = [(names[i], names[rng.randrange(i)]) for i in range(1, nodes)]
    while len(pairs) < parts:
        one, two = rng.sample(names, 2)
        pairs.append((one, two))
    values = [rng.choice([10, 22, 47, 100, 330, 1000, 4700]) for _ in pairs]
    return "\n".join(
        f"R{i} {a} {b} {v}" for i, ((a, b), v) in enumerate(zip(pairs, values, strict=True), 1)
    )


def complete(nodes: int) -> str:
    """Equal parts between every two of the nodes: all but two of them balanced."""
    names = ["in", "0", *"abcdefgh"[: nodes - 2]]
    pairs = itertools.combinations(names, 2)
    return "\n".join(f"R{i} {a} {b} 1k" for i, (a, b) in enumerate(pairs, 1))
