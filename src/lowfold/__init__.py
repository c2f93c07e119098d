"""Lowfold: resistor values that do not exist, chosen, checked, folded and unfolded."""

from importlib.metadata import version

__version__ = version("lowfold")
