"""How a server or a command is set up: what the environment says (DEFTARC_…), and over it the command line."""

import logging
from pathlib import Path
from typing import Any

from platformdirs import user_data_path
from pydantic import Field, ValidationError
from pydantic_settings import BaseSettings, SettingsConfigDict

from deftarc.app.queue.farm import FarmAt
from deftarc.core.base.errors import Refusal

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
    #: The address of a Dask scheduler, whose workers paint instead of this machine; empty for none. Whoever is there
    #: can run code here: it is named at the start, and nowhere else.
    farm: str = Field(default="", max_length=200, pattern=r"^((tcp|tls)://[^\s/]+)?$")
    #: For tls://: the files of the authority that both sides trust, and of this side's certificate and its key.
    farm_authority: Path | None = None
    farm_certificate: Path | None = None
    farm_key: Path | None = None

    def farm_at(self) -> FarmAt | None:
        """Where the farm is; None where there is none. Refusal where its files are not as they have to be."""
        if not self.farm:
            return None
        at = FarmAt(self.farm, self.farm_authority, self.farm_certificate, self.farm_key)
        if self.farm.startswith("tls:"):
            at.security()
        return at


def settings(**told: Any) -> Settings:
    """The settings, where what the command line told (what is None it did not) goes over the environment. Refusal where
    one of them cannot be.
    """
    try:
        return Settings(**{name: value for name, value in told.items() if value is not None})
    except ValidationError as error:
        first = error.errors()[0]
        name = "DEFTARC_" + "_".join(str(part).upper() for part in first["loc"])
        if first["loc"] == ("farm",):
            raise Refusal("The address of a farm is written as tcp://name:8786, or tls://name:8786.") from None
        raise Refusal(f"{name}: {first['msg']}.") from None


def begin_logging(level: str) -> None:
    logging.basicConfig(format=LOG_FORMAT, level=level.upper())
