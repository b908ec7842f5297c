"""Air: supply flow of every room of a system and what governs it, its balance, the outdoor air of the system."""

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from msgspec import structs
from numpy.typing import NDArray

from garnetfin.core.airflow.fresh_air import RoomStreams
from garnetfin.core.airflow.outdoor_air import EFFECTIVENESS, MIXING_EFFECTIVENESS
from garnetfin.core.airflow.room_balance import PRESSURE, pressure_class, room_balance
from garnetfin.core.airflow.supply import NEEDS, RoomFlows, latent_flow, room_flows, variable_flows
from garnetfin.core.errors import InputError, SupplyTooWarm
from garnetfin.core.psychro import properties as air
from garnetfin.core.systems.parts import ROOM_UNITS
from garnetfin.engine.memo import Key, Memo, key
from garnetfin.engine.resolve import Figure, SystemFigures, humidity_limit, part_figure, system_figures
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
from garnetfin.engine.stages.outdoor_air import Boxes, all_outdoor, arrives, intake_of, least_of_boxes, uncorrected_of
from garnetfin.engine.stages.outdoor_air import Rooms as AirOfRooms
from garnetfin.engine.stages.transfers import moves
from garnetfin.project.lookup import Same, find, walls_of
from garnetfin.project.parts import Part
from garnetfin.project.spaces import Room
from garnetfin.project.systems import AirSystem, Zone
from garnetfin.project.tree import Project
from garnetfin.project.values import Pinned, Rule, Value

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
    supply_kind: str  # of most of its supply terminals, "" without


def air_system(
    project: Project,
    system: AirSystem,
    climate: Climate | Missing,
    rooms: dict[str, RoomResult | Missing],
    memo: Memo,
    warmer_k: float = 0.0,
    arriving: tuple[tuple[str, float], ...] = (),
) -> AirResult | Missing:
    """warmer_k: how much warmer than what is held the air reaches the rooms, where the coil's leaving air is held;
    arriving: (room, by how much warmer than the mean its air arrives [K]), as ducts warm it.
    """
    if isinstance(climate, Missing):
        return climate
    asks = asks_of(project, system, climate, rooms)
    if isinstance(asks, Missing):
        return asks
    try:
        return memo.one(
            "air",
            (asks.row, warmer_k, arriving),
            lambda: _compute(project, asks.system, climate, memo, asks.members(), warmer_k, dict(arriving)),
        )
    except SupplyTooWarm as error:
        return Missing("too warm", str(error), Lack.TOO_WARM)
    except InputError as error:
        return Missing("not computed", str(error), Lack.NOT_COMPUTED)


@dataclass(frozen=True, slots=True, eq=False)
class Asks:
    """Rooms of a system with all that their air is made from, the same in every round."""

    system: AirSystem
    rooms: tuple[tuple[Room, Zone | None, RoomResult, str], ...]
    row: Key

    def members(self) -> list[Member]:
        return [_member(self.system, *one) for one in self.rooms]


def asks_of(
    project: Project, system: AirSystem, climate: Climate | Missing, rooms: dict[str, RoomResult | Missing]
) -> Asks | Missing:
    return _asks(Same(project), Same(system), Same(climate), Same(rooms))


@lru_cache(maxsize=4)
def _asks(project_: Same, system_: Same, climate: Same, rooms_: Same) -> Asks | Missing:
    project, system, rooms = project_.item, _as_air_reads(system_.item), rooms_.item
    members = [room for room in project.rooms if room.system_id == system.id]
    if not members:
        return Missing("no rooms", "Serve rooms by this air system")
    known = [m for m in members if isinstance(rooms[m.id], RoomResult)]
    if not known:
        return Missing("no loads", "See Loads for what is missing")
    zones = [find(project.zones, m.zone_id) if m.zone_id else None for m in known]
    by_room = _supply_kinds(Same(project.terminals))
    kinds = tuple(by_room.get(m.id, "") for m in known)
    lives_on_transfer = any(m.air == "transfer" for m in known)
    # All that is read is part of the row, so that later stages never meet a figure of yesterday.
    row = key(
        system,
        climate.item,
        project.book,
        tuple(rooms[m.id] for m in known),
        tuple(zones),
        tuple((m.air, m.rest, m.supply_m3s, m.return_m3s, m.pressure, m.number, m.use_id) for m in known),
        project.transfers,
        tuple(walls_of(project.walls, m.id) for m in known) if lives_on_transfer else (),
        kinds,
        _typed_boxes(project, system, {m.id for m in known}),
    )
    return Asks(system, tuple((m, z, rooms[m.id], k) for m, z, k in zip(known, zones, kinds)), row)


def _typed_boxes(
    project: Project, system: AirSystem, served: set[str]
) -> tuple[tuple[tuple[str, ...], Value, Value], ...]:
    """(rooms, least flow, heating flow) of flow boxes on which one is typed."""
    if system.boxes == "none":
        return ()
    return tuple(
        (b.room_ids, b.least_m3s, b.heating_m3s)
        for b in project.flow_boxes
        if served & set(b.room_ids) and not (isinstance(b.least_m3s, Rule) and isinstance(b.heating_m3s, Rule))
    )


def _of_boxes(
    project: Project, system: AirSystem, rooms: Sequence[Room], flow: NDArray[Any]
) -> tuple[NDArray[Any], NDArray[Any]]:
    """(least, heating flow) of rooms whose boxes have them typed, shared as their design flows; NaN of others."""
    at = {r.id: i for i, r in enumerate(rooms)}
    least, heating = np.full(len(rooms), np.nan), np.full(len(rooms), np.nan)
    for ids, low, warm in _typed_boxes(project, system, set(at)):
        own = [at[i] for i in ids if i in at]
        share = flow[own] / max(float(flow[own].sum()), 1e-9)
        for values, typed in ((least, low), (heating, warm)):
            if not isinstance(typed, Rule):
                values[own] = share * typed.value
    return least, heating


def _as_air_reads(system: AirSystem) -> AirSystem:
    """The system without figures of its parts that no flow hangs on: a coil's bypass leaves flows as they are."""
    return _the(
        structs.replace(
            system,
            parts=tuple(
                p if p.kind == "plenum" else structs.replace(p, name="", pressure_pa=Rule(), exponent=0.0, figures=())
                for p in system.parts
            ),
        )
    )


@lru_cache(maxsize=256)
def _the(system: AirSystem) -> AirSystem:
    """The one of all that are equal."""
    return system


@lru_cache(maxsize=4)
def _supply_kinds(terminals: Same) -> dict[str, str]:
    """By room, the kind of most of its supply terminals; the first of equals."""
    kinds: dict[str, Counter[str]] = {}
    for t in terminals.item:
        if t.air == "supply":
            kinds.setdefault(t.room_id, Counter())[t.kind] += 1
    return {room_id: counts.most_common(1)[0][0] for room_id, counts in kinds.items()}


def _member(system: AirSystem, room: Room, zone: Zone | None, result: RoomResult, supply_kind: str) -> Member:
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
    return Member(room, zone, result, sensible, latent, void, result.counted.reshape(288), supply_kind)


STEADY = ("walls", "roofs", "conduction through glass", "floors", "unheated spaces", "thermal bridges", "infiltration")


def _fall_w_k(result: RoomResult, climate: Climate) -> float:
    """By how much a room's load falls as it gets a kelvin warmer [W/K]: its steady loss to outdoors."""
    lost = sum(float(result.heating_by_cause_w[HEATING_CAUSES.index(cause)]) for cause in STEADY)
    return max(lost, 0.0) / max(result.figures.heating_c.figure - climate.figures.winter_c.figure, 1.0)


def _peak(member: Member) -> float:
    return float(np.max(member.sensible_w, where=member.counted, initial=0.0))


def rest_of(system: AirSystem, room: Room) -> str:
    """What serves a room beside the air: its own, or as the terminals of its system."""
    return room.rest or next((p.choice for p in system.parts if p.kind == "terminals"), "") or "none"


def carried_needs(system: AirSystem, rest: str) -> tuple[str, ...]:
    """Needs of a room that the supply air has to meet; what its unit or heater does is not among them."""
    if not system.parts:
        return NEEDS
    if not supplies(system):
        return ()
    kinds = {p.kind for p in system.parts}
    cools = "cooling" in kinds and rest not in ROOM_UNITS
    heats = ("heating" in kinds or rest == "reheat") and rest not in (*ROOM_UNITS, "heater")
    left_out = {*(() if cools else ("cooling", "latent")), *(() if heats else ("heating",))}
    return tuple(n for n in NEEDS if n not in left_out)


def supplies(system: AirSystem) -> bool:
    """Whether a system supplies air; one that has no terminals draws air out alone."""
    return not system.parts or any(p.kind == "terminals" for p in system.parts)


def _compute(
    project: Project,
    system: AirSystem,
    climate: Climate,
    memo: Memo,
    members: list[Member],
    warmer_k: float,
    arriving: dict[str, float],
) -> AirResult:
    own_c = np.array([m.result.figures.supply_c.figure if m.result.figures.supply_c else np.nan for m in members])
    figures = _coldest(system_figures(system, project.book), own_c)
    supply = figures.supply_c.figure + warmer_k
    # A zone's own temperature is reached by heating the system's air, never by cooling it further.
    warm_k = np.array([arriving.get(m.room.id, 0.0) for m in members])
    supply_c = np.where(np.isnan(own_c), supply + warm_k, np.fmax(own_c + warmer_k, supply + warm_k))
    density = climate.dry_air_kg_m3
    heat = density * float(air.specific_heat(SUPPLY_RATIO))
    rests = [rest_of(system, m.room) for m in members]
    carried = [carried_needs(system, rest) for rest in rests]
    meets = np.array([np.isin(NEEDS, c) for c in carried]).T
    dries, warms = meets[NEEDS.index("latent")], meets[NEEDS.index("heating")]
    f = [m.result.figures for m in members]
    room_c = np.array([x.cooling_c.figure for x in f])
    peak = np.array([_peak(m) for m in members])
    too_warm = (peak > 0) & (room_c <= supply_c) & meets[NEEDS.index("cooling")]
    if too_warm.any():
        raise SupplyTooWarm(
            f"Supply air of {supply_c[too_warm][0]:g} °C cannot cool {int(too_warm.sum())} rooms",
            where=f"air system {system.name}",
            remedy="Lower the supply temperature",
        )
    # A rate is a volume at local density, or a mass as at sea level, as the office has it.
    rate = 1.0 if project.book.density == "volume" else air.SEA_LEVEL_PA / climate.pressure_pa
    effective = np.array([EFFECTIVENESS.get(m.supply_kind, MIXING_EFFECTIVENESS) for m in members])
    if not project.book.outdoor_method.startswith("people and area"):
        effective[:] = 1.0
    asked = rate * np.array([x.outdoor_m3s.figure for x in f])
    wanted, warm_wanted = asked / effective[:, 0], asked / effective[:, 1]
    outdoor = wanted
    limits = [humidity_limit(m.zone, figures.humidity_high) for m in members]
    most_w = air.humidity_ratio(room_c, np.array([x.figure for x in limits]), climate.pressure_pa)
    damp = latent_flow(
        np.array([np.where(m.counted, m.latent_w, 0.0) for m in members]),
        room_c[:, None],
        most_w[:, None],
        _supply_ratio(supply_c, climate.pressure_pa)[:, None],
        density,
    )
    latent = damp.max(axis=1)
    change = np.array([x.air_change_1h.figure * m.result.volume_m3 / 3600 for x, m in zip(f, members)])
    heating = np.array([m.result.heating_w for m in members])
    extract = np.array([x.extract_m3s.figure for x in f])
    limit_k = figures.warm_limit_k.figure
    served = np.array([m.room.air != "transfer" and supplies(system) for m in members])
    need = np.array([NEEDS.index(m.room.need) if m.room.need else -1 for m in members])

    def flows(make_up: NDArray[Any]) -> RoomFlows:
        return room_flows(peak, heating, outdoor, change, room_c, supply_c, limit_k, heat, latent, make_up, meets, need)

    base = np.where(served, flows(np.zeros(len(members))).exact_m3s, 0.0)
    pinned = np.array([np.nan if isinstance(m.room.supply_m3s, Rule) else m.room.supply_m3s.value for m in members])
    base = np.where(np.isfinite(pinned) & served, np.nan_to_num(pinned), base)
    rooms = [m.room for m in members]
    moved = moves(project, rooms, base, extract, outdoor)
    into, out = _sums(rooms, moved)
    found = flows(np.maximum(extract + out - into, 0.0) * served)
    rows, flow = _rows(members, found, served, pinned)
    variable, mixes = system.flow == "load", not system.parts or any(p.kind == "mixing" for p in system.parts)
    typed_least, typed_heating = _of_boxes(project, system, rooms, flow)
    shares = np.where(np.isnan(typed_least), figures.least_share.figure * flow, typed_least)
    low = np.maximum.reduce([shares, change * served, extract + out - into])
    hold_c = np.array([x.heating_c.figure for x in f])
    fall_w_k = np.array([_fall_w_k(m.result, climate) for m in members])
    boxes = Boxes(
        np.clip(low, 0.0, flow),
        flow,
        wanted,
        _hours(members, room_c, supply_c, heat, served, np.where(dries[:, None], damp, 0.0)),
        np.array([np.where(m.counted, m.sensible_w, 0.0) for m in members]),
        room_c,
        hold_c,
        supply_c,
        fall_w_k,
        heat,
    )
    least = (
        least_of_boxes(boxes, project.book, mixes, uncorrected_of(system, f, wanted)[0], climate)
        if variable
        else np.minimum(np.maximum(boxes.low, np.minimum(wanted, flow)), flow)
    )
    warm = np.where(np.isfinite(found.needs_m3s[NEEDS.index("heating")]), found.needs_m3s[NEEDS.index("heating")], 0.0)
    warm = np.where(warms, warm, 0.0)
    if variable and system.boxes == "chosen" and project.book.box_control == "single":
        least = np.maximum(least, np.minimum(np.fmin(warm, np.nan_to_num(typed_heating, nan=np.inf)), flow))
    block = variable_flows(boxes.hours, least, flow)
    most_warm = np.maximum(np.where(np.isnan(typed_heating), flow, np.minimum(typed_heating, flow)), least)
    winter = np.clip(warm, least, most_warm) if variable else flow
    total = max(block.block_m3s, float(winter.sum())) if variable else float(flow.sum())
    at = (block.block_hour // 24, block.block_hour % 24) if variable else None
    balanced = _balanced(rows, members, flow, extract, moved, limits, np.maximum(least, 0.0))
    in_rooms = AirOfRooms(
        tuple(m.room.id for m in members),
        f,
        wanted,
        warm_wanted,
        flow,
        least if variable else flow,
        block.flow_m3s[:, block.block_hour],
        winter,
        total,
        variable,
        _streams(members, extract, moved),
    )
    fresh, ventilation, critical, by_tracer = (
        intake_of(project.book, system, in_rooms) if mixes else (all_outdoor(total), None, "", None)
    )
    rows = tuple(
        replace(row, wanted_m3s=float(q), carried=c, rest=rest, warm_k=float(k))
        for row, q, c, rest, k in zip(balanced, wanted, carried, rests, warm_k)
    )
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
        supply,
        float(flow.sum()),
        at,
        block.flow_m3s if variable else np.repeat(flow[:, None], 288, axis=1),
        winter,
        np.array([m.sensible_w for m in members]),
        np.array([m.latent_w for m in members]),
        sum(m.plenum_w for m in members),
        hold_c,
        fall_w_k,
        own_c,
        fresh,
        ventilation,
        critical,
        by_tracer,
        dict(zip(in_rooms.ids, np.maximum(arrives(in_rooms, fresh.figure, mixes), 0.0).tolist())),
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
            governs = "transfer air" if m.room.air == "transfer" else "no supply"
            exact, flow = 0.0, 0.0
        elif np.isfinite(pinned[i]):
            origin = "pinned" if isinstance(m.room.supply_m3s, Pinned) else "imported"
            governs, flow = "pinned", float(pinned[i])
        rows.append(RoomAir(m.room.id, needs, governs, exact, flow, origin))
    return rows, np.array([r.flow_m3s for r in rows])


def _hours(
    members: list[Member],
    room_c: NDArray[Any],
    supply_c: NDArray[Any],
    heat: float,
    served: NDArray[Any],
    damp: NDArray[Any],
) -> NDArray[np.float64]:
    """Flow each room's load and its moisture ask for through the hours (R, 288)."""
    fall = np.where(room_c > supply_c, room_c - supply_c, np.inf)
    load = np.array([np.where(m.counted, m.sensible_w, 0.0) for m in members])
    dry = np.maximum(load, 0.0) / (heat * fall)[:, None]
    answer: NDArray[Any] = np.maximum(dry, np.where(np.isfinite(damp), damp, 0.0)) * served[:, None]
    return answer


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
                humidity_low=_lowest(members[i].zone),
            )
        )
    return tuple(out)


def _streams(
    members: list[Member], extract: NDArray[Any], moved: tuple[Move, ...]
) -> Callable[[NDArray[Any]], RoomStreams]:
    """What flows in rooms beside a supply: transfers as they are, leaks and return that close the balance."""
    at = {m.room.id: i for i, m in enumerate(members)}
    pairs = np.array([(at[m.from_room], at[m.to_room]) for m in moved]) if moved else np.zeros((0, 2), int)
    flows = np.array([m.flow_m3s for m in moved])
    offsets = np.array([PRESSURE[m.room.pressure] for m in members])
    given = np.array([np.nan if isinstance(m.room.return_m3s, Rule) else m.room.return_m3s.value for m in members])

    def streams(supply: NDArray[Any]) -> RoomStreams:
        b = room_balance(supply, extract, offsets, pairs, flows, given)
        return RoomStreams(supply, np.maximum(b.short - b.offset, 0.0), b.returned, pairs, flows)

    return streams


def _lowest(zone: Zone | None) -> float:
    """Relative humidity that a zone asks for at least; 0 without one."""
    return 0.0 if zone is None or isinstance(zone.humidity_low, Rule) else float(zone.humidity_low.value)


def part_of(system: AirSystem, kind: str) -> Part | None:
    return next((p for p in system.parts if p.kind == kind), None)
