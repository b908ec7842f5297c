"""Air: supply flow of every room of a system, and what governs it."""

import numpy as np

from garnetfin.core.airflow.supply import NEEDS, room_flows
from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import SystemFigures, system_figures
from garnetfin.engine.results import AirResult, Climate, Missing, RoomAir, RoomResult
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule

SUPPLY_RATIO = 0.0085              # humidity of the supply air until a coil is computed; project default


def air_system(project: Project, system: AirSystem, climate: Climate | Missing,
               rooms: dict[str, RoomResult | Missing], memo: Memo) -> AirResult | Missing:
    if isinstance(climate, Missing):
        return climate
    members = [room for room in project.rooms if room.system_id == system.id]
    if not members:
        return Missing("no rooms", "Serve rooms by this air system")
    known = [(m, rooms[m.id]) for m in members if isinstance(rooms[m.id], RoomResult)]
    if not known:
        return Missing("no loads", "See Loads for what is missing")
    figures = system_figures(system)
    # All that SystemFigures holds is part of the row, so that later stages never meet a figure of yesterday.
    row = key(system.supply_c, system.warm_limit_k, system.friction_pa_m, system.allowance, system.motor_efficiency, climate,
              tuple(r for _, r in known),
              tuple((m.air, m.supply_m3s) for m, _ in known))
    try:
        return memo.one("air", row, lambda: _compute(system, figures, climate, known))
    except InputError as error:
        return Missing("too warm", str(error))


def _compute(system: AirSystem, figures: SystemFigures, climate: Climate, known: list) -> AirResult:
    results = [r for _, r in known]
    supply_c = np.array([(r.figures.supply_c or figures.supply_c).figure for r in results])
    heat = climate.dry_air_kg_m3 * float(air.specific_heat(SUPPLY_RATIO))

    def column(values) -> np.ndarray:
        return np.array(list(values), float)

    too_warm = [c for r, c in zip(results, supply_c) if r.peak_w > 0 and r.figures.cooling_c.figure <= c]
    if too_warm:
        raise InputError(f"Supply air of {too_warm[0]:g} °C cannot cool {len(too_warm)} rooms",
                         where=f"air system {system.name}", remedy="Lower the supply temperature")
    flows = room_flows(
        column(max(r.peak_w, 0.0) for r in results), column(r.heating_w for r in results),
        column(r.figures.outdoor_m3s.figure for r in results),
        column(r.figures.air_change_1h.figure * r.volume_m3 / 3600 for r in results),
        column(r.figures.cooling_c.figure for r in results), supply_c, figures.warm_limit_k.figure, heat)
    rows = []
    for i, (room, _) in enumerate(known):
        needs = tuple(float(n) for n in flows.needs_m3s[:, i])
        governs = NEEDS[flows.governs[i]] if flows.governs[i] >= 0 else "no flow"
        exact, flow, origin = float(flows.exact_m3s[i]), float(flows.rounded_m3s[i]), "rule"
        if room.air == "transfer":
            governs, exact, flow = "transfer air", 0.0, 0.0
        elif not isinstance(room.supply_m3s, Rule):
            origin = "pinned" if isinstance(room.supply_m3s, Pinned) else "imported"
            governs, flow = "pinned", room.supply_m3s.value
        rows.append(RoomAir(room.id, needs, governs, exact, flow, origin))
    total = sum(r.flow_m3s for r in rows)
    outdoor = min(total, sum(r.figures.outdoor_m3s.figure for _, r in known))
    # Flows on drawings are at local standard density, so ducts and fan are computed at it too: mass is right,
    # and pressures come out some 2 % high for the denser supply air.
    return AirResult(system.id, figures, tuple(rows), total, outdoor, climate.dry_air_kg_m3,
                     float(air.viscosity(20.0)), heat)


