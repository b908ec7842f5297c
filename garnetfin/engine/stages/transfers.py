"""Which rooms give air to which, and how much: what is typed, and for rooms that live on transfer air what they
lack.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.airflow.room_balance import transfer_order
from garnetfin.engine.results import Move
from garnetfin.project.lookup import walls_of
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule


def links(project: Project, members: Sequence[Room]) -> list[tuple[str, str, float | None, str]]:
    """(from, to, flow or None by rule, transfer id) between rooms of one system."""
    known = {r.id: r for r in members}
    found = [
        (t.from_room, t.to_room, None if isinstance(t.flow_m3s, Rule) else t.flow_m3s.value, t.id)
        for t in project.transfers
        if t.from_room in known and t.to_room in known
    ]
    fed = {to for _, to, _, _ in found}
    for room in members:
        if room.air == "transfer" and room.id not in fed:
            source = usual_source(project, room, known)
            if source:
                found.append((source, room.id, None, ""))
    return found


def usual_source(project: Project, room: Room, known: dict[str, Room]) -> str:
    """The neighbour that gives a room air by rule: through a door before through a wall, corridors before rooms."""
    ranked = []
    for wall in walls_of(project.walls, room.id):
        other = known.get(wall.other(room.id))
        if other is None or other.id == room.id or other.air == "transfer":
            continue
        door = any(o.kind in ("door", "glass wall") for o in wall.openings)
        ranked.append((not door, other.use_id != "corridor", other.number, other.id))
    return min(ranked)[3] if ranked else ""


def moves(
    project: Project, members: Sequence[Room], supply: NDArray[Any], extract: NDArray[Any], wanted: NDArray[Any]
) -> tuple[Move, ...]:
    """Transfers with their flows [m3/s].

    supply   what each room gets anyway (rooms,); extract (rooms,)
    wanted   outdoor air that a room without supply has to get by transfer (rooms,)
    A flow by rule is what the room it enters lacks, shared alike by all that are by rule into it.
    """
    found = links(project, members)
    if not found:
        return ()
    at = {r.id: i for i, r in enumerate(members)}
    pairs = np.array([(at[a], at[b]) for a, b, _, _ in found])
    flow = np.array([0.0 if q is None else q for _, _, q, _ in found])
    free = np.array([q is None for _, _, q, _ in found])
    # From the last room of a chain back to the first, since what a room gives on is part of what it lacks.
    for i in reversed(transfer_order(len(members), pairs)):
        into = np.flatnonzero((pairs[:, 1] == i) & free)
        if not len(into):
            continue
        out = flow[pairs[:, 0] == i].sum()
        given = flow[(pairs[:, 1] == i) & ~free].sum()
        asks = max(extract[i] + out, wanted[i] if members[i].air == "transfer" else 0.0)
        flow[into] = max(0.0, asks - supply[i] - given) / len(into)
    return tuple(Move(a, b, float(q), bool(f), i) for (a, b, _, i), q, f in zip(found, flow, free))
