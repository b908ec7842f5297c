"""Heating load, steady (in the manner of EN 12831-1:2017)."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.fabric.layers import DAILY
from garnetfin.core.loads.balance import RoomResponse, Surfaces, day_hours, day_spectrum

HEATING_CAUSES = (
    "walls",
    "roofs",
    "conduction through glass",
    "floors",
    "unheated spaces",
    "adjacent rooms",
    "thermal bridges",
    "infiltration",
    "warm-up",
    "gains in winter",
)
GROUND_FACTOR = 1.45
AIR_WH_M3K = 0.34  # heat capacity of air at sea level, EN 12831-1


@dataclass(frozen=True, slots=True, eq=False)
class HeatingLoads:
    """by_cause_w (causes, rooms) in the order of HEATING_CAUSES; total_w (rooms,), never below 0."""

    total_w: NDArray[np.float64]
    by_cause_w: NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class Losses:
    """Heat losses of rooms (rooms,) in W/K, and what is given in W.

    walls, roofs, glass     sum of A U to outdoors; floors_out likewise for floors above outdoors
    ground                  sum of A U_equiv of ISO 13370, without the factor 1.45
    unheated                sum of A U b to unheated rooms
    beside_w                sum of A U (inside - beside) to colder heated rooms [W]; warmer ones give no credit
    bridges                 sum of A dU, or psi l
    air_m3s                 greater of infiltration and hygienic minimum
    warm_up_w               reheat after a setback, added as it is
    gains_w                 heat of people, lights, equipment that is there in every hour [W], taken off
    """

    walls: NDArray[np.float64]
    roofs: NDArray[np.float64]
    glass: NDArray[np.float64]
    floors_out: NDArray[np.float64]
    ground: NDArray[np.float64]
    unheated: NDArray[np.float64]
    beside_w: NDArray[np.float64]
    bridges: NDArray[np.float64]
    air_m3s: NDArray[np.float64]
    warm_up_w: NDArray[np.float64]
    gains_w: NDArray[np.float64] | float = 0.0


def heating_loads(
    losses: Losses, inside_c: NDArray[Any], outside_c: float, annual_mean_c: float, pressure_pa: float
) -> HeatingLoads:
    """Loads [W] of rooms (rooms,) at one design temperature.

    Rooms that want no more than the outdoor temperature get 0.
    """
    rise = inside_c - outside_c
    floors = losses.floors_out * rise + GROUND_FACTOR * losses.ground * (inside_c - annual_mean_c)
    volume_heat = AIR_WH_M3K * 3600 * pressure_pa / 101325.0
    parts = np.array(
        [
            losses.walls * rise,
            losses.roofs * rise,
            losses.glass * rise,
            floors,
            losses.unheated * rise,
            losses.beside_w,
            losses.bridges * rise,
            volume_heat * losses.air_m3s * rise,
            losses.warm_up_w,
            -np.broadcast_to(losses.gains_w, rise.shape),
        ]
    )
    parts = np.where(rise > 0, parts, 0.0)
    # Gains take off what is there to be taken off, and no more.
    parts[-1] = np.maximum(parts[-1], -np.maximum(parts[:-1].sum(axis=0), 0.0))
    total = np.maximum(parts.sum(axis=0), 0.0)
    return HeatingLoads(total, parts)


@dataclass(frozen=True, slots=True, eq=False)
class Balanced:
    """heat_w (rooms,) [W], never below 0; air_c, star_c (rooms,) air and mean radiant temperature [degC]; lost_w
    (surfaces,) what passes out through each face [W]."""

    heat_w: NDArray[np.float64]
    air_c: NDArray[np.float64]
    star_c: NDArray[np.float64]
    lost_w: NDArray[np.float64]


def balanced_heating(
    surfaces: Surfaces,
    behind_c: NDArray[Any],
    open_back: NDArray[Any],
    exchange_w_k: NDArray[Any],
    outside_c: float,
    operative_c: NDArray[Any],
) -> Balanced:
    """Heat that holds the operative temperature on a steady day, from the full balance of every room.

    surfaces with heating films; behind_c (S,) behind each face where open_back (S,) is set. The operative temperature
    is the mean of air and mean radiant temperature. It knows colder faces and warmer air where the steady method
    knows one room temperature; below it by the film difference, 1.5 to 10 %.
    """
    starts = np.flatnonzero(np.diff(surfaces.room, prepend=-1))
    which = np.cumsum(np.diff(surfaces.room, prepend=-1) != 0) - 1
    area, hc, hr, y = surfaces.area_m2, surfaces.hc_w_m2k, surfaces.hr_w_m2k, surfaces.y_in[:, 0].real
    d = y + hc + hr
    k_r = np.add.reduceat(area * hr * (1 - hr / d), starts)
    b = np.add.reduceat(area * hc * hr / d, starts)
    a0 = np.add.reduceat(area * hc * (1 - hc / d), starts)
    star = b / k_r
    through = np.where(open_back, y * behind_c, 0.0) / d
    radiant = np.add.reduceat(area * hr * through, starts) / k_r
    to_air = np.add.reduceat(area * (hc + hr * star[which]) * through, starts)
    # Mean radiant temperature = star air + radiant; operative = (air + mean radiant) / 2.
    air = (2 * operative_c - radiant) / (1 + star)
    heat = np.maximum((a0 - b * star + exchange_w_k) * air - to_air - exchange_w_k * outside_c, 0.0)
    star_c = star * air + radiant
    face_c = (hc * air[which] + hr * star_c[which]) / d + through
    lost = np.where(open_back, area * y * (face_c - behind_c), 0.0)
    return Balanced(heat, air, star_c, lost)


def gains_at_operative(
    response: RoomResponse,
    exchange_w_k: NDArray[Any],
    capacity_j_k: NDArray[Any],
    convective_w: NDArray[Any],
    radiant_w: NDArray[Any],
) -> NDArray[np.float64]:
    """What gains (rooms, 24) [W] take off the heat that holds the operative temperature, hour by hour (rooms, 24) [W].

    Convective gains do so at once; of radiant ones the mean radiant temperature rises, the air may be cooler by as
    much, and the faces give back later what they store. exchange (rooms,) [W/K] and capacity (rooms,) [J/K] of the air.
    """
    gain = day_spectrum(radiant_w)
    # Operative temperature = (air + star) / 2 stays where it is: air (1 + star) = - what the gain raises the star.
    air_c = -response.star_gain * gain / (1 + response.star)
    stored = capacity_j_k[:, None] / 3600 * (1 - np.exp(-2j * np.pi * np.arange(DAILY) / 24))
    at_air = (response.air + exchange_w_k[:, None] + stored) * air_c
    return convective_w + day_hours(gain * response.star - at_air)
