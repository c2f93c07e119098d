"""Everything that computes, imported: what a new process of the server has from the beginning."""

from __future__ import annotations

import scipy.optimize
import scipy.sparse  # noqa: F401 as the one above: half a second of the first question that needs it

from lowfold.api.deferred import load_all

load_all()
