"""Edits of blocks beside the building: what stands around and casts shadows."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.project.lookup import fresh_ids, position, with_part
from garnetfin.project.spaces import PlanMark
from garnetfin.project.tree import Project
from garnetfin.project.values import Point

USUAL_HEIGHT_M = 9.0


class AddBlock(Struct, frozen=True):
    """A neighbouring block of some height [m] above the floor of the level it is drawn on."""

    label: ClassVar[str] = "Block beside"
    level_id: str
    outline: tuple[Point, ...]
    height_m: float = USUAL_HEIGHT_M

    def apply(self, project: Project) -> Project:
        position(project.levels, self.level_id)
        if area_of(self.outline) < 0.01:
            raise InputError("A block needs an outline with an area", remedy="Draw from corner to corner")
        made = PlanMark(
            id=fresh_ids(project.plan_marks, "N", 1)[0],
            kind="block",
            level_id=self.level_id,
            outline=self.outline,
            label="block beside",
            height_m=self.height_m,
        )
        return structs.replace(project, plan_marks=(*project.plan_marks, made))


class SetBlock(Struct, frozen=True):
    label: ClassVar[str] = "Height of a block"
    mark_id: str
    height_m: float

    def apply(self, project: Project) -> Project:
        mark = project.plan_marks[position(project.plan_marks, self.mark_id)]
        return with_part(project, "plan_marks", structs.replace(mark, height_m=self.height_m))


class RemoveBlock(Struct, frozen=True):
    label: ClassVar[str] = "Remove block"
    mark_id: str

    def apply(self, project: Project) -> Project:
        position(project.plan_marks, self.mark_id)
        return structs.replace(project, plan_marks=tuple(m for m in project.plan_marks if m.id != self.mark_id))
