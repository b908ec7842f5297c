"""Loads of many rooms through design days, by cause: plant that holds, runs by the hour, or is not there at all.

Source: own method on the balance of loads/balance.py.
"""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.loads.balance import RoomResponse, Surfaces, day_hours, day_spectrum, respond, sum_by
from garnetfin.core.loads.plant import FREE, Plan, air_matrix, held_all_day, run_plant, shares

CAUSES = (
    "solar through glass",
    "conduction through glass",
    "walls",
    "roofs",
    "floors",
    "unheated spaces",
    "adjacent rooms",
    "thermal bridges",
    "infiltration",
    "people",
    "lights",
    "equipment",
    "set-point change",
)
CAUSE = {name: i for i, name in enumerate(CAUSES)}
NO_LOSS_W_K, TRACE_W_K = 0.01, 1e-3
_STORED = CAUSE["adjacent rooms"] + 1  # causes that come through surfaces, first in the list; they need the spectrum
AIR_AND_LIGHT_FURNITURE = 5.0  # heat stored near the air, as a multiple of the air's own
SHADE_TO_AIR = 0.6  # of what an inside shade takes up; the rest radiates. Project default
_BLOCK = 50  # rooms whose causes stay in cache


@dataclass(frozen=True, slots=True, eq=False)
class RoomDays:
    """All that drives the rooms; R rooms, S surfaces (sorted by room), W windows (sorted by surface), M days.

    surfaces         faces with their periodic response
    behind_c         (S, M, 24) temperature behind each surface [degC] (sol-air, outdoor, ground, room beside);
                     rows of adiabatic surfaces are not read
    behind_cause     (S,) number in CAUSES for the heat that comes through, -1 for adiabatic ones
    sun_weight       (S,) share of the room's diffused sun that each surface takes; sums to 1 - lost in each room
    floor_weight     (S,) share of transmitted beam that the floor takes at once (0 elsewhere)
    window_surface   (W,) surface number of each window
    window_beam_w    (W, M, 24) transmitted beam [W]
    window_diffuse_w (W, M, 24) transmitted sky and ground light [W]
    window_glass_w_m2 (W, M, 24) absorbed heat put on the inside glass face [W/m2]
    convective_w, radiant_w  (3, R, 24) or (3, R, M, 24) people, lights, equipment [W]
    exchange_w_k     (R,) air leakage [W/K], or (R, 24) by the hour of rooms without plant
    outdoor_c        (M, 24);  set_point_c (R,) what temperatures are counted from while the plant cools
    bridges_w_k      (R,) thermal bridges straight to outdoors [W/K]
    capacity_j_k     (R,) heat stored with the air [J/K]; matters only while the air drifts
    plan             when the plant runs; None: all rooms are held at set_point_c
    window_shade_w   (W, M, 24) heat that inside shades give off in the room [W]
    """

    surfaces: Surfaces
    behind_c: NDArray[np.float64]
    behind_cause: NDArray[np.intp]
    sun_weight: NDArray[np.float64]
    floor_weight: NDArray[np.float64]
    window_surface: NDArray[np.intp]
    window_beam_w: NDArray[np.float64]
    window_diffuse_w: NDArray[np.float64]
    window_glass_w_m2: NDArray[np.float64]
    convective_w: NDArray[np.float64]
    radiant_w: NDArray[np.float64]
    exchange_w_k: NDArray[np.float64]
    outdoor_c: NDArray[np.float64]
    set_point_c: NDArray[np.float64]
    bridges_w_k: NDArray[np.float64] | None = None
    capacity_j_k: NDArray[np.float64] | None = None
    plan: Plan | None = None
    window_shade_w: NDArray[np.float64] | None = None

    @property
    def stored_j_k(self) -> NDArray[np.float64]:
        """Heat stored with the air (R,) [J/K], 0 where none is given."""
        return np.zeros(len(self.set_point_c)) if self.capacity_j_k is None else self.capacity_j_k


@dataclass(frozen=True, slots=True, eq=False)
class RoomLoads:
    """Row r belongs to the r-th room; M days of 24 hour means, > 0 = heat to remove.

    sensible_w (R, M, 24)   what the plant would have to remove, without a limit
    by_cause_w (causes, R, M, 24)  its parts; their sum is sensible_w
    instant_gain_w (causes, R, M, 24)  what enters in the same hour, before walls and floors store it
    air_c, star_c (R, M, 24) air and mean radiant temperature with the plant's limits in force
    given_w (R, M, 24)      what the plant removes within its limits
    state (R, M, 24)        state of the unlimited plant in every hour
    unsolved (R, M)         days for which no set of states was found
    """

    sensible_w: NDArray[np.float64]
    by_cause_w: NDArray[np.float64]
    instant_gain_w: NDArray[np.float64]
    air_c: NDArray[np.float64]
    star_c: NDArray[np.float64]
    given_w: NDArray[np.float64]
    state: NDArray[np.int8]
    unsolved: NDArray[np.bool_]

    def __post_init__(self) -> None:
        for array in (self.sensible_w, self.by_cause_w, self.instant_gain_w, self.air_c, self.given_w):
            array.flags.writeable = False


def room_loads(days: RoomDays) -> RoomLoads:
    """Sensible loads of rooms [W], delays included, split exactly by cause.

    With fixed coefficients the balance is linear: every temperature is counted from the set-point of the day, and
    each cause
    goes through the room's response, and through the plant's hours, alone.
    Raises InputError for a room without surfaces, or without plant and with nowhere to lose its heat.
    """
    rooms = len(days.set_point_c)
    if rooms == 0 or len(np.unique(days.surfaces.room)) != rooms:
        raise InputError("Every room needs at least one surface", remedy="Give it walls, a floor or a ceiling")
    if rooms <= _BLOCK:
        return _block(days)
    with ThreadPoolExecutor(2) as pool:  # NumPy lets go of the interpreter in the large calls
        parts = list(pool.map(_block, _blocks(days, rooms)))
    axis = {"by_cause_w": 1, "instant_gain_w": 1}
    return RoomLoads(
        **{
            name: np.concatenate([getattr(p, name) for p in parts], axis.get(name, 0))
            for name in RoomLoads.__dataclass_fields__
        }
    )


def _blocks(days: RoomDays, rooms: int) -> Iterator[RoomDays]:
    for lo in range(0, rooms, _BLOCK):
        hi = min(rooms, lo + _BLOCK)
        a, b = np.searchsorted(days.surfaces.room, (lo, hi))
        u, v = np.searchsorted(days.window_surface, (a, b))
        f, s, w, r = days.surfaces, slice(a, b), slice(u, v), slice(lo, hi)
        yield replace(
            days,
            surfaces=Surfaces(f.room[s] - lo, f.area_m2[s], f.hc_w_m2k[s], f.hr_w_m2k[s], f.y_in[s], f.y_through[s]),
            behind_c=days.behind_c[s],
            behind_cause=days.behind_cause[s],
            sun_weight=days.sun_weight[s],
            floor_weight=days.floor_weight[s],
            window_surface=days.window_surface[w] - a,
            window_beam_w=days.window_beam_w[w],
            window_diffuse_w=days.window_diffuse_w[w],
            window_glass_w_m2=days.window_glass_w_m2[w],
            window_shade_w=None if days.window_shade_w is None else days.window_shade_w[w],
            convective_w=days.convective_w[:, r],
            radiant_w=days.radiant_w[:, r],
            exchange_w_k=days.exchange_w_k[r],
            set_point_c=days.set_point_c[r],
            bridges_w_k=None if days.bridges_w_k is None else days.bridges_w_k[r],
            capacity_j_k=None if days.capacity_j_k is None else days.capacity_j_k[r],
            plan=None if days.plan is None else days.plan.rows(r),
        )


def _block(days: RoomDays) -> RoomLoads:
    rooms = len(days.set_point_c)
    plan = days.plan or held_all_day(days.set_point_c)
    response = respond(days.surfaces)
    bridges = np.zeros(rooms) if days.bridges_w_k is None else days.bridges_w_k
    capacity = days.stored_j_k
    spectra, instant, per_k = _drive(days, response, bridges)
    f = np.zeros_like(instant)
    f[:_STORED] = day_hours(spectra)
    f[CAUSE["infiltration"]] = instant[CAUSE["infiltration"]]
    f[CAUSE["thermal bridges"]] = instant[CAUSE["thermal bridges"]]
    gains = slice(CAUSE["people"], CAUSE["people"] + 3)
    f[gains] = _months(
        day_hours(day_spectrum(days.radiant_w) * _of_days(response.star, days.radiant_w)) + days.convective_w,
        f.shape[2],
    )

    exchange = days.exchange_w_k + (bridges if days.exchange_w_k.ndim == 1 else bridges[:, None])
    g = air_matrix(day_hours(response.air), exchange, capacity)
    # A room that loses no heat at all has no drift of its own to be solved: a trace of loss to its set-point gives it
    # one and moves no load.
    closed = (g.sum(axis=(1, 2)) / 24 < NO_LOSS_W_K) & plan.on.reshape(rooms, -1).any(axis=1)
    g[np.ix_(closed, range(24), range(24))] += TRACE_W_K * np.eye(24)
    reference = np.repeat(days.set_point_c[:, None], f.shape[2], axis=1)
    force = f.sum(axis=0) + g.sum(axis=2)[:, None, :] * reference[:, :, None]
    days_of = run_plant(g, force, plan.unlimited())
    sensible = -days_of.heat_w
    by_cause = f
    moving = np.flatnonzero(~plan.held)
    if len(moving):
        by_cause[:, moving] = _by_cause(
            g[moving],
            f[:, moving],
            per_k[:, moving],
            plan.rows(moving),
            days_of.state[moving],
            reference[moving],
            sensible[moving],
        )
    given, air, unsolved = sensible, days_of.air_c, days_of.unsolved
    tight = np.flatnonzero(np.isfinite(plan.heat_limit_w) | np.isfinite(plan.cool_limit_w))
    if len(tight):
        limited = run_plant(g[tight], force[tight], replace(plan.rows(tight), held=np.zeros(len(tight), bool)))
        given, air, unsolved = given.copy(), air.copy(), unsolved.copy()
        given[tight], air[tight], unsolved[tight] = -limited.heat_w, limited.air_c, limited.unsolved
    return RoomLoads(sensible, by_cause, instant, air, _star(days, response, air), given, days_of.state, unsolved)


def _months(rows: NDArray[Any], days: int) -> NDArray[Any]:
    """(3, R, 24) of every day, or (3, R, M, 24), as the latter."""
    return rows if rows.ndim == 4 else np.repeat(rows[:, :, None], days, axis=2)


def _of_days(per_room: NDArray[Any], rows: NDArray[Any]) -> NDArray[Any]:
    return per_room[:, None, :] if rows.ndim == 4 else per_room


def _drive(
    days: RoomDays, response: RoomResponse, bridges: NDArray[Any]
) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any]]:
    """(spectra (stored causes, R, M, 13) of heat at the air from each, what enters at once (causes, R, M, 24) [W],
    W of each cause per K of reference (causes, R))."""
    rooms, room, count = len(days.set_point_c), days.surfaces.room, days.behind_c.shape[1]
    through = np.flatnonzero(days.behind_cause >= 0)
    keys = days.behind_cause[through] * rooms + room[through]
    rise = days.behind_c[through] - days.set_point_c[room[through], None, None]
    heat = day_spectrum(rise) * response.through[through, None, :]
    spectra = sum_by(keys, _STORED * rooms, heat).reshape(_STORED, rooms, count, 13)
    per_k = np.zeros((len(CAUSES), rooms))
    steady = response.through[through, 0].real
    per_k[:_STORED] = sum_by(keys, _STORED * rooms, steady).reshape(_STORED, rooms)

    instant = np.zeros((len(CAUSES), rooms, count, 24))
    instant[:_STORED] = sum_by(keys, _STORED * rooms, rise * steady[:, None, None]).reshape(_STORED, rooms, count, 24)
    outdoor = days.outdoor_c - days.set_point_c[:, None, None]
    for name, per in (("infiltration", days.exchange_w_k), ("thermal bridges", bridges)):
        instant[CAUSE[name]] = (per[:, None, None] if per.ndim == 1 else per[:, None, :]) * outdoor
        per_k[CAUSE[name]] = per if per.ndim == 1 else per.mean(axis=1)
    spectra[CAUSE["solar through glass"]] += _sun(days, response, rooms)
    window_room = room[days.window_surface]
    area = days.surfaces.area_m2[days.window_surface][:, None, None]
    entering = days.window_beam_w + days.window_diffuse_w + days.window_glass_w_m2 * area
    if days.window_shade_w is not None:
        entering = entering + days.window_shade_w
    instant[CAUSE["solar through glass"]] = sum_by(window_room, rooms, entering)
    first = CAUSE["people"]
    instant[first : first + 3] = _months(days.convective_w + days.radiant_w, count)
    return spectra, instant, per_k


def _sun(days: RoomDays, response: RoomResponse, rooms: int) -> NDArray[np.complex128]:
    """Spectrum (rooms, M, 13) of the load from sun through glass: transmitted, absorbed, and given off by inside
    shades.
    """
    surfaces = days.surfaces
    per_watt = response.per_flux / surfaces.area_m2[:, None]
    to_diffuse = sum_by(surfaces.room, rooms, days.sun_weight[:, None] * per_watt)
    to_floor = sum_by(surfaces.room, rooms, days.floor_weight[:, None] * per_watt)
    on_floor = sum_by(surfaces.room, rooms, days.floor_weight)
    window_room = surfaces.room[days.window_surface]
    beam = day_spectrum(sum_by(window_room, rooms, days.window_beam_w))
    diffuse = day_spectrum(sum_by(window_room, rooms, days.window_diffuse_w))
    total = beam * to_floor[:, None] + (diffuse + beam * (1 - on_floor)[:, None, None]) * to_diffuse[:, None]
    absorbed = day_spectrum(days.window_glass_w_m2) * response.per_flux[days.window_surface, None, :]
    total = total + sum_by(window_room, rooms, absorbed)
    if days.window_shade_w is not None:
        shade = day_spectrum(sum_by(window_room, rooms, days.window_shade_w))
        total = total + shade * (SHADE_TO_AIR + (1 - SHADE_TO_AIR) * response.star[:, None, :])
    answer: NDArray[Any] = total
    return answer


def _by_cause(
    g: NDArray[Any],
    f: NDArray[Any],
    per_k: NDArray[Any],
    plan: Plan,
    state: NDArray[Any],
    reference: NDArray[Any],
    sensible: NDArray[Any],
) -> NDArray[np.float64]:
    """Shares of rooms whose plant runs by the hour."""
    shifted = f - per_k[:, :, None, None] * (counted_from(plan, sensible) - reference)[None, :, :, None]
    split = shares(g, state, shifted)
    split[CAUSE["set-point change"]] += sensible - split.sum(axis=0)
    return np.where((state == FREE)[None], 0.0, split)


def counted_from(plan: Plan, sensible_w: NDArray[Any]) -> NDArray[np.float64]:
    """What the temperatures of each day count from (R, M) [degC]: the set-point of its greatest hour, which may heat.

    sensible_w (R, M, 24) as RoomLoads has it.
    """
    plan = plan.through(sensible_w.shape[1])
    peak = np.abs(sensible_w).argmax(axis=2)[:, :, None]
    heats = np.take_along_axis(sensible_w, peak, 2)[:, :, 0] < 0
    low, high = (np.take_along_axis(x, peak, 2)[:, :, 0] for x in (plan.heat_c, plan.cool_c))
    return np.where(heats & ~plan.held[:, None], low, high)


def _star(days: RoomDays, response: RoomResponse, air_c: NDArray[Any]) -> NDArray[np.float64]:
    """Mean radiant temperature of the faces (R, M, 24) [degC]."""
    rooms, room = len(days.set_point_c), days.surfaces.room
    through = np.flatnonzero(days.behind_cause >= 0)
    total = sum_by(room[through], rooms, day_spectrum(days.behind_c[through]) * response.star_through[through, None, :])
    total = total + day_spectrum(air_c) * response.star[:, None, :]
    radiant = days.radiant_w.sum(axis=0)
    total = total + (
        day_spectrum(radiant) * response.star_gain
        if radiant.ndim == 2
        else day_spectrum(radiant) * response.star_gain[:, None, :]
    ).reshape(rooms, -1, 13)
    per_watt = response.star_flux / days.surfaces.area_m2[:, None]
    to_diffuse = sum_by(room, rooms, days.sun_weight[:, None] * per_watt)
    to_floor = sum_by(room, rooms, days.floor_weight[:, None] * per_watt)
    on_floor = sum_by(room, rooms, days.floor_weight)
    window_room = room[days.window_surface]
    beam = day_spectrum(sum_by(window_room, rooms, days.window_beam_w))
    diffuse = day_spectrum(sum_by(window_room, rooms, days.window_diffuse_w))
    total = total + beam * to_floor[:, None] + (diffuse + beam * (1 - on_floor)[:, None, None]) * to_diffuse[:, None]
    absorbed = day_spectrum(days.window_glass_w_m2) * response.star_flux[days.window_surface, None, :]
    total = total + sum_by(window_room, rooms, absorbed)
    if days.window_shade_w is not None:
        shade = day_spectrum(sum_by(window_room, rooms, days.window_shade_w))
        total = total + shade * (1 - SHADE_TO_AIR) * response.star_gain[:, None, :]
    return day_hours(total)
