"""Edits of the whole project at once."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.project.tree import UNTITLED, Project

LONGEST_NAME = 120


class SetName(Struct, frozen=True):
    """The project's name, as it stands in the window and on every document. Parts keep the ids they have in models of
    others: these are made from the first name that was given.
    """

    label: ClassVar[str] = "Project name"
    name: str

    def apply(self, project: Project) -> Project:
        name = self.name.strip()
        if not 1 <= len(name) <= LONGEST_NAME:
            raise InputError(f"A project needs a name of 1 to {LONGEST_NAME} signs")
        if name == project.name:
            return project
        first = project.first_name or ("" if project.name == UNTITLED else project.name)
        return structs.replace(project, name=name, first_name="" if first == name else first)


class RestoreMark(Struct, frozen=True):
    """The project as it stood in a mark. What was handed over since stays on record."""

    label: ClassVar[str] = "Back to a snapshot"
    mark: Project

    def apply(self, project: Project) -> Project:
        papers = structs.replace(self.mark.papers, issues=project.papers.issues)
        back = self.mark if papers == self.mark.papers else structs.replace(self.mark, papers=papers)
        return project if back == project else back
