"""Whether the figures of rooms are such as rooms have: what lies far outside deserves a look before it is signed.

Source: own limits; volume and surface: no body has less surface than 4.84 times its volume to the power of two thirds.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

LEAST_ESTIMATE_W_M2 = 5.0  # below it a ratio says nothing
LEAST_APART_W_M2 = 10.0  # what lies nearer to the estimate than this is no error
LEAST_CHANGE_1H = 0.5
FEWEST_FACES = 4
OPEN_SHARE = 0.1  # of half the faces' area
SURFACE = 4.8  # times volume to the power of two thirds
DENSEST_PEOPLE_M2, FEW_PEOPLE = 1.0, 0.5
MOST_LIGHTS_W_M2, MOST_EQUIPMENT_W_M2 = 40.0, 200.0
MOST_LEAK_1H = 3.0
COOLING_C, HEATING_C, CEILING_M = (18.0, 30.0), (5.0, 26.0), (2.0, 12.0)
SUNNY_GLASS_M2, SUN_W_M2 = 0.5, 1.0
U_OPAQUE, U_GLASS = (0.08, 3.0), (0.5, 5.9)


@dataclass(frozen=True, slots=True, eq=False)
class Rooms:
    """Figures of R rooms, each (R,); nan where there is none, which breaks no limit.

    cooling_w_m2, heating_w_m2   loads, and usual_... those of the early estimate of the same use at the same place
    change_1h                    supply air
    faces, floor_m2, top_m2      how many, floors, and what lies above; faces_m2 all of them
    open_m2                      length of the vector sum of the faces' areas along their normals
    glass_share                  of the facade; sunny_m2 of glass that the sun can reach, sun_w_m2 what comes through it
    special                      uses that have loads of their own (server, kitchen, laboratory, workshop)
    inner                        without outside wall: less than the estimate, which has a facade, is no wonder
    """

    area_m2: NDArray[np.float64]
    volume_m3: NDArray[np.float64]
    ceiling_m: NDArray[np.float64]
    cooling_w_m2: NDArray[np.float64]
    heating_w_m2: NDArray[np.float64]
    usual_cooling_w_m2: NDArray[np.float64]
    usual_heating_w_m2: NDArray[np.float64]
    change_1h: NDArray[np.float64]
    people: NDArray[np.float64]
    lights_w_m2: NDArray[np.float64]
    equipment_w_m2: NDArray[np.float64]
    infiltration_1h: NDArray[np.float64]
    cooling_c: NDArray[np.float64]
    heating_c: NDArray[np.float64]
    faces: NDArray[np.float64]
    floor_m2: NDArray[np.float64]
    top_m2: NDArray[np.float64]
    faces_m2: NDArray[np.float64]
    open_m2: NDArray[np.float64]
    glass_share: NDArray[np.float64]
    sunny_m2: NDArray[np.float64]
    sun_w_m2: NDArray[np.float64]
    special: NDArray[np.bool_]
    server: NDArray[np.bool_]
    inner: NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Limits:
    """What an office counts as usual: load over the estimate [-], air changes [1/h], glass of a facade [-]."""

    over: float = 3.0
    under: float = 0.35
    change_1h: float = 20.0
    glass: float = 0.9


def odd(r: Rooms, limits: Limits = Limits()) -> dict[str, NDArray[np.bool_]]:
    """By code, which rooms (R,) lie outside what is usual [-]."""
    with np.errstate(invalid="ignore", divide="ignore"):
        ratio = r.cooling_w_m2 / r.usual_cooling_w_m2
        known = ~r.special & (r.usual_cooling_w_m2 > LEAST_ESTIMATE_W_M2)
        return {
            "estimate-far": known
            & (np.abs(r.cooling_w_m2 - r.usual_cooling_w_m2) > LEAST_APART_W_M2)
            & ((ratio > limits.over) | (ratio < limits.under) & ~r.inner),
            "heating-far": ~r.special
            & (r.usual_heating_w_m2 > LEAST_ESTIMATE_W_M2)
            & (r.heating_w_m2 > limits.over * r.usual_heating_w_m2),
            "air-change": ~r.server & ((r.change_1h > limits.change_1h) | (r.change_1h < LEAST_CHANGE_1H)),
            "few-faces": r.faces < FEWEST_FACES,
            "no-floor": r.floor_m2 <= 0,
            "no-ceiling": r.top_m2 <= 0,
            "not-closed": r.faces_m2 < SURFACE * r.volume_m3 ** (2 / 3),
            "open-side": r.open_m2 > OPEN_SHARE * r.faces_m2 / 2,
            "glass-share": r.glass_share > limits.glass,
            "people": r.people > DENSEST_PEOPLE_M2 * r.area_m2 + FEW_PEOPLE,
            "gains": ~r.special & ((r.lights_w_m2 > MOST_LIGHTS_W_M2) | (r.equipment_w_m2 > MOST_EQUIPMENT_W_M2)),
            "infiltration": r.infiltration_1h > MOST_LEAK_1H,
            "set-point": _outside(r.cooling_c, COOLING_C) | _outside(r.heating_c, HEATING_C),
            "ceiling": _outside(r.ceiling_m, CEILING_M),
            "glass-without-sun": (r.sunny_m2 > SUNNY_GLASS_M2) & (r.sun_w_m2 < SUN_W_M2 * r.sunny_m2),
        }


def _outside(values: NDArray[Any], band: tuple[float, float]) -> NDArray[np.bool_]:
    return np.asarray((values < band[0]) | (values > band[1]), bool)


def vector_area(area_m2: NDArray[Any], normals: NDArray[Any], room: NDArray[Any], rooms: int) -> NDArray[np.float64]:
    """Length (rooms,) [m2] of the sum of area (F,) times unit normal (F, 3) of each room's faces: 0 for a closed body.

    Source: divergence theorem.
    """
    whole = np.zeros((rooms, 3))
    np.add.at(whole, room, area_m2[:, None] * normals)
    return np.asarray(np.linalg.norm(whole, axis=1))
