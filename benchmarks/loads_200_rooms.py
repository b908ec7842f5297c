"""Loads of 200 rooms x 12 months x 24 hours, from the project tree to results; the sun's way is known."""

import statistics
import time

from msgspec import structs

from garnetfin.engine.memo import Memo
from garnetfin.engine.stages.climate import climate
from garnetfin.engine.stages.loads import loads
from garnetfin.project.tree import Project
from garnetfin.ui.example import example_project

TARGET_S = 0.15


def large(copies: int = 200) -> Project:
    """Rooms of the example repeated, each with walls, slabs and openings of its own, to the number wanted."""
    base = example_project()
    rooms, walls, slabs = [], [], []
    for k in range(copies):
        room = base.rooms[k % len(base.rooms)]
        new = f"c{k}"
        rooms.append(structs.replace(room, id=new, system_id=base.air_systems[0].id))

        def own(other: str, room=room, new=new) -> str:
            return new if other == room.id else "" if other == "" else "shaft"

        # Every copy of the building stands apart, so that it shades itself and no other one.
        far = 400.0 * (k // len(base.rooms))
        walls += [
            structs.replace(
                w,
                id=f"{w.id}-{k}",
                room_a=new,
                room_b=own(w.other(room.id)),
                start=(w.start[0] + far, w.start[1]),
                end=(w.end[0] + far, w.end[1]),
            )
            for w in base.walls
            if room.id in (w.room_a, w.room_b)
        ]
        slabs += [
            structs.replace(s, id=f"{s.id}-{k}", room_below=own(s.room_below), room_above=own(s.room_above))
            for s in base.slabs
            if room.id in (s.room_below, s.room_above)
        ]
    return structs.replace(base, rooms=tuple(rooms), walls=tuple(walls), slabs=tuple(slabs), terminals=(), segments=())


def measure() -> dict:
    project, taken = large(), []
    warm = Memo()
    weather = climate(project.site, warm)
    loads(project, weather, warm)  # SciPy, tables and admittances are loaded once a process
    for _ in range(5):
        memo = Memo()
        began = time.perf_counter()
        found = loads(project, weather, memo)
        taken.append(time.perf_counter() - began)
    assert len(found) == 200
    return {
        "name": "loads of 200 rooms x 12 months x 24 h",
        "median_s": round(statistics.median(taken), 4),
        "least_s": round(min(taken), 4),
        "target_s": TARGET_S,
    }
