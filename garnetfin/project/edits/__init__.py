"""Commands: every edit of a project is one of these frozen values with a label and apply(project)."""

from typing import ClassVar, Protocol

from garnetfin.project.tree import Project


class Command(Protocol):
    label: ClassVar[str]

    def apply(self, project: Project) -> Project:
        """The edited project; the same object when nothing changes. Raises GarnetfinError when it cannot be."""
