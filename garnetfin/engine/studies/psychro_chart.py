"""Lines of the psychrometric chart at a pressure: relative humidity, wet bulb, enthalpy, volume; paths of processes;
the ratio line of rooms.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.processes import saturated
from garnetfin.core.units import System, from_shown


@dataclass(frozen=True, slots=True, eq=False)
class ChartLine:
    """kind: rh, wb, h, v; its value; points (n, 2) of dry bulb [degC] and humidity ratio [kg/kg]."""

    kind: str
    value: float
    points: NDArray[np.float64]


@lru_cache(maxsize=8)
def chart_lines(
    pressure_pa: float, units: System = "SI", cold_c: float = -40.0, hot_c: float = 60.0, most_w: float = 0.040
) -> tuple[ChartLine, ...]:
    """All lines within a window of dry bulb and humidity ratio, at round figures of the units shown."""
    p, t = pressure_pa, np.linspace(cold_c, hot_c, 201)
    found = []

    def keep(kind: str, value: float, x: NDArray[Any], w: NDArray[Any]) -> None:
        inside = (w >= -1e-12) & (w <= most_w) & (x >= cold_c) & (x <= hot_c) & (w <= saturated(x, p) * 1.0001)
        if inside.sum() > 1:
            found.append(ChartLine(kind, value, np.column_stack([x[inside], np.maximum(w[inside], 0.0)])))

    for rh in (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0):
        pw = rh * air.saturated_vapour(t, p)
        keep("rh", rh, t, air.RATIO * pw / (p - pw))
    w = np.linspace(0.0, most_w, 240)
    for h in from_shown("enthalpy", np.arange(*((-40.0, 161.0, 10.0) if units == "SI" else (-10.0, 80.0, 5.0))), units):
        keep("h", float(h), air.temperature(h, w), w)
    for star in from_shown(
        "temperature", np.arange(*((-40.0, 41.0, 5.0) if units == "SI" else (-40.0, 101.0, 10.0))), units
    ):
        x = np.linspace(star, hot_c, 60)
        ice = star < 0
        a, b, c = (2.8344e6, 240.0, 2100.0) if ice else (2.501e6, 2326.0, 4186.0)
        keep(
            "wb",
            float(star),
            x,
            ((a - b * star) * float(saturated(star, p)) - air.CP_AIR * (x - star)) / (a + air.CP_VAPOUR * x - c * star),
        )
    for v in from_shown(
        "specific_volume", np.arange(*((0.62, 1.60, 0.02) if units == "SI" else (10.0, 25.0, 0.5))), units
    ):
        keep("v", float(v), v * p / (287.042 * (1 + 1.607858 * w)) - 273.15, w)
    return tuple(found)


def coil_path(t1: float, w1: float, t2: float, w2: float) -> NDArray[np.float64]:
    """The way through a coil (n, 2) by its bypass factor: straight in enthalpy and water towards the state of air at
    its surface, as air past the surface mixes with air at it; a dry coil's way is level.
    """
    share = np.linspace(0.0, 1.0, 9)
    h, w = (a + share * (b - a) for a, b in ((air.enthalpy(t1, w1), air.enthalpy(t2, w2)), (w1, w2)))
    way = np.column_stack([air.temperature(h, w), w])
    way[[0, -1]] = (t1, w1), (t2, w2)  # to the last digit, where other ways go on
    return way


@dataclass(frozen=True, slots=True, eq=False)
class RatioLine:
    """The line on which supply air turns into room air: sensible share of what it takes up [-], and points (2, 2) of
    dry bulb [degC] and humidity ratio [kg/kg] from the room to where it meets saturation or leaves the chart.
    """

    share: float
    points: NDArray[np.float64]


LEAST_K, COLDEST_C = 0.5, -30.0


def ratio_line(supply: tuple[float, float], room: tuple[float, float], pressure_pa: float) -> RatioLine | None:
    """The ratio line through supply and room air (t, w); None where the two lie within half a kelvin.

    The share is that of temperature in the change of enthalpy, latent heat at the room's temperature.
    """
    (t1, w1), (t2, w2) = supply, room
    if abs(t2 - t1) < LEAST_K:
        return None
    sensible = float(air.enthalpy(t2, w1) - air.enthalpy(t1, w1))
    whole = float(air.enthalpy(t2, w2) - air.enthalpy(t1, w1))
    slope = (w2 - w1) / (t2 - t1)
    end = COLDEST_C if t1 < t2 else t1 + (t1 - t2)
    t = np.linspace(t2, end, 400)
    w = w2 + slope * (t - t2)
    beyond = np.flatnonzero((w < 0) | (w > saturated(t, pressure_pa)))
    last = int(beyond[0]) if len(beyond) else len(t) - 1
    return RatioLine(sensible / whole if whole else np.nan, np.array([[t2, w2], [t[last], w[last]]]))
