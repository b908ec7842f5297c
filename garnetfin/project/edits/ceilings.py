"""Edits of where ducts may run: ceiling zones with their free height, beams and racks in the way."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.project.lookup import fresh_ids, position, with_part
from garnetfin.project.spaces import CeilingZone, Obstacle, Sleeve
from garnetfin.project.tree import Project
from garnetfin.project.values import Point

VOID_M, ALLOWANCE_M = 0.45, 0.05  # of a zone drawn anew: below the structure
BEAM_M = 0.3


def _outline(outline: tuple[Point, ...], what: str) -> None:
    if area_of(outline) < 0.01:
        raise InputError(f"{what} needs an outline with an area", remedy="Draw from corner to corner")


class AddCeilingZone(Struct, frozen=True):
    """A zone in which ducts run between the ceiling and the structure; heights above the level's floor [m]."""

    label: ClassVar[str] = "Ceiling zone"
    level_id: str
    outline: tuple[Point, ...]
    ceiling_m: float | None = None
    soffit_m: float | None = None

    def apply(self, project: Project) -> Project:
        level = project.levels[position(project.levels, self.level_id)]
        _outline(self.outline, "A ceiling zone")
        soffit = level.storey_m - 0.3 if self.soffit_m is None else self.soffit_m
        ceiling = max(soffit - VOID_M, 0.5 * soffit) if self.ceiling_m is None else self.ceiling_m
        made = CeilingZone(
            id=fresh_ids(project.ceiling_zones, "cz", 1)[0],
            name=f"Zone {len(project.ceiling_zones) + 1}",
            level_id=self.level_id,
            outline=self.outline,
            ceiling_m=ceiling,
            soffit_m=soffit,
            allowance_m=min(ALLOWANCE_M, soffit - ceiling),
        )
        return structs.replace(project, ceiling_zones=(*project.ceiling_zones, made))


class SetCeilingZone(Struct, frozen=True):
    label: ClassVar[str] = "Ceiling zone"
    zone_id: str
    field: str
    value: float | str

    def apply(self, project: Project) -> Project:
        zone = project.ceiling_zones[position(project.ceiling_zones, self.zone_id)]
        if self.field not in ("name", "ceiling_m", "soffit_m", "allowance_m"):
            raise InputError(f"A ceiling zone has no “{self.field}”")
        return with_part(project, "ceiling_zones", structs.replace(zone, **{self.field: self.value}))


class AddObstacle(Struct, frozen=True):
    """A beam, rack or pipe in the way; heights above the level's floor [m]."""

    label: ClassVar[str] = "Obstacle"
    level_id: str
    outline: tuple[Point, ...]
    kind: str = "beam"
    bottom_m: float | None = None
    top_m: float | None = None

    def apply(self, project: Project) -> Project:
        level = project.levels[position(project.levels, self.level_id)]
        _outline(self.outline, "An obstacle")
        top = level.storey_m - 0.3 if self.top_m is None else self.top_m
        made = Obstacle(
            id=fresh_ids(project.obstacles, "ob", 1)[0],
            kind=self.kind,
            level_id=self.level_id,
            outline=self.outline,
            bottom_m=top - BEAM_M if self.bottom_m is None else self.bottom_m,
            top_m=top,
        )
        return structs.replace(project, obstacles=(*project.obstacles, made))


class SetObstacle(Struct, frozen=True):
    """Its kind or a height; `sleeve` puts a hole through its middle with a height [m], None takes holes away."""

    label: ClassVar[str] = "Obstacle"
    obstacle_id: str
    field: str
    value: float | str

    def apply(self, project: Project) -> Project:
        obstacle = project.obstacles[position(project.obstacles, self.obstacle_id)]
        if self.field not in ("kind", "bottom_m", "top_m", "sleeve_m"):
            raise InputError(f"An obstacle has no “{self.field}”")
        if self.field != "sleeve_m":
            return with_part(project, "obstacles", structs.replace(obstacle, **{self.field: self.value}))
        if not self.value:
            return with_part(project, "obstacles", structs.replace(obstacle, sleeves=()))
        if not 0 < self.value <= obstacle.top_m - obstacle.bottom_m:
            raise InputError(
                f"A hole of {self.value:.2f} m does not go through {obstacle.kind} {obstacle.id}",
                remedy=f"0 to {obstacle.top_m - obstacle.bottom_m:.2f} m are accepted",
            )
        xs, ys = [p[0] for p in obstacle.outline], [p[1] for p in obstacle.outline]
        middle = (obstacle.bottom_m + obstacle.top_m) / 2
        hole = Sleeve(
            at=((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2),
            width_m=max(max(xs) - min(xs), max(ys) - min(ys)),
            bottom_m=middle - self.value / 2,
            top_m=middle + self.value / 2,
        )
        return with_part(project, "obstacles", structs.replace(obstacle, sleeves=(hole,)))


class RemoveCeilingParts(Struct, frozen=True):
    label: ClassVar[str] = "Remove"
    zone_ids: tuple[str, ...] = ()
    obstacle_ids: tuple[str, ...] = ()

    def apply(self, project: Project) -> Project:
        return structs.replace(
            project,
            ceiling_zones=tuple(z for z in project.ceiling_zones if z.id not in self.zone_ids),
            obstacles=tuple(o for o in project.obstacles if o.id not in self.obstacle_ids),
        )
