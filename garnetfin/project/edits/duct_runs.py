"""Edits of the duct system: draw, size, move, remove."""

import itertools
from typing import Any, ClassVar

from msgspec import Struct, structs

from garnetfin.core.errors import InputError
from garnetfin.core.terminal_choice import PLACING
from garnetfin.project.ducts import Air, DuctPoint, PinnedSize, Role, Segment, Shape, Side, Terminal
from garnetfin.project.inline import between
from garnetfin.project.lookup import find, fresh_ids, position, replaced
from garnetfin.project.systems import Spigot
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule, Value

NEAR_M = 0.02
LETTER = {"supply": "", "return": "-R", "extract": "-E", "outdoor": "-O"}  # of a terminal's label, by its air
ROOT_FIELD = {
    "supply": "root_point_id",
    "return": "return_point_id",
    "extract": "extract_point_id",
    "outdoor": "outdoor_point_id",
}
# of the terminal at the end of a run
USUAL_KIND = {"supply": "swirl", "return": "egrid", "extract": "egrid", "outdoor": "louvre"}


class SetSizes(Struct, frozen=True):
    """Many ducts pinned at sizes of their own: (segment, shape, width, height) [m]."""

    label: ClassVar[str] = "Duct sizes"
    sizes: tuple[tuple[str, str, float, float], ...]

    def apply(self, project: Project) -> Project:
        for segment_id, shape, width, height in self.sizes:
            project = SetSize((segment_id,), PinnedSize(shape=shape, width_m=width, height_m=height)).apply(project)
        return project


class SetSize(Struct, frozen=True):
    """Pin a section on segments, or let the rule decide again."""

    label: ClassVar[str] = "Duct size"
    segment_ids: tuple[str, ...]
    size: Rule | PinnedSize

    def apply(self, project: Project) -> Project:
        segments = project.segments
        for segment_id in self.segment_ids:
            segment = segments[position(segments, segment_id)]
            segments = replaced(segments, segment_id, structs.replace(segment, size=self.size))
        return project if segments is project.segments else structs.replace(project, segments=segments)


class SetShape(Struct, frozen=True):
    """Round, rectangular or flat oval; the size goes back to the rule."""

    label: ClassVar[str] = "Duct shape"
    segment_ids: tuple[str, ...]
    shape: Shape

    def apply(self, project: Project) -> Project:
        segments = project.segments
        for segment_id in self.segment_ids:
            segment = segments[position(segments, segment_id)]
            if segment.shape != self.shape:
                segments = replaced(
                    segments,
                    segment_id,
                    structs.replace(
                        segment, shape=self.shape, size=Rule(), width_m=Rule(), height_m=Rule(), fittings=()
                    ),
                )
        return project if segments is project.segments else structs.replace(project, segments=segments)


# What stands at the two ends of a duct: at its beginning, on the side of the unit, and at its end.
AT_BEGINNING, AT_END = ("fittings", "damper", "damper_deg"), ("flexible_m",)
BARE: dict[str, Any] = {"fittings": (), "damper": "", "damper_deg": Rule(), "flexible_m": 0.0, "inline": ()}


def nearer_unit(project: Project, segment: Segment) -> str:
    """The end of a duct from which fewer ducts lead to its unit; its first where none does."""
    roots = {i for s in project.air_systems if s.id == segment.system_id for i in s.roots_of(segment.air)}
    beside: dict[str, list[str]] = {}
    for s in project.segments:
        if (s.system_id, s.air) == (segment.system_id, segment.air) and s.id != segment.id:
            beside.setdefault(s.a, []).append(s.b)
            beside.setdefault(s.b, []).append(s.a)
    reached, now = set(roots), list(roots)
    while now:
        if segment.a in reached or segment.b in reached:
            break
        now = [q for p in now for q in beside.get(p, ()) if q not in reached]
        reached.update(now)
    return segment.b if segment.b in reached and segment.a not in reached else segment.a


def at_ends(project: Project, segment: Segment) -> tuple[dict[str, Any], dict[str, Any]]:
    """What stands at a duct's first end and at its second, by field."""
    begins, ends = ({n: getattr(segment, n) for n in names} for names in (AT_BEGINNING, AT_END))
    return (begins, ends) if nearer_unit(project, segment) == segment.a else (ends, begins)


def halves(project: Project, segment: Segment, point: DuctPoint) -> tuple[Segment, Segment]:
    """A duct divided at a point; what stands at one of its ends stays there, parts in it where their middles are."""
    at_a, at_b = at_ends(project, segment)
    bare = structs.replace(segment, label_at=None, **BARE)
    a, b = (find(project.duct_points, i) for i in (segment.a, segment.b))
    whole = _distance((a.x_m, a.y_m, a.z_m), (b.x_m, b.y_m, b.z_m))
    share = _distance((a.x_m, a.y_m, a.z_m), (point.x_m, point.y_m, point.z_m)) / max(whole, 1e-9)
    parts = segment.inline
    return (
        structs.replace(bare, b=point.id, inline=between(parts, 0.0, share), **at_a),
        structs.replace(
            bare, id=fresh_ids(project.segments, "s", 1)[0], a=point.id, inline=between(parts, share, 1.0), **at_b
        ),
    )


class SetFlexible(Struct, frozen=True):
    label: ClassVar[str] = "Flexible duct"
    segment_id: str
    length_m: float

    def apply(self, project: Project) -> Project:
        segment = project.segments[position(project.segments, self.segment_id)]
        segments = replaced(project.segments, self.segment_id, structs.replace(segment, flexible_m=self.length_m))
        return project if segments is project.segments else structs.replace(project, segments=segments)


class SetTerminal(Struct, frozen=True):
    """The share of the room's flow a terminal takes (a Value), its model ("" by rule), its kind, or the room it
    serves.
    """

    label: ClassVar[str] = "Terminal"
    terminal_id: str
    share: Value | None = None
    model: str | None = None
    kind: str | None = None
    room_id: str | None = None

    def apply(self, project: Project) -> Project:
        terminal = project.terminals[position(project.terminals, self.terminal_id)]
        changed = structs.replace(
            terminal,
            share=terminal.share if self.share is None else self.share,
            model=terminal.model if self.model is None else self.model,
        )
        if self.kind is not None and self.kind != terminal.kind:
            if self.kind not in PLACING:
                raise InputError(
                    f"There is no kind of terminal “{self.kind}”", remedy="Take one of: " + ", ".join(PLACING)
                )
            changed = structs.replace(changed, kind=self.kind, model="")
        if self.room_id is not None:
            position(project.rooms, self.room_id)
            changed = structs.replace(changed, room_id=self.room_id)
        terminals = replaced(project.terminals, self.terminal_id, changed)
        return project if terminals is project.terminals else structs.replace(project, terminals=terminals)


class DrawRun(Struct, frozen=True):
    """A run along points (x, y, z); what rises out of the level's storey belongs to the level it comes to.

    The first run of a system and an air starts at its unit, whichever way the air goes. Ends that meet a duct point
    join it; points on the side of a duct split it; loose ends of its own air that it passes hang on it.

    `terminal_room` puts a terminal at the last point. Points closer than 20 mm count as one.
    """

    label: ClassVar[str] = "Draw duct"
    system_id: str
    level_id: str
    points: tuple[tuple[float, float, float], ...]
    shape: Shape = "round"
    role: Role = "branch"
    terminal_room: str = ""
    air: Air = "supply"
    side: Side = "centre"
    material: str = ""  # of the last piece, "" by rule

    def apply(self, project: Project) -> Project:
        line = [self.points[0]] if self.points else []
        for p in self.points[1:]:
            if _distance(p, line[-1]) > NEAR_M:
                line.append(p)
        if len(line) < 2:
            raise InputError("A run needs two points apart", remedy="Click a second point")
        line = through_ends(project, self.system_id, self.air, line)
        for p in line:
            project, _ = _place(project, self.system_id, self.level_id, p, self.air)
        system = project.air_systems[position(project.air_systems, self.system_id)]
        if not system.root_of(self.air):
            # The first duct of a system starts at its unit.
            project, first = _place(project, self.system_id, self.level_id, line[0], self.air)
            project = structs.replace(
                project,
                air_systems=replaced(
                    project.air_systems, system.id, structs.replace(system, **{ROOT_FIELD[self.air]: first})
                ),
            )
        else:
            project = _at_the_unit(project, self, line)
        ids = []
        for p in line:
            project, point_id = _place(project, self.system_id, self.level_id, p, self.air)
            ids.append(point_id)
        joined = {frozenset((s.a, s.b)) for s in project.segments}
        wanted = [(a, b) for a, b in itertools.pairwise(ids) if a != b and frozenset((a, b)) not in joined]
        if not wanted:
            raise InputError("There is a duct along these points already", remedy="Draw somewhere else")
        new = tuple(
            Segment(
                id=i,
                system_id=self.system_id,
                a=a,
                b=b,
                shape=self.shape,
                role=self.role,
                air=self.air,
                side=self.side,
                material=self.material if n == len(wanted) - 1 else "",
            )
            for n, (i, (a, b)) in enumerate(zip(fresh_ids(project.segments, "s", len(wanted)), wanted))
        )
        project = structs.replace(project, segments=project.segments + new)
        if self.terminal_room:
            project = AddTerminal(ids[-1], self.terminal_room, USUAL_KIND[self.air], self.air).apply(project)
        return project


def _at_the_unit(project: Project, run: DrawRun, line: list["Place"]) -> Project:
    """A run that begins or ends in the unit or shaft of its first ducts and joins none of them gets a spigot there."""
    from shapely import Point, Polygon

    system = project.air_systems[position(project.air_systems, run.system_id)]
    root = find(project.duct_points, system.root_of(run.air))
    units = [
        Polygon(m.outline)
        for m in project.plan_marks
        if m.kind in ("unit", "shaft") and root is not None and m.level_id == root.level_id == run.level_id
    ]
    unit = next((u for u in units if root is not None and u.buffer(NEAR_M).contains(Point(root.x_m, root.y_m))), None)
    if unit is None:
        return project
    joined = {p for s in project.segments if (s.system_id, s.air) == (run.system_id, run.air) for p in (s.a, s.b)}
    placed = project
    ends = []
    for place in (line[0], line[-1]):
        placed, point_id = _place(placed, run.system_id, run.level_id, place, run.air)
        ends.append((place, point_id))
    if any(i in joined or i in system.roots for _, i in ends):
        return project
    inside = [i for place, i in ends if unit.buffer(NEAR_M).contains(Point(place[:2]))]
    return AddSpigot(run.system_id, run.air, inside[0]).apply(placed) if inside else project


class AddSpigot(Struct, frozen=True):
    """A duct point becomes a further start of an air at the unit, on the same fan."""

    label: ClassVar[str] = "Spigot at the unit"
    system_id: str
    air: Air
    point_id: str

    def apply(self, project: Project) -> Project:
        system = project.air_systems[position(project.air_systems, self.system_id)]
        position(project.duct_points, self.point_id)
        if self.point_id in system.roots:
            return project
        if not system.root_of(self.air):
            system = structs.replace(system, **{ROOT_FIELD[self.air]: self.point_id})
        else:
            system = structs.replace(system, spigots=(*system.spigots, Spigot(air=self.air, point_id=self.point_id)))
        return structs.replace(project, air_systems=replaced(project.air_systems, system.id, system))


Place = tuple[float, float, float]


def through_ends(project: Project, system_id: str, air: str, line: list[Place]) -> list[Place]:
    """A run's points with the loose ends of the same air that it passes: ends of one duct without a terminal."""
    ends: dict[str, int] = {}
    for s in project.segments:
        if (s.system_id, s.air) == (system_id, air):
            for point_id in (s.a, s.b):
                ends[point_id] = ends.get(point_id, 0) + 1
    taken = {t.point_id for t in project.terminals} | {i for s in project.air_systems for i in s.roots}
    loose = [(p.x_m, p.y_m, p.z_m) for p in project.duct_points if ends.get(p.id) == 1 and p.id not in taken]
    made = line[:1]
    for a, b in itertools.pairwise(line):
        made += [at for _, at in sorted((_distance(a, p), p) for p in loose if _between(a, b, p))]
        made.append(b)
    return made


def _between(a: Place, b: Place, p: Place) -> bool:
    """Whether a point lies on the straight way from a to b, away from both."""
    long = _distance(a, b)
    t = sum((q - x) * (y - x) for x, y, q in zip(a, b, p)) / long**2
    foot = (a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2]))
    return NEAR_M < t * long < long - NEAR_M and _distance(foot, p) < NEAR_M


class AddTerminal(Struct, frozen=True):
    """A terminal at a duct point that has none."""

    label: ClassVar[str] = "Add terminal"
    point_id: str
    room_id: str
    kind: str = "swirl"
    air: Air = "supply"

    def apply(self, project: Project) -> Project:
        room = project.rooms[position(project.rooms, self.room_id)]
        if any(t.point_id == self.point_id for t in project.terminals):
            raise InputError("There is a terminal at that point already", remedy="Remove it first")
        number = 1 + sum(t.room_id == self.room_id and t.air == self.air for t in project.terminals)
        label = room.number + LETTER[self.air] + ("" if number == 1 else chr(ord("a") + min(number - 1, 25)))
        new = Terminal(
            id=fresh_ids(project.terminals, "t", 1)[0],
            label=label,
            point_id=self.point_id,
            room_id=self.room_id,
            kind=self.kind,
            air=self.air,
        )
        return structs.replace(project, terminals=(*project.terminals, new))


class MovePoint(Struct, frozen=True):
    """Move a duct point in plan and height; ducts and terminal that hang on it follow."""

    label: ClassVar[str] = "Move duct"
    point_id: str
    x_m: float
    y_m: float
    z_m: float

    def apply(self, project: Project) -> Project:
        point = project.duct_points[position(project.duct_points, self.point_id)]
        moved = structs.replace(point, x_m=self.x_m, y_m=self.y_m, z_m=self.z_m)
        points = replaced(project.duct_points, self.point_id, moved)
        return project if points is project.duct_points else structs.replace(project, duct_points=points)


class RemoveDucts(Struct, frozen=True):
    """Segments and terminals away, with the points that nothing uses any more."""

    label: ClassVar[str] = "Remove duct"
    segment_ids: tuple[str, ...] = ()
    terminal_ids: tuple[str, ...] = ()

    def apply(self, project: Project) -> Project:
        for segment_id in self.segment_ids:
            position(project.segments, segment_id)
        segments = tuple(s for s in project.segments if s.id not in self.segment_ids)
        used = {p for s in segments for p in (s.a, s.b)}
        # A terminal goes with the last duct to it; one that never had a duct stays.
        left_alone = {p for s in project.segments if s.id in self.segment_ids for p in (s.a, s.b)} - used
        terminals = tuple(
            t for t in project.terminals if t.id not in self.terminal_ids and t.point_id not in left_alone
        )
        # a spigot goes with its last duct; the first start of an air stays where the unit is
        systems = tuple(
            structs.replace(s, spigots=tuple(x for x in s.spigots if x.point_id in used))
            if any(x.point_id not in used for x in s.spigots)
            else s
            for s in project.air_systems
        )
        used |= {i for s in systems for i in s.roots} | {t.point_id for t in terminals}
        points = tuple(p for p in project.duct_points if p.id in used)
        if len(segments) == len(project.segments) and len(terminals) == len(project.terminals):
            return project
        if systems != project.air_systems:
            project = structs.replace(project, air_systems=systems)
        return structs.replace(project, segments=segments, terminals=terminals, duct_points=points)


def level_of_height(project: Project, z_m: float, usual: str) -> str:
    """The level whose storey holds a height; the usual one where it holds it too, or where none does."""
    inside = [x for x in project.levels if x.elevation_m <= z_m < x.elevation_m + x.storey_m]
    if not inside or any(x.id == usual for x in inside):
        return usual
    return max(inside, key=lambda x: x.elevation_m).id


def _distance(p: tuple[float, float, float], q: tuple[float, float, float]) -> float:
    return float(sum((a - b) ** 2 for a, b in zip(p, q)) ** 0.5)


def _place(
    project: Project, system_id: str, level_id: str, at: tuple[float, float, float], air: str = "supply"
) -> tuple[Project, str]:
    """The point at a place: an existing one, one that splits the duct it lies on, or a new one.

    Ducts of other air are passed by.
    """
    others = {p for s in project.segments if s.air != air or s.system_id != system_id for p in (s.a, s.b)}
    others |= {t.point_id for t in project.terminals if t.air != air}
    others |= {
        i for s in project.air_systems for a in ROOT_FIELD if (s.id, a) != (system_id, air) for i in s.roots_of(a)
    }
    for point in project.duct_points:
        if point.id not in others and _distance((point.x_m, point.y_m, point.z_m), at) <= NEAR_M:
            return project, point.id
    new = DuctPoint(
        id=fresh_ids(project.duct_points, "p", 1)[0],
        level_id=level_of_height(project, at[2], level_id),
        x_m=at[0],
        y_m=at[1],
        z_m=at[2],
    )
    project = structs.replace(project, duct_points=(*project.duct_points, new))
    for segment in project.segments:
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        if (
            segment.system_id == system_id
            and segment.air == air
            and _on_line((a.x_m, a.y_m, a.z_m), (b.x_m, b.y_m, b.z_m), at)
        ):
            first, rest = halves(project, segment, new)
            i = position(project.segments, segment.id)
            segments = (*project.segments[:i], first, rest, *project.segments[i + 1 :])
            return structs.replace(project, segments=segments), new.id
    return project, new.id


def _on_line(a: tuple[Any, ...], b: tuple[Any, ...], p: tuple[Any, ...]) -> bool:
    length = _distance(a, b)
    if length < NEAR_M:
        return False
    t = sum((pi - ai) * (bi - ai) for ai, bi, pi in zip(a, b, p)) / length**2
    foot = tuple(ai + t * (bi - ai) for ai, bi in zip(a, b))
    return NEAR_M / length < t < 1 - NEAR_M / length and _distance(foot, p) <= NEAR_M
