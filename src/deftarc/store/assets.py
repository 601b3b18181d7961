"""Assets by the hash of their bytes; checked before they come here, never changed after."""

from collections.abc import Iterable

from sqlalchemy import func, select
from sqlalchemy.dialects.sqlite import insert

from deftarc.core.base.errors import Refusal, unknown
from deftarc.formats.read import Asset
from deftarc.store.database import Sessions
from deftarc.store.tables import AssetRow

#: Assets of no more bytes are kept in memory when they are asked for, and so many of them.
SMALL, MOST_SMALL = 256 * 1024, 256


class AssetStore:
    def __init__(self, sessions: Sessions) -> None:
        self.sessions = sessions
        self._small: dict[str, Asset] = {}

    def put(self, assets: Iterable[Asset]) -> None:
        """Keeps assets, one after the other: together they can be larger than what fits into memory at once."""
        for asset in assets:
            row = {"hash": asset.hash, "media": asset.media, "body": asset.data}
            with self.sessions.begin() as session:
                session.execute(insert(AssetRow).on_conflict_do_nothing(), [row])

    def get(self, name: str) -> Asset:
        """An asset by its hash; UnknownThing when there is none, Refusal where it is damaged."""
        found = self._small.get(name)
        if found is None:
            found = self._read(name)
            if len(found.data) <= SMALL:
                while len(self._small) >= MOST_SMALL:
                    self._small.pop(next(iter(self._small)))
                self._small[name] = found
        return found

    def read(self, name: str) -> bytes:
        return self.get(name).data

    def media(self, names: Iterable[str]) -> dict[str, str]:
        """By hash the media types of those assets that are here."""
        with self.sessions() as session:
            query = select(AssetRow.hash, AssetRow.media).where(AssetRow.hash.in_(set(names)))
            return {row.hash: row.media for row in session.execute(query)}

    def missing(self, names: Iterable[str]) -> set[str]:
        wanted = set(names)
        with self.sessions() as session:
            return wanted - set(session.scalars(select(AssetRow.hash).where(AssetRow.hash.in_(wanted))))

    def size(self, names: Iterable[str]) -> int:
        """Bytes that some assets take together."""
        with self.sessions() as session:
            query = select(func.sum(func.length(AssetRow.body))).where(AssetRow.hash.in_(set(names)))
            return session.scalar(query) or 0

    def forget_read(self) -> None:
        self._small = {}

    def _read(self, name: str) -> Asset:
        with self.sessions() as session:
            row = session.get(AssetRow, name)
        if row is None:
            raise unknown("file", name[:12])
        asset = Asset(row.body, row.media)
        if asset.hash != name:
            raise Refusal("A file of this project is damaged on disk. Bring it in again.")
        return asset
