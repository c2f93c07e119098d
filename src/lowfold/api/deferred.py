"""Addresses whose modules are loaded when they are first needed, not when the server starts.

What computes runs in worker processes: the server's own process hands bytes on and loads none of
it. The OpenAPI document is made of everything, on demand.
"""

from __future__ import annotations

from importlib import import_module
from typing import Any, Final

import anyio.to_thread
from fastapi import APIRouter
from starlette.types import Receive, Scope, Send

__all__ = ["COMPUTED", "STARTED", "Deferred", "load", "load_all", "routers"]

#: Each address that is computed from its body and the user's stock, and the module it is in.
COMPUTED: Final[dict[str, str]] = {
    "/api/resistance/search": "resistance",
    "/api/divider/search": "divider",
    "/api/divider/feedback": "feedback",
    "/api/ladder/search": "ladder",
    "/api/network/solve": "solve",
    "/api/network/fold": "fold",
    "/api/network/sheet": "fold",
    "/api/network/relation": "fold",
    "/api/network/edit": "fold",
    "/api/network/unknown": "unknown",
    "/api/reference/ohm": "unknown",
    "/api/reference/series": "reference",
    "/api/network/check": "check",
    "/api/network/yield": "scatter",
    "/api/network/load": "loadline",
    "/api/sheet": "sheet",
    "/api/sheet/trades": "sheet",
    "/api/sheet/shown": "shown",
    "/api/sheet/beside": "beside",
    "/api/sheet/opened": "opened",
    "/api/sheet/advice": "advice",
    "/api/need/read": "need",
    "/api/sensor/search": "sensor",
    "/api/sensor/sheet": "sensor_sheet",
    "/api/marks/read": "marks",
    "/api/marks/write": "marks",
    "/api/bench/hidden": "hidden",
    "/api/bench/expect": "expect",
    "/api/bench/round": "round",
    "/api/bench/diagnose": "diagnose",
    "/api/bench/suspects": "round",
    "/api/bench/faults": "round",
}
#: Each address that starts a job of its own.
STARTED: Final[dict[str, str]] = {
    "/api/sheet/drawn": "drawn",
    "/api/designs/shared": "sharing",
    "/api/board": "board",
}


def load(module: str) -> APIRouter:
    """Return the router of a module of the API, loaded now if it is not."""
    router: APIRouter = import_module(f"lowfold.api.{module}").router
    return router


def load_all() -> list[str]:
    """Load every module that computes, and return their full names."""
    names = list(dict.fromkeys(COMPUTED.values()))
    for name in names:
        load(name)
    return [f"lowfold.api.{name}" for name in names]


def routers() -> list[APIRouter]:
    """Return the routers of everything that is loaded when it is needed."""
    return [load(name) for name in dict.fromkeys((*COMPUTED.values(), *STARTED.values()))]


class Deferred:
    """Answers what a module answers, loading it for the first request."""

    def __init__(self, module: str) -> None:
        self.module = module
        self._router: Any = None

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Hand a request on."""
        if self._router is None:
            self._router = await anyio.to_thread.run_sync(load, self.module)
        await self._router(scope, receive, send)
