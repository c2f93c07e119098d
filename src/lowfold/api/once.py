"""`Idempotency-Key`: a write whose answer was lost is sent again, and is done once."""

from __future__ import annotations

import asyncio
import re
from typing import Any, Final

from anyio import to_thread
from cachetools import TTLCache
from starlette.datastructures import Headers
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from lowfold.api.problems import problem_response
from lowfold.store.database import Database
from lowfold.store.models import OnceRow
from lowfold.store.once import WRITING, Write, answered, find_once

__all__ = ["Once"]

WRITES: Final = {"POST", "PUT", "PATCH", "DELETE"}
KEY: Final = re.compile(r"[A-Za-z0-9_-]{8,64}")
#: Headers of an answer that are given again.
TOLD: Final = ("content-type", "location", "preference-applied")
REMEMBERED_S: Final = 3600.0

_Answer = tuple[str, int, dict[str, str], bytes]


class Once:
    """Answers a write that was done already with what was answered then."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app
        self._under_way: dict[str, asyncio.Event] = {}
        #: What goes on as a job has kept nothing yet: it is remembered while the server runs.
        self._begun: TTLCache[str, _Answer] = TTLCache(1024, REMEMBERED_S)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Do a write, or answer it again; hand everything else on."""
        key = Headers(scope=scope).get("idempotency-key") if scope["type"] == "http" else None
        if key is None or scope["method"] not in WRITES:
            await self.app(scope, receive, send)
            return
        if not KEY.fullmatch(key):
            told = "an Idempotency-Key has 8 to 64 letters, digits, - or _, like a UUID"
            await problem_response(422, told)(scope, receive, send)
            return
        while (under_way := self._under_way.get(key)) is not None:
            await under_way.wait()
        mine = self._under_way[key] = asyncio.Event()
        try:
            await self._once(key, scope, receive, send)
        finally:
            del self._under_way[key]
            mine.set()

    async def _once(self, key: str, scope: Scope, receive: Receive, send: Send) -> None:
        database: Database = scope["app"].state.database
        query = scope.get("query_string", b"").decode("latin-1")
        asked = f"{scope['method']} {scope['path']}?{query}"
        before = self._begun.get(key) or await to_thread.run_sync(_before, database, key)
        if before is not None:
            await _again(asked, before)(scope, receive, send)
            return
        write = Write(key, asked)
        token = WRITING.set(write)
        said: list[Message] = []

        async def held(message: Message) -> None:
            said.append(message)

        try:
            await self.app(scope, receive, held)
        finally:
            WRITING.reset(token)
        status, headers, body = _read(said)
        if status == 202:
            self._begun[key] = (asked, status, headers, body)
        elif write.kept and status < 400:
            await to_thread.run_sync(_note, database, key, status, headers, body)
        for message in said:
            await send(message)


def _read(said: list[Message]) -> tuple[int, dict[str, str], bytes]:
    headers = Headers(raw=said[0]["headers"])
    body = b"".join(message.get("body", b"") for message in said[1:])
    return said[0]["status"], {n: headers[n] for n in TOLD if n in headers}, body


def _before(database: Database, key: str) -> Any:
    with database.sessions() as session:
        row: OnceRow | None = find_once(session, key)
        if row is None:
            return None
        return row.asked, row.status or 0, row.headers or {}, row.body or b""


def _note(database: Database, key: str, status: int, headers: dict[str, str], body: bytes) -> None:
    with database.writing() as session:
        answered(session, key, status, headers, body)


def _again(asked: str, before: _Answer) -> Response:
    """Return what is said to a write that was done already."""
    then, status, headers, body = before
    if then != asked:
        told = f"this Idempotency-Key was used for {then[:80]}: give each write its own"
        return problem_response(422, told)
    if not status:
        told = (
            "this was kept, and the server ended before it could say so; it is not kept twice: "
            "look at it anew"
        )
        return problem_response(409, told, kept=True)
    return Response(body, status, {**headers, "idempotency-replayed": "true"})
