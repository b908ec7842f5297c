"""Every face of the building as a row: what it is, where it looks, how large, which U-value.

Made when it is looked at.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.ground import slab_u_value
from garnetfin.core.fabric.layers import resistance
from garnetfin.core.sun import hourly
from garnetfin.engine.results import Climate
from garnetfin.engine.stages.faces import core_layers, ground_u_value, outer_film, u_inside, u_outdoors
from garnetfin.project.lookup import Same, find
from garnetfin.project.spaces import INSIDE, OUTSIDE, SHAFT, Slab, Wall
from garnetfin.project.tree import Project


@dataclass(frozen=True, slots=True)
class FaceRow:
    """`id` is wall/… or slab/…; azimuth None for faces that look nowhere;

    U None when its build-up cannot be computed.
    """

    id: str
    # outside wall, inside wall, roof, floor on ground, floor to outdoors, floor between
    kind: str
    level_id: str
    room_id: str
    other: str  # outdoors, ground, shaft, a warm room, or a room id
    area_m2: float  # with openings
    opened_m2: float
    glass_m2: float
    azimuth_deg: float | None
    tilt_deg: float
    u_w_m2k: float | None
    build_up_id: str

    @property
    def net_m2(self) -> float:
        return self.area_m2 - self.opened_m2


def face_rows(project: Project) -> tuple[FaceRow, ...]:
    """All faces, walls first, in the project's order."""
    return _rows(
        Same(project.walls),
        Same(project.slabs),
        Same(project.build_ups),
        tuple((r.id, r.level_id) for r in project.rooms),
        Same(project),
    )


@lru_cache(maxsize=4)
def _rows(walls: Same, slabs: Same, build_ups: Same, rooms: tuple[Any, ...], project: Same) -> tuple[FaceRow, ...]:
    return (*(_wall(project.item, w) for w in walls.item), *(_slab(project.item, s) for s in slabs.item))


def face_row(project: Project, face_id: str) -> FaceRow | None:
    kind, _, part = face_id.partition("/")
    if kind == "wall":
        wall = find(project.walls, part)
        return _wall(project, wall) if wall is not None else None
    slab = find(project.slabs, part)
    return _slab(project, slab) if slab is not None else None


def sun_on(climate: Climate, row: FaceRow) -> np.ndarray | None:
    """Sun on an outdoor face through the twelve design days (12, 24) [W/m2]; None for faces without sun."""
    if row.azimuth_deg is None:
        return None
    found = climate.face(row.azimuth_deg, row.tilt_deg)
    return hourly((found.beam + found.diffuse)[0])


def _wall(project: Project, w: Wall) -> FaceRow:
    outside = w.outside
    other = {OUTSIDE: "outdoors", SHAFT: "shaft", INSIDE: "a warm room"}.get(w.room_b, w.room_b)
    return FaceRow(
        f"wall/{w.id}",
        "outside wall" if outside else "inside wall",
        w.level_id,
        w.room_a,
        other,
        w.length_m * w.height_m,
        sum(o.area_m2 for o in w.openings),
        sum(o.area_m2 for o in w.openings if o.glazing_id),
        w.facing_deg % 360 if outside else None,
        90.0,
        _u(project, w.build_up_id, "outdoors" if outside else "inside", "wall"),
        w.build_up_id,
    )


def _slab(project: Project, s: Slab) -> FaceRow:
    room_id = s.room_below if s.kind == "roof" or s.room_above in (OUTSIDE, INSIDE) else s.room_above
    room = find(project.rooms, room_id)
    area = s.area_m2 / max(0.1, float(np.cos(np.radians(s.tilt_deg)))) if s.kind == "roof" else s.area_m2
    if s.kind == "ground":
        u = _u(project, s.build_up_id, "ground", slab=s)
        kind, other = "floor on ground", "ground"
    elif s.kind == "roof":
        kind, other, u = "roof", "outdoors", _u(project, s.build_up_id, "outdoors", "roof")
    elif s.kind == "exposed":
        kind, other, u = "floor to outdoors", "outdoors", _u(project, s.build_up_id, "outdoors", "floor")
    else:
        beyond = s.room_below if room_id == s.room_above else s.room_above
        kind, other, u = (
            "floor between",
            "a warm room" if beyond == INSIDE else beyond,
            _u(project, s.build_up_id, "inside", "floor"),
        )
    return FaceRow(
        f"slab/{s.id}",
        kind,
        room.level_id if room else "",
        room_id,
        other,
        area,
        0.0,
        0.0,
        s.azimuth_deg % 360 if s.kind == "roof" else None,
        s.tilt_deg if s.kind == "roof" else 180.0,
        u,
        s.build_up_id,
    )


def _u(project: Project, build_up_id: str, to: str, kind: str = "", slab: Slab | None = None) -> float | None:
    """As rooms count it; None for a build-up that cannot be computed."""
    build_up = find(project.build_ups, build_up_id)
    try:
        layers = core_layers(build_up, project.book)
    except InputError:
        return None
    if slab is not None:
        room = find(project.rooms, slab.room_above)
        if room is None:
            return float(slab_u_value(slab.area_m2, max(slab.perimeter_m, 1.0), resistance(layers)))
        return float(ground_u_value(project, room, slab, resistance(layers)))
    return float(u_inside(kind, layers) if to == "inside" else u_outdoors(kind, layers, outer_film(build_up)))
