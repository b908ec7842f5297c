"""Air: supply flow of every room of a system and what governs it, its balance, the outdoor air of the system."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.airflow.outdoor_air import SystemVentilation, multiple_zones
from garnetfin.core.airflow.room_balance import PRESSURE, pressure_class, room_balance
from garnetfin.core.airflow.supply import NEEDS, RoomFlows, latent_flow, room_flows, variable_flows
from garnetfin.core.errors import InputError, SupplyTooWarm
from garnetfin.core.psychro import properties as air
from garnetfin.display import amount, told
from garnetfin.engine.memo import Memo, key
from garnetfin.engine.resolve import Figure, SystemFigures, humidity_limit, part_figure, resolve, system_figures
from garnetfin.engine.results import (
    CAUSES,
    HEATING_CAUSES,
    AirResult,
    Climate,
    Lack,
    Missing,
    Move,
    RoomAir,
    RoomResult,
)
from garnetfin.engine.stages.transfers import moves
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.parts import Part
from garnetfin.project.spaces import Room
from garnetfin.project.systems import AirSystem, Zone
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule

SUPPLY_RATIO = 0.0085  # humidity of the supply air that flows are made for; project default
OFF_COIL_RH, FAN_RISE_K = 0.92, 1.0  # supply air as it leaves a wet coil, for the latent need
VOID_CAUSES = {"lights": "lights", "roofs": "roofs", "walls": "walls"}


@dataclass(frozen=True, slots=True, eq=False)
class Member:
    """A room of the system with what air has to do for it: sensible, latent (288,) [W], heat its return air takes
    (288,).
    """

    room: Room
    zone: Zone | None
    result: RoomResult
    sensible_w: NDArray[np.float64]
    latent_w: NDArray[np.float64]
    plenum_w: NDArray[np.float64]
    counted: NDArray[np.bool_]


def air_system(
    project: Project,
    system: AirSystem,
    climate: Climate | Missing,
    rooms: dict[str, RoomResult | Missing],
    memo: Memo,
    warmer_k: float = 0.0,
) -> AirResult | Missing:
    """warmer_k: how much warmer than what is held the air reaches the rooms, where the coil's leaving air is held."""
    if isinstance(climate, Missing):
        return climate
    members = [room for room in project.rooms if room.system_id == system.id]
    if not members:
        return Missing("no rooms", "Serve rooms by this air system")
    known = [m for m in members if isinstance(rooms[m.id], RoomResult)]
    if not known:
        return Missing("no loads", "See Loads for what is missing")
    zones = [find(project.zones, m.zone_id) if m.zone_id else None for m in known]
    lives_on_transfer = any(m.air == "transfer" for m in known)
    # All that is read is part of the row, so that later stages never meet a figure of yesterday.
    row = key(
        system,
        climate,
        project.book,
        tuple(rooms[m.id] for m in known),
        tuple(zones),
        tuple((m.air, m.supply_m3s, m.return_m3s, m.pressure, m.number, m.use_id) for m in known),
        project.transfers,
        tuple(walls_of(project.walls, m.id) for m in known) if lives_on_transfer else (),
        warmer_k,
    )
    try:
        return memo.one(
            "air",
            row,
            lambda: _compute(
                project,
                system,
                climate,
                memo,
                [_member(system, m, z, rooms[m.id]) for m, z in zip(known, zones)],
                warmer_k,
            ),
        )
    except SupplyTooWarm as error:
        return Missing("too warm", str(error), Lack.TOO_WARM)
    except InputError as error:
        return Missing("not computed", str(error), Lack.NOT_COMPUTED)


def _member(system: AirSystem, room: Room, zone: Zone | None, result: RoomResult) -> Member:
    sensible, latent = result.sensible_w.reshape(288), np.maximum(result.latent_w, 0.0).reshape(288)
    void = result.return_gain_w.reshape(288) if result.return_gain_w is not None else np.zeros(288)
    plenum = next((p for p in system.parts if p.kind == "plenum"), None)
    if plenum is not None and result.return_gain_w is None:
        # Without a void of its own in the balance, stated shares of what comes from above stay out of the room.
        void = sum(
            part_figure(plenum, name).figure * np.maximum(result.by_cause_w[CAUSES.index(cause)].reshape(288), 0.0)
            for name, cause in VOID_CAUSES.items()
        )
        sensible = sensible - void
    return Member(room, zone, result, sensible, latent, void, result.counted.reshape(288))


STEADY = ("walls", "roofs", "glass conduction", "floors", "unheated beside", "bridges", "infiltration")


def _fall_w_k(result: RoomResult, climate: Climate) -> float:
    """By how much a room's load falls as it gets a kelvin warmer [W/K]: its steady loss to outdoors."""
    lost = sum(float(result.heating_by_cause_w[HEATING_CAUSES.index(cause)]) for cause in STEADY)
    return max(lost, 0.0) / max(result.figures.heating_c.figure - climate.figures.winter_c.figure, 1.0)


def _peak(member: Member) -> float:
    return float(np.max(member.sensible_w, where=member.counted, initial=0.0))


def carried_needs(system: AirSystem) -> tuple[str, ...]:
    """Needs that the supply air has to meet; what room units or heaters do is not among them."""
    if not system.parts:
        return NEEDS
    kinds = {p.kind for p in system.parts}
    rest = next((p.choice for p in system.parts if p.kind == "terminals"), "")
    cools = "cooling" in kinds and rest != "unit"
    heats = ("heating" in kinds or rest == "reheat") and rest not in ("unit", "heater")
    left_out = {*(() if cools else ("cooling", "latent")), *(() if heats else ("heating",))}
    return tuple(n for n in NEEDS if n not in left_out)


def _compute(
    project: Project, system: AirSystem, climate: Climate, memo: Memo, members: list[Member], warmer_k: float
) -> AirResult:
    own_c = np.array([m.result.figures.supply_c.figure if m.result.figures.supply_c else np.nan for m in members])
    figures = _coldest(system_figures(system, project.book), own_c)
    supply = figures.supply_c.figure + warmer_k
    # A zone's own temperature is reached by heating the system's air, never by cooling it further.
    supply_c = np.where(np.isnan(own_c), supply, np.fmax(own_c + warmer_k, supply))
    density = climate.dry_air_kg_m3
    heat = density * float(air.specific_heat(SUPPLY_RATIO))
    carried = carried_needs(system)
    f = [m.result.figures for m in members]
    room_c = np.array([x.cooling_c.figure for x in f])
    peak = np.array([_peak(m) for m in members])
    too_warm = (peak > 0) & (room_c <= supply_c)
    if too_warm.any() and "cooling" in carried:
        raise SupplyTooWarm(
            f"Supply air of {supply_c[too_warm][0]:g} °C cannot cool {int(too_warm.sum())} rooms",
            where=f"air system {system.name}",
            remedy="Lower the supply temperature",
        )
    # A rate is a volume at local density, or a mass as at sea level, as the office has it.
    rate = 1.0 if project.book.density == "volume" else air.SEA_LEVEL_PA / climate.pressure_pa
    outdoor = rate * np.array([x.outdoor_m3s.figure for x in f])
    limits = [humidity_limit(m.zone, figures.humidity_high) for m in members]
    most_w = air.humidity_ratio(room_c, np.array([x.figure for x in limits]), climate.pressure_pa)
    latent = latent_flow(
        np.array([m.latent_w.max() for m in members]),
        room_c,
        most_w,
        _supply_ratio(supply_c, climate.pressure_pa),
        density,
    )
    change = np.array([x.air_change_1h.figure * m.result.volume_m3 / 3600 for x, m in zip(f, members)])
    heating = np.array([m.result.heating_w for m in members])
    extract = np.array([x.extract_m3s.figure for x in f])
    limit_k = figures.warm_limit_k.figure
    served = np.array([m.room.air != "transfer" for m in members])
    need = np.array([NEEDS.index(m.room.need) if m.room.need else -1 for m in members])

    def flows(make_up: NDArray[Any]) -> RoomFlows:
        return room_flows(
            peak, heating, outdoor, change, room_c, supply_c, limit_k, heat, latent, make_up, carried, need
        )

    base = np.where(served, flows(np.zeros(len(members))).exact_m3s, 0.0)
    pinned = np.array([np.nan if isinstance(m.room.supply_m3s, Rule) else m.room.supply_m3s.value for m in members])
    base = np.where(np.isfinite(pinned) & served, np.nan_to_num(pinned), base)
    rooms = [m.room for m in members]
    moved = moves(project, rooms, base, extract, outdoor)
    into, out = _sums(rooms, moved)
    found = flows(np.maximum(extract + out - into, 0.0) * served)
    rows, flow = _rows(members, found, served, pinned)
    least = np.minimum(
        np.maximum.reduce([figures.least_share.figure * flow, np.minimum(outdoor, flow), extract + out - into]), flow
    )
    hours = _hours(members, room_c, supply_c, heat, served)
    variable = system.flow == "load"
    block = variable_flows(hours, np.maximum(least, 0.0), flow)
    total = block.block_m3s if variable else float(flow.sum())
    at = (block.block_hour // 24, block.block_hour % 24) if variable else None
    fresh, ventilation, critical = _outdoor(
        project, system, members, outdoor, flow, least if variable else flow, total, figures
    )
    rows = _balanced(rows, members, flow, extract, moved, limits, np.maximum(least, 0.0))
    # an equal row is the very row of last time: who reads it need not look again
    rows = memo.rows("air of a room", rows, lambda new: [rows[i] for i in new])
    # Flows on drawings are at local standard density, so ducts and fan are computed at it too: mass is right,
    # and pressures come out some 2 % high for the denser supply air.
    return AirResult(
        system.id,
        figures,
        rows,
        total,
        fresh.figure,
        density,
        float(air.viscosity(20.0)),
        heat,
        moved,
        carried,
        supply,
        float(flow.sum()),
        at,
        block.flow_m3s if variable else np.repeat(flow[:, None], 288, axis=1),
        np.array([m.sensible_w for m in members]),
        np.array([m.latent_w for m in members]),
        sum(m.plenum_w for m in members),
        np.array([x.heating_c.figure for x in f]),
        np.array([_fall_w_k(m.result, climate) for m in members]),
        own_c,
        fresh,
        ventilation,
        critical,
        block.block_m3s,
        block.block_hour,
    )


def _coldest(figures: SystemFigures, own_c: NDArray[Any]) -> SystemFigures:
    """By rule the system supplies what its coldest zone wants; other zones are heated at their branches."""
    wanted = np.where(np.isnan(own_c), figures.supply_c.figure, own_c)
    if figures.supply_c.origin != "rule" or np.isnan(own_c).all() or wanted.min() == figures.supply_c.figure:
        return figures
    coldest = float(wanted.min())
    return replace(figures, supply_c=Figure(coldest, "rule", coldest, "the coldest that its zones want"))


def _supply_ratio(supply_c: NDArray[Any], pressure_pa: float) -> NDArray[Any]:
    """Humidity of supply air for the latent need: as it leaves a wet coil, a kelvin colder than it is supplied."""
    return air.humidity_ratio(supply_c - FAN_RISE_K, OFF_COIL_RH, pressure_pa)


def _sums(rooms: Sequence[Room], moved: tuple[Move, ...]) -> tuple[NDArray[Any], NDArray[Any]]:
    at = {r.id: i for i, r in enumerate(rooms)}
    into, out = np.zeros(len(rooms)), np.zeros(len(rooms))
    for m in moved:
        into[at[m.to_room]] += m.flow_m3s
        out[at[m.from_room]] += m.flow_m3s
    return into, out


def _rows(
    members: list[Member], flows: RoomFlows, served: NDArray[Any], pinned: NDArray[Any]
) -> tuple[list[RoomAir], NDArray[Any]]:
    rows = []
    for i, m in enumerate(members):
        needs = tuple(float(n) for n in flows.needs_m3s[:, i])
        governs = NEEDS[flows.governs[i]] if flows.governs[i] >= 0 else "no flow"
        exact, flow, origin = float(flows.exact_m3s[i]), float(flows.rounded_m3s[i]), "rule"
        if not served[i]:
            governs, exact, flow = "transfer air", 0.0, 0.0
        elif np.isfinite(pinned[i]):
            origin = "pinned" if isinstance(m.room.supply_m3s, Pinned) else "imported"
            governs, flow = "pinned", float(pinned[i])
        rows.append(RoomAir(m.room.id, needs, governs, exact, flow, origin))
    return rows, np.array([r.flow_m3s for r in rows])


def _hours(
    members: list[Member], room_c: NDArray[Any], supply_c: NDArray[Any], heat: float, served: NDArray
) -> NDArray:
    """Flow each room's load asks for through the hours (R, 288)."""
    fall = np.where(room_c > supply_c, room_c - supply_c, np.inf)
    load = np.array([np.where(m.counted, m.sensible_w, 0.0) for m in members])
    return np.maximum(load, 0.0) / (heat * fall)[:, None] * served[:, None]


def _outdoor(
    project: Project,
    system: AirSystem,
    members: list[Member],
    wanted: NDArray[Any],
    flow: NDArray[Any],
    least: NDArray[Any],
    total: float,
    figures: SystemFigures,
) -> tuple[Figure, SystemVentilation | None, str]:
    """Outdoor air of the unit: all of it without mixing; else the rooms' sum, or by the multiple-zone procedure."""
    if system.parts and not any(p.kind == "mixing" for p in system.parts):
        return Figure(total, "rule", total, "no mixing: all supply air is outdoor air"), None, ""
    # Rooms on transfer air get theirs with the air of other rooms; it counts in the sum all the same.
    by_rule, source = min(float(wanted.sum()), total), "the sum of its rooms"
    ventilation, critical = None, ""
    if project.book.outdoor_method == "people and area" and total > 0:
        own = [i for i, m in enumerate(members) if m.room.air != "transfer" and flow[i] > 0]
        f = [members[i].result.figures for i in own]
        people = np.array([x.people.figure for x in f])
        together = resolve(system.people, float(people.sum()), "all rooms full at once")
        ventilation = multiple_zones(
            [x.people.figure * x.air_person_m3s for x in f],
            [x.area_m2.figure * x.air_area_m3s_m2 for x in f],
            1.0,
            np.maximum(least[own], 1e-9),
            people,
            min(together.figure, float(people.sum())),
            total,
        )
        critical = members[own[ventilation.critical]].room.id
        by_rule = min(ventilation.outdoor_m3s, total) if ventilation.possible else total
        source = told(
            f"ASHRAE 62.1: {amount('room_flow', ventilation.uncorrected_m3s)} over a system efficiency of "
            f"{ventilation.efficiency:.2f}"
        )
    return resolve(system.outdoor_m3s, by_rule, source), ventilation, critical


def _balanced(
    rows: list[RoomAir],
    members: list[Member],
    flow: NDArray[Any],
    extract: NDArray[Any],
    moved: tuple[Move, ...],
    limits: list[Figure],
    least: NDArray[Any],
) -> tuple[RoomAir, ...]:
    at = {m.room.id: i for i, m in enumerate(members)}
    pairs = np.array([(at[m.from_room], at[m.to_room]) for m in moved]) if moved else np.zeros((0, 2), int)
    given = np.array([np.nan if isinstance(m.room.return_m3s, Rule) else m.room.return_m3s.value for m in members])
    b = room_balance(
        flow,
        extract,
        np.array([PRESSURE[m.room.pressure] for m in members]),
        pairs,
        np.array([m.flow_m3s for m in moved]),
        given,
    )
    out = []
    for i, row in enumerate(rows):
        going, coming = float(b.extract[i] + b.transfer_out[i]), float(b.supply[i] + b.transfer_in[i])
        offset = float(b.offset[i] - b.short[i])
        out.append(
            replace(
                row,
                least_m3s=float(least[i]),
                extract_m3s=float(extract[i]),
                transfer_in_m3s=float(b.transfer_in[i]),
                transfer_out_m3s=float(b.transfer_out[i]),
                return_m3s=float(b.returned[i]),
                offset_m3s=offset,
                short_m3s=float(b.short[i]),
                pressure=pressure_class(offset, coming, going),
                humidity_high=limits[i].figure,
                humidity_source=limits[i].source,
            )
        )
    return tuple(out)


def part_of(system: AirSystem, kind: str) -> Part | None:
    return next((p for p in system.parts if p.kind == kind), None)
