"""The state list answered: rows of the project with what the rest of the chain knows."""

from garnetfin.core.psychro.properties import SEA_LEVEL_PA, standard_density
from garnetfin.core.psychro.worksheet import Answer, Entry, evaluate
from garnetfin.engine.results import Missing, Point, Results, TrainResult
from garnetfin.project.lookup import find
from garnetfin.project.state_list import ListRow
from garnetfin.project.systems import AirSystem

ENDS = {"supply": "Supply to rooms", "rooms": "Rooms", "return": "Return", "exhaust": "Exhaust"}


def answers(results: Results, points: dict[str, Point]) -> tuple[Answer, ...]:
    """One answer a row.

    `points`: the state in force of each air system; its design point of cooling where none is given.
    """
    climate = results.climate
    pressure = SEA_LEVEL_PA if isinstance(climate, Missing) else climate.pressure_pa
    rows = results.project.state_list
    outside = {
        f"{r.kind} {r.key}": _known(results, r, points) for r in rows if r.kind in ("outdoor", "air system", "room")
    }
    return evaluate([_entry(r) for r in rows], outside, pressure, standard_density(pressure))


def _entry(row: ListRow) -> Entry:
    given = ((row.a, row.a_value), (row.b, row.b_value)) if row.kind == "state" else ()
    kind = row.kind if row.kind in ("state", "mix", "process", "difference", "flow") else "outside"
    return Entry(
        row.id,
        row.name,
        kind,
        given,
        f"{row.kind} {row.key}",
        tuple(s.row for s in row.sources),
        tuple(s.share for s in row.sources),
        row.flow_m3s,
        row.load_w,
    )


def _known(results: Results, row: ListRow, points: dict[str, Point]) -> tuple[float, float] | str:
    if row.kind == "outdoor":
        climate = results.climate
        if isinstance(climate, Missing):
            return f"{climate.reason}: {climate.remedy}"
        if row.key == "winter":
            return climate.figures.winter_c.figure, climate.winter_ratio
        month, hour = climate.days.dry_bulb_c.argmax() // 24, climate.days.dry_bulb_c.argmax() % 24
        return float(climate.days.dry_bulb_c[month, hour]), float(climate.days.humidity_ratio[month, hour])
    if row.kind == "room":
        room = find(results.project.rooms, row.key)
        found = results.trains.get(room.system_id) if room is not None else None
        if not isinstance(found, TrainResult) or row.key not in found.room_ids:
            return "the room is gone, or no air system serves it"
        point, at = points.get(found.system_id, found.cooling), found.room_ids.index(row.key)
        return float(point.solved.room_c[at, point.i]), float(point.solved.room_w[at, point.i])
    system_id, _, node = row.key.partition("/")
    found = results.trains.get(system_id)
    point = points.get(system_id, found.cooling) if isinstance(found, TrainResult) else None
    if point is None or node not in point.solved.nodes:
        return "no such place in the unit"
    return point.node(node)[:2]


def places(system: AirSystem, found: TrainResult) -> tuple[tuple[str, str], ...]:
    """Places in a train that have a state: (node, title), in the order of the air."""
    nodes = found.cooling.solved.nodes
    behind = tuple(
        (p.id, f"behind {p.title.lower()}")
        for p in system.parts
        if p.id in nodes and p.kind not in ("rooms", "terminals", "relief")
    )
    return (("outdoor", "Outdoor"), *behind, *((n, t) for n, t in ENDS.items() if n in nodes))
