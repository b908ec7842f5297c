"""The void above a ceiling that return air passes: a room without plant, warmed by roof and lights, swept by the room's
air.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from msgspec import structs
from numpy.typing import NDArray

from garnetfin.core.fabric.layers import Layer, resistance
from garnetfin.core.loads.balance import HR_USUAL
from garnetfin.core.loads.rooms import RoomDays, RoomLoads, room_loads
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Climate, Face, Felt
from garnetfin.engine.stages.boundary_conditions import Row, boundary_conditions, plant_hours, summer_months, sun_inside
from garnetfin.engine.stages.faces import ABSORBED, HC_CEILING, HC_FLOOR, R_SI, RoomFabric, Surface
from garnetfin.project.lookup import walls_of
from garnetfin.project.tree import Project

LIGHTS_TO_VOID = 0.4  # of recessed lights; project default
TILE = (Layer(0.02, 0.06, 300.0, 1000.0),)
TILE_ABSORPTANCE = 0.5  # of the upper side
SUPPLY_BELOW_K = 10.0  # room above supply air, for the flow that passes the void
MOST_TURNS, SETTLED_K, FIRST_FLOW_M3S_M2 = 30, 0.02, 0.005
MOST_OF_A_WALL = 0.9  # that may stand at the void's height; the rest keeps the room's windows


@dataclass(frozen=True, slots=True, eq=False)
class Void:
    """A void and the room below it, once they have settled."""

    row: Row  # the room with its tiles in the place of what is above
    felt: Felt
    return_gain_w: NDArray[np.float64]  # (12, 24) carried to the coil


def void_id(room_id: str) -> str:
    return f"{room_id}+void"


def voids(project: Project, climate: Climate, rows: Sequence[Row], memo: Memo) -> dict[str, Void]:
    """The voids of those rooms that have one, by room id.

    Room and void are taken in turns until what they feel of each other no longer moves; the flow follows the load,
    which hangs on the void.
    """
    chosen = [row for row in rows if row.room.plenum_m > 0 and any(_above(s) for s in row.fabric.surfaces)]
    settled = (_settled(project, climate, row, memo) for row in chosen)
    return {row.room.id: void for row, void in zip(chosen, settled)}


def _settled(project: Project, climate: Climate, row: Row, memo: Memo) -> Void:
    heat = climate.air_heat_j_m3k
    below, above = tiled(project, row), _void_row(project, row)
    hours, drifts = plant_hours(row.figures, True, project.site), plant_hours(row.figures, False, project.site)
    nothing = np.zeros((12, 24))
    set_point = np.full((12, 24), row.figures.cooling_c.figure)
    room = void = Felt(set_point, set_point, nothing, nothing)
    flow, gain = FIRST_FLOW_M3S_M2 * row.figures.area_m2.figure, nothing
    for _ in range(MOST_TURNS):
        above = replace(above, beside={**above.beside, row.room.id: room})
        days = boundary_conditions(project, climate, [above], [drifts], heat, memo)
        # Air passes while the plant runs, and brings what the room holds then.
        passes = flow * heat * hours.months.on
        found = _swept(project, days, passes, room.air_c)
        before, void = void, _felt([above], days, found)
        gain = passes * (void.air_c - room.air_c)
        below = replace(below, beside={**below.beside, void_id(row.room.id): void})
        days = boundary_conditions(project, climate, [below], [hours], heat, memo)
        loads = room_loads(days)
        moved = max(void.moved_k(before), room.moved_k(now := _felt([below], days, loads)))
        room = now
        wanted = max(0.0, float(loads.sensible_w.max())) / (heat * SUPPLY_BELOW_K) + 1e-4
        steady, flow = abs(wanted - flow) < 1e-3 * flow, wanted
        if moved < SETTLED_K and steady:
            break
    return Void(below, void, gain)


def _felt(rows: list[Row], days: RoomDays, found: RoomLoads) -> Felt:
    spread, floors = sun_inside(rows, days)
    return Felt(found.air_c[0], found.star_c[0], spread[0], floors[0])


def _swept(project: Project, days: RoomDays, passes_w_k: NDArray[Any], room_c: NDArray[Any]) -> RoomLoads:
    """The void's days with the room's air passing it (12, 24) [W/K].

    An exchange with the room is written as one with outdoors, and the difference as heat. The hours of the plant move
    with the clock: the months of summer time are their own days.
    """
    convective, radiant = (
        np.repeat(x[:, :, None], 12, axis=2) if x.ndim == 3 else x.copy() for x in (days.convective_w, days.radiant_w)
    )
    convective[2, 0] += passes_w_k * (room_c - days.outdoor_c)
    summer = set(summer_months(project.site))
    parts = []
    for months in (sorted(set(range(12)) - summer), sorted(summer)):
        if months:
            leak = days.exchange_w_k[:, None] + passes_w_k[months[0]]
            parts.append(
                (months, room_loads(replace(days, convective_w=convective, radiant_w=radiant, exchange_w_k=leak)))
            )
    found = parts[0][1]
    if len(parts) > 1:
        air, star = found.air_c.copy(), found.star_c.copy()
        months, other = parts[1]
        air[:, months], star[:, months] = other.air_c[:, months], other.star_c[:, months]
        found = replace(found, air_c=air, star_c=star)
    return found


def _above(surface: Surface) -> bool:
    return surface.face.kind in ("roof", "ceiling")


def _at_void(project: Project, row: Row, surface: Surface) -> float:
    """How much of an outside wall stands at the height of the void [m2]."""
    if surface.face.kind != "wall" or surface.face.to != "outdoors":
        return 0.0
    walls = walls_of(project.walls, row.room.id)
    first = next((w for w in walls if w.id == surface.face.wall_id), None)
    if first is None:
        return 0.0
    length = sum(
        w.length_m
        for w in walls
        if w.outside
        and (w.facing_deg % 360, w.build_up_id, w.buried_m > 0)
        == (first.facing_deg % 360, first.build_up_id, first.buried_m > 0)
    )
    return min(float(length) * row.room.plenum_m, MOST_OF_A_WALL * surface.face.area_m2)


def _of_size(surface: Surface, area_m2: float) -> Surface:
    return replace(surface, face=replace(surface.face, area_m2=area_m2))


def lost_above(project: Project, row: Row) -> list[tuple[Surface, float]]:
    """Faces of a room that its void has instead, and what they lose to outdoors [W/K]: what is above, and the walls at
    the void's height; to an unheated room above by its share of the drop."""
    b = dict(row.fabric.b_factors)
    found = []
    for s in row.fabric.surfaces:
        edge = s.face.area_m2 if _above(s) else _at_void(project, row, s)
        share = 1.0 if s.face.to == "outdoors" else b.get(s.other_id, 0.0)
        if edge and share:
            found.append((_of_size(s, edge), edge * s.face.u_w_m2k * share))
    return found


def tiled(project: Project, row: Row) -> Row:
    """The room below its ceiling tiles."""
    area = sum(s.face.area_m2 for s in row.fabric.surfaces if _above(s))
    lost = sum(ua for _, ua in lost_above(project, row))
    kept = []
    for s in row.fabric.surfaces:
        if not _above(s):
            edge = _at_void(project, row, s)
            kept.append(_of_size(s, s.face.area_m2 - edge) if edge else s)
    u = 1 / (2 * R_SI["roof"] + resistance(TILE))
    tile = Surface(
        Face("ceiling", f"void:{void_id(row.room.id)}", area, u, 0.0, 0.0, "ceiling tiles below a void"),
        TILE,
        HC_FLOOR + HR_USUAL,
        HC_CEILING,
        "room",
        "roofs",
        0.0,
        ABSORBED["ceiling"],
        other_id=void_id(row.room.id),
        void_ua=lost,
        far_hc=HC_FLOOR,
        far_absorptance=TILE_ABSORPTANCE,
        far_is_floor=True,
    )
    return replace(row, fabric=RoomFabric((*kept, tile), row.fabric.b_factors), lights_kept=1 - LIGHTS_TO_VOID)


def _void_row(project: Project, row: Row) -> Row:
    """The void itself: what is above the room, the walls at its height, the tiles from above, its share of the
    lights."""
    top = tuple(s for s in row.fabric.surfaces if _above(s))
    area = sum(s.face.area_m2 for s in top)
    edges = tuple(_of_size(s, edge) for s in row.fabric.surfaces if (edge := _at_void(project, row, s)))
    floor = Surface(
        Face("floor", f"room:{row.room.id}", area, 1.0, 0.0, 180.0, "ceiling tiles"),
        TILE,
        HC_CEILING + HR_USUAL,
        HC_FLOOR,
        "room",
        "adjacent rooms",
        0.0,
        TILE_ABSORPTANCE,
        True,
        other_id=row.room.id,
        far_hc=HC_CEILING,
        far_absorptance=ABSORBED["ceiling"],
    )
    f = row.figures
    nobody = replace(
        f,
        people=replace(f.people, figure=0.0),
        equipment_w_m2=replace(f.equipment_w_m2, figure=0.0),
        infiltration_1h=replace(f.infiltration_1h, figure=0.0),
    )
    room = structs.replace(row.room, id=void_id(row.room.id), system_id="", by_units=False)
    fabric = RoomFabric((*top, *edges, floor), ())
    return Row(room, nobody, fabric, False, area * row.room.plenum_m, LIGHTS_TO_VOID, row.beside)
