"""Edits of the whole project at once."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.project.tree import Project

LONGEST_NAME = 120


class SetName(Struct, frozen=True):
    """The project's name, as it stands in the window and on every document."""

    label: ClassVar[str] = "Project name"
    name: str

    def apply(self, project: Project) -> Project:
        name = self.name.strip()
        if not 1 <= len(name) <= LONGEST_NAME:
            raise InputError(f"A project needs a name of 1 to {LONGEST_NAME} signs")
        return project if name == project.name else structs.replace(project, name=name)


class RestoreMark(Struct, frozen=True):
    """The project as it stood in a mark. What was handed over since stays on record."""

    label: ClassVar[str] = "Back to a snapshot"
    mark: Project

    def apply(self, project: Project) -> Project:
        papers = structs.replace(self.mark.papers, issues=project.papers.issues)
        back = self.mark if papers == self.mark.papers else structs.replace(self.mark, papers=papers)
        return project if back == project else back
