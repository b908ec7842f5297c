"""The coil check sheet: states before and behind the coils, what their load is made of, and figures to judge it by."""

from dataclasses import dataclass

import numpy as np

from garnetfin.core.psychro import properties as air
from garnetfin.engine.results import AirResult, Missing, Point, Results, TrainResult
from garnetfin.project.lookup import find

# Usual bands of an office building; outside them a figure deserves a look (verify locally).
BANDS = {
    "load_w_m2": (40.0, 160.0),
    "flow_m3s_m2": (0.002, 0.012),
    "fall_k": (8.0, 12.0),
    "ratio": (0.6, 0.95),
    "fan_w_m3s": (800.0, 3000.0),
}


@dataclass(frozen=True, slots=True)
class AirState:
    """degC, kg/kg, relative humidity [-], J/kg, wet bulb and dew point degC, m3/kg, dry air kg/s, m3/s at its own
    state.
    """

    t: float
    w: float
    rh: float
    h: float
    wb: float
    td: float
    volume: float
    m: float
    flow_m3s: float


def air_state(t: float, w: float, m: float, p: float) -> AirState:
    volume = float(air.specific_volume(t, w, p))
    return AirState(
        t,
        w,
        float(air.relative_humidity(t, w, p)),
        float(air.enthalpy(t, w)),
        float(air.wet_bulb(t, w, p)),
        float(air.dew_point(w, p)),
        volume,
        m,
        m * volume,
    )


@dataclass(frozen=True, slots=True)
class Ratio:
    """A figure to judge by, with the band that is usual (None: no band)."""

    name: str
    value: float
    quantity: str
    unit: str
    band: tuple[float, float] | None = None

    @property
    def odd(self) -> bool:
        return self.band is not None and not self.band[0] <= self.value <= self.band[1]


@dataclass(frozen=True, slots=True)
class CoilSheet:
    """One cooling coil at one hour; heat in W. parts sum to total_w within residual_w."""

    part_id: str
    at: str
    entering: AirState
    leaving: AirState
    adp_c: float  # NaN where dry
    bypass: float
    total_w: float
    sensible_w: float
    condensate_kg_s: float
    parts: tuple[tuple[str, float], ...]
    residual_w: float
    ventilation_w: float
    ventilation_sensible_w: float
    outdoor_share: float
    rooms_rh: tuple[float, float]  # least and greatest of the rooms
    rooms_limit: float
    ratios: tuple[Ratio, ...]

    @property
    def ratio(self) -> float:
        return self.sensible_w / self.total_w if self.total_w > 0 else float("nan")


def coil_sheet(results: Results, system_id: str, point: Point | None = None) -> CoilSheet | Missing:
    """The first cooling coil of a system, at the hour of its greatest load or another."""
    found, flows = results.trains.get(system_id, Missing("no system")), results.air.get(system_id, Missing("no system"))
    for gone in (found, flows):
        if isinstance(gone, Missing):
            return gone
    point = point or found.cooling
    at = [p.id for p in found.parts]
    coil_id = next((p.id for p in found.parts if p.kind == "cooling"), None)
    if coil_id is None:
        return Missing("no cooling coil", "Add a cooling coil to the unit")
    before = at[at.index(coil_id) - 1] if at.index(coil_id) else "outdoor"
    solved, i, p = point.solved, point.i, found.pressure_pa
    coil = solved.coils[coil_id]
    entering, leaving = air_state(*point.node(before), p), air_state(*point.node(coil_id), p)
    total = sum(float(c.total_w[i]) for c in solved.coils.values())
    parts, ventilation = load_parts(found, point)
    rh = air.relative_humidity(solved.room_c[:, i], solved.room_w[:, i], p)
    served = found.rooms.design_kg_s > 0
    outdoor, handler = point.of(solved.outdoor_kg_s), point.of(solved.handler_kg_s)
    returned = point.node("return")
    dry = outdoor * float(air.specific_heat(returned[1])) * (point.node("outdoor")[0] - returned[0])
    return CoilSheet(
        coil_id,
        point.name,
        entering,
        leaving,
        float(coil.adp_c[i]),
        next(q.get("bypass", 0.1) for q in found.parts if q.id == coil_id),
        total,
        sum(float(c.sensible_w[i]) for c in solved.coils.values()),
        sum(float(c.condensate_kg_s[i]) for c in solved.coils.values()),
        parts,
        total - sum(v for _, v in parts),
        ventilation,
        dry,
        outdoor / handler if handler > 0 else 0.0,
        (float(rh[served].min()), float(rh[served].max())) if served.any() else (float("nan"),) * 2,
        float(found.rooms.humid_high[served].min()) if served.any() else 1.0,
        _ratios(results, flows, found, point, total),
    )


def load_parts(found: TrainResult, point: Point) -> tuple[tuple[tuple[str, float], ...], float]:
    """What the load of all cooling coils is made of [W], and the ventilation load.

    From the balance of the whole system.
    """
    solved, i = point.solved, point.i
    q = point.of
    node = {k: point.node(k) for k in solved.nodes}
    h = {k: float(air.enthalpy(t, w)) for k, (t, w, _) in node.items()}
    room_t, room_w = solved.room_c[:, i], solved.room_w[:, i]
    sensible, latent = room_loads_at(found, point)
    vapour = (
        latent
        / air.vapour_enthalpy(found.set_c if point.month >= 0 else found.winter_set_c)
        * air.vapour_enthalpy(room_t)
    )
    outdoor, relief = q(solved.outdoor_kg_s), q(solved.relief_kg_s)
    first = node["outdoor"][2]
    supplied = solved.supply_kg_s[:, i]
    rooms = found.rooms
    into = np.bincount(rooms.moves[:, 1], rooms.transfer_kg_s, len(supplied)) if len(rooms.moves) else 0 * supplied
    out = np.bincount(rooms.moves[:, 0], rooms.transfer_kg_s, len(supplied)) if len(rooms.moves) else 0 * supplied
    comes, goes = supplied + into, rooms.extract_kg_s + out
    back = np.maximum(comes - goes - rooms.offset_share * np.maximum(comes, goes), 0.0)
    leaves = (comes - back - out) * (comes > 1e-9)
    room_h = air.enthalpy(room_t, room_w)
    ventilation = first * (h["outdoor"] - h["return"])
    by_kind: dict[str, float] = {}
    drops = 0.0
    for part in found.parts:
        if part.kind in ("cooling", "precool"):
            drops += float(solved.coils[part.id].condensate_kg_s[i]) * float(air.water_enthalpy(node[part.id][0]))
        elif part.kind not in ("recovery", "rooms", "mixing"):
            by_kind[part.kind] = by_kind.get(part.kind, 0.0) + point.heat_w(part.id)
    recovery = sum(point.heat_w(p.id) for p in found.parts if p.kind == "recovery")
    fans = by_kind.pop("supply_fan", 0.0) + by_kind.pop("return_fan", 0.0)
    duct, plenum = by_kind.pop("duct", 0.0), by_kind.pop("plenum", 0.0)
    heaters = sum(by_kind.values())
    unit = float(solved.unit_w[:, i].sum())
    # Air that leaves elsewhere than by the return is not as warm as the return air that stands for it in the
    # ventilation load.
    away = first * h["return"] - relief * h["return"] - float((leaves * room_h).sum())
    duct_part = next((p for p in found.parts if p.kind == "duct"), None)
    if duct_part is not None and duct_part.choice == "outside":
        away -= q(solved.leak_kg_s) * h["before duct"]
    away -= (q(solved.return_kg_s) - (q(solved.handler_kg_s) - outdoor) - relief) * h["return"]
    parts = (
        ("Rooms, sensible", float(sensible.sum())),
        ("Rooms, latent", float(vapour.sum())),
        ("Ventilation", ventilation),
        ("Heat recovery", recovery),
        ("Fans", fans),
        ("Duct gain", duct),
        ("Ceiling voids", plenum),
        ("Reheat at terminals", float(solved.reheat_w[:, i].sum())),
        ("Heaters and humidifier", heaters),
        ("Room units", -unit),
        ("Air drawn out elsewhere", away),
        ("Condensate", -drops),
    )
    return tuple((n, v) for n, v in parts if abs(v) > 1e-6), ventilation


def room_loads_at(found: TrainResult, point: Point) -> tuple[np.ndarray, np.ndarray]:
    """(sensible, latent) of the rooms that are carried at a point [W]; rooms without any air are left out."""
    sensible = point.solved.load_w[:, point.i]
    latent = np.zeros_like(sensible) if point.month < 0 else found.rooms.latent_w[:, point.month * 24 + point.hour]
    moved = set(found.rooms.moves[:, 1].tolist()) if len(found.rooms.moves) else set()
    served = (point.solved.supply_kg_s[:, point.i] > 1e-9) | np.isin(np.arange(len(sensible)), list(moved))
    return sensible * served, latent * served


def _ratios(results: Results, flows: AirResult, found: TrainResult, point: Point, total: float) -> tuple[Ratio, ...]:
    rooms = [results.room(r) for r in found.room_ids]
    area = sum(r.figures.area_m2.figure for r in rooms if r is not None)
    volume = sum(r.volume_m3 for r in rooms if r is not None)
    flow = flows.flow_m3s
    fans = sum(point.heat_w(p.id) for p in found.parts if p.kind in ("supply_fan", "return_fan"))
    sensible = sum(float(c.sensible_w[point.i]) for c in point.solved.coils.values())
    fall = point.node("rooms")[0] - point.node("supply")[0]
    made = [
        Ratio("Supply below room", fall, "temperature_difference", "", BANDS["fall_k"]),
        Ratio(
            "Sensible heat ratio",
            sensible / total if total > 0 else float("nan"),
            "plain",
            "",
            BANDS["ratio"] if total > 0 else None,
        ),
    ]
    if area > 0:
        made = [
            Ratio("Coil per floor", total / area, "power_density", "", BANDS["load_w_m2"]),
            Ratio("Air per floor", flow / area * 1000, "", "L/s m²", tuple(b * 1000 for b in BANDS["flow_m3s_m2"])),
            *made,
        ]
        if total > 0:
            made.append(Ratio("Floor per kW", area / (total / 1000), "", "m²/kW"))
    if flow > 0:
        made.append(Ratio("Fan power per flow", fans / flow, "specific_fan_power", "", BANDS["fan_w_m3s"]))
        if total > 0:
            made.append(Ratio("Air per kW", flow * 1000 / (total / 1000), "", "L/s kW"))
    if volume > 0:
        made.append(Ratio("Air changes", flow * 3600 / volume, "air_change", ""))
    return tuple(made)


def closing(found: TrainResult, point: Point) -> tuple[tuple[str, float, float, float], ...]:
    """Proof: every node's (name, dry air flow, energy that does not close [W], water [kg/s])."""
    names = {p.id: p.id for p in found.parts}
    rows = []
    for key, values in point.solved.energy.items():
        m = point.solved.nodes[key].m[point.i] if key in point.solved.nodes else point.of(point.solved.handler_kg_s)
        rows.append((names.get(key, key), float(m), float(values[point.i]), float(point.solved.water[key][point.i])))
    return tuple(rows)


def part_title(results: Results, system_id: str, part_id: str) -> str:
    system = find(results.project.air_systems, system_id)
    part = find(system.parts, part_id) if system else None
    return (
        part.title
        if part
        else {"whole": "The whole system", "rooms": "Rooms", "exhaust": "Exhaust through the recovery"}.get(
            part_id, part_id
        )
    )
