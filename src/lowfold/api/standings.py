"""How kept designs stand: worked out aside, and shown only where it is of what is stored now.

A standing carries a stamp of everything it was worked out from: the design's need and choice, what
of the user's stock can matter to them, and the rules themselves. Where the stamp is not that of
what is stored now, the design is shown as not worked out, and a thread works it out meanwhile.
"""

from __future__ import annotations

import hashlib
import json
import logging
import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import asdict
from functools import cache, lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import lowfold.core
from lowfold.api.wire import as_json
from lowfold.core.errors import LowfoldError
from lowfold.core.parts.families import TYPICAL, Family
from lowfold.core.parts.stock import DRAWER, DrawerLine, Stock
from lowfold.core.tokens.names import texts_of
from lowfold.store.database import Database
from lowfold.store.designs import keep_standing, stamps
from lowfold.work.lanes import Lanes
from lowfold.work.process import Ended

if TYPE_CHECKING:
    from lowfold.store.models import DesignRow

__all__ = ["Standings", "stamp", "stand"]

log = logging.getLogger("lowfold")
KNOWN: Final = 512  #: standings kept by stamp, so that a save of what is on screen has its own
WAIT_S: Final = 0.15  #: how long a save waits for a standing; it is noted later if it takes longer
TRIES_S: Final = 5.0  #: before what could not be worked out is tried again
_CHIPS: Final = frozenset(f.name for f in TYPICAL if f.name.isdigit())


@cache
def _rules() -> str:
    """Return a digest of the rules of the trade: every source file of the core."""
    found = hashlib.sha256()
    folder = Path(lowfold.core.__file__).parent
    for path in sorted(folder.rglob("*.py")):
        found.update(path.read_bytes())
    return found.hexdigest()[:16]


class _Same:
    """A drawer, the same one only if it is one object: thousands of lines are not compared."""

    def __init__(self, lines: tuple[DrawerLine, ...]) -> None:
        self.lines = lines

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and self.lines is other.lines

    def __hash__(self) -> int:
        return id(self.lines)


@lru_cache(maxsize=4)
def _drawer_digest(drawer: _Same) -> str:
    text = json.dumps([asdict(line) for line in drawer.lines])
    return hashlib.sha256(text.encode()).hexdigest()


def _families_of(texts: Mapping[str, str], families: tuple[Family, ...]) -> tuple[Family, ...]:
    """Return the user's own families that a brief can mean: all, but where it names a chip size."""
    rating = texts.get("rating", "0603").strip()
    named = texts.get("own", "none").strip().lower() in {"", "none"} and rating in _CHIPS
    return tuple(f for f in families if f.name == rating) if named else families


def stamp(
    kind: str, brief: Mapping[str, Any], prefer: str, choice: str | None, stock: Stock
) -> str:
    """Return what stands for all that a design's standing follows from."""
    texts = texts_of(dict(brief))
    drawer = DRAWER in texts.get("values", "").lower()
    parts = [
        _rules(), kind, sorted(texts.items()), prefer, choice,
        [asdict(f) for f in _families_of(texts, stock.families)],
        _drawer_digest(_Same(stock.lines)) if drawer else "",
    ]  # fmt: skip
    text = json.dumps(parts, ensure_ascii=True, default=str)
    return hashlib.sha256(text.encode()).hexdigest()[:32]


def stand(
    kind: str, brief: Mapping[str, Any], prefer: str, choice: str | None, stock: Stock
) -> dict[str, Any]:
    """Work out how a design stands, as it is stored and shown; in a worker."""
    # Loaded here: the server's own process computes nothing.
    from lowfold.core.sheet.sheet import build_sheet  # noqa: PLC0415
    from lowfold.core.sheet.standing import (  # noqa: PLC0415
        board_standing,
        network_standing,
        sensor_standing,
        standing,
    )

    texts = texts_of(dict(brief))
    if kind == "network":
        found = network_standing(texts, stock.families)
    elif kind == "sensor":
        found = sensor_standing(texts, choice, stock.lines)
    elif kind == "board":
        found = board_standing(texts)
    else:
        found = standing(build_sheet(kind, texts, prefer, choice, stock=stock))  # type: ignore[arg-type]
    kept: dict[str, Any] = as_json(found)
    return kept


class Standings:
    """Works out the standings that are not of what is stored now, one after the other."""

    def __init__(self, database: Database, lanes: Lanes, stock: Callable[[], Stock]) -> None:
        self.database, self.lanes = database, lanes
        self._stock = stock  #: as it is when it is asked for
        self.waiting = 0  #: designs whose standing is not worked out yet, as last counted
        self._known: OrderedDict[str, dict[str, Any]] = OrderedDict()
        self._lock = threading.Lock()
        self._call, self._closing = threading.Event(), threading.Event()
        self._thread = threading.Thread(target=self._keep_up, name="standings", daemon=True)

    def start(self) -> None:
        """Begin keeping up; called once the server is up."""
        self._thread.start()

    def close(self) -> None:
        """Stop after the one that is being worked out."""
        self._closing.set()
        self._call.set()
        if self._thread.is_alive():
            self._thread.join(timeout=2)

    def look_again(self) -> None:
        """Note that something changed which standings follow from."""
        self._call.set()

    def known(self, mark: str) -> dict[str, Any] | None:
        """Return a standing worked out before, by its stamp."""
        with self._lock:
            return self._known.get(mark)

    def now(
        self, kind: str, brief: Mapping[str, Any], prefer: str, choice: str | None, stock: Stock
    ) -> tuple[dict[str, Any] | None, str]:
        """Return a design's standing if it is worked out in a moment, and its stamp."""
        mark = stamp(kind, brief, prefer, choice, stock)
        found = self.known(mark)
        if found is None:
            found = self.lanes.soon(stand, (kind, dict(brief), prefer, choice, stock), WAIT_S)
            if found is not None:
                self.note(mark, found)
        return found, mark

    def note(self, mark: str, found: dict[str, Any]) -> None:
        """Remember a standing that was worked out, by its stamp."""
        with self._lock:
            self._known[mark] = found
            while len(self._known) > KNOWN:
                self._known.popitem(last=False)

    def _keep_up(self) -> None:
        while not self._closing.is_set():
            self._call.clear()
            try:
                failed = not self._caught_up()
            except Exception:  # whatever it is, it is told, and tried again: this goes on for good
                log.exception("how designs stand could not be looked at")
                failed = True
            self._call.wait(TRIES_S if failed else None)

    def _caught_up(self) -> bool:
        """Work out what is not of what is stored now; tells whether all of it could be."""
        done = True
        for design_id in self._stale():
            if self._closing.is_set():
                break
            done &= self._work_out(design_id)
            self.waiting = max(0, self.waiting - 1)
        return done

    def _stale(self) -> list[int]:
        """Return the designs whose standing is not of what is stored now, the newest first."""
        with self.database.sessions() as session:
            stale = [row.id for row in stamps(session) if row.standing_of != self.stamp_of(row)]
        self.waiting = len(stale)
        return stale

    def stamp_of(self, row: DesignRow) -> str:
        """Return the stamp of a design as it is stored now."""
        return stamp(row.kind, row.brief, row.prefer, row.choice, self._stock())

    def shown(self, row: DesignRow) -> dict[str, Any] | None:
        """Return a design's standing if it is of what is stored now."""
        return row.standing if row.standing_of == self.stamp_of(row) else None

    def _work_out(self, design_id: int) -> bool:
        with self.database.sessions() as session:
            row = next(iter(stamps(session, design_id)), None)
        if row is None:
            return True
        ask = (row.kind, row.brief, row.prefer, row.choice, self._stock())
        mark = stamp(*ask)
        found = self.known(mark)
        try:
            found = found or self.lanes.in_the_background(stand, ask)
        except (LowfoldError, TimeoutError, OSError, Ended) as error:
            log.warning("the standing of design %s is not worked out: %s", design_id, error)
            return False
        self.note(mark, found)
        with self.database.writing() as session:
            keep_standing(session, row.id, row.revision, found, mark)
        return True
