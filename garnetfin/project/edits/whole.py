"""Edits of the whole project at once."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.project.tree import Project


class RestoreMark(Struct, frozen=True):
    """The project as it stood in a mark. What was handed over since stays on record."""

    label: ClassVar[str] = "Back to a snapshot"
    mark: Project

    def apply(self, project: Project) -> Project:
        papers = structs.replace(self.mark.papers, issues=project.papers.issues)
        back = self.mark if papers == self.mark.papers else structs.replace(self.mark, papers=papers)
        return project if back == project else back
