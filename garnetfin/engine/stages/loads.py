"""Loads: rooms from the tree go to the core as one batch; only rooms that an edit touched are in it.

Rooms that pass heat to each other, because one has no plant or is kept otherwise, are taken in turns: each is computed
beside the others as they were, until what they feel of each other no longer moves.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import astuple, dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.loads.balance import Surfaces, day_hours, day_spectrum, radiant_films, respond
from garnetfin.core.loads.estimate import Estimate, Gains, Shell, Weather, estimate
from garnetfin.core.loads.heating import (
    GROUND_FACTOR,
    HEATING_CAUSES,
    HeatingLoads,
    Losses,
    balanced_heating,
    gains_at_operative,
    heating_loads,
)
from garnetfin.core.loads.humidity import HEAT_OF_VAPOUR, moisture_days
from garnetfin.core.loads.plant import air_matrix
from garnetfin.core.loads.rooms import RoomDays, RoomLoads, room_loads
from garnetfin.core.loads.start_up import cooling_start, warm_up
from garnetfin.core.psychro import properties as air
from garnetfin.core.tables import RoomUse
from garnetfin.core.texts import shortened
from garnetfin.engine.faults import each
from garnetfin.engine.memo import Memo, Ready, key
from garnetfin.engine.resolve import DayProfiles, RoomFigures, assumption, room_figures
from garnetfin.engine.results import Climate, Felt, Lack, Missing, RoomResult, peak_of
from garnetfin.engine.stages.boundary_conditions import (
    NO_COOLING_C,
    Hours,
    Row,
    before_walls,
    boundary_conditions,
    by_clock,
    plant_hours,
    sun_inside,
    winter_gains,
    winter_plan,
)
from garnetfin.engine.stages.building import outside_shares, stands_on_area
from garnetfin.engine.stages.faces import Reads, Surface, losses, neighbours, room_fabric, set_points
from garnetfin.engine.stages.plenum import tiled, voids
from garnetfin.project.lookup import Same, find, walls_of
from garnetfin.project.spaces import Room
from garnetfin.project.tree import Project

HC_HEATING = {"floor": 0.7, "ceiling": 5.0, "roof": 5.0}  # heating day (ISO 6946 annex); others 2.5
MOST_TURNS, SETTLED_K = 30, 0.02
USUAL_FLOOR_M2 = 1000.0  # of the floor that stands for a room of which only the area is known


def loads(project: Project, climate: Climate | Missing, memo: Memo) -> dict[str, RoomResult | Missing]:
    """Every room's loads, by id; a room that cannot be computed says why and the others go on."""
    if isinstance(climate, Missing):
        return {room.id: climate for room in project.rooms}
    row, open_to = _row_keys(project, climate), _reads(Same(project)).open_to
    drifting = [Turn(tuple(rooms), row, open_to) for rooms in _clusters(project)]
    kept = [Turn((room,), row, open_to) for room in project.rooms if room.kept]
    found: dict[str, RoomResult | Missing] = {}
    felt: dict[str, Felt] = {}
    for _ in range(MOST_TURNS):
        moved = False
        for turns, compute in ((drifting, _drift_in_turn), (kept, _kept_in_turn)):
            due = [turn for turn in turns if turn.is_due(felt)]
            if due:
                found.update(compute(project, climate, due, memo))
            moved = moved or bool(due)
        if not moved:
            break
        felt = {i: r.felt for i, r in found.items() if isinstance(r, RoomResult)}
    return {room.id: found[room.id] for room in project.rooms}


def loads_with(
    project: Project, climate: Climate, rooms: Sequence[Room], known: dict[str, RoomResult], memo: Memo
) -> list[RoomResult | Missing]:
    """Some served rooms as they are given here, beside all others as these were felt before."""
    row, turns = _row_keys(project, climate), []
    for room in rooms:
        turn = Turn((room,), row, {})
        turn.beside = known[room.id].beside if room.id in known else {}
        turns.append(turn)
    found = _kept_in_turn(project, climate, turns, memo)
    return [found[room.id] for room in rooms]


class Turn:
    """Rooms that are computed together, and the rooms beside as they felt them when it was last their turn.

    What a room comes to hangs on its own surroundings alone: rooms far away take no more turns for it, and a room takes
    another only when what it feels has moved.
    """

    def __init__(
        self, rooms: tuple[Room, ...], row: Callable[[Room], tuple[Any, ...]], open_to: Mapping[str, tuple[str, ...]]
    ) -> None:
        own = {room.id for room in rooms}
        self.rooms = rooms
        self.open_to = sorted({i for room in rooms for i in open_to.get(room.id, ())} - own)
        self.beside: Mapping[str, Felt] | None = None
        self._rows = tuple(row(room) for room in rooms)

    def is_due(self, felt: Mapping[str, Felt]) -> bool:
        """Whether it is these rooms' turn; if so they take over what they feel now."""
        now = {i: felt[i] for i in self.open_to if i in felt}
        then = self.beside
        due = then is None or now.keys() != then.keys() or any(_moved_k(now[i], then[i]) >= SETTLED_K for i in now)
        if due:
            self.beside = now
        return due

    @property
    def key(self) -> tuple[Any, ...]:
        return (self._rows, tuple((i, Same(felt)) for i, felt in (self.beside or {}).items()))


def _moved_k(now: Felt, then: Felt) -> float:
    return 0.0 if now is then else now.moved_k(then)


def _drift_in_turn(
    project: Project, climate: Climate, turns: Sequence[Turn], memo: Memo
) -> dict[str, RoomResult | Missing]:
    found: dict[str, RoomResult | Missing] = {}
    rows = memo.rows(
        "drift",
        [turn.key for turn in turns],
        lambda stale: each(
            lambda clusters: [
                {i: memo.again(("drift", i), r) for i, r in found.items()}
                for found in _drift(project, climate, clusters, memo)
            ],
            [turns[i] for i in stale],
            lambda turn: _named(turn.rooms),
        ),
    )
    for turn, results in zip(turns, rows):
        found.update(results if isinstance(results, dict) else {room.id: results for room in turn.rooms})
    return found


def _kept_in_turn(
    project: Project, climate: Climate, turns: Sequence[Turn], memo: Memo
) -> dict[str, RoomResult | Missing]:
    rows = memo.rows(
        "loads",
        [turn.key for turn in turns],
        lambda stale: each(
            lambda batch: [
                memo.again(("loads", turn.rooms[0].id), r)
                for turn, r in zip(batch, _batch(project, climate, batch, memo))
            ],
            [turns[i] for i in stale],
            lambda turn: _named(turn.rooms),
        ),
    )
    return {turn.rooms[0].id: result for turn, result in zip(turns, rows)}


def _named(rooms: Sequence[Room]) -> str:
    return "Loads of room " + ", ".join(shortened(room.number) for room in rooms[:4])


def _row_keys(project: Project, climate: Climate) -> Callable[[Room], tuple[Any, ...]]:
    """What a room's loads are made from, as a part of a memo key."""
    systems = {s.id: s for s in project.air_systems}
    reads = _reads(Same(project))
    shaded, site = before_walls(project), project.site
    turned = (site.summer_time, site.north_deg) if site else ()
    common = Ready(key(climate, project.area_basis, turned))

    def row(room: Room) -> tuple[Any, ...]:
        system = systems.get(room.system_id)
        zone = find(project.zones, room.zone_id) if room.zone_id else None
        return (
            Same(room),
            common,
            Same(zone),
            Same(system.operation if system else None),
            reads.of(room),
            shaded.get(room.id),
        )

    return row


@lru_cache(maxsize=4)
def _reads(project: Same) -> Reads:
    return Reads(project.item)


def _clusters(project: Project) -> list[list[Room]]:
    """Rooms without plant, those that share a wall or slab together."""
    alone = {room.id: room for room in project.rooms if not room.kept}
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


def _rows(
    project: Project, rooms: Sequence[Room], beside: Sequence[Mapping[str, Felt]], found: dict[Any, Any]
) -> list[Row]:
    """Rows of rooms that can be computed; the others are put into `found` with the reason."""
    rows = []
    for room, felt in zip(rooms, beside):
        try:
            fabric = room_fabric(project, room)
            zone, system = find(project.zones, room.zone_id), find(project.air_systems, room.system_id)
            figures = room_figures(
                room, walls_of(project.walls, room.id), zone, project.area_basis, project.book, system
            )
        except InputError as error:
            found[room.id] = Missing("not computed", str(error), Lack.NOT_COMPUTED)
            continue
        row = Row(room, figures, fabric, room.kept, figures.area_m2.figure * room.ceiling_m, beside=felt)
        closed = not any(s.film is not None for s in fabric.surfaces) and figures.infiltration_1h.figure <= 0
        if not fabric.surfaces and not (room.kept and stands_on_area(project, room)):
            found[room.id] = Missing("no faces", f"Give room {room.number} walls, a floor or a ceiling", Lack.NO_FACES)
        elif not room.kept and closed:
            found[room.id] = Missing(
                "no way out",
                f"Room {room.number} has no plant and nothing that could carry its heat away",
                Lack.NO_WAY_OUT,
            )
        else:
            rows.append(row)
    return rows


def _drift(
    project: Project, climate: Climate, turns: Sequence[Turn], memo: Memo
) -> list[dict[str, RoomResult | Missing]]:
    """Rooms without plant: swept until what they give each other no longer moves."""
    found: dict[str, RoomResult | Missing] = {}
    alone, batches = [], []
    for turn in turns:
        rows = _rows(project, turn.rooms, [turn.beside or {}] * len(turn.rooms), found)
        # Rooms that touch no other drifting room are one batch; the others settle cluster by cluster, so that what a
        # cluster comes to never hangs on which other clusters were stale.
        if len(rows) == 1:
            alone += rows
        else:
            batches.append(rows)
    for batch in (alone, *batches):
        if batch:
            found.update(_settle(project, climate, batch, memo))
    return [{room.id: found[room.id] for room in turn.rooms} for turn in turns]


def _settle(project: Project, climate: Climate, rows: list[Row], memo: Memo) -> dict[str, RoomResult]:
    ids = {row.room.id for row in rows}
    joined = any(s.other_id in ids for row in rows for s in row.fabric.surfaces)
    hours = [plant_hours(row.figures, False, project.site) for row in rows]
    results: list[RoomResult] = []
    felt: dict[str, Felt] = {}
    for _ in range(MOST_TURNS):
        days = boundary_conditions(project, climate, rows, hours, climate.air_heat_j_m3k, memo)
        before, results = felt, _results(project, climate, rows, hours, days, room_loads(days))
        felt = {r.room_id: r.felt for r in results}
        if not joined or (before and all(_moved_k(felt[i], before[i]) < SETTLED_K / 2 for i in felt)):
            break
        rows = [replace(row, beside={**row.beside, **felt}) for row in rows]
    return {row.room.id: result for row, result in zip(rows, results)}


def _batch(project: Project, climate: Climate, turns: Sequence[Turn], memo: Memo) -> list[RoomResult | Missing]:
    found: dict[str, RoomResult | Missing] = {}
    rows = _rows(project, [t.rooms[0] for t in turns], [t.beside or {} for t in turns], found)
    for row in [r for r in rows if stands_on_area(project, r.room)]:
        found[row.room.id] = _estimated(project, climate, row, memo)
        rows.remove(row)
    if rows:
        above = voids(project, climate, rows, memo)
        rows = [above[row.room.id].row if row.room.id in above else row for row in rows]
        hours = [plant_hours(row.figures, True, project.site) for row in rows]
        days = boundary_conditions(project, climate, rows, hours, climate.air_heat_j_m3k, memo)
        for row, result in zip(rows, _results(project, climate, rows, hours, days, room_loads(days))):
            void = above.get(row.room.id)
            found[row.room.id] = (
                _solved(row, result)
                if void is None
                else _solved(row, replace(result, void=void.felt, return_gain_w=void.return_gain_w))
            )
    return [found[turn.rooms[0].id] for turn in turns]


def _solved(row: Row, result: RoomResult) -> RoomResult | Missing:
    """A room whose plant finds no steady day has no figure; no sum takes it for nothing."""
    if result.solved:
        return result
    return Missing("no steady day", f"Free the limits of the plant in room {row.room.number}", Lack.UNSOLVED)


def row_of(project: Project, room: Room, found: Mapping[str, RoomResult | Missing]) -> Row:
    """One room as it was computed: its faces, with tiles below a void, and the rooms beside as it felt them."""
    result = found.get(room.id)
    row = _rows(project, [room], [result.beside if isinstance(result, RoomResult) else {}], {})[0]
    return tiled(project, row) if isinstance(result, RoomResult) and result.void is not None else row


def days_of(
    project: Project, climate: Climate, room: Room, found: Mapping[str, RoomResult | Missing], memo: Memo
) -> tuple[Row, Hours, RoomDays]:
    """One room as the core took it, for whoever wants to look closer."""
    row = row_of(project, room, found)
    hours = plant_hours(row.figures, row.kept, project.site)
    return row, hours, boundary_conditions(project, climate, [row], [hours], climate.air_heat_j_m3k, memo)


def _results(
    project: Project, climate: Climate, rows: Sequence[Row], hours: Sequence[Hours], days: RoomDays, found: RoomLoads
) -> list[RoomResult]:
    latent = _latent(climate, project, rows, hours)
    steady, balanced, winter, warm = _heating(project, climate, rows, hours, days)
    counted = np.array([h.counted if row.kept else np.ones((12, 24), bool) for row, h in zip(rows, hours)])
    spread, on_floors = sun_inside(rows, days)
    sensible, by_cause = found.sensible_w, found.by_cause_w
    starts = np.flatnonzero([h.months.start_up.any() for h in hours])
    start_w, reached = np.zeros(len(rows)), np.full((len(rows), 24), -1)
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
                Felt(found.air_c[r], found.star_c[r], spread[r], on_floors[r]),
                float(start_w[r]),
                tuple(int(hour) for hour in reached[r][reached[r] >= 0]),
                float(warm[r]) if row.kept else 0.0,
                not found.unsolved[r].any(),
                beside=row.beside,
            )
        )
    return results


def _start(
    which: NDArray[Any],
    days: RoomDays,
    found: RoomLoads,
    hours: Sequence[Hours],
    counted: NDArray[Any],
    sensible: NDArray[Any],
    by_cause: NDArray[Any],
    start_w: NDArray[Any],
    reached: NDArray[Any],
) -> None:
    """Start-up hours: no plant is sized for a step back in one hour, so they run at the limit the used hours give."""
    peaks = [peak_of(sensible[r], counted[r]) for r in which]
    limit = np.array([max(0.0, sensible[r][p]) for r, p in zip(which, peaks)])
    month = np.array([p[0] for p in peaks])
    g, force = _matrices(days, which, month, found)
    plan = days.plan.rows(which).of_day(month)
    first = np.array([hours[r].months.first_used[m] for r, m in zip(which, month)])
    need, hour = cooling_start(g, force, plan, limit, first)
    start_w[which], reached[which] = need, hour
    for k, r in enumerate(which):
        at = hours[r].months.start_up
        whole = sensible[r][at]
        held = np.minimum(whole, max(need[k], 1.0))
        share = np.where(np.abs(whole) > 1e-9, held / np.where(np.abs(whole) > 1e-9, whole, 1.0), 1.0)
        sensible[r][at] = held
        by_cause[:, r][:, at] *= share


def _matrices(
    days: RoomDays, which: NDArray[Any], month: NDArray[Any], found: RoomLoads
) -> tuple[NDArray[Any], NDArray[Any]]:
    """(G (n, 24, 24), force (n, 24)) of some rooms on one day each, from the solution itself: f = G th - q."""
    response = respond(_faces_of(days.surfaces, which))
    g = air_matrix(day_hours(response.air), days.exchange_w_k[which] + days.bridges_w_k[which], days.stored_j_k[which])
    # With the limits off, air and load belong together; with them, given_w is the plant's heat.
    air_c, q = found.air_c[which, month], -found.given_w[which, month]
    return g, np.einsum("rij,rj->ri", g, air_c) - q


def _faces_of(surfaces: Surfaces, which: NDArray[Any]) -> Surfaces:
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
    moisture = by_clock(moisture, project.site) / HEAT_OF_VAPOUR
    set_point = np.array([row.figures.cooling_c.figure for row in rows])
    held = np.array([row.figures.humidity for row in rows])
    limit = air.humidity_ratio(set_point, held, climate.pressure_pa)
    leak = np.array([row.figures.infiltration_1h.figure * row.volume_m3 / 3600 for row in rows]) * climate.dry_air_kg_m3
    outdoor = climate.days.humidity_ratio
    latent = HEAT_OF_VAPOUR * (moisture + leak[:, None, None] * (outdoor - limit[:, None, None]))
    by_hour = np.flatnonzero([not h.always for h in hours])
    if len(by_hour):
        stored = np.array([rows[r].volume_m3 for r in by_hour]) * climate.dry_air_kg_m3
        on = np.array([hours[r].months.on for r in by_hour])
        latent[by_hour] = moisture_days(
            moisture[by_hour], leak[by_hour], outdoor, stored, on, np.zeros(len(by_hour)), limit[by_hour]
        ).latent_w
    return np.maximum(latent, 0.0)


@dataclass(frozen=True, slots=True, eq=False)
class WinterDay:
    """Rooms on the winter design day, as both heating methods take them.

    losses      (8, rooms) of the steady method, see Losses; behind_c (surfaces,) where open_back is set
    exchange    (rooms,) leakage and bridges [W/K];  convective_w, radiant_w (rooms, 24) gains by the day's own profile
    counted     (rooms, 24) hours that the plant is sized for
    """

    losses: NDArray[np.float64]
    faces: Surfaces
    behind_c: NDArray[np.float64]
    open_back: NDArray[np.bool_]
    leak_m3s: NDArray[np.float64]
    exchange_w_k: NDArray[np.float64]
    inside_c: NDArray[np.float64]
    outside_c: float
    convective_w: NDArray[np.float64]
    radiant_w: NDArray[np.float64]
    counted: NDArray[np.bool_]


def winter_day(
    project: Project, climate: Climate, rows: Sequence[Row], hours: Sequence[Hours], days: RoomDays
) -> WinterDay:
    """What rooms meet on the winter design day."""
    out, mean = climate.figures.winter_c.figure, climate.figures.annual_mean_c.figure
    inside = np.array([row.figures.heating_c.figure for row in rows])
    surfaces = [(r, s) for r, row in enumerate(rows) for s in row.fabric.surfaces]
    sums, behind = _winter_faces(project, rows, surfaces, inside, out, mean)
    leak = np.array([row.figures.infiltration_1h.figure * row.volume_m3 / 3600 for row in rows])
    convective, radiant = (part.sum(axis=0) for part in winter_gains(rows))
    f = days.surfaces
    hc = np.array([HC_HEATING.get(s.face.kind, 2.5) for _, s in surfaces])
    return WinterDay(
        sums,
        Surfaces(f.room, f.area_m2, hc, radiant_films(f.room, f.area_m2, mean_k=295.15), f.y_in, f.y_through),
        behind,
        np.array([s.film is not None for _, s in surfaces], bool),
        leak,
        leak * climate.air_heat_j_m3k + sums[7],
        inside,
        out,
        convective,
        radiant,
        np.array([h.winter.counted for h in hours]),
    )


def _heating(
    project: Project, climate: Climate, rows: Sequence[Row], hours: Sequence[Hours], days: RoomDays
) -> tuple[HeatingLoads, NDArray[Any], NDArray[Any], NDArray[Any]]:
    """(steady loads, balanced loads (rooms,), winter temperature (rooms,), warm-up need (rooms,))."""
    day = winter_day(project, climate, rows, hours, days)
    out, mean, inside = day.outside_c, climate.figures.annual_mean_c.figure, day.inside_c
    winter = np.array([inside[r] if row.kept else _winter(project, row.room, out) for r, row in enumerate(rows)])
    # Heat that is there in every hour that counts is heat the plant need not give.
    always_there = np.where(day.counted, day.convective_w + day.radiant_w, np.inf).min(axis=1)
    gains = np.where(np.isfinite(always_there), always_there, 0.0)
    # Only plant that goes off, or is set back, has anything to warm up.
    rests = np.array([row.kept and not h.winter.always for row, h in zip(rows, hours)])
    floors = np.array([row.figures.area_m2.figure for row in rows])
    reheat = assumption(project.book, "warm_up_w_m2").figure * np.where(rests, floors, 0.0)
    losses = Losses(*day.losses, day.leak_m3s, reheat, gains)
    steady = heating_loads(losses, inside, out, mean, climate.pressure_pa)
    balanced = balanced_heating(day.faces, day.behind_c, day.open_back, day.exchange_w_k, out, inside).heat_w.copy()
    given = np.flatnonzero((day.convective_w + day.radiant_w).any(axis=1))
    if len(given):
        # Heat that is there in one hour is stored and comes back in later ones.
        taken_off = gains_at_operative(
            respond(_faces_of(day.faces, given)),
            day.exchange_w_k[given],
            days.stored_j_k[given],
            day.convective_w[given],
            day.radiant_w[given],
        )
        by_hour = np.where(day.counted[given], balanced[given, None] - taken_off, 0.0)
        balanced[given] = np.maximum(by_hour.max(axis=1), 0.0)
    warm = np.zeros(len(rows))
    which = np.flatnonzero([row.kept and h.winter.start_up.any() for row, h in zip(rows, hours)])
    if len(which):
        warm[which] = _warm_up(day, days, which, [rows[r] for r in which], [hours[r] for r in which])
    return steady, balanced, winter, warm


def _warm_up(
    day: WinterDay, days: RoomDays, which: NDArray[Any], rows: Sequence[Row], hours: Sequence[Hours]
) -> NDArray[np.float64]:
    """Heat that warms some rooms up in time (n,) [W]."""
    faces, exchange = _faces_of(day.faces, which), day.exchange_w_k[which]
    response = respond(faces)
    g = air_matrix(day_hours(response.air), exchange, days.stored_j_k[which])
    at = np.concatenate([np.flatnonzero(day.faces.room == r) for r in which])
    through = np.where(day.open_back[at], response.through[:, 0].real * day.behind_c[at], 0.0)
    steadily = np.bincount(faces.room, through, len(which)) + exchange * day.outside_c
    gains = day.convective_w[which] + day_hours(day_spectrum(day.radiant_w[which]) * response.star)
    plan = winter_plan(rows, hours)
    plan = replace(plan, cool_c=np.full(plan.cool_c.shape, NO_COOLING_C))
    return warm_up(g, steadily[:, None] + gains, plan, np.array([h.winter.first_used for h in hours]))


def _winter_faces(
    project: Project,
    rows: Sequence[Row],
    surfaces: Sequence[tuple[int, Surface]],
    inside: NDArray[Any],
    out: float,
    mean: float,
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(losses (8, rooms): walls, roofs, glass, floors out, ground, unheated [W/K], rooms beside [W], bridges [W/K],
    temperature behind each face (surfaces,)) on the winter design day.
    """
    bridges = assumption(project.book, "bridges_w_m2k").figure
    sums, behind = np.zeros((8, len(rows))), np.full(len(surfaces), out)
    for i, (r, s) in enumerate(surfaces):
        ua = s.face.area_m2 * s.face.u_w_m2k
        if s.face.to == "outdoors":
            sums[{"walls": 0, "roofs": 1, "conduction through glass": 2, "floors": 3}[s.cause], r] += ua
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
            if other is not None and other.kept:
                _, theirs = set_points(other, find(project.zones, other.zone_id), project.book)
                sums[6, r] += ua * max(0.0, inside[r] - theirs)
                behind[i] = min(theirs, inside[r])
            else:
                b = dict(rows[r].fabric.b_factors).get(s.other_id, 1.0)
                sums[5, r] += ua * b
                behind[i] = inside[r] - b * (inside[r] - out)
    return sums, behind


def _winter(project: Project, room: Room, out: float) -> float:
    """Where a room without plant stands on the winter design day, from its steady losses."""
    inside, outside = losses(project, room)
    beside = [
        set_points(n, find(project.zones, n.zone_id), project.book)[1] for n in neighbours(project, room) if n.kept
    ]
    warm = float(np.mean(beside)) if beside else out
    return (inside * warm + outside * out) / (inside + outside) if inside + outside > 0 else warm


def _estimated(project: Project, climate: Climate, row: Row, memo: Memo) -> RoomResult:
    """A room known by area and use alone: the early estimate of its use times its floor."""
    f = row.figures
    found = density(project, climate, f, memo, outside_shares(project, row.room, f.area_m2.figure))
    area, by_cause = f.area_m2.figure, found.by_cause_w_m2 * f.area_m2.figure
    latent = by_clock((f.people.figure * f.use.latent_w + f.moisture_w.figure) * f.profile.summer, project.site)
    heating = np.zeros(len(HEATING_CAUSES))
    heating[HEATING_CAUSES.index("walls")] = found.heating_w_m2 * area
    counted = np.zeros((12, 24), bool)
    counted[:, 8:19] = True
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
        Felt(level, level, np.zeros((12, 24)), np.zeros((12, 24))),
        estimate=found,
    )


def estimate_inputs(
    project: Project, climate: Climate, figures: RoomFigures, outside: tuple[float, float] = (0.0, 0.0)
) -> tuple[Gains, Shell, Weather]:
    """What the early estimate of a room is made from: its gains, the office standards' shell, the place's design days.

    outside     shares of its ceilings that are a roof, and of its floors that lie on the ground
    """
    use = replace(figures.use, lights_w_m2=figures.lights_w_m2.figure, equipment_w_m2=figures.equipment_w_m2.figure)
    people_m2 = figures.people.figure / figures.area_m2.figure
    return _estimated_from(project, climate, use, figures.profile, people_m2, outside)


def estimate_of_use(
    project: Project, climate: Climate, use: RoomUse, profile: DayProfiles, outside: tuple[float, float]
) -> tuple[Gains, Shell, Weather]:
    """The same for a use as the office standards have it."""
    return _estimated_from(project, climate, use, profile, use.people_m2, outside)


def _estimated_from(
    project: Project,
    climate: Climate,
    use: RoomUse,
    profile: DayProfiles,
    people_m2: float,
    outside: tuple[float, float],
) -> tuple[Gains, Shell, Weather]:
    gains = Gains(
        people_m2 * use.sensible_w,
        use.people_radiant,
        use.lights_w_m2,
        use.lights_radiant,
        use.equipment_w_m2,
        use.equipment_radiant,
        profile.summer,
    )
    given = {
        name: assumption(project.book, f"estimate_{short}").figure
        for name, short in (
            ("glass_share", "glass"),
            ("glass_u", "glass_u"),
            ("g", "g"),
            ("wall_u", "wall_u"),
            ("infiltration_1h", "leak_1h"),
            ("roof_u", "roof_u"),
            ("ground_u", "ground_u"),
        )
    }
    shell = Shell(**given, roof_share=outside[0], ground_share=outside[1])
    weather = Weather(
        climate.days.dry_bulb_c,
        climate.sun,
        climate.beam,
        climate.diffuse,
        climate.figures.ground_reflectance.figure,
        climate.air_heat_j_m3k,
        climate.figures.winter_c.figure,
        climate.ground_c,
        climate.figures.annual_mean_c.figure,
    )
    return gains, shell, weather


def density(
    project: Project, climate: Climate, figures: RoomFigures, memo: Memo, outside: tuple[float, float] = (0.0, 0.0)
) -> Estimate:
    """The early estimate of a use at this place with the office standards' shell, remembered."""
    gains, shell, weather = estimate_inputs(project, climate, figures, outside)
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
        *astuple(shell),
    )
    return memo.one(
        "estimate",
        row,
        lambda: estimate(USUAL_FLOOR_M2, shell, gains, weather, figures.cooling_c.figure, figures.heating_c.figure),
    )
