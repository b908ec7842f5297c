"""A proposed route taken: the ducts it replaces go, its own come, pins of last pieces stay."""

from typing import ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.project.ducts import Air, DuctPoint, Role, Segment, Shape
from garnetfin.project.edits.duct_runs import NEAR_M, ROOT_FIELD
from garnetfin.project.lookup import find, fresh_ids, position, replaced
from garnetfin.project.tree import Project

Place = tuple[float, float, float]


class Run(Struct, frozen=True):
    """A duct between two places of a route, by their numbers."""

    first: int
    then: int
    role: Role
    shape: Shape


class TakeRoute(Struct, frozen=True):
    """Ducts of a route on one level.

    removed  segments that it replaces; the terminals at their ends stay
    places   in plan and height; the first is where it starts
    start    duct point at the first place, "" for a new one (the unit's end, where the air has none yet)
    ends     (terminal, number of its place)
    """

    label: ClassVar[str] = "Apply route"
    system_id: str
    air: Air
    level_id: str
    removed: tuple[str, ...]
    places: tuple[Place, ...]
    start: str
    runs: tuple[Run, ...]
    ends: tuple[tuple[str, int], ...]

    def apply(self, project: Project) -> Project:
        system = project.air_systems[position(project.air_systems, self.system_id)]
        if not self.runs:
            raise InputError("A route needs ducts")
        old = {i: project.segments[position(project.segments, i)] for i in self.removed}
        at_terminal = {t.point_id: t for t in project.terminals}
        before = {p: s for s in old.values() for p in (s.a, s.b) if p in at_terminal}
        segments = tuple(s for s in project.segments if s.id not in old)
        ids: dict[int, str] = {0: self.start} if self.start else {}
        for terminal_id, number in self.ends:
            point = find(project.duct_points, project.terminals[position(project.terminals, terminal_id)].point_id)
            if (
                sum((u - v) ** 2 for u, v in zip((point.x_m, point.y_m, point.z_m), self.places[number])) ** 0.5
                > NEAR_M
            ):
                raise InputError(
                    f"Terminal {find(project.terminals, terminal_id).label} has moved since this was proposed",
                    remedy="Propose again",
                )
            ids[number] = point.id
        if self.start:
            position(project.duct_points, self.start)
        new = [n for n in range(len(self.places)) if n not in ids]
        made = []
        for n, point_id in zip(new, fresh_ids(project.duct_points, "p", len(new))):
            ids[n] = point_id
            x, y, z = self.places[n]
            made.append(DuctPoint(id=point_id, level_id=self.level_id, x_m=x, y_m=y, z_m=z))
        drawn = []
        for segment_id, run in zip(fresh_ids(project.segments, "s", len(self.runs)), self.runs):
            like = before.get(ids[run.then])
            base = Segment(
                id=segment_id,
                system_id=self.system_id,
                a=ids[run.first],
                b=ids[run.then],
                shape=run.shape,
                role=run.role,
                air=self.air,
            )
            # what was decided about a terminal's last piece holds for its new one
            if like is not None:
                base = structs.replace(
                    base,
                    shape=like.shape,
                    size=like.size,
                    flexible_m=like.flexible_m,
                    material=like.material,
                    width_m=like.width_m,
                    height_m=like.height_m,
                    velocity_m_s=like.velocity_m_s,
                    friction_pa_m=like.friction_pa_m,
                )
            drawn.append(base)
        project = structs.replace(project, segments=(*segments, *drawn), duct_points=(*project.duct_points, *made))
        if not system.root_of(self.air):
            project = structs.replace(
                project,
                air_systems=replaced(
                    project.air_systems, system.id, structs.replace(system, **{ROOT_FIELD[self.air]: ids[0]})
                ),
            )
        used = (
            {p for s in project.segments for p in (s.a, s.b)}
            | {t.point_id for t in project.terminals}
            | {i for s in project.air_systems for i in s.roots}
        )
        return structs.replace(project, duct_points=tuple(p for p in project.duct_points if p.id in used))
