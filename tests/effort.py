"""How hard a law is tried: as much as every change can bear, or twenty times that and anew.

`make refute` sets LOWFOLD_REFUTE to how many times as many cases are tried, and LOWFOLD_SEED to
where they begin; it prints the seed, and `make refute SEED=…` tries the same cases again.
"""

import os
from typing import Final

from hypothesis import HealthCheck, settings

TIMES: Final = int(os.environ.get("LOWFOLD_REFUTE", "1"))
#: Where the seeds begin: 0 every day; another each time a law is tried harder.
FIRST: Final = int(os.environ.get("LOWFOLD_SEED", "0"))

#: The same examples every day, and no deadline on a busy machine.
settings.register_profile("every day", derandomize=True, deadline=None, max_examples=60)
settings.register_profile(
    "refute", deadline=None, database=None, max_examples=60 * TIMES, print_blob=True
)


def begin() -> None:
    """Take the examples of the day, or those of a refutation."""
    settings.load_profile("every day" if TIMES == 1 else "refute")


def cases(count: int, *, dear: bool = False) -> settings:
    """Return how many examples a law is tried with, more where it is refuted.

    `dear` ones may take their time and use what a function's own fixtures made.
    """
    skipped = [HealthCheck.function_scoped_fixture, HealthCheck.too_slow] if dear else []
    return settings(max_examples=count * TIMES, suppress_health_check=skipped)


def seeds(count: int) -> range:
    """Return seeds of random cases, more and others where a law is refuted."""
    return range(FIRST, FIRST + count * TIMES)
