"""Who may come in where a token is asked for, and the secret from which each page's own token is made."""

import secrets

from sqlalchemy import delete, select
from sqlalchemy.dialects.sqlite import insert

from deftarc.store.database import Sessions
from deftarc.store.tables import LoginRow, SettingRow
from deftarc.store.trouble import StoreTrouble

_SECRET = "page_secret"


class LoginStore:
    def __init__(self, sessions: Sessions) -> None:
        self.sessions = sessions

    def all(self) -> dict[str, float]:
        """By the hash of what each browser keeps, when it was used last, in seconds since 1970."""
        try:
            with self.sessions() as session:
                return {row.key: row.used_at for row in session.execute(select(LoginRow.key, LoginRow.used_at))}
        except StoreTrouble:
            return {}

    def keep(self, key: str, used_at: float) -> None:
        with self.sessions.begin() as session:
            query = insert(LoginRow).values(key=key, used_at=used_at)
            session.execute(query.on_conflict_do_update(index_elements=["key"], set_={"used_at": used_at}))

    def end(self, keys: list[str] | None = None) -> None:
        """Ends the logins of these keys; all of them where none are named."""
        wanted = delete(LoginRow) if keys is None else delete(LoginRow).where(LoginRow.key.in_(keys))
        with self.sessions.begin() as session:
            session.execute(wanted)

    def page_secret(self) -> bytes:
        """32 bytes that stay the same for a data folder, so that a page outlives a restart. Where the folder cannot be
        written they hold until the server ends.
        """
        try:
            with self.sessions.begin() as session:
                made = insert(SettingRow).values(name=_SECRET, value=secrets.token_hex(32))
                session.execute(made.on_conflict_do_nothing(index_elements=["name"]))
                told = session.scalar(select(SettingRow.value).where(SettingRow.name == _SECRET))
            return bytes.fromhex(str(told))
        except (StoreTrouble, ValueError):
            return secrets.token_bytes(32)
