"""How a server or a command is set up: what the environment says (DEFTARC_…), and over it the command line."""

import logging
from pathlib import Path
from typing import Any

from platformdirs import user_data_path
from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

#: One format for everything that is logged.
LOG_FORMAT = "%(asctime)s %(levelname)s %(name)s: %(message)s"


class Settings(BaseSettings):
    """Every setting has one name here, in the environment and, where it has one, on the command line."""

    model_config = SettingsConfigDict(env_prefix="DEFTARC_", extra="ignore")

    #: The folder that holds the projects.
    data: Path = Field(default_factory=lambda: user_data_path("deftarc", appauthor=False))
    host: str = "127.0.0.1"
    port: int = Field(default=8321, ge=0, le=65535)
    #: A long secret that whoever comes from another machine has to know.
    token: str | None = None
    #: Names and addresses by which others reach the server.
    names: tuple[str, ...] = ()
    #: Packages that add to Deft Arc, parted by commas; see core/base/register.
    more: str = ""
    log_level: str = "WARNING"


def settings(**told: Any) -> Settings:
    """The settings, where what the command line told (what is None it did not) goes over the environment."""
    return Settings(**{name: value for name, value in told.items() if value is not None})


def begin_logging(level: str) -> None:
    logging.basicConfig(format=LOG_FORMAT, level=level.upper())
