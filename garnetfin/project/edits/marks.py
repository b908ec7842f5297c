"""Edits of what is drawn on the plan and has no load: blocks beside that cast shadows, shafts, voids."""

from typing import ClassVar, Literal

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.project.derive import follow
from garnetfin.project.lookup import fresh_ids, position, with_part
from garnetfin.project.spaces import PlanMark
from garnetfin.project.tree import Project
from garnetfin.project.values import Point

Kind = Literal["block", "shaft", "void"]
USUAL_HEIGHT_M = 9.0
LABELS = {"block": "surrounding building", "shaft": "shaft", "void": "void"}


class AddMark(Struct, frozen=True):
    """A neighbouring block of some height [m] above the floor of the level it is drawn on, a shaft, or a void in its
    floor.
    """

    label: ClassVar[str] = "Block, shaft or void"
    kind: Kind
    level_id: str
    outline: tuple[Point, ...]
    height_m: float = USUAL_HEIGHT_M

    def apply(self, project: Project) -> Project:
        position(project.levels, self.level_id)
        if area_of(self.outline) < 0.01:
            raise InputError(
                f"A {LABELS[self.kind]} needs an outline with an area", remedy="Draw from corner to corner"
            )
        made = PlanMark(
            id=fresh_ids(project.plan_marks, self.kind[0].upper() if self.kind != "block" else "N", 1)[0],
            kind=self.kind,
            level_id=self.level_id,
            outline=self.outline,
            label=LABELS[self.kind],
            height_m=self.height_m if self.kind == "block" else 0.0,
        )
        return follow(project, structs.replace(project, plan_marks=(*project.plan_marks, made)))


class SetBlock(Struct, frozen=True):
    label: ClassVar[str] = "Height of a block"
    mark_id: str
    height_m: float

    def apply(self, project: Project) -> Project:
        mark = project.plan_marks[position(project.plan_marks, self.mark_id)]
        return with_part(project, "plan_marks", structs.replace(mark, height_m=self.height_m))


class RemoveMark(Struct, frozen=True):
    label: ClassVar[str] = "Remove block, shaft or void"
    mark_id: str

    def apply(self, project: Project) -> Project:
        position(project.plan_marks, self.mark_id)
        left = tuple(m for m in project.plan_marks if m.id != self.mark_id)
        return follow(project, structs.replace(project, plan_marks=left))
