"""`lowfold solve`, `check`, `fold`, `netlist`, `diagnose`: what the API answers about a network."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import typer

from lowfold.commands.asking import answer
from lowfold.commands.printing import FAILS, refuse, said, show, show_json, verdict_word
from lowfold.core.errors import LowfoldError
from lowfold.core.network.editing import as_netlist, write_netlist
from lowfold.core.network.notation import read_text
from lowfold.core.network.point_names import point_at
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, WATT, Kind, read, write

__all__ = ["check", "diagnose", "fold", "netlist", "read_loads", "solve"]

DIGITS = 4
LEAST = 1e-3  #: probability that is told


def read_loads(loads: Sequence[str]) -> list[dict[str, Any]]:
    """Return loads as a request has them.

    Parameters
    ----------
    loads : sequence of str
        Each `OUT=47k` or `OUT=5 mA`.
    """
    found = []
    for text in loads:
        at, sign, figure = text.partition("=")
        if not sign:
            refuse(f"“{text}” is no load: write OUT=47k, or OUT=5mA")
        try:
            found.append({"at": at.strip(), "ohm": read(figure, OHM)})
        except LowfoldError:
            try:
                found.append({"at": at.strip(), "a": read(figure, AMPERE)})
            except LowfoldError as error:
                refuse(f"“{text}” is no load: {error.message}")
    return found


def _figure(value: float | None, kind: Kind) -> str:
    return "open" if value is None else write(value, kind, DIGITS)


def solve(
    network: str, supply: str, source: str, low: str, loads: list[str], *, as_json: bool
) -> None:
    """Solve a network and print what each part carries.

    Parameters
    ----------
    network : str
        The notation, or a netlist.
    supply, source, low : str
        What feeds it, through what, and where its other end lies.
    loads : list of str
        What hangs where.
    as_json : bool
        Print what the API answers.
    """
    # Loaded here, as what the other commands ask: each takes its part of a second.
    from lowfold.api.solve import SolveAsk, solve_network  # noqa: PLC0415

    asked = {"network": network, "supply_v": supply, "loads": read_loads(loads)}
    found = answer(SolveAsk, solve_network, asked | {"source_ohm": source, "low_v": low})
    if as_json:
        show_json(found)
        return
    said(
        f"{_figure(found['total_ohm'], OHM)}, draws {_figure(found['supply_a'], AMPERE)} and "
        f"{_figure(found['supply_w'], WATT)} from {supply}"
    )
    rows = [
        [p["ref"], _figure(p["ohm"], OHM), _figure(p["voltage_v"], VOLT),
         _figure(p["current_a"], AMPERE), _figure(p["power_w"], WATT)]
        for p in found["parts"]
    ]  # fmt: skip
    show(rows, ["part", "R", "V", "I", "P"], left=(0,))
    for name, volts in found["nodes"].items():
        said(f"{name} at {_figure(volts, VOLT)}")
    _cautions(found["cautions"])


def fold(network: str, supply: str, loads: list[str], *, as_json: bool) -> None:
    """Fold a network to one resistance and print each step, worked out.

    Parameters
    ----------
    network : str
        The notation, or a netlist.
    supply : str
        What feeds it.
    loads : list of str
        What hangs where.
    as_json : bool
        Print what the API answers.
    """
    asked = {"network": network, "supply_v": supply, "loads": read_loads(loads)}
    # Loaded here, as what the other commands ask: each takes its part of a second.
    from lowfold.api.fold import FoldAsk, folded  # noqa: PLC0415

    found = answer(FoldAsk, folded, asked)
    if as_json:
        show_json(found)
        return
    for number, step in enumerate(found["steps"], 1):
        said(f"{number}. {' and '.join(step['members'])} in {step['kind']}: {step['same']}")
        said(f"   {step['rule']}")
        said(f"   {step['worked']}")
        said(f"   leaves {step['remains']}".replace("\n", "; "))
    total = found["total"]
    said(f"in all {total['text']} {total['unit']}" if total else "in all open")


def netlist(network: str, *, as_json: bool) -> None:
    """Print a network as a netlist, one part a line.

    Parameters
    ----------
    network : str
        The notation, or a netlist.
    as_json : bool
        Print it as the API does.
    """
    try:
        text = write_netlist(as_netlist(read_text(network)))
    except LowfoldError as error:
        refuse(error.message)
    if as_json:
        show_json({"text": text})
    else:
        said(text)


def check(
    network: str,
    supply: str,
    loads: list[str],
    expect: list[str],
    limits: dict[str, Any],
    *,
    as_json: bool,
) -> None:
    """Check a network at its worst, and print every output and part with its verdict.

    Parameters
    ----------
    network : str
        The notation, or a netlist.
    supply : str
        What feeds it: `14.4V`, or `14.4V ± 3 %`.
    loads : list of str
        What hangs where.
    expect : list of str
        What each output is to be: `OUT=3V ± 4 %`.
    limits : dict
        Of every part: `tolerance`, `family`; and the ambient's `low_c` and `high_c`.
    as_json : bool
        Print what the API answers.

    Raises
    ------
    typer.Exit
        With 1 where something does not pass.
    """
    from lowfold.api.check import CheckAsk  # noqa: PLC0415
    from lowfold.api.check import check as checked  # noqa: PLC0415

    volts, _, tolerance = supply.partition("±")
    place = {name: limits[name] for name in ("low_c", "high_c") if limits.get(name)}
    default = {name: limits[name] for name in ("tolerance", "family") if limits.get(name)}
    found = answer(CheckAsk, checked, {
        "network": network, "loads": read_loads(loads), "parts": {"default": default},
        "supply": {"v": volts.strip(), "tolerance": tolerance.strip() or 0},
        "environment": place, "outputs": [_expected(each) for each in expect],
    }, families=())  # fmt: skip
    if as_json:
        show_json(found)
    else:
        _checked(found)
    if found["verdict"] in {"fail", "marginal"}:
        raise typer.Exit(FAILS)


def _expected(text: str) -> dict[str, Any]:
    at, sign, wanted = text.partition("=")
    target, _, allowed = wanted.partition("±")
    if not sign:
        return {"at": text.strip()}
    told = {"at": at.strip(), "target_v": target.strip(), "allowed": allowed.strip()}
    return {name: value for name, value in told.items() if value}


def _checked(found: dict[str, Any]) -> None:
    said(f"{verdict_word(found['verdict'])}: at every corner of what may vary")
    rows = [
        [o["at"], _figure(o["nominal_v"], VOLT), _figure(o["lowest_v"], VOLT),
         _figure(o["highest_v"], VOLT), verdict_word(o["verdict"])]
        for o in found["outputs"]
    ]  # fmt: skip
    if rows:
        show(rows, ["output", "nominal", "lowest", "highest", ""], left=(0, 4))
    parts = [
        [p["ref"], _figure(p["worst_w"], WATT), _figure(p["worst_v"], VOLT),
         _figure(p["rated_w"], WATT) if p["rated_w"] is not None else "no rating",
         verdict_word(p["verdict"])]
        for p in found["parts"]
    ]  # fmt: skip
    show(parts, ["part", "worst P", "worst V", "may take", ""], left=(0, 4))
    _cautions(found["cautions"])


def diagnose(
    network: str, supply: str, tolerance: str, readings: list[str], *, as_json: bool
) -> None:
    """Print what may be wrong with a board, likeliest first, and what to measure next.

    Parameters
    ----------
    network : str
        The notation, or a netlist.
    supply, tolerance : str
        What feeds it, and its parts' tolerance.
    readings : list of str
        Each `OUT=3V02`, `I(R1)=57uA`, `R2=56k` lifted out, or `OUT=OL`.
    as_json : bool
        Print what the API answers.

    Raises
    ------
    typer.Exit
        With 1 where the board is not as designed for certain.
    """
    from lowfold.api.diagnose import DiagnoseAsk, diagnose_readings  # noqa: PLC0415
    from lowfold.core.bench.priors import priors_with  # noqa: PLC0415

    found = answer(DiagnoseAsk, diagnose_readings, {
        "network": network, "supply": {"v": supply}, "parts": {"default": {"tolerance": tolerance}},
        "readings": [_reading(each) for each in readings],
    }, families=(), meters=(), priors=priors_with({}))  # fmt: skip
    if as_json:
        show_json(found)
    else:
        said(found["verdict"])
        rows = [
            [f"{100 * h['probability']:.1f} %", h["words"]]
            for h in found["hypotheses"]
            if h["probability"] >= LEAST
        ]
        show(rows, ["", "what may be wrong"], left=(1,))
        for step in found["next"][:1]:
            said(f"next: {step['words']}: {step['reason']}")
    if any(r["verdict"] in {"off", "far out"} for r in found["readings"]):
        raise typer.Exit(FAILS)


def _reading(text: str) -> dict[str, Any]:
    where, sign, figure = text.partition("=")
    if not sign:
        right = "write OUT=3V02, I(R1)=57uA, or R2=56k of a part lifted out"
        refuse(f"“{text}” is no reading: {right}")
    point: dict[str, Any] = dict(point_at(where))
    kind = {"voltage": VOLT, "current": AMPERE, "resistance": OHM}[point["kind"]]
    if figure.strip().upper() in {"OL", "OVER"}:
        return {**point, "value": None, "overload": True}
    try:
        return {**point, "value": read(figure.strip(), kind)}
    except LowfoldError as error:
        refuse(f"“{text}”: {error.message}")


def _cautions(found: list[dict[str, Any]]) -> None:
    for one in found:
        said(f"caution: {one['message']}")
