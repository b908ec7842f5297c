"""Air systems as plain JSON: flows, outdoor air of rooms, states of every part at the design hours, coils, plant."""

from typing import Any

from garnetfin.engine.results import AirResult, Missing, Plant, Point, Results, RoomAir, TrainResult
from garnetfin.engine.studies.coil_sheet import air_state
from garnetfin.project.lookup import find

HEATS = ("preheat", "heating")


def air_system(results: Results, system_id: str) -> dict[str, Any]:
    """Flows of a system, what arrives in its rooms, and its train at its design hours."""
    flows, found = results.air.get(system_id), results.trains.get(system_id)
    if not isinstance(flows, AirResult):
        return _missing(flows)
    return {
        "supply_c": flows.figures.supply_c.figure,
        "flow_m3s": flows.flow_m3s,
        "outdoor_m3s": flows.outdoor_m3s,
        "outdoor_origin": flows.outdoor.origin,
        "outdoor_source": str(flows.outdoor.source),
        "least_intake_m3s": flows.fresh.least_m3s if flows.fresh is not None else None,
        "critical_room": _number(results, flows.critical_room) or None,
        "density_kg_m3": flows.density_kg_m3,
        "rooms": [_room(results, r, flows.arrives_m3s[r.room_id]) for r in flows.rooms],
        "train": _train(results, found) if isinstance(found, TrainResult) else _missing(found),
    }


def plant(found: Plant | Missing) -> dict[str, Any]:
    """What the central plant gives and the water it moves."""
    if isinstance(found, Missing):
        return _missing(found)
    month, hour = found.cooling_at
    return {
        "cooling_w": found.cooling_w,
        "cooling_month": month + 1,
        "cooling_hour": hour,
        "cooling_sum_w": found.cooling_sum_w,
        "heating_w": found.heating_w,
        "chilled_water_m3s": found.chilled_m3s,
        "hot_water_m3s": found.hot_m3s,
        "plant_room_m2": found.plant_m2,
        "air_handlers_m2": found.handlers_m2,
        "stands_on_estimates": found.estimated,
    }


def _missing(found: object) -> dict[str, str]:
    gone = found if isinstance(found, Missing) else Missing("no system")
    return {"missing": str(gone.reason), "remedy": str(gone.remedy)}


def _number(results: Results, room_id: str) -> str:
    room = find(results.project.rooms, room_id) if room_id else None
    return room.number if room is not None else ""


def _room(results: Results, row: RoomAir, arrives_m3s: float) -> dict[str, Any]:
    return {
        "room": _number(results, row.room_id),
        "supply_m3s": row.flow_m3s,
        "least_m3s": row.least_m3s,
        "transfer_in_m3s": row.transfer_in_m3s,
        "transfer_out_m3s": row.transfer_out_m3s,
        "outdoor_wanted_m3s": row.wanted_m3s,
        "outdoor_arrives_m3s": arrives_m3s,
    }


def _train(results: Results, found: TrainResult) -> dict[str, Any]:
    return {name: _at(results, found, point) for name, point in (("summer", found.cooling), ("winter", found.heating))}


def _at(results: Results, found: TrainResult, point: Point) -> dict[str, Any]:
    """All states and heats of the train at one hour."""
    solved, i = point.solved, point.i
    recovery = sum(point.heat_w(p.id) for p in found.parts if p.kind == "recovery")
    return {
        "month": point.month + 1 if point.month >= 0 else None,
        "hour": point.hour if point.month >= 0 else None,
        "cooling_w": point.cooling_w,
        "heating_w": found.heater_w(point),
        "reheat_w": float(solved.reheat_w[:, i].sum()),
        "zone_heat_w": float(solved.zone_w[:, i].sum()),
        "room_units_w": float(solved.unit_w[:, i].sum()),
        "recovered_w": recovery,
        "outdoor_kg_s": point.of(solved.outdoor_kg_s),
        "closes_within_w": max(abs(float(v[i])) for v in solved.energy.values()),
        "states": [_state(point, key, found.pressure_pa) for key in solved.nodes],
        "coils": [
            {
                "part": part_id,
                "total_w": float(coil.total_w[i]),
                "sensible_w": float(coil.sensible_w[i]),
                "condensate_kg_s": float(coil.condensate_kg_s[i]),
            }
            for part_id, coil in solved.coils.items()
        ],
        "heaters": [{"part": p.id, "heat_w": point.heat_w(p.id)} for p in found.parts if p.kind in HEATS],
        "humidifiers": [
            {"part": p.id, "water_kg_s": float(solved.water_kg_s[p.id][i])}
            for p in found.parts
            if p.kind == "humidifier"
        ],
        "rooms": [
            {
                "room": _number(results, room_id),
                "supply_kg_s": float(solved.supply_kg_s[k, i]),
                "supply_c": float(solved.supply_c[k, i]),
                "room_c": float(solved.room_c[k, i]),
                "humidity_ratio_kg_kg": float(solved.room_w[k, i]),
                "reheat_w": float(solved.reheat_w[k, i]),
                "unit_w": float(solved.unit_w[k, i]),
            }
            for k, room_id in enumerate(found.room_ids)
        ],
    }


def _state(point: Point, key: str, pressure_pa: float) -> dict[str, Any]:
    state = air_state(*point.node(key), pressure_pa)
    return {
        "behind": key,
        "dry_bulb_c": state.t,
        "humidity_ratio_kg_kg": state.w,
        "relative_humidity_share": state.rh,
        "enthalpy_j_kg": state.h,
        "flow_kg_s": state.m,
    }
