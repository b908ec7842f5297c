"""Loads: rooms from the tree go to the core as one batch; only rooms that an edit touched are in it.

Rooms without plant come first: their air drifts, and the rooms beside them feel it.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.loads.balance import Surfaces, day_hours, radiant_films, respond
from garnetfin.core.loads.estimate import Estimate, Gains, Shell, Weather, estimate
from garnetfin.core.loads.heating import GROUND_FACTOR, HEATING_CAUSES, Losses, balanced_heating, heating_loads
from garnetfin.core.loads.humidity import HEAT_OF_VAPOUR, moisture_days
from garnetfin.core.loads.plant import Plan, air_matrix
from garnetfin.core.loads.rooms import RoomDays, RoomLoads, room_loads
from garnetfin.core.loads.start_up import cooling_start, warm_up
from garnetfin.core.psychro import properties as air
from garnetfin.core.texts import shortened
from garnetfin.engine.faults import each
from garnetfin.engine.memo import Memo, Ready, key
from garnetfin.engine.resolve import RoomFigures, assumption, room_figures
from garnetfin.engine.results import Climate, Missing, RoomResult, peak_of
from garnetfin.engine.stages.building import stands_on_area
from garnetfin.engine.stages.drive import Hours, Row, civil, drive, obstacles, plant_hours
from garnetfin.engine.stages.faces import HR_USUAL, Reads, losses, neighbours, room_fabric, set_points
from garnetfin.engine.stages.plenum import void_id, voids
from garnetfin.project.lookup import Same, find, walls_of
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project

AIR_FACTOR = 1006.0
HC_HEATING = {"floor": 0.7, "ceiling": 5.0, "roof": 5.0}  # heating day (ISO 6946 annex); others 2.5
MOST_SWEEPS, SETTLED_K = 30, 0.01
USUAL_FLOOR_M2 = 1000.0  # of the floor that stands for a room of which only the area is known


def loads(project: Project, climate: Climate | Missing, memo: Memo) -> dict[str, RoomResult | Missing]:
    """Every room's loads, by id; a room that cannot be computed says why and the others go on."""
    if isinstance(climate, Missing):
        return {room.id: climate for room in project.rooms}
    row, drifting = _row_keys(project, climate), _clusters(project)
    keys = [tuple(row(room) for room in cluster) for cluster in drifting]
    found: dict[str, RoomResult | Missing] = {}
    for cluster, results in zip(
        drifting,
        memo.rows(
            "drift",
            keys,
            lambda stale: each(
                lambda clusters: _drift(project, climate, clusters, memo), [drifting[i] for i in stale], _named
            ),
        ),
    ):
        found.update(results if isinstance(results, dict) else {room.id: results for room in cluster})
    kept = [room for room in project.rooms if room.system_id]
    found.update((room.id, value) for room, value in zip(kept, _kept(project, climate, kept, row, found, memo)))
    return {room.id: found[room.id] for room in project.rooms}


def loads_with(
    project: Project, climate: Climate, rooms: Sequence[Room], known: dict[str, RoomResult], memo: Memo
) -> list[RoomResult | Missing]:
    """Some served rooms as they are given here, beside all others as they are known."""
    drifted = {i: r for i, r in known.items() if not r.kept}
    return _kept(project, climate, rooms, _row_keys(project, climate), drifted, memo)


def _kept(
    project: Project, climate: Climate, rooms: Sequence[Room], row: Callable[[Room], tuple], drifted: dict, memo: Memo
) -> list[RoomResult | Missing]:
    drifts, ids = {i: Same(result) for i, result in drifted.items()}, _reads(Same(project)).ids
    keys = [(*row(room), *(drifts[i] for i in ids.get(room.id, ()) if i in drifts)) for room in rooms]
    return memo.rows(
        "loads",
        keys,
        lambda stale: each(
            lambda batch: _batch(project, climate, batch, memo, drifted),
            [rooms[i] for i in stale],
            lambda room: _named([room]),
        ),
    )


def _named(rooms: Sequence[Room]) -> str:
    return "Loads of room " + ", ".join(shortened(room.number) for room in rooms[:4])


def _row_keys(project: Project, climate: Climate) -> Callable[[Room], tuple]:
    """What a room's loads are made from, as a part of a memo key."""
    systems = {s.id: s for s in project.air_systems}
    reads = _reads(Same(project))
    common = Ready(
        key(climate, project.area_basis, obstacles(project), project.site.summer_time if project.site else False)
    )

    def row(room: Room) -> tuple:
        system = systems.get(room.system_id)
        zone = find(project.zones, room.zone_id) if room.zone_id else None
        return (Same(room), common, Same(zone), Same(system.operation if system else None), reads.of(room))

    return row


@lru_cache(maxsize=4)
def _reads(project: Same) -> Reads:
    return Reads(project.item)


def _clusters(project: Project) -> list[list[Room]]:
    """Rooms without plant, those that share a wall or slab together."""
    alone = {room.id: room for room in project.rooms if not room.system_id}
    groups, seen = [], set()
    for start in alone.values():
        if start.id in seen:
            continue
        seen.add(start.id)
        group, open_ = [], [start]
        while open_:
            room = open_.pop()
            group.append(room)
            for other in neighbours(project, room):
                if other.id in alone and other.id not in seen:
                    seen.add(other.id)
                    open_.append(other)
        groups.append(sorted(group, key=lambda r: r.id))
    return groups


def _rows(project: Project, rooms: Sequence[Room], found: dict) -> list[Row]:
    """Rows of rooms that can be computed; the others are put into `found` with the reason."""
    rows = []
    for room in rooms:
        try:
            fabric = room_fabric(project, room)
            zone, system = find(project.zones, room.zone_id), find(project.air_systems, room.system_id)
            figures = room_figures(
                room, walls_of(project.walls, room.id), zone, project.area_basis, project.book, system
            )
        except InputError as error:
            found[room.id] = Missing("not computed", str(error))
            continue
        row = Row(room, figures, fabric, bool(room.system_id), figures.area_m2.figure * room.ceiling_m)
        closed = not any(s.film is not None for s in fabric.surfaces) and figures.infiltration_1h.figure <= 0
        if not fabric.surfaces:
            found[room.id] = Missing("no faces", f"Give room {room.number} walls, a floor or a ceiling")
        elif not room.system_id and closed:
            found[room.id] = Missing(
                "no way out", f"Room {room.number} has no plant and nothing that could carry its heat away"
            )
        else:
            rows.append(row)
    return rows


def _drift(
    project: Project, climate: Climate, clusters: list[list[Room]], memo: Memo
) -> list[dict[str, RoomResult | Missing]]:
    """Rooms without plant: swept until what they give each other no longer moves."""
    found: dict[str, RoomResult | Missing] = {}
    rows = _rows(project, [room for cluster in clusters for room in cluster], found)
    of = {room.id: k for k, cluster in enumerate(clusters) for room in cluster}
    joined: dict[int, list[Row]] = {}
    for row in rows:
        joined.setdefault(of[row.room.id], []).append(row)
    # Rooms that touch no other drifting room are one batch; the others settle cluster by cluster, so that what a
    # cluster comes to never hangs on which other clusters were stale.
    batches = [
        [row for own in joined.values() if len(own) == 1 for row in own],
        *(own for own in joined.values() if len(own) > 1),
    ]
    for batch in batches:
        if batch:
            found.update(_settle(project, climate, batch, memo))
    return [{room.id: found[room.id] for room in cluster} for cluster in clusters]


def _settle(project: Project, climate: Climate, rows: list[Row], memo: Memo) -> dict[str, RoomResult]:
    ids = {row.room.id for row in rows}
    joined = any(s.other_id in ids for row in rows for s in row.fabric.surfaces)
    known = {row.room.id: np.repeat(climate.days.dry_bulb_c.mean(axis=1)[:, None], 24, axis=1) for row in rows}
    hours = [plant_hours(row.figures, False) for row in rows]
    for _ in range(MOST_SWEEPS if joined else 1):
        days = drive(project, climate, rows, hours, _heat(climate), memo, _beside(project, climate, known))
        drifted = room_loads(days)
        moved = max(float(np.abs(known[row.room.id] - seen).max()) for row, seen in zip(rows, _seen(drifted)))
        known = {row.room.id: seen for row, seen in zip(rows, _seen(drifted))}
        if moved < SETTLED_K:
            break
    return {row.room.id: result for row, result in zip(rows, _results(project, climate, rows, hours, days, drifted))}


def _seen(found: RoomLoads) -> NDArray[np.float64]:
    """What the far side of a partition exchanges heat with (R, 12, 24): air and faces by their films."""
    return (2.5 * found.air_c + HR_USUAL * found.star_c) / (2.5 + HR_USUAL)


def _beside(project: Project, climate: Climate, known: dict) -> Callable[[str], NDArray]:
    """Temperature (12, 24) beyond a partition: the set-point of a room that is kept, the drift of one that is not."""

    def temperature(room_id: str) -> NDArray:
        if room_id in known:
            return known[room_id]
        other = find(project.rooms, room_id)
        if other is None or not other.system_id:
            return climate.days.dry_bulb_c
        cooling, _ = set_points(other, find(project.zones, other.zone_id), project.book)
        return np.full((12, 24), cooling)

    return temperature


def _heat(climate: Climate) -> float:
    return climate.dry_air_kg_m3 * AIR_FACTOR


def _batch(
    project: Project, climate: Climate, rooms: list[Room], memo: Memo, drifting: dict
) -> list[RoomResult | Missing]:
    found: dict[str, RoomResult | Missing] = {}
    rows = _rows(project, rooms, found)
    for row in [r for r in rows if stands_on_area(project, r.room)]:
        found[row.room.id] = _estimated(project, climate, row, memo)
        rows.remove(row)
    if rows:
        known = {
            k: (2.5 * r.air_c + HR_USUAL * r.star_c) / (2.5 + HR_USUAL)
            for k, r in drifting.items()
            if isinstance(r, RoomResult)
        }
        above = voids(project, climate, rows, _heat(climate), memo, _beside(project, climate, known))
        known.update((void_id(room_id), void.seen_c) for room_id, void in above.items())
        rows = [above[row.room.id].row if row.room.id in above else row for row in rows]
        hours = [plant_hours(row.figures, True) for row in rows]
        days = drive(project, climate, rows, hours, _heat(climate), memo, _beside(project, climate, known))
        for row, result in zip(rows, _results(project, climate, rows, hours, days, room_loads(days))):
            void = above.get(row.room.id)
            found[row.room.id] = (
                result if void is None else replace(result, void_c=void.air_c, return_gain_w=void.return_gain_w)
            )
    return [found[room.id] for room in rooms]


def days_of(
    project: Project, climate: Climate, room: Room, found: dict[str, RoomResult | Missing], memo: Memo
) -> tuple[Row, Hours, RoomDays]:
    """One room as the core took it, for whoever wants to look closer; `found` holds the results of its neighbours."""
    row = _rows(project, [room], {})[0]
    known = {
        k: (2.5 * r.air_c + HR_USUAL * r.star_c) / (2.5 + HR_USUAL)
        for k, r in found.items()
        if isinstance(r, RoomResult) and not r.kept
    }
    above = voids(project, climate, [row], _heat(climate), memo, _beside(project, climate, known)) if row.kept else {}
    if above:
        known[void_id(room.id)] = above[room.id].seen_c
        row = above[room.id].row
    hours = plant_hours(row.figures, row.kept)
    return row, hours, drive(project, climate, [row], [hours], _heat(climate), memo, _beside(project, climate, known))


def _results(
    project: Project, climate: Climate, rows: Sequence[Row], hours: Sequence[Hours], days: RoomDays, found: RoomLoads
) -> list[RoomResult]:
    latent = _latent(climate, project, rows, hours)
    steady, balanced, winter, warm = _heating(project, climate, rows, hours, days)
    counted = np.array([h.counted if row.kept else np.ones(24, bool) for row, h in zip(rows, hours)])
    sensible, by_cause = found.sensible_w, found.by_cause_w
    starts = np.flatnonzero([h.start_up.any() for h in hours])
    start_w, reached = np.zeros(len(rows)), np.full(len(rows), -1)
    if len(starts):
        sensible, by_cause = sensible.copy(), by_cause.copy()
        _start(starts, days, found, hours, counted, sensible, by_cause, start_w, reached)
    results = []
    for r, row in enumerate(rows):
        total = max(float(steady.total_w[r]), float(balanced[r]), float(warm[r])) if row.kept else 0.0
        results.append(
            RoomResult(
                row.room.id,
                row.figures,
                row.volume_m3,
                tuple(s.face for s in row.fabric.surfaces),
                by_cause[:, r],
                sensible[r],
                latent[r],
                found.instant_gain_w[:, r],
                found.air_c[r],
                found.star_c[r],
                steady.by_cause_w[:, r] if row.kept else np.zeros(len(HEATING_CAUSES)),
                total,
                float(balanced[r]) if row.kept else 0.0,
                counted[r],
                row.kept,
                float(winter[r]),
                float(start_w[r]),
                int(reached[r]),
                float(warm[r]) if row.kept else 0.0,
                not found.unsolved[r].any(),
            )
        )
    return results


def _start(
    which: NDArray,
    days: RoomDays,
    found: RoomLoads,
    hours: Sequence[Hours],
    counted: NDArray,
    sensible: NDArray,
    by_cause: NDArray,
    start_w: NDArray,
    reached: NDArray,
) -> None:
    """Start-up hours: no plant is sized for a step back in one hour, so they run at the limit the used hours give."""
    peaks = [peak_of(sensible[r], counted[r]) for r in which]
    limit = np.array([max(0.0, sensible[r][p]) for r, p in zip(which, peaks)])
    g, force = _matrices(days, which, np.array([p[0] for p in peaks]), found)
    plan = days.plan.rows(which)
    first = np.array([hours[r].first_used for r in which])
    need, hour = cooling_start(g, force, plan, limit, first)
    start_w[which], reached[which] = need, hour
    for k, r in enumerate(which):
        at = hours[r].start_up
        whole = sensible[r][:, at]
        held = np.minimum(whole, max(need[k], 1.0))
        share = np.where(np.abs(whole) > 1e-9, held / np.where(np.abs(whole) > 1e-9, whole, 1.0), 1.0)
        sensible[r][:, at] = held
        by_cause[:, r][:, :, at] *= share


def _matrices(days: RoomDays, which: NDArray, month: NDArray, found: RoomLoads) -> tuple[NDArray, NDArray]:
    """(G (n, 24, 24), force (n, 24)) of some rooms on one day each, from the solution itself: f = G th - q."""
    response = respond(_faces_of(days.surfaces, which))
    g = air_matrix(
        day_hours(response.air), days.exchange_w_k[which] + days.bridges_w_k[which], days.capacity_j_k[which]
    )
    # With the limits off, air and load belong together; with them, given_w is the plant's heat.
    air_c, q = found.air_c[which, month], -found.given_w[which, month]
    return g, np.einsum("rij,rj->ri", g, air_c) - q


def _faces_of(surfaces: Surfaces, which: NDArray) -> Surfaces:
    at = np.concatenate([np.flatnonzero(surfaces.room == r) for r in which])
    number = np.searchsorted(which, surfaces.room[at])
    return Surfaces(
        number,
        surfaces.area_m2[at],
        surfaces.hc_w_m2k[at],
        surfaces.hr_w_m2k[at],
        surfaces.y_in[at],
        surfaces.y_through[at],
    )


def _latent(climate: Climate, project: Project, rows: Sequence[Row], hours: Sequence[Hours]) -> NDArray[np.float64]:
    """Latent load (rooms, 12, 24) [W] of people, processes and infiltration at the humidity limit; never below 0."""
    moisture = np.array(
        [
            (row.figures.people.figure * row.figures.use.latent_w + row.figures.moisture_w.figure)
            * row.figures.profile.summer
            for row in rows
        ]
    )
    summer = project.site is not None and project.site.summer_time
    moisture = (
        civil(moisture, project.site.latitude_deg) if summer else np.repeat(moisture[:, None], 12, axis=1)
    ) / HEAT_OF_VAPOUR
    set_point = np.array([row.figures.cooling_c.figure for row in rows])
    held = np.array([row.figures.humidity for row in rows])
    limit = air.humidity_ratio(set_point, held, climate.pressure_pa)
    leak = np.array([row.figures.infiltration_1h.figure * row.volume_m3 / 3600 for row in rows]) * climate.dry_air_kg_m3
    outdoor = climate.days.humidity_ratio
    latent = HEAT_OF_VAPOUR * (moisture + leak[:, None, None] * (outdoor - limit[:, None, None]))
    by_hour = np.flatnonzero([not h.always for h in hours])
    if len(by_hour):
        stored = np.array([rows[r].volume_m3 for r in by_hour]) * climate.dry_air_kg_m3
        on = np.array([hours[r].on for r in by_hour])
        latent[by_hour] = moisture_days(
            moisture[by_hour], leak[by_hour], outdoor, stored, on, np.zeros(len(by_hour)), limit[by_hour]
        ).latent_w
    return np.maximum(latent, 0.0)


def _heating(project: Project, climate: Climate, rows: Sequence[Row], hours: Sequence[Hours], days: RoomDays):
    """(steady loads, balanced loads (rooms,), winter temperature (rooms,), warm-up need (rooms,))."""
    bridges, count = assumption(project.book, "bridges_w_m2k").figure, len(rows)
    out, mean = climate.figures.winter_c.figure, climate.figures.annual_mean_c.figure
    inside = np.array([row.figures.heating_c.figure for row in rows])
    # walls, roofs, glass, floors out, ground, unheated, beside W, bridges
    sums = np.zeros((8, count))
    surfaces = [(r, s) for r, row in enumerate(rows) for s in row.fabric.surfaces]
    behind, open_back = np.zeros(len(surfaces)), np.zeros(len(surfaces), bool)
    winter = inside.copy()
    for i, (r, s) in enumerate(surfaces):
        ua, open_back[i] = s.face.area_m2 * s.face.u_w_m2k, s.film is not None
        behind[i] = out
        if s.face.to == "outdoors":
            sums[{"walls": 0, "roofs": 1, "glass conduction": 2, "floors": 3}[s.cause], r] += ua
            sums[7, r] += s.face.area_m2 * bridges
        elif s.face.to == "ground":
            sums[4, r] += ua
            # The steady method takes 1.45 times the drop to the year's mean.
            behind[i] = inside[r] - GROUND_FACTOR * (inside[r] - mean)
        elif s.void_ua > 0 or s.face.to.startswith("void:"):
            sums[1, r] += s.void_ua
            sums[7, r] += s.face.area_m2 * bridges if s.void_ua else 0.0
            behind[i] = inside[r] - min(1.0, s.void_ua / max(ua, 1e-9)) * (inside[r] - out)
        elif s.other_id:
            other = find(project.rooms, s.other_id)
            if other is not None and other.system_id:
                _, theirs = set_points(other, find(project.zones, other.zone_id), project.book)
                sums[6, r] += ua * max(0.0, inside[r] - theirs)
                behind[i] = min(theirs, inside[r])
            else:
                b = dict(rows[r].fabric.b_factors).get(s.other_id, 1.0)
                sums[5, r] += ua * b
                behind[i] = inside[r] - b * (inside[r] - out)
    for r, row in enumerate(rows):
        if not row.kept:
            winter[r] = _winter(project, row.room, out)
    leak = np.array([row.figures.infiltration_1h.figure * row.volume_m3 / 3600 for row in rows])
    reheat = assumption(project.book, "warm_up_w_m2").figure * np.array([row.figures.area_m2.figure for row in rows])
    warmed = np.array([row.kept and not h.always and h.start_up.any() for row, h in zip(rows, hours)])
    steady = heating_loads(Losses(*sums, leak, reheat), inside, out, mean, climate.pressure_pa)
    f = days.surfaces
    hc = np.array([HC_HEATING.get(s.face.kind, 2.5) for _, s in surfaces])
    cold = Surfaces(f.room, f.area_m2, hc, radiant_films(f.room, f.area_m2, mean_k=295.15), f.y_in, f.y_through)
    exchange = leak * _heat(climate) + sums[7]
    balanced = balanced_heating(cold, behind, open_back, exchange, out, inside)
    warm = np.zeros(count)
    which = np.flatnonzero(warmed)
    if len(which):
        response = respond(_faces_of(cold, which))
        g = air_matrix(day_hours(response.air), exchange[which], days.capacity_j_k[which])
        at = np.concatenate([np.flatnonzero(f.room == r) for r in which])
        through = np.where(open_back[at], response.through[:, 0].real * behind[at], 0.0)
        force = np.bincount(np.searchsorted(which, f.room[at]), through, len(which)) + exchange[which] * out
        plan = days.plan.rows(which)
        plan = Plan(
            plan.on, plan.heat_c, np.full(plan.cool_c.shape, 90.0), plan.heat_limit_w, plan.cool_limit_w, plan.held
        )
        warm[which] = warm_up(
            g, np.repeat(force[:, None], 24, axis=1), plan, np.array([hours[r].first_used for r in which])
        )
    return steady, balanced, winter, warm


def _winter(project: Project, room: Room, out: float) -> float:
    """Where a room without plant stands on the winter design day, from its steady losses."""
    inside, outside = losses(project, room)
    beside = [
        set_points(n, find(project.zones, n.zone_id), project.book)[1] for n in neighbours(project, room) if n.system_id
    ]
    warm = float(np.mean(beside)) if beside else out
    return (inside * warm + outside * out) / (inside + outside) if inside + outside > 0 else warm


def _estimated(project: Project, climate: Climate, row: Row, memo: Memo) -> RoomResult:
    """A room known by area and use alone: the early estimate of its use times its floor."""
    f = row.figures
    found = density(project, climate, f, memo)
    area, by_cause = f.area_m2.figure, found.by_cause_w_m2 * f.area_m2.figure
    latent = np.repeat((f.people.figure * f.use.latent_w * f.profile.summer)[None], 12, axis=0)
    heating = np.zeros(len(HEATING_CAUSES))
    heating[HEATING_CAUSES.index("walls")] = found.heating_w_m2 * area
    counted = np.zeros(24, bool)
    counted[8:19] = True
    level = np.full((12, 24), f.cooling_c.figure)
    return RoomResult(
        row.room.id,
        f,
        row.volume_m3,
        tuple(s.face for s in row.fabric.surfaces),
        by_cause,
        by_cause.sum(axis=0),
        latent,
        by_cause,
        level,
        level,
        heating,
        found.heating_w_m2 * area,
        found.heating_w_m2 * area,
        counted,
        True,
        f.heating_c.figure,
        estimate=found,
    )


def estimate_inputs(project: Project, climate: Climate, figures: RoomFigures) -> tuple[Gains, Shell, Weather]:
    """What the early estimate of a use is made from: its gains, the office book's shell, the place's design days."""
    use = figures.use
    gains = Gains(
        figures.people.figure / figures.area_m2.figure * use.sensible_w,
        use.people_radiant,
        figures.lights_w_m2.figure,
        use.lights_radiant,
        figures.equipment_w_m2.figure,
        use.equipment_radiant,
        figures.profile.summer,
    )
    shell = Shell(
        *(
            assumption(project.book, f"estimate_{name}").figure
            for name in ("glass", "glass_u", "g", "wall_u", "leak_1h")
        )
    )
    weather = Weather(
        climate.days.dry_bulb_c,
        climate.sun,
        climate.beam,
        climate.diffuse,
        climate.figures.ground_reflectance.figure,
        _heat(climate),
        climate.figures.winter_c.figure,
    )
    return gains, shell, weather


def density(project: Project, climate: Climate, figures: RoomFigures, memo: Memo) -> Estimate:
    """The early estimate of a use at this place with the office book's shell, remembered."""
    gains, shell, weather = estimate_inputs(project, climate, figures)
    row = key(
        climate,
        round(gains.people_w_m2, 1),
        gains.people_radiant,
        gains.lights_w_m2,
        gains.equipment_w_m2,
        gains.equipment_radiant,
        gains.profile.tobytes().hex(),
        figures.cooling_c.figure,
        figures.heating_c.figure,
        *(getattr(shell, name) for name in ("glass_share", "glass_u", "g", "wall_u", "infiltration_1h")),
    )
    return memo.one(
        "estimate",
        row,
        lambda: estimate(USUAL_FLOOR_M2, shell, gains, weather, figures.cooling_c.figure, figures.heating_c.figure),
    )
