"""A design judged as it was built: measured parts in place of nominal ones.

What was measured leaves the meter's uncertainty in place of the tolerance; temperature and drift
stay as they are stated, since the part will still be hot, cold and old.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from lowfold.core.needs.brief import Brief
from lowfold.core.needs.network import StatedNetwork
from lowfold.core.network.circuit import Circuit
from lowfold.core.network.editing import edit
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Element
from lowfold.core.tokens.parts import OwnLimits, Parts
from lowfold.core.weighing.choice import Judged

__all__ = ["choice_as_built", "network_as_built"]

Measured = Mapping[int, tuple[float, float]]


def choice_as_built(brief: Brief, network: Element, circuit: Circuit, measured: Measured) -> Judged:
    """Weigh a choice with its measured parts against its brief.

    Parameters
    ----------
    circuit : Circuit
        The same, laid out.
    measured : mapping
        By position of a branch: Ω, and the half width that is left, a fraction.
    """
    known = replace(brief, parts=_parts(brief.parts, circuit, measured))  # type: ignore[type-var]
    built = _with_values(network, circuit, measured)
    assert not isinstance(built, Netlist)  # a choice is none
    return known.weigh([built])[0].judged


def network_as_built(stated: StatedNetwork, measured: Measured) -> Judged:
    """Weigh a stated network with its measured parts against what is wanted of it.

    Parameters
    ----------
    measured : mapping
        By position of a branch: Ω, and the half width that is left, a fraction.
    """
    network = _with_values(stated.network, stated.circuit, measured)
    return replace(
        stated,
        network=network,
        circuit=stated.conditions.circuit_of(network),
        parts=_parts(stated.parts, stated.circuit, measured),
    ).weighed()


def _with_values(
    network: Element | Netlist, circuit: Circuit, measured: Measured
) -> Element | Netlist:
    for place, (ohms, _) in measured.items():
        network = read_text(edit(network, circuit.branches[place].ref, "change", ohms))
    return network


def _parts(parts: Parts, circuit: Circuit, measured: Measured) -> Parts:
    own = {o.ref.casefold(): o for o in parts.own}
    for place, (_, half) in measured.items():
        ref = circuit.branches[place].ref
        stated = own.get(ref.casefold(), OwnLimits(ref, None, None, None))
        own[ref.casefold()] = replace(stated, tolerance=half)
    return replace(parts, own=tuple(own.values()))
