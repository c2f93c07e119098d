"""Everything that computes, imported: what a new process of the server has from the beginning."""

from __future__ import annotations

import scipy.optimize
import scipy.sparse  # noqa: F401 as the one above: half a second of the first question that needs it

from lowfold.api.computing import prepare
from lowfold.api.standings import stamp
from lowfold.core.parts.stock import Stock

prepare()
stamp("divider", {}, "nearest", None, Stock())  # the digest of the rules is made once
