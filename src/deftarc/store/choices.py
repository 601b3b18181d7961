"""How each output was chosen last in a project, so that the next time begins there."""

import json
import time
from typing import Any

from sqlalchemy import select
from sqlalchemy.dialects.sqlite import insert

from deftarc.store.database import Sessions
from deftarc.store.tables import ChoiceRow


class ChoiceStore:
    def __init__(self, sessions: Sessions) -> None:
        self.sessions = sessions

    def keep(self, project: str, output: str, options: dict[str, Any]) -> None:
        """The output used last in a project, and its options."""
        row = {"project": project, "output": output, "options": json.dumps(options), "used_at": time.time()}
        with self.sessions.begin() as session:
            query = insert(ChoiceRow)
            told = {name: query.excluded[name] for name in ("options", "used_at")}
            session.execute(query.on_conflict_do_update(index_elements=["project", "output"], set_=told), [row])

    def of(self, project: str) -> dict[str, dict[str, Any]]:
        """Options by output, the one used last first."""
        with self.sessions() as session:
            query = select(ChoiceRow).where(ChoiceRow.project == project).order_by(ChoiceRow.used_at.desc())
            return {row.output: json.loads(row.options) for row in session.scalars(query)}
