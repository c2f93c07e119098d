"""What requests about a network share: its text, its switches, its loads."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from lowfold.api.fields import Amps, Ask, Ohms
from lowfold.core.network.circuit import Circuit, build_circuit, check_switches, lifted
from lowfold.core.network.notation import read_text
from lowfold.core.solving.nets import Load

__all__ = ["LoadAsk", "NetworkText", "Switches", "circuit_of"]

NetworkText = Annotated[
    str,
    Field(
        min_length=1,
        max_length=20_000,
        description="The notation, or a netlist with one part a line",
        examples=["R1=4k7 + @A + (R2=15k || (R3=2k7 + @B + R4=3k9))"],
    ),
]
Switches = Annotated[
    dict[str, Literal["open", "closed"]],
    Field(max_length=400, description="By switch; open if not given"),
]


class LoadAsk(Ask):
    """What hangs from a tap or node to 0 V: a resistance or a current."""

    at: str = Field(max_length=80, examples=["OUT"])
    ohm: Ohms | None = None
    a: Amps | None = None

    @model_validator(mode="after")
    def _one_kind(self) -> Self:
        if (self.ohm is None) == (self.a is None):
            msg = "a load is a resistance or a current: give exactly one of ohm and a"
            raise ValueError(msg)
        return self

    def load(self, circuit: Circuit) -> Load:
        return Load(circuit.node(self.at, field="loads"), ohms=self.ohm, amps=self.a)


def circuit_of(network: str, switches: Switches, low_v: float = 0.0) -> Circuit:
    """Read a network and throw its switches, its node 0 at `low_v`."""
    parsed = read_text(network)
    check_switches(parsed, switches)
    closed = [ref for ref, state in switches.items() if state == "closed"]
    return lifted(build_circuit(parsed, closed), low_v)
