"""How a reading is taken without harm to meter, circuit or person (common practice)."""

from __future__ import annotations

from lowfold.core.bench.expect import Expected
from lowfold.core.checking.cautions import Caution
from lowfold.core.values.quantities import AMPERE, write

__all__ = ["handling"]


def handling(expected: Expected) -> tuple[Caution, ...]:
    """Return what to mind at a point.

    Parameters
    ----------
    expected : Expected
        With the range that it is read on.
    """
    point, chosen = expected.point, expected.range
    if point.kind == "resistance":
        found = [
            Caution("unpowered", "Measure ohms with the power off: the supply is disconnected"),
            Caution("discharge", "Discharge capacitors before measuring resistance"),
        ]
        return tuple(found)
    if point.kind == "voltage" or chosen is None:
        return ()
    jack = f" is in the {chosen.jack} jack" if chosen.jack else " is in the jack for this range"
    found = [
        Caution(
            "jack",
            f"The lead{jack}, and goes back to volts afterwards: left there it is a short across "
            "whatever is measured next. Start on the highest range where the current is unknown",
        )
    ]
    most = max(abs(expected.low or 0.0), abs(expected.high or 0.0))
    if chosen.fuse_amps is not None and expected.span is not None:
        fuse = write(chosen.fuse_amps, AMPERE, 3, trim=True)
        if abs(expected.span.nominal) > chosen.fuse_amps:
            found.append(
                Caution("fuse", f"The current expected is above the {fuse} fuse: it would blow")
            )
        elif most > chosen.fuse_amps:
            found.append(
                Caution("fuse", f"The current may be above the {fuse} fuse at its highest")
            )
    return tuple(found)
