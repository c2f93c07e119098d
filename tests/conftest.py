"""A server of its own for every test that needs one."""

import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from fastapi import FastAPI
from fastapi.testclient import TestClient

from lowfold.api.app import create_app
from lowfold.settings import Settings
from lowfold.store.database import APPLICATION_ID, Database
from tests import effort, plain

effort.begin()


@pytest.fixture(scope="session")
def empty_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """An empty database as the newest version makes it, to be copied."""
    made = Settings(data=tmp_path_factory.mktemp("empty"))
    database = Database(made.database)
    database.migrate()
    database.close()
    return made.data


class LentApp:
    """An application that serves one test after the other: to build one takes a third of a second."""

    def __init__(self, workers: int) -> None:
        self.settings = Settings(workers=workers)
        self.app = create_app(self.settings)

    def on(self, data: Path) -> FastAPI:
        """Return the application, to be started on the data of one test."""
        self.settings.data = data
        return self.app


@pytest.fixture(scope="session")
def lent_app() -> LentApp:
    return LentApp(workers=0)


@pytest.fixture
def client(tmp_path: Path, empty_data: Path, lent_app: LentApp) -> Iterator[TestClient]:
    """The application in this process, on an empty database."""
    shutil.copytree(empty_data, tmp_path, dirs_exist_ok=True)
    with TestClient(lent_app.on(tmp_path), base_url="http://127.0.0.1:8000") as found:
        yield found


def at_version(path: Path, revision: str) -> None:
    """Make a database as an earlier version left it."""
    database = Database(path)
    config = Config()
    config.set_main_option("script_location", "lowfold.store:migrations")
    with database.engine.execution_options(writes=True).begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
        connection.exec_driver_sql(f"PRAGMA application_id = {APPLICATION_ID}")
    database.close()


class Server:
    """The real server in a process of its own."""

    def __init__(self, data: Path, *arguments: str) -> None:
        self.data = data
        self.arguments = arguments
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port: int = probe.getsockname()[1]
        self.process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "lowfold", "serve", *self.arguments],
            env={**os.environ, "LOWFOLD_PORT": str(self.port), "LOWFOLD_DATA": str(self.data)},
        )
        for _ in range(300):
            with contextlib.suppress(OSError):
                socket.create_connection(("127.0.0.1", self.port)).close()
                plain.get(f"{self.url}/api/health", timeout=15).raise_for_status()
                return
            assert self.process.poll() is None, "the server stopped while starting"
            time.sleep(0.05)
        pytest.fail("the server did not answer within 15 s")

    def stop(self, how: int = signal.SIGTERM) -> None:
        if self.process is not None:
            self.process.send_signal(how)
            self.process.wait(timeout=15)
            self.process = None


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    """An empty server, started."""
    found = Server(tmp_path)
    found.start()
    yield found
    found.stop()
