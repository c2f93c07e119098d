"""The command line: what serves (`serve`, `meter`, `openapi`), and what answers at once.

Each command loads what it needs and no more, so that the short ones are there at once.
"""

from __future__ import annotations

import contextlib
import json
import os
import socket
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn

import typer

if TYPE_CHECKING:
    from lowfold.settings import Settings
    from lowfold.store.database import Database

__all__ = ["app"]

app = typer.Typer(no_args_is_help=True, help="Lowfold, on this machine only.")

Port = Annotated[int | None, typer.Option(help="Port on 127.0.0.1; default LOWFOLD_PORT or 8000.")]
Data = Annotated[
    Path | None, typer.Option(help="Directory of the database; default LOWFOLD_DATA or the user's.")
]
Demo = Annotated[bool, typer.Option("--demo", help="Open on the demo designs; throwaway data.")]


#: The buoy's battery sense, for `lowfold meter` where no board is given.
BOARD = "R1=200k + @OUT + R2=56k"


def _settings(port: int | None, data: Path | None) -> Settings:
    """Read what is set from outside; the command line holds over it."""
    from pydantic import ValidationError  # noqa: PLC0415 as all that serves: after `get_ready`

    from lowfold.settings import Settings  # noqa: PLC0415

    given: dict[str, Any] = {"port": port, "data": data}
    try:
        found = Settings(**{name: value for name, value in given.items() if value is not None})
    except ValidationError as error:
        wrong = error.errors()[0]
        name = str(wrong["loc"][0])
        shown = str(wrong["input"])[:60]
        right = {"port": "a port is a number from 1 to 65535", "data": "name a directory"}
        _stop(
            f"{name} “{shown}” cannot be used: {right.get(name, wrong['msg'])}",
            error,
        )
    if data is None and not os.environ.get("LOWFOLD_DATA", "unset").strip():
        _stop("the data directory is empty: name one with LOWFOLD_DATA, DATA= or --data")
    return found


@app.command()
def serve(port: Port = None, data: Data = None, *, demo: Demo = False) -> None:
    """Serve the page and the API until interrupted."""
    from lowfold.work.process import get_ready  # noqa: PLC0415  the other commands need none

    os.umask(0o077)  # what is written here is for its user's eyes
    # What computes is loaded beside what serves: a first sheet needs both.
    get_ready(["lowfold.api.loaded"])
    settings = _settings(port, data)
    if not demo:
        _run(settings)
        return
    with contextlib.ExitStack() as stack:
        if "data" not in settings.model_fields_set:
            folder = tempfile.TemporaryDirectory(prefix="lowfold-demo-")
            settings.data = Path(stack.enter_context(folder))
        _fill(settings, stack)
        _run(settings)


def _fill(settings: Settings, stack: contextlib.ExitStack) -> None:
    """Load the demo designs into an empty database, and put its meter on the table."""
    # Loaded here: a user's own data needs none of it.
    from lowfold.demo.bench import keep_stand_in, stand_in  # noqa: PLC0415
    from lowfold.demo.designs import load_demo  # noqa: PLC0415

    database = _opened(settings)
    meter = stack.enter_context(stand_in())
    with database.writing() as session:
        load_demo(session)
        keep_stand_in(session, meter.resource)
    database.close()


def _opened(settings: Settings) -> Database:
    """Open the database and bring it up to date, or say in one sentence why that cannot be."""
    from lowfold.store.database import CannotOpen, Database  # noqa: PLC0415 after `get_ready`

    try:
        database = Database(settings.database)
    except CannotOpen as error:
        _stop(str(error), error)
    try:
        database.hold()
        database.migrate()
    except CannotOpen as error:
        database.close()
        _stop(str(error), error)
    return database


def _stop(why: str, error: BaseException | None = None) -> NoReturn:
    """End with one sentence that says what to do."""
    typer.echo(why, err=True)
    raise typer.Exit(1) from error


def _run(settings: Settings) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", settings.port))
        except PermissionError as error:
            _stop(
                f"port {settings.port} is not yours to take: give one from 1024 up with PORT= or "
                "--port",
                error,
            )
        except OSError as error:
            _stop(
                f"port {settings.port} of 127.0.0.1 is taken: stop what uses it, or give another "
                "with PORT= or --port",
                error,
            )
    _opened(settings).close()
    from lowfold.api.app import create_app  # noqa: PLC0415 after `get_ready`
    from lowfold.api.serving import server_of  # noqa: PLC0415

    typer.echo(f"Lowfold is at http://127.0.0.1:{settings.port} (data in {settings.data})")
    server_of(create_app(settings), settings.port).run()


@app.command()
def meter(
    port: Annotated[int, typer.Option(help="Port on 127.0.0.1; 0 takes a free one.")] = 5025,
    network: Annotated[str, typer.Option(help="The board, in the notation.")] = BOARD,
    supply: Annotated[str, typer.Option(help="What feeds it, like 14.4V.")] = "14.4 V",
    tolerance: Annotated[str, typer.Option(help="Of its parts.")] = "5 %",
    fault: Annotated[str, typer.Option(help="R1 open, R1 short, R1 2k, R1 R2 swapped.")] = "",
    load: Annotated[list[str] | None, typer.Option(help="OUT 1M: what hangs there.")] = None,
    seed: Annotated[int, typer.Option(help="The same seed is the same board.", min=0)] = 0,
) -> None:
    """Serve a simulated bench meter on a board with drawn tolerances, speaking SCPI."""
    # Loaded here: the server needs none of it.
    from lowfold.core.errors import LowfoldError  # noqa: PLC0415
    from lowfold.core.values.quantities import FRACTION, OHM, VOLT, read  # noqa: PLC0415
    from lowfold.sim.board import drawn_board  # noqa: PLC0415
    from lowfold.sim.server import run  # noqa: PLC0415

    try:
        hung = []
        for each in load or []:
            at, _, ohms = each.strip().partition(" ")
            hung.append((at.lstrip("@"), read(ohms, OHM)))
        board = drawn_board(
            network,
            read(supply, VOLT),
            tolerance=read(tolerance, FRACTION),
            fault=fault,
            loads=hung,
            seed=seed,
        )
    except LowfoldError as error:
        _stop(error.message, error)
    try:
        run(board, port, lambda resource: typer.echo(f"The meter is at {resource}"))
    except (OSError, OverflowError) as error:
        _stop(f"port {port} cannot be taken: give another with --port", error)


@app.command()
def openapi() -> None:
    """Print the OpenAPI document."""
    from lowfold.api.app import described  # noqa: PLC0415

    typer.echo(json.dumps(described(), indent=2, ensure_ascii=False))


Text = Annotated[str, typer.Argument(help="A file, - for standard input, or the text itself.")]
Network = Annotated[
    str, typer.Argument(help="A network in its notation or a netlist: text, a file, or -.")
]
Json = Annotated[bool, typer.Option("--json", help="The API's answer, its fields as there.")]
Supply = Annotated[str, typer.Option(help="What feeds it, like 14.4V.")]
Loads = Annotated[list[str] | None, typer.Option("--load", help="OUT=1M or OUT=5mA.")]


@app.command()
def need(
    text: Annotated[str, typer.Argument(help='Such as "14.4 V to 3 V within 4 % into 1 MΩ".')],
    *,
    as_json: Json = False,
    keep: Annotated[bool, typer.Option("--keep", help="Keep it as a design.")] = False,
    data: Data = None,
    most: Annotated[int, typer.Option(help="Choices listed.", min=1, max=60)] = 8,
) -> None:
    """Choose for a need in one line. Exit 0: something passes, 1: nothing does, 2: not understood.

    lowfold need "14.4 V to 3 V within 4 % into 1 MΩ, at most 80 µA"
    """
    from lowfold.commands import need as command  # noqa: PLC0415
    from lowfold.commands.printing import text_of  # noqa: PLC0415

    command.need(text_of(text), as_json=as_json, keep=keep, data=data, most=most)


@app.command()
def solve(
    network: Network,
    supply: Supply,
    *,
    source: Annotated[str, typer.Option(help="Resistance of the supply.")] = "0",
    low: Annotated[str, typer.Option(help="Voltage of the other end.")] = "0",
    load: Loads = None,
    as_json: Json = False,
) -> None:
    """Solve a network on its supply: what each part carries.

    lowfold solve "200k + @OUT + 56k" --supply 14.4V --load OUT=1M
    """
    from lowfold.commands import network as command  # noqa: PLC0415
    from lowfold.commands.printing import text_of  # noqa: PLC0415

    command.solve(text_of(network), supply, source, low, load or [], as_json=as_json)


@app.command()
def check(
    network: Network,
    supply: Annotated[str, typer.Option(help='"14.4V ± 3 %".')],
    *,
    expect: Annotated[list[str] | None, typer.Option(help='"OUT=3V ± 4 %".')] = None,
    load: Loads = None,
    tolerance: Annotated[str, typer.Option(help="Of every part.")] = "",
    family: Annotated[str, typer.Option(help="Every part is of it, like 0603.")] = "",
    low_c: Annotated[str, typer.Option(help="Coldest ambient.")] = "",
    high_c: Annotated[str, typer.Option(help="Hottest ambient.")] = "",
    as_json: Json = False,
) -> None:
    """Check a network at its worst corner. Exit 0: it passes, 1: it does not.

    lowfold check "200k + @OUT + 56k" --supply 14.4V --expect "OUT=3.15V ± 4 %" --tolerance 1%
    """
    from lowfold.commands import network as command  # noqa: PLC0415
    from lowfold.commands.printing import text_of  # noqa: PLC0415

    limits = {"tolerance": tolerance, "family": family, "low_c": low_c, "high_c": high_c}
    command.check(text_of(network), supply, load or [], expect or [], limits, as_json=as_json)


@app.command()
def fold(
    network: Network, supply: Supply = "1 V", *, load: Loads = None, as_json: Json = False
) -> None:
    """Fold a network to one resistance, step by step.

    lowfold fold "4k7 + (15k || 3k3)"
    """
    from lowfold.commands import network as command  # noqa: PLC0415
    from lowfold.commands.printing import text_of  # noqa: PLC0415

    command.fold(text_of(network), supply, load or [], as_json=as_json)


@app.command()
def netlist(network: Network, *, as_json: Json = False) -> None:
    """Write a network as a netlist, one part a line.

    lowfold netlist "4k7 + @A + (15k || 3k3)"
    """
    from lowfold.commands import network as command  # noqa: PLC0415
    from lowfold.commands.printing import text_of  # noqa: PLC0415

    command.netlist(text_of(network), as_json=as_json)


@app.command()
def marks(
    text: Annotated[str, typer.Argument(help='"orange blue red gold", or 3K6J.')],
    *,
    measured: Annotated[str, typer.Option(help="What the part measures, like 3.58k.")] = "",
    as_json: Json = False,
) -> None:
    """Read colours or a code: every meaning, the likeliest first.

    lowfold marks "orange blue red gold" --measured 3.58k
    """
    from lowfold.commands import marks as command  # noqa: PLC0415

    command.marks(text, measured, as_json=as_json)


@app.command()
def board(
    needs: Text,
    *,
    out: Annotated[Path | None, typer.Option(help="Write the table here, CSV.")] = None,
    as_json: Json = False,
) -> None:
    """Choose for every need of a board, a line each. Exit 0: all pass, 1: not all, 2: not read.

    lowfold board needs.csv --out chosen.csv
    """
    from lowfold.commands import judging as command  # noqa: PLC0415
    from lowfold.commands.printing import text_of  # noqa: PLC0415

    command.board(text_of(needs), out, as_json=as_json)


@app.command()
def diagnose(
    network: Network,
    supply: Supply,
    reading: Annotated[list[str], typer.Option(help="OUT=3V02, I(R1)=57uA, R2=56k, OUT=OL.")],
    *,
    tolerance: Annotated[str, typer.Option(help="Of every part.")] = "5 %",
    as_json: Json = False,
) -> None:
    """Tell what may be wrong with a board from what was read of it.

    lowfold diagnose "200k + @OUT + 56k" --supply 14.4V --reading OUT=14.2V
    """
    from lowfold.commands import network as command  # noqa: PLC0415
    from lowfold.commands.printing import text_of  # noqa: PLC0415

    command.diagnose(text_of(network), supply, tolerance, reading, as_json=as_json)


@app.command()
def judge(
    files: Annotated[list[str], typer.Argument(help="Hand-overs, boards, networks; - for one.")],
    *,
    fail_on: Annotated[str, typer.Option(help="marginal, or fail alone.")] = "marginal",
    summary: Annotated[Path | None, typer.Option(help="Write Markdown here.")] = None,
    xml: Annotated[Path | None, typer.Option(help="Write what CI servers read here.")] = None,
    as_json: Json = False,
) -> None:
    """Judge designs kept as files, a line each. Exit 0: all pass, 1: not all, 2: not understood.

    lowfold judge hardware/*.lowfold.json needs.csv divider.net
    """
    from lowfold.commands import judging as command  # noqa: PLC0415

    command.judge(files, fail_on, summary, xml, as_json=as_json)
