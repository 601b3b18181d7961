"""Assets by the hash of their bytes; checked before they come here, never changed after."""

from collections.abc import Iterable
from functools import lru_cache

from sqlalchemy import select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session, sessionmaker

from deftarc.core.errors import unknown
from deftarc.formats.bring_in import Asset
from deftarc.store.tables import AssetRow


class AssetStore:
    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self.sessions = sessions
        self._cached = lru_cache(maxsize=64)(self._read)

    def put(self, assets: Iterable[Asset]) -> None:
        rows = [{"hash": asset.hash, "media": asset.media, "body": asset.data} for asset in assets]
        if rows:
            with self.sessions.begin() as session:
                session.execute(insert(AssetRow).on_conflict_do_nothing(), rows)

    def get(self, name: str) -> Asset:
        """An asset by its hash; UnknownThing when there is none."""
        return self._cached(name)

    def read(self, name: str) -> bytes:
        return self.get(name).data

    def missing(self, names: Iterable[str]) -> set[str]:
        wanted = set(names)
        with self.sessions() as session:
            return wanted - set(session.scalars(select(AssetRow.hash).where(AssetRow.hash.in_(wanted))))

    def _read(self, name: str) -> Asset:
        with self.sessions() as session:
            row = session.get(AssetRow, name)
        if row is None:
            raise unknown("file", name[:12])
        return Asset(row.body, row.media)
