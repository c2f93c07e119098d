"""How a leg or a whole resistance is built, as one says it: `4 × 1 MΩ in series`."""

from __future__ import annotations

from lowfold.core.network.tree import Chain, Element, Group, Part, parts_of, write_network
from lowfold.core.values.quantities import OHM, write, write_code

__all__ = ["build_words", "shape_of_equals", "short_words"]

PAIR = 2  #: equal parts that are written out


def shape_of_equals(network: Element) -> tuple[float, int, int] | None:
    """Return the value of equal parts, how many are in a string, and how many strings there are.

    None for one part, and for what is no such array.
    """
    branches = network.branches if isinstance(network, Group) else (network,)
    strings = [b.items if isinstance(b, Chain) else (b,) for b in branches]
    values = {p.ohms for p in parts_of(network) if isinstance(p, Part)}
    sizes = {len(s) for s in strings}
    plain = all(isinstance(i, Part) for s in strings for i in s)
    if not plain or len(values) != 1 or len(sizes) != 1 or len(strings) * len(strings[0]) == 1:
        return None
    return values.pop(), sizes.pop(), len(strings)


def build_words(network: Element) -> str:
    """Say how something is built: one part, two, or an array of equal ones."""
    if isinstance(network, Part):
        return write(network.ohms, OHM, 6, trim=True)
    equal = shape_of_equals(network)
    if equal is None:
        return f"({write_network(network, refs=False)})"
    ohms, size, count = equal
    each = write_code(ohms)
    if size == 1 or count == 1:
        return f"{size * count} × {each} in {'parallel' if size == 1 else 'series'}"
    return f"{count} strings of {size} × {each}"


def short_words(network: Element) -> str:
    """Say how something is built as short as a list has room for: `4 × 1M`, `47k || 330k`."""
    if isinstance(network, Part):
        return write(network.ohms, OHM, 6, trim=True)
    equal = shape_of_equals(network)
    if equal is None or equal[1] * equal[2] == PAIR:
        return write_network(network, refs=False)
    ohms, size, count = equal
    if size == 1 or count == 1:
        return f"{size * count} × {write_code(ohms)}{' ∥' if size == 1 else ''}"
    return f"{count}×{size} × {write_code(ohms)}"
