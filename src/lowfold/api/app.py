"""The application: routers, guards, and the page built from web/."""

from __future__ import annotations

import json
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any, Final, Literal

from anyio import to_thread
from fastapi import FastAPI, Request
from fastapi.responses import FileResponse, JSONResponse
from fastapi.routing import APIRoute
from pydantic import BaseModel, Field
from sqlalchemy import select

import lowfold
from lowfold.api import (
    designs,
    drawer,
    evidence,
    families,
    handover,
    instruments,
    jobs,
    meters,
    practice,
    priors,
    problems,
    readings,
    record,
    revisions,
    sharing,
)
from lowfold.api.computed import Computed, answered, computed_in
from lowfold.api.computing import PRELOADED, prepare
from lowfold.api.guards import BodyLimit, LocalOnly, Packed, StrictHeaders
from lowfold.api.once import Once
from lowfold.api.sessions import inventory
from lowfold.api.standings import Standings
from lowfold.api.wire import with_fields_described
from lowfold.settings import Settings
from lowfold.store.database import Database
from lowfold.store.designs import forget_deleted
from lowfold.store.models import IdentityRow
from lowfold.work.jobs import Jobs
from lowfold.work.lanes import Lanes

__all__ = ["DOCUMENT", "PAGE", "create_app", "described"]

THREADS: Final = 16
HEALTH: Final = "/api/health"
METHODS = ["GET", "POST", "PUT", "PATCH", "DELETE"]

#: Where `make` puts the built page.
PAGE = Path(lowfold.__file__).parent / "web"

#: What `make schema` writes and checks; to make it takes too long to be asked for by a request.
DOCUMENT: Final = Path(__file__).with_name("openapi.json")

TITLE: Final = "Lowfold"
DESCRIPTION = """
Get a resistance or a voltage out of the resistor values that exist, and know before building that
it holds at the worst corner, under load, and without cooking a part.

Quantities are numbers in base SI units, named by suffix (`_ohm`, `_v`, `_a`, `_w`, `_c`); requests
also take the field's notation as text (`"4k7"`, `"250 mA"`, `"3V3"`). Tolerances, errors and
allowances are fractions; requests also take `"1 %"`. Refusals are `application/problem+json`.

Results are design aids: the data sheet, the local code and a qualified person decide.
"""


class Health(BaseModel):
    status: Literal["ok", "degraded"]
    version: str
    words: str = Field("", description="What is wrong, where something is")
    data: str = Field("", description="Tells the database served from every other")


#: What is small and always needed.
LIGHT: Final = (
    handover.collection,
    handover.router,
    designs.router,
    drawer.router,
    families.router,
    jobs.router,
    meters.router,
    instruments.router,
    priors.router,
    readings.router,
    record.router,
    evidence.router,
    revisions.router,
    practice.router,
    sharing.router,
)
#: What takes files.
FILES: Final = (drawer.files, families.files, meters.files)


def _methods_of(path: str) -> list[str]:
    """Return the methods that an address of the API takes, but for what is computed."""
    if path == HEALTH:
        return ["GET"]
    found: set[str] = set()
    for router in (*LIGHT, *FILES):
        for route in router.routes:
            if isinstance(route, APIRoute) and route.path_regex.match(path):
                found |= route.methods or set()
    return sorted(found)


def described() -> dict[str, Any]:
    """Return the OpenAPI document, made of everything there is: seconds of work."""
    from lowfold.api.routes import COMPUTED  # noqa: PLC0415  # what the server itself never loads

    whole = FastAPI(title=TITLE, version=lowfold.__version__, description=DESCRIPTION)
    routers = (*COMPUTED, *LIGHT, *FILES)
    for router in routers:
        whole.include_router(router)
    whole.get(HEALTH, tags=["health"])(health)
    routes = [route for router in routers for route in router.routes]
    return with_fields_described(whole.openapi(), routes)


async def health(request: Request) -> Health:
    """Tell that the server is up, whether it can do all that it should, and which version it is."""
    state = request.app.state
    wrong = state.database.trouble() or state.lanes.trouble()
    status: Literal["ok", "degraded"] = "degraded" if wrong else "ok"
    return Health(status=status, version=lowfold.__version__, words=wrong, data=state.data)


def create_app(settings: Settings) -> FastAPI:
    """Build the application for one run; the database is opened when it starts.

    What is computed in workers is known by the document, which `make schema` writes.
    """
    computed = computed_in(json.loads(DOCUMENT.read_bytes()))

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        database = Database(settings.database)
        state = app.state
        try:
            database.hold()
            database.migrate()
            with database.writing() as session:
                forget_deleted(session)
                state.stock = inventory(session)
                state.data = str(session.scalar(select(IdentityRow.id)))
            database.watch()
            # Threads for the database and files: each has a connection's worth of memory
            to_thread.current_default_thread_limiter().total_tokens = THREADS
            state.database, state.jobs = database, Jobs(PRELOADED)
            state.lanes = Lanes(settings.workers, prepare, PRELOADED)
            state.standings = Standings(database, state.lanes, lambda: state.stock)
            state.computed = Computed(state.lanes, computed, state.standings.note)
            state.computed.stock_is(1, state.stock)
            state.standings.start()
            yield
            state.standings.close()
            state.jobs.close()
            state.lanes.close()
        finally:
            database.close()

    app = FastAPI(
        title=TITLE,
        version=lowfold.__version__,
        description=DESCRIPTION,
        lifespan=lifespan,
        openapi_url=None,
        docs_url=None,  # the ready-made pages load scripts from elsewhere
        redoc_url=None,
    )
    for answering in (
        problems,
        designs,
        drawer,
        families,
        meters,
        instruments,
        record,
        evidence,
        revisions,
        practice,
        jobs,
    ):
        answering.install(app)
    for router in (*LIGHT, *FILES):
        app.include_router(router)
    for path in computed:
        app.add_route(path, answered, methods=["POST"])
    app.get(HEALTH, tags=["health"])(health)

    @app.get("/openapi.json", include_in_schema=False)
    def document() -> FileResponse:
        """Return the OpenAPI document as `make schema` wrote it."""
        return FileResponse(DOCUMENT, media_type="application/json")

    @app.api_route("/api/{path:path}", methods=METHODS, include_in_schema=False)
    def nowhere(path: str, request: Request) -> JSONResponse:
        """Tell that there is no such address, whatever kind of answer is accepted."""
        told = f"there is no {request.method} /api/{path[:80]}; see /openapi.json"
        address = f"/api/{path}"
        allowed = ["POST"] if address in computed else _methods_of(address)
        if allowed:
            return problems.problem_response(405, told, headers={"allow": ", ".join(allowed)})
        return problems.problem_response(404, told)

    if PAGE.is_dir():
        app.frontend("/", directory=PAGE)
    app.add_middleware(Once)
    app.add_middleware(Packed)
    app.add_middleware(BodyLimit, largest=settings.largest_body)
    app.add_middleware(LocalOnly)
    app.add_middleware(StrictHeaders)
    return app
