"""All results as plain JSON: keys carry their unit, arrays are named by a legend at the top."""

import math
from typing import Any

import numpy as np

from garnetfin import __version__
from garnetfin.cli.air_json import air_system, plant
from garnetfin.engine.equipment.schedules import KEYS, Line, Schedule, schedule
from garnetfin.engine.results import (
    CAUSES,
    HEATING_CAUSES,
    NEEDS,
    Block,
    Climate,
    DuctResult,
    FanResult,
    Missing,
    Results,
    RoomResult,
    there,
)
from garnetfin.project.lookup import find

UNITS = {
    "_w": "W",
    "_c": "degC",
    "_m3s": "m3/s",
    "_pa": "Pa",
    "_m": "m",
    "_m2": "m2",
    "_m3": "m3",
    "_kg": "kg",
    "_kg_m3": "kg/m3",
    "_kg_s": "kg/s",
    "_kg_kg": "kg/kg dry air",
    "_j_kg": "J/kg dry air",
    "_m_s": "m/s",
    "_pa_m": "Pa/m",
    "_deg": "degree",
    "_rpm": "1/min",
    "_w_m2k": "W/(m2 K)",
    "_db": "dB",
    "_share": "of 1",
}


def as_json(results: Results) -> dict[str, Any]:
    """Every room hour by hour with causes, flows, segments, index run, operating point, findings."""
    project = results.project
    return {
        "made_by": f"garnetfin {__version__}",
        "project": project.name,
        "units_by_key_ending": UNITS,
        "arrays": {
            "hours": "month 1..12 x hour 0..23 of the 21st, standard time, hour means",
            "causes": list(CAUSES),
            "heating_causes": list(HEATING_CAUSES),
            "needs": list(NEEDS),
        },
        "climate": _climate(results.climate),
        "rooms": [_room(results, r) for r in project.rooms],
        "together": {system_id or "all": _block(b) for system_id, b in results.blocks.items()},
        "air_systems": [
            {
                "id": s.id,
                "name": s.name,
                "air": air_system(results, s.id),
                "ducts": _ducts(results, s.id),
                "duct_heat": _duct_heat(results, s.id),
                "fan": _fan(results.fans[s.id]),
                "other_fans": {way: _fan(found) for (i, way), found in results.other_fans.items() if i == s.id},
                "real_flows": _real(results, s.id),
            }
            for s in project.air_systems
        ],
        "plant": plant(results.plant),
        "equipment": {
            s.key: [_equipment(s, line) for line in s.lines] for s in (schedule(results, key) for key, _ in KEYS)
        },
        "findings": [
            {
                "code": f.code,
                "link": f.link,
                "kind": f.kind,
                "object": f.object_id,
                "title": f.title,
                "reason": f.reason,
                "severity": f.severity,
                "mends": [m.label for m in f.mends],
            }
            for f in results.findings
        ],
    }


def _equipment(of: Schedule, line: Line) -> dict[str, Any]:
    """One piece of a schedule by the keys of its columns."""
    cells = {
        c.key: cell if isinstance(cell, str) else _figure(cell) for c, cell in zip(of.columns, line.cells, strict=True)
    }
    return {"id": line.id, **cells, "pinned": sorted(line.fixed), "remark": line.remark}


def _missing(value: Missing) -> dict[str, str]:
    return {"missing": value.reason, "remedy": value.remedy}


def _rounded(array: np.ndarray, digits: int = 3) -> list:
    return np.round(np.asarray(array, float), digits).tolist()


def _figure(value: float) -> float | None:
    """JSON knows neither NaN nor infinity."""
    return float(value) if math.isfinite(value) else None


def _climate(climate: Climate | Missing) -> dict:
    if isinstance(climate, Missing):
        return _missing(climate)
    return {
        "pressure_pa": climate.pressure_pa,
        "dry_air_density_kg_m3": climate.dry_air_kg_m3,
        "winter_c": climate.figures.winter_c.figure,
        "dry_bulb_c": _rounded(climate.days.dry_bulb_c),
        "wet_bulb_c": _rounded(climate.days.wet_bulb_c),
        "humidity_ratio_kg_kg": _rounded(climate.days.humidity_ratio, 6),
    }


def _room(results: Results, room) -> dict:
    found, air = results.rooms[room.id], results.room_air.get(room.id)
    head = {
        "id": room.id,
        "number": room.number,
        "name": room.name,
        "level": room.level_id,
        "served": bool(room.system_id),
    }
    if isinstance(found, Missing):
        return {**head, **_missing(found)}
    found: RoomResult
    f = found.figures
    month, hour = found.peak
    inputs = {
        name: {
            "figure": getattr(f, name).figure,
            "origin": getattr(f, name).origin,
            "by_rule": getattr(f, name).by_rule,
            "source": getattr(f, name).source,
        }
        for name in (
            "area_m2",
            "cooling_c",
            "heating_c",
            "people",
            "lights_w_m2",
            "equipment_w_m2",
            "infiltration_1h",
            "air_change_1h",
            "outdoor_m3s",
        )
    }
    return {
        **head,
        "inputs": inputs,
        "volume_m3": found.volume_m3,
        "faces": [
            {
                "kind": x.kind,
                "to": x.to,
                "area_m2": x.area_m2,
                "u_w_m2k": x.u_w_m2k,
                "azimuth_deg": x.azimuth_deg,
                "tilt_deg": x.tilt_deg,
                "name": x.name,
            }
            for x in found.faces
        ],
        "cooling_peak_w": found.peak_w,
        "peak_month": month + 1,
        "peak_hour": hour,
        "heating_w": found.heating_w,
        "heating_by_cause_w": dict(zip(HEATING_CAUSES, _rounded(found.heating_by_cause_w))),
        "has_plant": found.kept,
        "stands_on_area_alone": found.estimate is not None,
        "winter_c": found.winter_c,
        "heating_balanced_w": found.heating_balanced_w,
        "start_up_w": found.start_up_w,
        "warm_up_w": found.warm_up_w,
        "air_c": _rounded(found.air_c, 2),
        "sensible_w": _rounded(found.sensible_w),
        "latent_w": _rounded(found.latent_w),
        "by_cause_w": {c: _rounded(v) for c, v in zip(CAUSES, found.by_cause_w)},
        "supply_m3s": air.flow_m3s if air else None,
        "governs": air.governs if air else None,
        "needs_m3s": dict(zip(NEEDS, map(_figure, air.needs_m3s))) if air else None,
        "outdoor_wanted_m3s": air.wanted_m3s if air else None,
        "extract_m3s": air.extract_m3s if air else None,
        "return_m3s": air.return_m3s if air else None,
    }


def _block(block: Block | Missing) -> dict:
    if isinstance(block, Missing):
        return _missing(block)
    return {
        "rooms": len(block.room_ids),
        "cooling_peak_w": block.peak_w,
        "peak_month": block.peak[0] + 1,
        "peak_hour": block.peak[1],
        "heating_w": block.heating_w,
        "sum_of_room_peaks_w": block.sum_of_peaks_w,
        "sensible_w": _rounded(block.sensible_w),
    }


def _ducts(results: Results, system_id: str) -> dict:
    ducts = results.ducts[system_id]
    if isinstance(ducts, Missing):
        return _missing(ducts)
    ducts: DuctResult
    return {
        "length_m": ducts.length_m,
        "steel_kg": ducts.mass_kg,
        "flow_m3s": ducts.flow_m3s,
        "leak_m3s": ducts.leak_m3s,
        "needed_pa": ducts.runs.fan_pa,
        "index_run": {
            "terminal": ducts.index.label,
            "segments": list(ducts.path(ducts.index.segment_id)),
            "loss_pa": ducts.index.run_pa,
        },
        "segments": [
            {
                "id": s.segment_id,
                "shape": s.section.shape,
                "width_m": s.section.width_m,
                "height_m": s.section.height_m,
                "pinned": s.pinned,
                "flow_m3s": s.flow_m3s,
                "length_m": s.length_m,
                "velocity_m_s": s.velocity_m_s,
                "friction_pa_m": s.friction_pa_m,
                "friction_pa": s.friction_pa,
                "flexible_pa": s.flexible_pa,
                "fittings": [
                    {"name": f.name, "k": f.k, "reference": f.reference, "loss_pa": f.pressure_pa} for f in s.fittings
                ],
                "loss_pa": s.loss_pa,
                "leak_m3s": s.leak_m3s,
                "tightness": s.tightness,
                "left_pa": _figure(s.left_pa),
                "clear_height_m": _figure(s.clear_height_m),
                "steel_kg": s.mass_kg,
            }
            for s in ducts.segments.values()
        ],
        "terminals": [
            {
                "label": t.label,
                "room": find(results.project.rooms, t.room_id).number,
                "flow_m3s": t.flow_m3s,
                "model": t.point.model,
                "terminal_pa": t.point.pressure_pa,
                "run_pa": t.run_pa,
                "surplus_pa": t.surplus_pa,
                "damper_deg": t.damper.angle_deg,
            }
            for t in ducts.terminals
        ],
    }


def _real(results: Results, system_id: str) -> dict:
    """What rooms really get as designed, and how loud they are."""
    flows, noise = results.real.get(system_id), results.noise.get(system_id)
    if flows is None or isinstance(flows, Missing):
        return _missing(flows or Missing("no system"))
    numbers = {r.id: r.number for r in results.project.rooms}
    heard = {} if noise is None or isinstance(noise, Missing) else noise.rooms
    return {
        "converged": flows.converged,
        "residual_pa": flows.residual_pa,
        "residual_m3s": flows.residual_m3s,
        "fan_m3s": flows.fan_m3s,
        "fan_pa": flows.fan_pa,
        "rooms": [
            {
                "room": numbers[r.room_id],
                "design_m3s": r.design_m3s,
                "real_m3s": r.real_m3s,
                "short_of": list(r.short),
                "cooling_lacks_w": r.lacks_w,
                "warmer_k": r.warmer_k,
                "noise_nc": heard[r.room_id].nc if r.room_id in heard else None,
            }
            for r in flows.rooms
        ],
    }


def _duct_heat(results: Results, system_id: str) -> dict | None:
    heat = results.duct_heat.get(system_id)
    if heat is None:
        return None
    return {
        "ua_w_k": heat.ua_w_k,
        "surface_m2": heat.surface_m2,
        "around_c": heat.mean_around_c,
        "at_unit_c": heat.root_c,
        "gained_w": sum(heat.gained_w.values()),
        "terminals_c": heat.terminal_c,
        "segments": {
            i: {
                "runs_in": kind,
                "around_c": heat.around_c[i],
                "u_w_m2k": heat.u_w_m2k[i],
                "start_c": heat.start_c[i],
                "end_c": heat.end_c[i],
                "gained_w": heat.gained_w[i],
                "outside_c": heat.outside_c[i],
                "dew_c": heat.dew_c[i],
            }
            for i, kind in heat.kinds.items()
        },
    }


def _fan(fan: FanResult | Missing) -> dict:
    if isinstance(fan, Missing):
        return _missing(fan)
    found = {
        "wanted_m3s": fan.wanted_m3s,
        "wanted_pa": fan.wanted_pa,
        "duct_pa": fan.duct_pa,
        "parts": [{"name": name, "loss_pa": pa} for name, pa in fan.part_pa],
    }
    if isinstance(fan.chosen, Missing):
        return {**found, **_missing(fan.chosen)}
    p = there(fan.point)
    return {
        **found,
        "fan": fan.chosen.fan_id,
        "speed_rpm": fan.chosen.speed_rpm,
        "operating_point": {
            "flow_m3s": p.flow_m3s,
            "total_pa": p.pressure_pa,
            "shaft_w": p.shaft_w,
            "electric_w": p.electric_w,
            "efficiency_share": p.efficiency,
            "from_stall_share": p.from_stall,
            "specific_w_per_m3s": p.specific_w_m3s,
        },
    }
