"""Edits of underlays: put in, place, scale by two points, turn, layers on and off, remove."""

from math import atan2, cos, degrees, hypot, radians, sin
from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.adjacency import Point
from garnetfin.core.errors import InputError
from garnetfin.project.lookup import fresh_ids, position, with_part
from garnetfin.project.tree import Project
from garnetfin.project.underlays import Underlay

LEAST_SPAN = 1e-6


class AddUnderlay(Struct, frozen=True):
    label: ClassVar[str] = "Put underlay"
    underlay: Underlay  # its id is given anew

    def apply(self, project: Project) -> Project:
        position(project.levels, self.underlay.level_id)
        new = structs.replace(self.underlay, id=fresh_ids(project.underlays, "u", 1)[0])
        return structs.replace(project, underlays=(*project.underlays, new))


class SetUnderlay(Struct, frozen=True):
    """One field of an underlay."""

    label: ClassVar[str] = "Underlay"
    underlay_id: str
    field: str
    value: float | bool | str | tuple[str, ...]

    def apply(self, project: Project) -> Project:
        if self.field not in ("x_m", "y_m", "scale", "turn_deg", "visible", "hidden_layers", "level_id", "name"):
            raise InputError(f"An underlay has no field “{self.field}”")
        if self.field == "level_id":
            position(project.levels, self.value)
        under = project.underlays[position(project.underlays, self.underlay_id)]
        return with_part(project, "underlays", structs.replace(under, **{self.field: self.value}))


class ShowLayer(Struct, frozen=True):
    """A layer of an underlay on or off."""

    label: ClassVar[str] = "Layer of underlay"
    underlay_id: str
    layer: str
    on: bool

    def apply(self, project: Project) -> Project:
        under = project.underlays[position(project.underlays, self.underlay_id)]
        hidden = tuple(x for x in under.hidden_layers if x != self.layer)
        return with_part(
            project, "underlays", structs.replace(under, hidden_layers=hidden if self.on else (*hidden, self.layer))
        )


class ScaleUnderlay(Struct, frozen=True):
    """Two points on the plan [m] are `distance_m` apart in truth: the underlay grows about the first one.

    With `level` the line from the first to the second point is laid along the nearest axis of the plan.
    """

    label: ClassVar[str] = "Scale underlay"
    underlay_id: str
    a: Point
    b: Point
    distance_m: float
    level: bool = False

    def apply(self, project: Project) -> Project:
        under = project.underlays[position(project.underlays, self.underlay_id)]
        span = hypot(self.b[0] - self.a[0], self.b[1] - self.a[1])
        if span < LEAST_SPAN or not 0.01 <= self.distance_m <= 1e4:
            raise InputError(
                "Two different points and a distance of 0.01 to 10 000 m are needed", where=f"underlay {under.name}"
            )
        factor = self.distance_m / span
        turn = 0.0
        if self.level:
            now = degrees(atan2(self.b[1] - self.a[1], self.b[0] - self.a[0]))
            turn = round(now / 90) * 90 - now
        c, s = cos(radians(turn)), sin(radians(turn))
        dx, dy = under.x_m - self.a[0], under.y_m - self.a[1]
        return with_part(
            project,
            "underlays",
            structs.replace(
                under,
                scale=under.scale * factor,
                turn_deg=(under.turn_deg + turn + 180) % 360 - 180,
                x_m=round(self.a[0] + factor * (dx * c - dy * s), 6),
                y_m=round(self.a[1] + factor * (dx * s + dy * c), 6),
            ),
        )


class RemoveUnderlay(Struct, frozen=True):
    label: ClassVar[str] = "Remove underlay"
    underlay_id: str

    def apply(self, project: Project) -> Project:
        position(project.underlays, self.underlay_id)
        return structs.replace(project, underlays=tuple(u for u in project.underlays if u.id != self.underlay_id))
