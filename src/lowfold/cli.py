"""The command line: `lowfold serve`, `lowfold openapi`."""

from __future__ import annotations

import json
import os
import socket
import tempfile
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer
import uvicorn
from pydantic import ValidationError

from lowfold.api.app import create_app
from lowfold.settings import Settings
from lowfold.store.database import CannotOpen, Database

__all__ = ["app"]

app = typer.Typer(no_args_is_help=True, add_completion=False, help="Lowfold, on this machine only.")

Port = Annotated[int | None, typer.Option(help="Port on 127.0.0.1; default LOWFOLD_PORT or 8000.")]
Data = Annotated[
    Path | None, typer.Option(help="Directory of the database; default LOWFOLD_DATA or the user's.")
]
Demo = Annotated[bool, typer.Option("--demo", help="Open on the demo designs; throwaway data.")]


STOPS_WITHIN_S = 2  #: requests still open get so long once the server is told to stop


def _settings(port: int | None, data: Path | None) -> Settings:
    """Read what is set from outside; the command line holds over it."""
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
    os.umask(0o077)  # what is written here is for its user's eyes
    settings = _settings(port, data)
    if not demo:
        _run(settings)
        return
    if "data" in settings.model_fields_set:
        _fill(settings)
        _run(settings)
        return
    with tempfile.TemporaryDirectory(prefix="lowfold-demo-") as folder:
        settings.data = Path(folder)
        _fill(settings)
        _run(settings)


def _fill(settings: Settings) -> None:
    """Load the demo designs into an empty database."""
    # Loaded here: a user's own data needs none of it.
    from lowfold.demo.designs import load_demo  # noqa: PLC0415

    database = _opened(settings)
    with database.writing() as session:
        load_demo(session)
    database.close()


def _opened(settings: Settings) -> Database:
    """Open the database and bring it up to date, or say in one sentence why that cannot be."""
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
    typer.echo(f"Lowfold is at http://127.0.0.1:{settings.port} (data in {settings.data})")
    uvicorn.run(
        create_app(settings),
        host="127.0.0.1",
        port=settings.port,
        log_level="warning",
        timeout_graceful_shutdown=STOPS_WITHIN_S,
    )


@app.command()
def openapi() -> None:
    """Print the OpenAPI document."""
    document = create_app(Settings(data=Path(tempfile.gettempdir()))).openapi()
    typer.echo(json.dumps(document, indent=2, ensure_ascii=False))
