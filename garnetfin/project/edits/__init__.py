"""Commands: every edit of a project is one of these frozen values with a label and apply(project)."""

from typing import Any, Protocol

from msgspec import Struct

from garnetfin.project.tree import Project


class Command(Protocol):
    @property
    def label(self) -> str:
        """What undo calls it."""

    def apply(self, project: Project) -> Project:
        """The edited project; the same object when nothing changes. Raises GarnetfinError when it cannot be."""


class Commands(Struct, frozen=True):
    """Several edits as one step of undo."""

    label: str
    steps: tuple[Any, ...]

    def apply(self, project: Project) -> Project:
        for step in self.steps:
            project = step.apply(project)
        return project
