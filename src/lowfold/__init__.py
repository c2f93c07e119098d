"""Lowfold: resistor values that do not exist, chosen, checked, folded and unfolded."""

from typing import Any

__all__ = ["__version__"]

__version__: str


def __getattr__(name: str) -> Any:
    """Return the version when it is asked for: to look it up takes longer than many a command."""
    if name != "__version__":
        msg = f"module {__name__!r} has no attribute {name!r}"
        raise AttributeError(msg)
    from importlib.metadata import version  # noqa: PLC0415

    return version("lowfold")
