"""Early estimate: cooling and heating of a floor of which only area, use and climate are known.

A typical floor, square, with four perimeter zones 5 m deep and a core, goes through the same engine as every room; a
share of its ceilings may be a roof, a share of its floors lie on the ground.
The band comes from moving one assumption at a time; nothing is read from tables of factors.

Source: own method on the same balance.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.glazing import INNER_FILM, angle_factor, glass_resistance
from garnetfin.core.fabric.ground import with_soil
from garnetfin.core.fabric.layers import Layer, admittances
from garnetfin.core.loads.balance import Surfaces, radiant_films
from garnetfin.core.loads.heating import GROUND_FACTOR
from garnetfin.core.loads.plant import Plan
from garnetfin.core.loads.rooms import AIR_AND_LIGHT_FURNITURE, CAUSE, RoomDays, room_loads
from garnetfin.core.sun import SunDays, face_sun, hourly

DEPTH_M, STOREY_M, LARGEST_M2 = 5.0, 3.3, 1000.0
PLANT_HOURS, COUNTED_HOURS = (6, 18), slice(8, 19)
PARTITION_M2_M2 = 0.6
_CONCRETE = Layer(0.10, 1.65, 2200, 1000)
_FLOOR = (Layer(0.006, 0.06, 200, 1300), Layer(0.05, 1.15, 1800, 1000), _CONCRETE)
_BOARD = Layer(0.025, 0.25, 900, 1000)
_FILM, _SUN_ABSORBED, _ROOF_ABSORBED = 25.0, 0.6, 0.8
_SKY_W_M2, _AT_ONCE = 0.9 * 63.0, 1e6  # lost to a clear sky by what lies flat; the ground is a temperature, no film


@dataclass(frozen=True, slots=True)
class Shell:
    """What is assumed of the building, and factors on what the use brings."""

    glass_share: float = 0.40
    glass_u: float = 1.4
    g: float = 0.35
    wall_u: float = 0.30
    infiltration_1h: float = 0.2
    people: float = 1.0
    lights_w_m2: float | None = None
    equipment: float = 1.0
    roof_u: float = 0.20
    ground_u: float = 0.25
    roof_share: float = 0.0  # of the ceilings
    ground_share: float = 0.0  # of the floors


# (assumption, low, high) moved one at a time; lights in W/m2, people and equipment as factors.
BAND = (
    ("glass_share", 0.25, 0.60),
    ("g", 0.28, 0.50),
    ("wall_u", 0.20, 0.50),
    ("infiltration_1h", 0.1, 0.5),
    ("people", 0.75, 1.5),
    ("lights_w_m2", 5.0, 9.0),
    ("equipment", 0.65, 1.4),
)


@dataclass(frozen=True, slots=True, eq=False)
class Gains:
    """Of the use, per m2 of floor at full use [W/m2] with the radiant share, and the hours (24,)."""

    people_w_m2: float
    people_radiant: float
    lights_w_m2: float
    lights_radiant: float
    equipment_w_m2: float
    equipment_radiant: float
    profile: NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class Weather:
    """Design days: outdoor (12, 24) [degC], sun and clear sky (12, 288), heat of air [J/m3K], winter [degC], ground
    behind floors (12, 24) and the mean of the year [degC].
    """

    outdoor_c: NDArray[np.float64]
    sun: SunDays
    beam: NDArray[np.float64]
    diffuse: NDArray[np.float64]
    ground_reflectance: float
    air_j_m3k: float
    winter_c: float
    ground_c: NDArray[np.float64] | None = None
    mean_c: float = 10.0


@dataclass(frozen=True, slots=True, eq=False)
class Estimate:
    """W per m2 of floor: the figure, its likely band, both corner cases; month 0..11 and hour; heating likewise.

    by_cause_w_m2 (causes, 12, 24) of the figure itself; by_assumption: name, cooling with its low, with its high.
    """

    cooling_w_m2: float
    low_w_m2: float
    high_w_m2: float
    least_w_m2: float
    most_w_m2: float
    month: int
    hour: int
    heating_w_m2: float
    heating_low_w_m2: float
    heating_high_w_m2: float
    by_assumption: tuple[tuple[str, float, float], ...]
    by_cause_w_m2: NDArray[np.float64]


def densities(
    area_m2: float, shell: Shell, gains: Gains, weather: Weather, cooling_c: float, heating_c: float
) -> tuple[float, float]:
    """(cooling, heating) [W/m2] without the band: one variant in the place of seventeen, for many climates side by
    side.
    """
    base = replace(shell, lights_w_m2=shell.lights_w_m2 if shell.lights_w_m2 is not None else gains.lights_w_m2)
    total, _ = _floors(area_m2, [base], gains, weather, cooling_c)
    return float(total[0][:, COUNTED_HOURS].max()), _heating(area_m2, base, weather, heating_c)


def estimate(
    area_m2: float, shell: Shell, gains: Gains, weather: Weather, cooling_c: float, heating_c: float
) -> Estimate:
    """Cooling and heating density of a floor; all variants go through the engine as one batch."""
    lights = shell.lights_w_m2 if shell.lights_w_m2 is not None else gains.lights_w_m2
    base = replace(shell, lights_w_m2=lights)
    around = {name: (_moved(base, name, low, lights), _moved(base, name, high, lights)) for name, low, high in BAND}
    least, most = base, base
    for name, low, high in BAND:
        least, most = (replace(s, **{name: getattr(around[name][k], name)}) for k, s in enumerate((least, most)))
    variants = [base, *(v for pair in around.values() for v in pair), least, most]
    total, by_cause = _floors(area_m2, variants, gains, weather, cooling_c)
    counted = total[:, :, COUNTED_HOURS]
    peaks = counted.reshape(len(variants), -1).max(axis=1)
    month, hour = np.unravel_index(int(counted[0].argmax()), counted[0].shape)
    heating = np.array([_heating(area_m2, v, weather, heating_c) for v in variants])
    pairs, warm = peaks[1:-2].reshape(-1, 2), heating[1:-2].reshape(-1, 2)

    def band(values: NDArray[Any], of: NDArray[Any]) -> tuple[float, float]:
        down, up = np.minimum(of - values, 0).min(axis=1), np.maximum(of - values, 0).max(axis=1)
        return float(values - np.sqrt((down**2).sum())), float(values + np.sqrt((up**2).sum()))

    low, high = band(peaks[0], pairs)
    cold_low, cold_high = band(heating[0], warm)
    return Estimate(
        float(peaks[0]),
        low,
        high,
        float(peaks[-2]),
        float(peaks[-1]),
        int(month),
        int(hour) + COUNTED_HOURS.start,
        float(heating[0]),
        cold_low,
        cold_high,
        tuple((name, float(a), float(b)) for (name, _, _), (a, b) in zip(BAND, pairs)),
        by_cause,
    )


def _moved(base: Shell, name: str, value: float, lights: float) -> Shell:
    # The band of the lights is that of a usual office at 7 W/m2; other uses move in proportion.
    return replace(base, **{name: value * lights / 7.0 if name == "lights_w_m2" else value})


def _zones(area_m2: float) -> tuple[float, NDArray[Any], NDArray[Any]]:
    """(side, floor of each zone, length of its outside wall): north, east, south, west, core."""
    floor = min(area_m2, LARGEST_M2)
    side = np.sqrt(floor)
    if side <= 2 * DEPTH_M:
        return side, np.full(4, floor / 4), np.full(4, side)
    core = (side - 2 * DEPTH_M) ** 2
    return side, np.append(np.full(4, (floor - core) / 4), core), np.append(np.full(4, side), 0.0)


def _floors(
    area_m2: float, variants: list[Shell], gains: Gains, weather: Weather, cooling_c: float
) -> tuple[NDArray[Any], NDArray[Any]]:
    """(load of the whole floor for each variant (V, 12, 24), the first one's by cause (causes, 12, 24)) [W/m2]."""
    _, floors, walls = _zones(area_m2)
    zones = len(floors)
    facing = np.array([0.0, 90.0, 180.0, 270.0])
    sun = face_sun(weather.sun, weather.beam, weather.diffuse, facing, np.full(4, 90.0), weather.ground_reflectance)
    on_glass = hourly(sun.beam * angle_factor(sun.cos_incidence, 2, 2.5)), hourly(sun.diffuse) * 0.871
    on_wall = hourly(sun.beam + sun.diffuse)
    room, area, hc, y_in, y_t, behind, cause, floor_weight, sun_weight = ([] for _ in range(9))
    w_surface, w_beam, w_diffuse, w_glass = [], [], [], []
    inner = [
        (admittances(layers, None), hc_) for layers, hc_ in (((*_FLOOR,), 5.0), ((_CONCRETE,), 0.7), ((_BOARD,), 2.5))
    ]
    outdoor = weather.outdoor_c
    above = face_sun(weather.sun, weather.beam, weather.diffuse, [0.0], [0.0], weather.ground_reflectance)
    on_roof = outdoor + (_ROOF_ABSORBED * hourly(above.beam + above.diffuse)[0] - _SKY_W_M2) / _FILM
    below = outdoor if weather.ground_c is None else weather.ground_c
    for v, shell in enumerate(variants):
        wool = 1 / shell.wall_u - 0.17 - _BOARD.resistance / 2 - _CONCRETE.resistance
        wall = admittances(
            (Layer(0.0125, 0.25, 900, 1000), Layer(max(wool, 0.02) * 0.04, 0.04, 30, 1030), _CONCRETE), _FILM
        )
        glass = admittances((), float(1 / glass_resistance(shell.glass_u)))
        for z in range(zones):
            r = v * zones + z
            outside = walls[z] * STOREY_M
            if outside > 0:
                room += [r, r]
                area += [outside * (1 - shell.glass_share), outside * shell.glass_share]
                hc += [2.5, 2.5]
                y_in += [wall[0], glass[0]]
                y_t += [wall[1], glass[1]]
                behind += [outdoor + _SUN_ABSORBED * on_wall[z] / _FILM, outdoor]
                cause += [CAUSE["walls"], CAUSE["conduction through glass"]]
                floor_weight += [0.0, 0.0]
                sun_weight += [area[-2] * 0.4, area[-1] * 0.15]
                w_surface.append(len(room) - 1)
                tau = 0.92 * shell.g
                w_beam.append(tau * area[-1] * on_glass[0][z])
                w_diffuse.append(tau * area[-1] * on_glass[1][z])
                w_glass.append((shell.g - tau) * (on_glass[0][z] + on_glass[1][z]) / (1 - shell.glass_u / INNER_FILM))
            within = (
                (inner[0], floors[z] * (1 - shell.ground_share), 0.6, outdoor, -1),
                (inner[1], floors[z] * (1 - shell.roof_share), 0.3, outdoor, -1),
                (inner[2], PARTITION_M2_M2 * floors[z], 0.4, outdoor, -1),
                ((_ground(shell.ground_u), 5.0), floors[z] * shell.ground_share, 0.6, below, CAUSE["floors"]),
                ((_roof(shell.roof_u), 0.7), floors[z] * shell.roof_share, 0.3, on_roof, CAUSE["roofs"]),
            )
            for ((y, t), film), size, absorbed, beyond, why in within:
                if size <= 0:
                    continue
                room.append(r)
                area.append(size)
                hc.append(film)
                y_in.append(y)
                y_t.append(t)
                behind.append(beyond)
                cause.append(why)
                floor_weight.append(0.6 * size / floors[z] if film == 5.0 else 0.0)
                sun_weight.append(size * absorbed)
    room, area = np.array(room), np.array(area)
    count = len(variants) * zones
    counted = np.array(sun_weight)
    counted[w_surface] += area[w_surface] * 0.32
    weight = np.array(sun_weight) / np.bincount(room, counted)[room]
    floor_of = np.tile(floors, len(variants))
    shape = gains.profile[None, :] * floor_of[:, None]
    people, lights, equipment = (
        np.repeat([getattr(s, n) for s in variants], zones)[:, None] for n in ("people", "lights_w_m2", "equipment")
    )
    watts = (gains.people_w_m2 * people * shape, lights * shape, gains.equipment_w_m2 * equipment * shape)
    radiant = (gains.people_radiant, gains.lights_radiant, gains.equipment_radiant)
    leak = (
        np.repeat([s.infiltration_1h for s in variants], zones)
        * floor_of
        * STOREY_M
        / 3600
        * np.tile(walls > 0, len(variants))
    )
    on = np.zeros((count, 24), bool)
    on[:, PLANT_HOURS[0] : PLANT_HOURS[1] + 1] = True
    endless = np.full(count, np.inf)
    plan = Plan(
        on, np.full((count, 24), -50.0), np.full((count, 24), cooling_c), endless, endless, np.zeros(count, bool)
    )
    loads = room_loads(
        RoomDays(
            Surfaces(room, area, np.array(hc), radiant_films(room, area), np.array(y_in), np.array(y_t)),
            np.array(behind),
            np.array(cause),
            weight,
            np.array(floor_weight),
            np.array(w_surface),
            np.array(w_beam),
            np.array(w_diffuse),
            np.array(w_glass),
            np.array([w * (1 - s) for w, s in zip(watts, radiant)]),
            np.array([w * s for w, s in zip(watts, radiant)]),
            leak * weather.air_j_m3k,
            outdoor,
            np.full(count, cooling_c),
            None,
            AIR_AND_LIGHT_FURNITURE * floor_of * STOREY_M * weather.air_j_m3k,
            plan,
        )
    )
    if loads.unsolved.any():
        raise InputError("No state of the plant was found for the early estimate", remedy="Type its load by hand")
    whole = floors.sum()
    return (
        loads.sensible_w.reshape(len(variants), zones, 12, 24).sum(axis=1) / whole,
        loads.by_cause_w[:, :zones].sum(axis=1) / whole,
    )


def _heating(area_m2: float, shell: Shell, weather: Weather, heating_c: float) -> float:
    """Steady loss through the same shell at the winter temperature [W/m2]."""
    _, floors, walls = _zones(area_m2)
    outside = walls.sum() * STOREY_M
    loss = outside * (shell.glass_share * shell.glass_u + (1 - shell.glass_share) * shell.wall_u)
    loss += shell.infiltration_1h * floors[walls > 0].sum() * STOREY_M / 3600 * weather.air_j_m3k
    loss += shell.roof_share * shell.roof_u * floors.sum()
    ground = GROUND_FACTOR * shell.ground_share * shell.ground_u * (heating_c - weather.mean_c)
    return float(max(0.0, loss * (heating_c - weather.winter_c) / floors.sum() + ground))


@lru_cache(maxsize=64)
def _roof(u_w_m2k: float) -> tuple[NDArray[Any], NDArray[Any]]:
    """Response of a roof of that U-value: concrete inside, wool above it."""
    wool = max(1 / u_w_m2k - 0.10 - 1 / _FILM - _CONCRETE.resistance, 0.02)
    return admittances((_CONCRETE, Layer(wool * 0.04, 0.04, 30, 1030)), _FILM)


@lru_cache(maxsize=64)
def _ground(u_w_m2k: float) -> tuple[NDArray[Any], NDArray[Any]]:
    """Response of the same floor on the ground, by the U-value of the whole to the ground behind it."""
    return admittances(with_soil(_FLOOR, u_w_m2k), _AT_ONCE)
