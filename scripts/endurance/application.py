"""The application, made once in the process that servers are forked from."""

import alembic.command  # noqa: F401 the first start of a directory needs it

import lowfold.api.loaded  # noqa: F401 how a design stands is worked out in the server itself
from lowfold.api.app import create_app
from lowfold.api.serving import server_of
from lowfold.api.standings import stamp, stand
from lowfold.core.parts.stock import Stock
from lowfold.settings import Settings

__all__ = ["APP", "SETTINGS", "server_of"]

SETTINGS = Settings(workers=0)
APP = create_app(SETTINGS)

#: What a first save takes long over is done before any server is forked.
stamp("divider", {}, "nearest", None, Stock())
stand("divider", {"supply_v": "14.4 V"}, "nearest", None, Stock())
