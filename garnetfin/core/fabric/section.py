"""A section through a build-up: temperature and dew point from inside to outside, and how it answers a day."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.layers import Layer, admittances
from garnetfin.core.psychro import properties as air

PRESSURE_PA = 101325.0
LEAST_SD_M = 0.01  # of any layer, air gaps too: equivalent air layer thickness


@dataclass(frozen=True, slots=True, eq=False)
class Section:
    """Points from the inside air to the outside air: air, inside face, each layer's far face, air.

    depth_m (n,) into the build-up, negative in the inside air; temperature_c, dew_point_c (n,).
    excess_pa (n,) vapour pressure above saturation; above 0 water would condense there.
    """

    depth_m: NDArray[np.float64]
    temperature_c: NDArray[np.float64]
    dew_point_c: NDArray[np.float64]
    excess_pa: NDArray[np.float64]

    @property
    def wet(self) -> tuple[int, ...]:
        """Points where water would condense."""
        return tuple(int(i) for i in np.flatnonzero(self.excess_pa > 1.0))


def section(
    layers: tuple[Layer, ...],
    factors: tuple[float, ...],
    thickness_m: tuple[float, ...],
    r_inside: float,
    r_outside: float,
    inside_c: float,
    inside_humidity: float,
    outside_c: float,
    outside_humidity: float,
) -> Section:
    """Steady temperatures and, after Glaser (ISO 13788), vapour pressures through layers inside to outside.

    factors: vapour resistance factor of each layer; thickness_m: as drawn, massless layers too.
    Raises InputError for relative humidities outside 0..1.
    """
    if not (0 <= inside_humidity <= 1 and 0 <= outside_humidity <= 1):
        raise InputError("Relative humidity must lie between 0 and 100 %")
    r = np.array([r_inside, *(layer.resistance for layer in layers), r_outside])
    temperature = inside_c - (inside_c - outside_c) * np.concatenate([[0], np.cumsum(r)]) / r.sum()
    sd = np.array([max(LEAST_SD_M, m * d) for m, d in zip(factors, thickness_m)])
    p_in = inside_humidity * float(air.saturated_vapour(inside_c, PRESSURE_PA))
    p_out = outside_humidity * float(air.saturated_vapour(outside_c, PRESSURE_PA))
    # Films hold back no vapour, so both faces have the pressure of their air.
    share = np.concatenate([[0, 0], np.cumsum(sd) / sd.sum(), [1.0]])
    vapour = p_in - (p_in - p_out) * share
    depth = np.concatenate([[0.0], np.cumsum(thickness_m)])
    film = max(0.02, 0.08 * depth[-1])
    ratio = 0.621945 * vapour / (PRESSURE_PA - vapour)
    dew = np.where(vapour > 1.0, air.dew_point(np.maximum(ratio, 1e-6), PRESSURE_PA), -60.0)
    return Section(
        np.concatenate([[-film], depth, [depth[-1] + film]]),
        temperature,
        dew,
        vapour - air.saturated_vapour(temperature, PRESSURE_PA),
    )


@dataclass(frozen=True, slots=True)
class DayAnswer:
    """To a swing of 24 h: admittance [W/m2K] with its lead [h], decrement [-] with its lag [h]; U and mass per m2."""

    u_w_m2k: float
    admittance_w_m2k: float
    lead_h: float
    decrement: float
    lag_h: float
    mass_kg_m2: float
    heat_kj_m2k: float


def day_answer(layers: tuple[Layer, ...], r_inside: float, outer_film: float) -> DayAnswer:
    """Characteristics of ISO 13786 with the inside film, for the first harmonic of the day."""
    y_in, y_through = admittances((Layer(resistance_m2k_w=r_inside), *layers), outer_film)
    u = float(y_in[0].real)
    lag = float(-np.angle(y_through[1]) / (2 * np.pi) * 24) % 24
    return DayAnswer(
        u,
        float(abs(y_in[1])),
        float(np.angle(y_in[1]) / (2 * np.pi) * 24),
        float(abs(y_through[1]) / u),
        lag,
        sum(x.thickness_m * x.density_kg_m3 for x in layers),
        sum(x.thickness_m * x.density_kg_m3 * x.specific_heat_j_kgk for x in layers) / 1000,
    )
