"""The void above a ceiling that return air passes: a room without plant, warmed by roof and lights, swept by the room's
air.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from msgspec import structs
from numpy.typing import NDArray

from garnetfin.core.fabric.layers import Layer, resistance
from garnetfin.core.loads.rooms import room_loads
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Climate, Face
from garnetfin.engine.stages.drive import Row, drive, plant_hours
from garnetfin.engine.stages.faces import ABSORBED_CEILING, HC_CEILING, HC_FLOOR, HR_USUAL, R_SI, RoomFabric, Surface
from garnetfin.project.tree import Project

LIGHTS_TO_VOID = 0.4  # of recessed lights; project default
TILE = (Layer(0.02, 0.06, 300.0, 1000.0),)
SUPPLY_BELOW_K = 10.0  # room above supply air, for the flow that passes the void
SWEEPS, FIRST_FLOW_M3S_M2 = 2, 0.005


@dataclass(frozen=True, slots=True, eq=False)
class Void:
    """seen_c (12, 24) what the ceiling's far side feels; air_c (12, 24); return_gain_w (12, 24) carried to the coil."""

    row: Row  # the room with its tiles in the place of what is above
    seen_c: NDArray[np.float64]
    air_c: NDArray[np.float64]
    return_gain_w: NDArray[np.float64]


def void_id(room_id: str) -> str:
    return f"{room_id}+void"


def voids(
    project: Project, climate: Climate, rows: Sequence[Row], air_heat: float, memo: Memo, beside
) -> dict[str, Void]:
    """The voids of those rooms that have one, by room id.

    Two sweeps: the flow follows the load, which hangs on the void.
    """
    chosen = [row for row in rows if row.room.plenum_m > 0 and any(_above(s) for s in row.fabric.surfaces)]
    if not chosen:
        return {}
    area = np.array([row.figures.area_m2.figure for row in chosen])
    flow = FIRST_FLOW_M3S_M2 * area
    tiled = [_tiled(row) for row in chosen]
    above = [_void_row(row) for row in chosen]
    hours = [plant_hours(row.figures, False) for row in above]
    set_point = np.array([row.figures.cooling_c.figure for row in chosen])
    for _ in range(SWEEPS):
        days = drive(
            project,
            climate,
            above,
            hours,
            air_heat,
            memo,
            lambda i: np.full((12, 24), dict(zip((r.room.id for r in chosen), set_point)).get(i, 24.0)),
        )
        exchange = flow * air_heat
        # The room's air passes through: an exchange with its set-point, written as one with outdoors and the difference
        # as heat.
        carried = exchange[:, None, None] * (set_point[:, None, None] - days.outdoor_c)
        convective = (
            np.repeat(days.convective_w[:, :, None], 12, axis=2)
            if days.convective_w.ndim == 3
            else days.convective_w.copy()
        )
        radiant = np.repeat(days.radiant_w[:, :, None], 12, axis=2) if days.radiant_w.ndim == 3 else days.radiant_w
        convective[2] += carried
        found = room_loads(replace(days, convective_w=convective, radiant_w=radiant, exchange_w_k=exchange))
        seen = (HC_FLOOR * found.air_c + HR_USUAL * found.star_c) / (HC_FLOOR + HR_USUAL)
        known = {void_id(row.room.id): seen[k] for k, row in enumerate(chosen)}
        rooms = drive(
            project,
            climate,
            tiled,
            [plant_hours(row.figures, True) for row in tiled],
            air_heat,
            memo,
            lambda i: known[i] if i in known else beside(i),
        )
        peak = room_loads(rooms).sensible_w.reshape(len(chosen), -1).max(axis=1)
        flow = np.maximum(peak, 0.0) / (air_heat * SUPPLY_BELOW_K) + 1e-4
    gain = exchange[:, None, None] * (found.air_c - set_point[:, None, None])
    return {row.room.id: Void(tiled[k], seen[k], found.air_c[k], gain[k]) for k, row in enumerate(chosen)}


def _above(surface: Surface) -> bool:
    return surface.face.kind in ("roof", "ceiling")


def _tiled(row: Row) -> Row:
    """The room below its ceiling tiles."""
    top = [s for s in row.fabric.surfaces if _above(s)]
    area = sum(s.face.area_m2 for s in top)
    out = sum(s.face.area_m2 * s.face.u_w_m2k for s in top if s.face.to == "outdoors")
    u = 1 / (2 * R_SI["roof"] + resistance(TILE))
    tile = Surface(
        Face("ceiling", f"void:{void_id(row.room.id)}", area, u, 0.0, 0.0, "ceiling tiles below a void"),
        TILE,
        HC_FLOOR + HR_USUAL,
        HC_CEILING,
        "room",
        "roofs",
        0.0,
        ABSORBED_CEILING,
        other_id=void_id(row.room.id),
        void_ua=out,
    )
    kept = tuple(s for s in row.fabric.surfaces if not _above(s))
    return replace(row, fabric=RoomFabric((*kept, tile), row.fabric.b_factors), lights_kept=1 - LIGHTS_TO_VOID)


def _void_row(row: Row) -> Row:
    """The void itself: what is above the room, the tiles from above, and its share of the lights."""
    top = tuple(s for s in row.fabric.surfaces if _above(s))
    area = sum(s.face.area_m2 for s in top)
    floor = Surface(
        Face("floor", f"room:{row.room.id}", area, 1.0, 0.0, 180.0, "ceiling tiles"),
        TILE,
        HC_CEILING + HR_USUAL,
        HC_FLOOR,
        "room",
        "rooms beside",
        0.0,
        0.5,
        True,
        other_id=row.room.id,
    )
    f = row.figures
    nobody = replace(
        f,
        people=replace(f.people, figure=0.0),
        equipment_w_m2=replace(f.equipment_w_m2, figure=0.0),
        infiltration_1h=replace(f.infiltration_1h, figure=0.0),
    )
    room = structs.replace(row.room, id=void_id(row.room.id), system_id="")
    return Row(room, nobody, RoomFabric((*top, floor), ()), False, area * row.room.plenum_m, LIGHTS_TO_VOID)
