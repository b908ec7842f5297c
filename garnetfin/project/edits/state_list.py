"""Edits of the state list."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.project.lookup import fresh_ids, position, with_part
from garnetfin.project.state_list import ListRow, RowKind, Source
from garnetfin.project.tree import Project

NAMES = {
    "state": "State",
    "outdoor": "Outdoor",
    "air system": "State of",
    "room": "Room air",
    "mix": "Mix",
    "process": "Process",
    "difference": "Difference",
    "flow": "Flow for",
}
STATES = ("state", "outdoor", "air system", "room", "mix", "process")
# A property that is chosen anew starts at a figure that air can have.
START = {"t": 24.0, "rh": 0.5, "w": 0.009, "wb": 17.0, "td": 12.0, "h": 47e3, "v": 0.85}


class AddListRow(Struct, frozen=True):
    """A row at the end; a mix, a process, a difference or a flow takes the last two states."""

    label: ClassVar[str] = "New row of the state list"
    kind: RowKind
    key: str = ""
    name: str = ""

    def apply(self, project: Project) -> Project:
        if self.kind not in NAMES:
            raise InputError(f"There is no row “{self.kind}”", remedy="Take one of: " + ", ".join(NAMES))
        row_id = fresh_ids(project.state_list, "row", 1)[0]
        taken = {r.name for r in project.state_list}
        name = self.name or next(n for n in (f"{NAMES[self.kind]} {k}" for k in range(1, 9999)) if n not in taken)
        sources = ()
        if self.kind in ("mix", "process", "difference", "flow"):
            sources = tuple(Source(row=r.id) for r in [r for r in project.state_list if r.kind in STATES][-2:])
        key = self.key or {"outdoor": "summer"}.get(self.kind, "")
        return structs.replace(
            project,
            state_list=(*project.state_list, ListRow(id=row_id, name=name, kind=self.kind, key=key, sources=sources)),
        )


class SetListRow(Struct, frozen=True):
    """A field of a row: name, key, a, b, a_value, b_value, flow_m3s or load_w."""

    label: ClassVar[str] = "State list"
    row_id: str
    field: str
    value: str | float

    def apply(self, project: Project) -> Project:
        row = project.state_list[position(project.state_list, self.row_id)]
        if self.field not in ("name", "key", "a", "b", "a_value", "b_value", "flow_m3s", "load_w"):
            raise InputError(f"A row of the state list has no {self.field}")
        changes: dict[str, object] = {self.field: self.value}
        if self.field in ("a", "b"):
            other = row.b if self.field == "a" else row.a
            if self.value == other:
                raise InputError("Two different properties fix a state", remedy="Take another one")
            changes[f"{self.field}_value"] = START.get(str(self.value), 0.0)
        return with_part(project, "state_list", structs.replace(row, **changes))


class SetListSource(Struct, frozen=True):
    """A source of a row by its number, with its share; one past the last adds, "" takes it away."""

    label: ClassVar[str] = "Source of a row"
    row_id: str
    at: int
    source: str
    share: float | None = None

    def apply(self, project: Project) -> Project:
        row = project.state_list[position(project.state_list, self.row_id)]
        if not 0 <= self.at <= len(row.sources):
            raise InputError("There is no such source")
        old = row.sources[self.at] if self.at < len(row.sources) else None
        share = self.share if self.share is not None else old.share if old else 1.0
        new = (Source(row=self.source, share=share),) if self.source else ()
        sources = (*row.sources[: self.at], *new, *row.sources[self.at + 1 :])
        return with_part(project, "state_list", structs.replace(row, sources=sources))


class MoveListRow(Struct, frozen=True):
    """A row up (-1) or down (1)."""

    label: ClassVar[str] = "Move row"
    row_id: str
    by: int

    def apply(self, project: Project) -> Project:
        rows = list(project.state_list)
        at = position(project.state_list, self.row_id)
        to = max(0, min(len(rows) - 1, at + self.by))
        if to == at:
            return project
        rows.insert(to, rows.pop(at))
        return structs.replace(project, state_list=tuple(rows))


class RemoveListRow(Struct, frozen=True):
    """A row away; rows that rest on it say that they have no source."""

    label: ClassVar[str] = "Remove row"
    row_ids: tuple[str, ...]

    def apply(self, project: Project) -> Project:
        rows = tuple(r for r in project.state_list if r.id not in self.row_ids)
        return project if len(rows) == len(project.state_list) else structs.replace(project, state_list=rows)
