"""The options that several stated needs have, for sharing values among them."""

from __future__ import annotations

from typing import Final

from lowfold.core.needs.kinds import KINDS, Brief, kind_of
from lowfold.core.needs.parts import DrawerLine
from lowfold.core.network import Part, parts_of, write_network
from lowfold.core.sharing import Option

__all__ = ["MOST_OPTIONS", "options_of"]

MOST_OPTIONS: Final = 500  #: of one need, the nearest


def options_of(brief: Brief, drawer: tuple[DrawerLine, ...]) -> tuple[list[Option], bool]:
    """Return the choices within the accepted error, and whether these are all there are.

    Raises
    ------
    LowfoldError
        Where the need cannot be searched.
    """
    spec = kind_of(brief)
    prefer = "fewest" if "fewest" in spec.preferences else KINDS["divider"].preferences[0]
    found = spec.search(brief, prefer, brief.parts.pool(drawer), MOST_OPTIONS)
    options = []
    for network, error in zip(found.networks, found.errors, strict=True):
        share = abs(error) / brief.within
        if share <= 1:
            values = frozenset(p.ohms for p in parts_of(network) if isinstance(p, Part))
            options.append(Option(write_network(network), values, share))
    return options, len(options) < len(found.networks) or len(found.networks) < MOST_OPTIONS
