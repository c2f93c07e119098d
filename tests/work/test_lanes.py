"""The queue to the workers: it heals, keeps places, and ends what nobody waits for."""

from __future__ import annotations

import asyncio
import os
import signal
import time
from collections.abc import Iterator
from typing import Any

import pytest

from lowfold.core.errors import DomainError
from lowfold.work import lanes as module
from lowfold.work.lanes import Lanes, Overloaded, TooLong
from lowfold.work.process import Process


def nothing() -> None:
    """What a worker does before it takes work."""


def nap(seconds: float, answer: Any = None) -> Any:
    time.sleep(seconds)
    return answer


def pid() -> int:
    return os.getpid()


def refuse() -> None:
    msg = "nothing fits"
    raise DomainError(msg)


def die_once(mark: str) -> str:
    if not os.path.exists(mark):  # noqa: PTH110 in a worker
        open(mark, "w").close()  # noqa: PTH123
        os._exit(9)
    return "done"


def die() -> None:
    os._exit(9)


async def forever() -> None:
    await asyncio.sleep(3600)


def ask(lanes: Lanes, work: Any, *args: Any, **more: Any) -> Any:
    return lanes.done(
        work, args, gone=more.pop("gone", forever), kind=more.pop("kind", work.__name__),
        key=more.pop("key", os.urandom(8)), **more,
    )  # fmt: skip


def run(question: Any) -> Any:
    async def waited() -> Any:
        return await question

    return asyncio.run(waited())


def processes(lanes: Lanes) -> list[Process]:
    return lanes._processes()  # noqa: SLF001


def ready(lanes: Lanes, within: float = 30) -> None:
    until = time.monotonic() + within
    while not all(p.state == "free" for p in processes(lanes)):
        assert time.monotonic() < until, [p.state for p in processes(lanes)]
        time.sleep(0.02)


@pytest.fixture(scope="module")
def shared() -> Iterator[Lanes]:
    found = Lanes(2, nothing, [])
    ready(found)
    yield found
    found.close()


@pytest.fixture
def lanes(shared: Lanes) -> Lanes:
    """The same workers for every test, all of them free again."""
    ready(shared)
    return shared


@pytest.mark.parametrize("how", [signal.SIGKILL, signal.SIGSTOP])
def test_workers_killed_or_stopped_while_idle_are_replaced(
    lanes: Lanes, how: signal.Signals
) -> None:
    for process in processes(lanes):
        assert process.pid is not None
        os.kill(process.pid, how)
    began = time.monotonic()
    answers = [
        run(ask(lanes, nap, 0.0, k, lane=lane)) for k in range(3) for lane in ("quick", "long")
    ]
    assert answers == [0, 0, 1, 1, 2, 2]
    ready(lanes)
    assert time.monotonic() - began < 20  # under 2 s here; a busy machine may be slow
    assert lanes.trouble() == ""


def test_what_its_worker_dies_under_is_begun_again(lanes: Lanes, tmp_path: Any) -> None:
    assert run(ask(lanes, die_once, str(tmp_path / "mark"))) == "done"
    with pytest.raises(Overloaded, match="the work stopped before it was done"):
        run(ask(lanes, die))
    assert run(ask(lanes, nap, 0.0, "after")) == "after"


def test_a_refusal_comes_back_as_it_was(lanes: Lanes) -> None:
    with pytest.raises(DomainError, match="nothing fits"):
        run(ask(lanes, refuse))


@pytest.fixture
def quicker(monkeypatch: pytest.MonkeyPatch) -> None:
    """All times a fourth of what they are, so that the tests are."""
    monkeypatch.setattr(module, "IN_ALL_S", module.IN_ALL_S / 4)
    monkeypatch.setattr(module, "PATIENCE_S", module.PATIENCE_S / 4)


@pytest.mark.usefixtures("quicker")
def test_forty_at_once_that_fit_in_the_time_are_served(lanes: Lanes) -> None:
    async def all_of_them() -> list[Any]:
        return await asyncio.gather(*(ask(lanes, nap, 0.06, k) for k in range(40)))

    assert run(all_of_them()) == list(range(40))


@pytest.mark.usefixtures("quicker")
def test_what_will_not_be_done_in_time_is_told_when_to_come_back_and_keeps_its_place(
    lanes: Lanes,
) -> None:
    """Four times as much as fits: whoever comes back when told is served, each in two turns or so."""
    turns: dict[int, int] = {}

    async def one(k: int) -> None:
        for turn in range(1, 9):
            try:
                assert await ask(lanes, nap, 0.4, k, kind="of its own", key=b"key %d" % k) == k
            except Overloaded as told:
                assert told.place is not None
                await asyncio.sleep(told.seconds)
            else:
                turns[k] = turn
                return
        pytest.fail(f"{k} was told to come back eight times")

    async def all_of_them() -> None:
        await asyncio.gather(*(one(k) for k in range(24)))

    run(all_of_them())
    assert len(turns) == 24
    assert max(turns.values()) <= 3


def test_what_nobody_waits_for_ends_and_no_other_with_it(lanes: Lanes) -> None:
    async def left() -> tuple[Any, float]:
        other = asyncio.create_task(ask(lanes, nap, 1.0, "kept"))
        began = time.monotonic()
        found = await ask(lanes, nap, 60.0, gone=lambda: asyncio.sleep(0.2))
        assert found is None
        gone_after = time.monotonic() - began
        return await other, gone_after

    kept, after = run(left())
    assert kept == "kept"
    assert after < 5  # half a second here
    ready(lanes)


def test_many_that_leave_at_once_end_no_worker_that_is_starting(lanes: Lanes) -> None:
    """Each worker is ended at most once for what it ran: what was waiting had none."""
    before = {p.pid for p in processes(lanes)}

    async def left() -> None:
        await asyncio.gather(
            *(ask(lanes, nap, 5.0, gone=lambda: asyncio.sleep(0.3)) for _ in range(30))
        )

    began = time.monotonic()
    run(left())
    assert run(ask(lanes, nap, 0.0, "next")) == "next"
    assert time.monotonic() - began < 10
    ready(lanes)
    assert len(before & {p.pid for p in processes(lanes)}) == 2  # those of the quick lane


def test_what_is_not_quick_goes_on_in_the_long_lane(
    lanes: Lanes, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert run(ask(lanes, nap, 1.3, "slow", lane="quick")) == "slow"
    with pytest.raises(TooLong):
        run(ask(lanes, nap, 5.0, lane="quick", within=0.5))
    monkeypatch.setattr(module, "LONGEST_S", 0.5)
    with pytest.raises(TooLong):
        run(ask(lanes, nap, 5.0))


def test_a_lane_with_no_place_left_says_when_to_come_back(
    lanes: Lanes, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(module, "MOST_WAITING", 3)

    async def too_many() -> list[Any]:
        asked = [ask(lanes, nap, 0.3, k) for k in range(8)]
        return await asyncio.gather(*asked, return_exceptions=True)

    found = run(too_many())
    refused = [one for one in found if isinstance(one, Overloaded)]
    assert [one.place for one in refused] == [3] * len(refused)
    assert len(refused) == 3  # two run, three wait
    assert all(1 <= one.seconds <= 30 for one in refused)


def test_what_is_asked_soon_takes_no_worker_that_others_wait_for(lanes: Lanes) -> None:
    assert lanes.soon(nap, (0.0, "soon"), 5.0) == "soon"
    assert lanes.soon(nap, (0.5, "late"), 0.05) is None

    async def busy() -> Any:
        asked = [asyncio.create_task(ask(lanes, nap, 0.6, k)) for k in range(3)]
        await asyncio.sleep(0.1)
        began = time.monotonic()
        assert await asyncio.to_thread(lanes.soon, nap, (0.0, "soon"), 5.0) is None
        assert time.monotonic() - began < 0.4
        background = asyncio.to_thread(lanes.in_the_background, nap, (0.0, "after all"))
        return await background, [await one for one in asked]

    assert run(busy()) == ("after all", [0, 1, 2])


def test_workers_that_do_not_start_are_told_of() -> None:
    found = Lanes(1, die, [])
    try:
        for _ in range(400):
            if found.trouble():
                break
            time.sleep(0.05)
        assert "lane do not start: see what the server says" in found.trouble()
    finally:
        found.close()
