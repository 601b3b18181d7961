"""The tables. A document is a tree of content-addressed parts, as a version control system keeps trees."""

from sqlalchemy import ForeignKey, Index, LargeBinary, String
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    pass


class ProjectRow(Base):
    """``cursor`` is the step that is current; ``revision`` rises with every edit, undo and redo."""

    __tablename__ = "projects"
    id: Mapped[str] = mapped_column(String(24), primary_key=True)
    name: Mapped[str] = mapped_column(String(200))
    created_at: Mapped[float]
    changed_at: Mapped[float]
    deleted_at: Mapped[float | None]
    cursor: Mapped[int]
    revision: Mapped[int]


class PartRow(Base):
    """A root, a scene or a layer as JSON (deflated), named by its hash; never changed."""

    __tablename__ = "parts"
    hash: Mapped[str] = mapped_column(String(20), primary_key=True)
    body: Mapped[bytes] = mapped_column(LargeBinary)


class StepRow(Base):
    """One step of a project's history: the root it led to, and the edit in JSON."""

    __tablename__ = "steps"
    project: Mapped[str] = mapped_column(ForeignKey("projects.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    root: Mapped[str] = mapped_column(ForeignKey("parts.hash"))
    revision: Mapped[int]
    label: Mapped[str] = mapped_column(String(400))
    edit: Mapped[str]
    made_at: Mapped[float]


class LeftStepRow(Base):
    """A step that was undone and overwritten: told by its revision, it followed the state made at ``parent``."""

    __tablename__ = "left_steps"
    project: Mapped[str] = mapped_column(ForeignKey("projects.id"), primary_key=True)
    revision: Mapped[int] = mapped_column(primary_key=True)
    parent: Mapped[int]
    root: Mapped[str] = mapped_column(ForeignKey("parts.hash"))
    label: Mapped[str] = mapped_column(String(400))
    edit: Mapped[str]
    made_at: Mapped[float]


class NamedStateRow(Base):
    """A name given to the state that was made at a revision."""

    __tablename__ = "named_states"
    project: Mapped[str] = mapped_column(ForeignKey("projects.id"), primary_key=True)
    revision: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(200))


class EditIdRow(Base):
    """What became of an edit that had an id of its own: the step it made, and the revision it led to."""

    __tablename__ = "edit_ids"
    project: Mapped[str] = mapped_column(ForeignKey("projects.id"), primary_key=True)
    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    number: Mapped[int]
    revision: Mapped[int]


class AssetRow(Base):
    __tablename__ = "assets"
    hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    media: Mapped[str] = mapped_column(String(80))
    body: Mapped[bytes] = mapped_column(LargeBinary)


class JobRow(Base):
    """A render: ``state`` is waiting, running, paused, done, failed or stopped; ``file`` the finished file's name;
    ``place`` goes before others where it is lower; ``wish`` is what another process left word of.
    """

    __tablename__ = "jobs"
    id: Mapped[str] = mapped_column(String(24), primary_key=True)
    project: Mapped[str] = mapped_column(ForeignKey("projects.id"))
    title: Mapped[str] = mapped_column(String(300))
    state: Mapped[str] = mapped_column(String(20))
    done: Mapped[int]
    total: Mapped[int]
    message: Mapped[str]
    file: Mapped[str]
    made_at: Mapped[float]
    scene: Mapped[str] = mapped_column(String(60), default="")
    output: Mapped[str] = mapped_column(String(40), default="")
    options: Mapped[str] = mapped_column(default="{}")
    revision: Mapped[int] = mapped_column(default=0)
    place: Mapped[float] = mapped_column(default=0.0)
    wish: Mapped[str] = mapped_column(String(20), default="")
    __table_args__ = (Index("jobs_by_project", "project", "made_at"),)


class ChoiceRow(Base):
    """With which options an output was made last in a project."""

    __tablename__ = "choices"
    project: Mapped[str] = mapped_column(ForeignKey("projects.id"), primary_key=True)
    output: Mapped[str] = mapped_column(String(40), primary_key=True)
    options: Mapped[str]
    used_at: Mapped[float]


class EaseRow(Base):
    """An ease kept for all projects: its knots as JSON."""

    __tablename__ = "eases"
    name: Mapped[str] = mapped_column(String(200), primary_key=True)
    knots: Mapped[str]
    made_at: Mapped[float]


class MotionRow(Base):
    """A motion kept for all projects: as JSON, with its format."""

    __tablename__ = "motions"
    name: Mapped[str] = mapped_column(String(200), primary_key=True)
    motion: Mapped[str]
    made_at: Mapped[float]


class SettingRow(Base):
    __tablename__ = "settings"
    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    value: Mapped[str]


class LoginRow(Base):
    """Somebody who has shown the token: the hash of what their browser keeps, and when it was used last."""

    __tablename__ = "logins"
    key: Mapped[str] = mapped_column(String(64), primary_key=True)
    used_at: Mapped[float]
