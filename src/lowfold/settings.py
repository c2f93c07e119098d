"""What can be set from outside: environment variables with the prefix LOWFOLD_."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_data_path
from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

__all__ = ["Settings"]


class Settings(BaseSettings):
    """Settings of one run; the command line overrides them."""

    model_config = SettingsConfigDict(env_prefix="LOWFOLD_")

    port: int = Field(8000, ge=1, le=65535, description="port on 127.0.0.1")
    data: Path = Field(
        default_factory=lambda: user_data_path("lowfold", appauthor=False),
        description="directory that holds the database",
    )
    workers: int = Field(
        2, ge=0, le=16, description="processes a lane that compute; 0 computes in the server's own"
    )
    largest_body: int = Field(1_000_000, ge=1, description="bytes a request may carry")

    @property
    def database(self) -> Path:
        return self.data / "lowfold.db"
