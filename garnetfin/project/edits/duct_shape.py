"""Edits of how ducts run: move, split, merge, join open ends."""

from math import acos, degrees
from typing import Any, ClassVar

import numpy as np
from msgspec import Struct, structs
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.project.ducts import DuctPoint, Segment
from garnetfin.project.edits.duct_runs import BARE, NEAR_M, RemoveDucts, at_ends, halves
from garnetfin.project.inline import between, shifted
from garnetfin.project.lookup import find, fresh_ids, position
from garnetfin.project.tree import Project

IN_LINE_DEG = 3.0
Place = tuple[float, float, float]


def place_of(point: DuctPoint) -> Place:
    return point.x_m, point.y_m, point.z_m


def meeting(project: Project, point_id: str) -> list[Segment]:
    return [s for s in project.segments if point_id in (s.a, s.b)]


def _length(project: Project, segment: Segment) -> float:
    a, b = (np.array(place_of(find(project.duct_points, i))) for i in (segment.a, segment.b))
    return float(np.linalg.norm(b - a))


def _way(project: Project, segment: Segment) -> np.ndarray:
    a, b = (np.array(place_of(find(project.duct_points, i))) for i in (segment.a, segment.b))
    answer: NDArray[Any] = (b - a) / max(float(np.linalg.norm(b - a)), 1e-9)
    return answer


def in_line(project: Project, first: Segment, second: Segment) -> bool:
    return bool(abs(float(_way(project, first) @ _way(project, second))) > np.cos(np.radians(IN_LINE_DEG)))


def carried(project: Project, segment_ids: tuple[str, ...], by: Place) -> set[str]:
    """Points that go along when ducts are moved: their own ends, straight continuations that would be bent, and ducts
    upright on them.
    """
    step = np.array(by) / max(float(np.linalg.norm(by)), 1e-9)
    moved, queue, seen = set(), list(segment_ids), set(segment_ids)
    beside: dict[str, list[Segment]] = {}
    for s in project.segments:
        beside.setdefault(s.a, []).append(s)
        beside.setdefault(s.b, []).append(s)
    known = {s.id: s for s in project.segments}
    while queue:
        segment = known.get(queue.pop())
        if segment is None:
            raise InputError("That duct is gone")
        moved |= {segment.a, segment.b}
        for point_id in (segment.a, segment.b):
            for other in beside[point_id]:
                # A duct along the move only gets longer or shorter; one across it would be bent out of its line or its
                # plumb.
                across = abs(float(_way(project, other) @ step)) < 0.999
                upright = abs(_way(project, other)[2]) > 0.999
                if other.id not in seen and across and (upright or in_line(project, segment, other)):
                    seen.add(other.id)
                    queue.append(other.id)
    return moved


class MoveDucts(Struct, frozen=True):
    """Move ducts in plan and height [m]; what hangs on them follows: ducts along the move change their length, straight
    ones go along.

    The unit's end stays where it is: where it would move, a piece of duct joins it to the moved ones.
    """

    label: ClassVar[str] = "Move ducts"
    segment_ids: tuple[str, ...]
    dx_m: float
    dy_m: float
    dz_m: float = 0.0

    def apply(self, project: Project) -> Project:
        by = (self.dx_m, self.dy_m, self.dz_m)
        if not any(by):
            return project
        for v in by:
            if not abs(v) <= 1000:
                raise InputError("Ducts can be moved by up to 1000 m at a time", remedy="Give a smaller way")
        moved = carried(project, self.segment_ids, by)
        roots = {i for s in project.air_systems for i in s.roots}
        for root in sorted(moved & roots):
            project, moved = _leave_behind(project, root, moved)
        points = tuple(
            structs.replace(p, x_m=p.x_m + by[0], y_m=p.y_m + by[1], z_m=p.z_m + by[2]) if p.id in moved else p
            for p in project.duct_points
        )
        return without_nothing(structs.replace(project, duct_points=points))


def _leave_behind(project: Project, root: str, moved: set[str]) -> tuple[Project, set[str]]:
    """The unit's point stays; a new one moves in its stead, joined to it by a duct."""
    old = find(project.duct_points, root)
    new = structs.replace(old, id=fresh_ids(project.duct_points, "p", 1)[0])
    segments, piece = [], None
    for s in project.segments:
        if root in (s.a, s.b):
            piece = piece or structs.replace(
                s,
                id=fresh_ids(project.segments, "s", 1)[0],
                a=root,
                b=new.id,
                flexible_m=0.0,
                fittings=(),
                label_at=None,
                inline=(),
            )
            s = structs.replace(s, a=new.id if s.a == root else s.a, b=new.id if s.b == root else s.b)
        segments.append(s)
    if piece is None:
        return project, moved - {root}
    return structs.replace(project, duct_points=(*project.duct_points, new), segments=(*segments, piece)), (
        moved - {root}
    ) | {new.id}


def without_nothing(project: Project) -> Project:
    """Ducts that a move has shrunk to nothing go; their two ends become one."""
    at = {p.id: place_of(p) for p in project.duct_points}
    gone = [s for s in project.segments if sum((u - v) ** 2 for u, v in zip(at[s.a], at[s.b])) ** 0.5 < NEAR_M]
    if not gone:
        return project
    held = {t.point_id for t in project.terminals} | {i for s in project.air_systems for i in s.roots}
    stands: dict[str, str] = {}

    def last(i: str) -> str:
        while i in stands:
            i = stands[i]
        return i

    for s in gone:
        a, b = last(s.a), last(s.b)
        if a != b:
            kept, lost = (a, b) if a in held else (b, a)
            if lost in held:
                raise InputError("That would put the unit or two terminals into one place", remedy="Move it less far")
            stands[lost] = kept
    lost_ids = {s.id for s in gone}
    segments = tuple(
        structs.replace(s, a=last(s.a), b=last(s.b))
        for s in project.segments
        if s.id not in lost_ids and last(s.a) != last(s.b)
    )
    return structs.replace(
        project, segments=segments, duct_points=tuple(p for p in project.duct_points if p.id not in stands)
    )


class SplitDuct(Struct, frozen=True):
    """A point on a duct, a share 0..1 of its length from its first end: two ducts, each to be sized and moved by
    itself. What stands at the duct's beginning, on the side of the unit, stays with the first piece in the way of the
    ducts, flexible duct at its end with the other.
    """

    label: ClassVar[str] = "Split duct"
    segment_id: str
    share: float = 0.5

    def apply(self, project: Project) -> Project:
        i = position(project.segments, self.segment_id)
        segment = project.segments[i]
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        length = sum((u - v) ** 2 for u, v in zip(place_of(a), place_of(b))) ** 0.5
        if not NEAR_M < self.share * length < length - NEAR_M:
            raise InputError(
                f"A duct of {length:.2f} m cannot be split there",
                where=f"segment {segment.id}",
                remedy="Leave 20 mm on both sides",
            )
        x, y, z = (u + self.share * (v - u) for u, v in zip(place_of(a), place_of(b)))
        point = DuctPoint(id=fresh_ids(project.duct_points, "p", 1)[0], level_id=a.level_id, x_m=x, y_m=y, z_m=z)
        first, rest = halves(project, segment, point)
        return structs.replace(
            project,
            duct_points=(*project.duct_points, point),
            segments=(*project.segments[:i], first, rest, *project.segments[i + 1 :]),
        )


class MergeDuct(Struct, frozen=True):
    """A short piece goes into the duct it continues, which keeps its size and values; a piece with a free end is taken
    away.
    """

    label: ClassVar[str] = "Merge duct"
    segment_id: str

    def apply(self, project: Project) -> Project:
        segment = project.segments[position(project.segments, self.segment_id)]
        held = {t.point_id for t in project.terminals} | {i for s in project.air_systems for i in s.roots}
        best = None
        for joint, far in ((segment.a, segment.b), (segment.b, segment.a)):
            others = [s for s in meeting(project, joint) if s.id != segment.id]
            if joint in held or len(others) != 1:
                continue
            turn = degrees(acos(min(1.0, abs(float(_way(project, segment) @ _way(project, others[0]))))))
            if best is None or turn < best[0]:
                best = turn, joint, far, others[0]
        if best is None:
            free = [i for i in (segment.a, segment.b) if i not in held and len(meeting(project, i)) == 1]
            if free:
                return RemoveDucts((segment.id,)).apply(project)
            raise InputError(
                "This piece stands between junctions",
                where=f"segment {segment.id}",
                remedy="Move a branch so that only one duct goes on from it",
            )
        _, joint, far, neighbour = best
        own, new = (_length(project, s) for s in (neighbour, segment))
        before, beyond = (new, 0.0) if neighbour.a == joint else (0.0, own)
        longer = structs.replace(
            neighbour,
            a=far if neighbour.a == joint else neighbour.a,
            b=far if neighbour.b == joint else neighbour.b,
            flexible_m=max(neighbour.flexible_m, segment.flexible_m),
            role="last"
            if segment.role == "last" and far in {t.point_id for t in project.terminals}
            else neighbour.role,
            inline=(
                *shifted(neighbour.inline, before, own, own + new, False),
                *shifted(segment.inline, beyond, new, own + new, (segment.a == joint) == (neighbour.a == joint)),
            ),
        )
        segments = tuple(longer if s.id == neighbour.id else s for s in project.segments if s.id != segment.id)
        return structs.replace(
            project, segments=segments, duct_points=tuple(p for p in project.duct_points if p.id != joint)
        )


class JoinEnds(Struct, frozen=True):
    """Two open ends joined over points between them, as `ways_between` proposes; the new pieces are like the first
    end's duct.
    """

    label: ClassVar[str] = "Join ends"
    first_id: str
    second_id: str
    between: tuple[Place, ...] = ()

    def apply(self, project: Project) -> Project:
        first, second = (project.duct_points[position(project.duct_points, i)] for i in (self.first_id, self.second_id))
        mine, theirs = meeting(project, first.id), meeting(project, second.id)
        if not mine or not theirs:
            raise InputError("Only ends of ducts can be joined", remedy="Click the open end of a duct")
        if (mine[0].system_id, mine[0].air) != (theirs[0].system_id, theirs[0].air):
            raise InputError("The ends belong to different air", remedy="Join ducts of one system and one air")
        if any({s.a, s.b} == {first.id, second.id} for s in mine):
            raise InputError("These ends are joined already")
        if not self.between and sum((u - v) ** 2 for u, v in zip(place_of(first), place_of(second))) ** 0.5 < NEAR_M:
            merged = structs.replace(
                project,
                segments=tuple(
                    structs.replace(s, a=first.id if s.a == second.id else s.a, b=first.id if s.b == second.id else s.b)
                    for s in project.segments
                ),
            )
            return structs.replace(merged, duct_points=tuple(p for p in merged.duct_points if p.id != second.id))
        made = tuple(
            DuctPoint(id=i, level_id=first.level_id, x_m=x, y_m=y, z_m=z)
            for i, (x, y, z) in zip(fresh_ids(project.duct_points, "p", len(self.between)), self.between)
        )
        line = [first.id, *(p.id for p in made), second.id]
        like = mine[0]
        new = tuple(
            structs.replace(like, id=i, a=a, b=b, flexible_m=0.0, fittings=(), label_at=None, inline=())
            for i, a, b in zip(fresh_ids(project.segments, "s", len(line) - 1), line, line[1:])
        )
        return structs.replace(project, duct_points=project.duct_points + made, segments=project.segments + new)


def open_ends(project: Project) -> tuple[str, ...]:
    """Points at which one duct ends without a terminal or a unit."""
    count: dict[str, int] = {}
    for s in project.segments:
        for i in (s.a, s.b):
            count[i] = count.get(i, 0) + 1
    held = {t.point_id for t in project.terminals} | {i for s in project.air_systems for i in s.roots}
    return tuple(p.id for p in project.duct_points if count.get(p.id) == 1 and p.id not in held)


def ways_between(project: Project, first_id: str, second_id: str, width_m: float) -> tuple[str, tuple[Place, ...], str]:
    """(what fits, points between, what is missing) for two open ends of ducts about `width_m` wide.

    In line: a straight piece. Side by side: an offset of two elbows of 45 degrees, or of two right angles where
    there is no length for it.
    Across each other: an elbow where their lines meet. Else what is missing is said and nothing fits.
    """
    a, b = (find(project.duct_points, i) for i in (first_id, second_id))
    pa, pb = np.array(place_of(a)), np.array(place_of(b))
    ua, ub = (_outward(project, i) for i in (first_id, second_id))
    apart = pb - pa
    span = float(np.linalg.norm(apart))
    if span < NEAR_M:
        return "already at one place", (), ""
    facing = float(ua @ ub)
    along = float(apart @ ua)
    across = apart - along * ua
    offset = float(np.linalg.norm(across))
    if facing < -np.cos(np.radians(IN_LINE_DEG)):
        if offset < NEAR_M and along > 0:
            return "straight piece", (), ""
        if offset < NEAR_M:
            return "", (), f"the ends overlap by {-along * 1000:.0f} mm"
        arcs = 2 * width_m * 0.414 * 1.5  # of two elbows of 45 degrees with r/D 1.5
        need = offset + arcs
        if along >= need:
            start = pa + ua * (along - offset) / 2
            return "offset of two 45° elbows", (tuple(start), tuple(start + ua * offset + across)), ""
        if along >= 2 * width_m:
            start = pa + ua * along / 2
            return "offset of two right angles", (tuple(start), tuple(start + across)), ""
        return (
            "",
            (),
            f"{(2 * width_m - along) * 1000:.0f} mm of length is missing for an offset of {offset * 1000:.0f} mm",
        )
    if abs(facing) < 0.999:
        # Nearest points of the two lines; they must meet, ahead of both ends.
        r, d = pb - pa, 1 - facing**2
        s, t = float((r @ ua - facing * (r @ ub)) / d), float((facing * (r @ ua) - r @ ub) / d)
        meet_a, meet_b = pa + s * ua, pb + t * ub
        gap = float(np.linalg.norm(meet_a - meet_b))
        if gap < NEAR_M and s > NEAR_M and t > NEAR_M:
            return "elbow", (tuple(meet_a),), ""
        if gap < NEAR_M:
            short = max(-s, -t, 0.0) + NEAR_M
            return "", (), f"the lines meet {short * 1000:.0f} mm behind an end"
        if s > width_m and t > width_m:
            return "elbow and a step in height", (tuple(meet_a), tuple(meet_b)), ""
        return "", (), f"{(2 * width_m - min(s, t)) * 1000:.0f} mm of length is missing for two elbows"
    if along > 0 or offset >= 2 * width_m:
        out = max(along, 0.0) + width_m  # both look the same way: around in a U
        return "two right angles", (tuple(pa + ua * out), tuple(pa + ua * out + across)), ""
    return "", (), f"{(2 * width_m - offset) * 1000:.0f} mm between the ends is missing for a return bend"


def _outward(project: Project, point_id: str) -> np.ndarray:
    """The way a duct points at its open end."""
    segment = meeting(project, point_id)[0]
    way = _way(project, segment)
    return way if segment.b == point_id else -way


class StepAside(Struct, frozen=True):
    """A duct goes over or under what crosses it: the stretch around a place (share 0..1 of its length, half the stretch
    [m]) is moved in height.
    """

    label: ClassVar[str] = "Step aside"
    segment_id: str
    share: float
    half_m: float
    dz_m: float

    def apply(self, project: Project) -> Project:
        i = position(project.segments, self.segment_id)
        segment = project.segments[i]
        a, b = find(project.duct_points, segment.a), find(project.duct_points, segment.b)
        pa, pb = np.array(place_of(a)), np.array(place_of(b))
        length = float(np.linalg.norm(pb - pa))
        low, high = self.share - self.half_m / max(length, 1e-9), self.share + self.half_m / max(length, 1e-9)
        if not (0 < low < high < 1 and abs(self.dz_m) > NEAR_M):
            raise InputError(
                f"A duct of {length:.2f} m leaves no length to step aside there",
                where=f"segment {segment.id}",
                remedy="Move one of the two ducts",
            )
        step = np.array((0.0, 0.0, self.dz_m))
        line = [pa + (pb - pa) * low, pa + (pb - pa) * low + step, pa + (pb - pa) * high + step, pa + (pb - pa) * high]
        made = tuple(
            DuctPoint(id=n, level_id=a.level_id, x_m=float(p[0]), y_m=float(p[1]), z_m=float(p[2]))
            for n, p in zip(fresh_ids(project.duct_points, "p", 4), line)
        )
        ids = [a.id, *(p.id for p in made), b.id]
        names = (segment.id, *fresh_ids(project.segments, "s", 4))
        begins, ends = at_ends(project, segment)
        bare = structs.replace(segment, label_at=None, **BARE)
        level = {0: (0.0, low), 2: (low, high), 4: (high, 1.0)}  # pieces that lie along the duct
        pieces = tuple(
            structs.replace(
                bare,
                id=n,
                a=u,
                b=v,
                inline=between(segment.inline, *level[k]) if k in level else (),
                **(begins if u == a.id else {}),
                **(ends if v == b.id else {}),
            )
            for k, (n, u, v) in enumerate(zip(names, ids, ids[1:]))
        )
        return structs.replace(
            project,
            duct_points=project.duct_points + made,
            segments=(*project.segments[:i], *pieces, *project.segments[i + 1 :]),
        )
