"""The command line: `lowfold serve`, `lowfold openapi`."""

from __future__ import annotations

import json
import socket
import tempfile
from pathlib import Path
from typing import Annotated

import typer
import uvicorn

from lowfold.api.app import create_app
from lowfold.demo.designs import load_demo
from lowfold.settings import Settings
from lowfold.store.database import Database, DatabaseTooNew

__all__ = ["app"]

app = typer.Typer(no_args_is_help=True, add_completion=False, help="Lowfold, on this machine only.")

Port = Annotated[int | None, typer.Option(help="Port on 127.0.0.1; default LOWFOLD_PORT or 8000.")]
Data = Annotated[
    Path | None, typer.Option(help="Directory of the database; default LOWFOLD_DATA or the user's.")
]
Demo = Annotated[bool, typer.Option("--demo", help="Open on the demo designs; throwaway data.")]


@app.command()
def serve(port: Port = None, data: Data = None, *, demo: Demo = False) -> None:
    """Serve the page and the API until interrupted."""
    settings = Settings()
    if port is not None:
        settings.port = port
    if data is not None:
        settings.data = data
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
    database = Database(settings.database)
    _migrate(database)
    with database.sessions() as session:
        load_demo(session)
    database.close()


def _migrate(database: Database) -> None:
    try:
        database.migrate()
    except DatabaseTooNew as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from error


def _run(settings: Settings) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", settings.port))
        except OSError as error:
            typer.echo(
                f"port {settings.port} of 127.0.0.1 is taken: stop what uses it, or give another "
                "with PORT= or --port",
                err=True,
            )
            raise typer.Exit(1) from error
    database = Database(settings.database)
    _migrate(database)
    database.close()
    typer.echo(f"Lowfold is at http://127.0.0.1:{settings.port} (data in {settings.data})")
    uvicorn.run(create_app(settings), host="127.0.0.1", port=settings.port, log_level="warning")


@app.command()
def openapi() -> None:
    """Print the OpenAPI document."""
    document = create_app(Settings(data=Path(tempfile.gettempdir()))).openapi()
    typer.echo(json.dumps(document, indent=2, ensure_ascii=False))
