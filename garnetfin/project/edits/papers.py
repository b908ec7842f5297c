"""Edits of papers: contents, who signs, issues, deviations, the office's sheet."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.project.lookup import fresh_ids
from garnetfin.project.papers import PAPER_NAMES, Accepted, Issue, Papers, Sheet
from garnetfin.project.tree import Project

TEXTS = ("job", "client", "made_by", "checked_by")


def _with(project: Project, **changes: object) -> Project:
    papers = structs.replace(project.papers, **changes)
    return project if papers == project.papers else structs.replace(project, papers=papers)


class PrintPaper(Struct, frozen=True):
    """Take a paper into the set, or leave it out."""

    label: ClassVar[str] = "Contents of the documents"
    paper_id: str
    printed: bool

    def apply(self, project: Project) -> Project:
        if self.paper_id not in PAPER_NAMES:
            known = ", ".join(PAPER_NAMES)
            raise InputError(f"There is no document “{self.paper_id}”", remedy=f"Take one of: {known}")
        kept = tuple(p for p in project.papers.left_out if p != self.paper_id)
        return _with(project, left_out=kept if self.printed else (*kept, self.paper_id))


class SetPapers(Struct, frozen=True):
    """Job, client and who signs; the scale of plans, 0 for the largest that fits."""

    label: ClassVar[str] = "Documents"
    field: str
    value: str | int

    def apply(self, project: Project) -> Project:
        if self.field in TEXTS:
            return _with(project, **{self.field: str(self.value).strip()})
        if self.field == "scale":
            return _with(project, scale=int(self.value))
        raise InputError(f"Documents have no “{self.field}”")


class IssuePapers(Struct, frozen=True):
    """The set is handed over: the next number, the day, what for."""

    label: ClassVar[str] = "Issue"
    date: str
    note: str = ""

    def apply(self, project: Project) -> Project:
        papers: Papers = project.papers
        return _with(
            project, issues=(*papers.issues, Issue(number=papers.next_number, date=self.date, note=self.note.strip()))
        )


class SetSheet(Struct, frozen=True):
    """A field of the office's sheet."""

    label: ClassVar[str] = "Office's sheet"
    field: str
    value: str | bytes | tuple[str, ...]

    def apply(self, project: Project) -> Project:
        if self.field not in Sheet.__struct_fields__:
            raise InputError(f"The office's sheet has no “{self.field}”")
        sheet = structs.replace(project.book.sheet, **{self.field: self.value})
        return (
            project
            if sheet == project.book.sheet
            else structs.replace(project, book=structs.replace(project.book, sheet=sheet))
        )


class AcceptFinding(Struct, frozen=True):
    """Answer for a finding with a reason; accepted again, the new reason stands."""

    label: ClassVar[str] = "Issue accepted"
    code: str
    kind: str
    object_id: str
    reason: str
    date: str = ""

    def apply(self, project: Project) -> Project:
        kept = tuple(
            a for a in project.accepted if (a.code, a.kind, a.object_id) != (self.code, self.kind, self.object_id)
        )
        made = Accepted(
            id=fresh_ids(project.accepted, "deviation-", 1)[0],
            code=self.code,
            kind=self.kind,
            object_id=self.object_id,
            reason=self.reason.strip(),
            date=self.date,
        )
        return structs.replace(project, accepted=(*kept, made))


class ReopenFinding(Struct, frozen=True):
    """A finding counts again."""

    label: ClassVar[str] = "Issue reopened"
    code: str
    kind: str
    object_id: str

    def apply(self, project: Project) -> Project:
        kept = tuple(
            a for a in project.accepted if (a.code, a.kind, a.object_id) != (self.code, self.kind, self.object_id)
        )
        return project if len(kept) == len(project.accepted) else structs.replace(project, accepted=kept)
