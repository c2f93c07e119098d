"""What keeps other pages and hosts out: host and origin checks, a body limit, strict headers.

The server is bound to 127.0.0.1, but a web page elsewhere can still make the user's own browser
call it. Such a call carries a foreign Origin, or a foreign Host where a name was pointed here.
"""

from __future__ import annotations

import asyncio
import logging
import re
from typing import Final

from starlette.datastructures import Headers, MutableHeaders
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from lowfold.api.problems import problem_response

__all__ = ["BodyLimit", "LocalOnly", "Packed", "StrictHeaders"]

#: The only forms of Host that a client on this machine sends.
LOCAL_HOST = re.compile(r"(127\.0\.0\.1|localhost|\[::1\])(:[0-9]{1,5})?", re.IGNORECASE)

#: Bytes of what carries files, by address: a photograph, a hand-over with its photographs.
FILES = {
    re.compile(r"/api/designs/[0-9]+/evidence"): 10_100_000,
    re.compile(r"/api/designs/import"): 128_000_000,
}

BETWEEN_S: Final = 10.0  #: between parts of a body
SLOW: Final = f"nothing more of the body came for {BETWEEN_S:g} s: send it again"

log = logging.getLogger("lowfold")

CONTENT_SECURITY_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; "
    "img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'none'; "
    "frame-ancestors 'none'"
)


class LocalOnly:
    """Refuse requests for another host, or from a page of another origin."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        host, origin = headers.get("host", ""), headers.get("origin")
        refusal = None
        site = headers.get("sec-fetch-site", "none").lower()
        if not LOCAL_HOST.fullmatch(host) or len(headers.getlist("host")) > 1:
            refusal = f"this server answers for 127.0.0.1 and localhost only, not for “{host[:80]}”"
        elif origin is not None and origin.lower() != f"http://{host.lower()}":
            refusal = f"a page of “{origin[:80]}” may not drive this server"
        elif site not in {"none", "same-origin"}:
            refusal = f"a page of another site may not drive this server ({site[:20]})"
        if refusal is None:
            await self.app(scope, receive, send)
        else:
            await problem_response(403, refusal)(scope, receive, send)


class BodyLimit:
    """Refuse bodies above a limit, by their stated length or while they arrive.

    The framework has a limit of its own, but answers in plain text.
    """

    def __init__(self, app: ASGIApp, largest: int) -> None:
        self.app = app
        self.largest = largest

    def _limit(self, scope: Scope) -> int:
        """Return how much a request may carry: files more than questions."""
        files = (most for pattern, most in FILES.items() if pattern.fullmatch(scope["path"]))
        return max(self.largest, *files, 0)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        largest = self._limit(scope)
        message = f"the body is larger than the {largest} bytes a request may carry"
        stated = Headers(scope=scope).get("content-length", "0")
        if not stated.isdecimal() or int(stated) > largest:
            await problem_response(413, message)(scope, receive, send)
            return
        taken, whole = 0, False

        async def counted() -> Message:
            nonlocal taken, whole
            try:
                part = await asyncio.wait_for(receive(), None if whole else BETWEEN_S)
            except TimeoutError as error:
                raise HTTPException(408, SLOW) from error
            whole = whole or not part.get("more_body", False)
            taken += len(part.get("body", b""))
            if taken > largest:
                raise HTTPException(413, message)
            return part

        await self.app(scope, counted, send)


class Packed:
    """The page goes over the wire packed; what carries its own name's digest is kept for good."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app
        self._packing = GZipMiddleware(app, minimum_size=1000, compresslevel=6)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        path = scope.get("path", "")
        if scope["type"] != "http" or path.startswith("/api/") or path.endswith(".woff2"):
            await self._app(scope, receive, send)
        else:
            await self._packing(scope, receive, send)


class StrictHeaders:
    """Let the page load from here alone, and be framed by nobody."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers["content-security-policy"] = CONTENT_SECURITY_POLICY
                headers["x-content-type-options"] = "nosniff"
                headers["referrer-policy"] = "no-referrer"
                headers["cross-origin-resource-policy"] = "same-origin"
                headers["cross-origin-opener-policy"] = "same-origin"
                if scope.get("path", "").startswith("/api/"):
                    headers.setdefault("cache-control", "no-store")
                elif scope.get("path", "").startswith("/assets/") and message["status"] == 200:
                    headers.setdefault("cache-control", "public, max-age=31536000, immutable")
                started.append(True)
            await send(message)

        started: list[bool] = []
        try:
            await self.app(scope, receive, with_headers)
        except Exception as fault:  # a mistake of ours, told in words and with the headers
            if scope["type"] != "http" or started:
                raise
            log.exception("fault at %s", scope.get("path"), exc_info=fault)
            told = "Lowfold made a mistake; nothing that was saved is lost"
            await problem_response(500, told)(scope, receive, with_headers)
