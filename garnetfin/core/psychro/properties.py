"""Moist air: any property from temperature, humidity ratio and pressure.

Saturation after Hyland and Wexler with an enhancement factor fitted to real-gas data, the rest by
perfect-gas relations (ASHRAE Handbook Fundamentals ch. 1). All functions broadcast arrays.
t in degC, p in Pa, humidity ratio W in kg/kg dry air, enthalpy in J/kg dry air.
"""

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError

RATIO = 0.621945
CP_AIR = 1006.0
CP_VAPOUR = 1860.0
LATENT = 2.501e6
SEA_LEVEL_PA = 101325.0


def pressure_at(altitude_m: ArrayLike) -> NDArray[np.float64]:
    """Standard atmospheric pressure [Pa] at an altitude of -5000..11000 m. Raises InputError beyond that."""
    z = np.asarray(altitude_m, float)
    if not np.all((z >= -5000) & (z <= 11000)):
        raise InputError("Altitude must lie between -5000 and 11000 m", remedy="Give the height above the sea")
    return SEA_LEVEL_PA * (1 - 2.25577e-5 * z) ** 5.2559


def standard_density(p: float) -> float:
    """Dry air [kg/m3] that flows on drawings are counted at: 1.2 at sea level, thinner with the local pressure [Pa]."""
    return 1.2 * p / SEA_LEVEL_PA


def saturation_pressure(t: ArrayLike) -> NDArray[np.float64]:
    """Vapour pressure over ice (t < 0) or water of pure vapour [Pa], -100..200 degC."""
    answer: NDArray[Any] = np.exp(_ln_pws(np.asarray(t, float)))
    return answer


def _ln_pws(t: NDArray[Any]) -> NDArray[Any]:
    # Polynomials by Horner's rule: powers of arrays cost several times as much, and this is where moist air spends its
    # time.
    k = t + 273.15
    log, frozen = np.log(k), t < 0
    if not frozen.any():
        return _over_water(k, log)
    ice = (
        -5.6745359e3 / k
        + 6.3925247
        + k * (-9.677843e-3 + k * (6.2215701e-7 + k * (2.0747825e-9 - 9.484024e-13 * k)))
        + 4.1635019 * log
    )
    return ice if frozen.all() else np.where(frozen, ice, _over_water(k, log))


def _over_water(k: NDArray[Any], log: NDArray[Any]) -> NDArray[Any]:
    return -5.8002206e3 / k + 1.3914993 + k * (-4.8640239e-2 + k * (4.1764768e-5 - 1.4452093e-8 * k)) + 6.5459673 * log


def _slope_ln_pws(t: NDArray[Any]) -> NDArray[Any]:
    k = t + 273.15
    frozen = t < 0
    water = (5.8002206e3 / k + 6.5459673) / k - 4.8640239e-2 + k * (2 * 4.1764768e-5 - 3 * 1.4452093e-8 * k)
    if not frozen.any():
        return water
    ice = (
        (5.6745359e3 / k + 4.1635019) / k
        - 9.677843e-3
        + k * (2 * 6.2215701e-7 + k * (3 * 2.0747825e-9 - 4 * 9.484024e-13 * k))
    )
    return np.where(frozen, ice, water)


def saturated_vapour(t: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """Partial pressure of vapour in saturated air [Pa]: pure vapour times the enhancement factor."""
    t, p = np.asarray(t, float), np.asarray(p, float)
    factor = 1.000612 + t * (2.98e-5 + 4.6e-8 * t) + p * 1e-5 * (3.508e-3 + t * (5.195e-7 * t - 3.281e-5))
    return factor * saturation_pressure(t)


def saturation_ratio(t: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """Humidity ratio of saturated air [kg/kg]. Raises InputError where water would boil."""
    return humidity_ratio(t, 1.0, p)


def humidity_ratio(t: ArrayLike, rh: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """Humidity ratio [kg/kg] at a relative humidity of 0..1.

    Raises InputError beyond that, and above the boiling point.
    """
    rh, p = np.asarray(rh, float), np.asarray(p, float)
    if not np.all((rh >= 0) & (rh <= 1)):
        raise InputError("Relative humidity must lie between 0 and 100 %")
    pw = rh * saturated_vapour(t, p)
    if not np.all(pw < p):
        raise InputError("Air cannot be saturated above the boiling point", remedy="Lower the temperature")
    return RATIO * pw / (p - pw)


def relative_humidity(t: ArrayLike, w: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """Relative humidity [-] at a dry bulb [degC], a humidity ratio [kg/kg] and a pressure [Pa]."""
    w = np.asarray(w, float)
    answer: NDArray[Any] = np.asarray(p, float) * w / (RATIO + w) / saturated_vapour(t, p)
    return answer


def enthalpy(t: ArrayLike, w: ArrayLike) -> NDArray[np.float64]:
    """[J/kg dry air], zero for dry air and liquid water at 0 degC."""
    t, w = np.asarray(t, float), np.asarray(w, float)
    return CP_AIR * t + w * (LATENT + CP_VAPOUR * t)


def saturation_line(t: ArrayLike, p: ArrayLike) -> tuple[NDArray[np.float64], ...]:
    """Saturated air below 0.99 of the boiling pressure: humidity ratio [kg/kg], enthalpy [J/kg], its slope [J/kgK].

    The slope leaves out how the enhancement factor moves with t, some 1e-4 of it.
    """
    t, p = np.asarray(t, float), np.asarray(p, float)
    es = np.minimum(saturated_vapour(t, p), 0.99 * p)
    w = RATIO * es / (p - es)
    rise = w * p / (p - es) * _slope_ln_pws(t)
    return w, enthalpy(t, w), CP_AIR + CP_VAPOUR * w + rise * (LATENT + CP_VAPOUR * t)


def temperature(h: ArrayLike, w: ArrayLike) -> NDArray[np.float64]:
    """[degC] from enthalpy [J/kg dry air] and humidity ratio."""
    h, w = np.asarray(h, float), np.asarray(w, float)
    return (h - LATENT * w) / (CP_AIR + CP_VAPOUR * w)


def specific_heat(w: ArrayLike) -> NDArray[np.float64]:
    """[J/K per kg of dry air]"""
    return CP_AIR + CP_VAPOUR * np.asarray(w, float)


def specific_volume(t: ArrayLike, w: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """[m3 per kg of dry air]"""
    answer: NDArray[Any] = (
        287.042 * (np.asarray(t, float) + 273.15) * (1 + 1.607858 * np.asarray(w, float)) / np.asarray(p, float)
    )
    return answer


def density(t: ArrayLike, w: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """[kg of moist air per m3]"""
    return (1 + np.asarray(w, float)) / specific_volume(t, w, p)


def dew_point(w: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """[degC]; NaN for bone-dry air, which has none. Newton from Magnus' formula, within 1e-8 K."""
    w, p = np.broadcast_arrays(np.asarray(w, float), np.asarray(p, float))
    pw = np.where(w > 0, p * w / (RATIO + w), 611.2)
    return np.where(w > 0, saturation_temperature(pw, p), np.nan)


def saturation_temperature(vapour_pa: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """[degC] at which air is saturated with a partial pressure of vapour above 0 [Pa]."""
    pw, p = np.broadcast_arrays(np.asarray(vapour_pa, float), np.asarray(p, float))
    ice = pw < saturated_vapour(0.0, p)
    y = np.log(pw / 611.2)
    td = np.where(ice, 272.62 * y / (22.46 - y), 243.12 * y / (17.62 - y))
    for _ in range(4):
        td = td - (np.log(saturated_vapour(td, p)) - np.log(pw)) / _slope_ln_pws(td)
    return td


def wet_bulb(t: ArrayLike, w: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """Thermodynamic wet bulb [degC] by Newton on the convex balance F(t*) = 0; ice where the wick freezes."""
    t, w, p = np.broadcast_arrays(np.asarray(t, float), np.asarray(w, float), np.asarray(p, float))
    frozen_at = (2.8344e6 * saturation_ratio(0.0, p) - CP_AIR * t) / (2.8344e6 + CP_VAPOUR * t)
    ice = w < frozen_at
    a, b, c = np.where(ice, 2.8344e6, 2.501e6), np.where(ice, 240.0, 2326.0), np.where(ice, 2100.0, 4186.0)
    low, high = np.where(ice, -100.0, 0.0), np.where(ice, np.minimum(t, 0.0), t)
    td = np.where(w > 0, dew_point(np.where(w > 0, w, 1e-6), p), -40.0)
    star = np.clip(t - (t - np.clip(td, low, high)) / 2, low, high)
    for _ in range(8):
        es = saturated_vapour(star, p)
        ws = RATIO * es / (p - es)
        value = (a - b * star) * ws - CP_AIR * (t - star) - w * (a + CP_VAPOUR * t - c * star)
        slope = -b * ws + (a - b * star) * ws * _slope_ln_pws(star) * p / (p - es) + CP_AIR + c * w
        star = np.clip(star - value / slope, low, high)
    answer: NDArray[Any] = star
    return answer


def ratio_from_wet_bulb(t: ArrayLike, star: ArrayLike, p: ArrayLike) -> NDArray[np.float64]:
    """Humidity ratio [kg/kg] from dry and wet bulb; closed form.

    Raises InputError where star > t or the air would be below dry.
    """
    t, star, p = np.broadcast_arrays(np.asarray(t, float), np.asarray(star, float), np.asarray(p, float))
    if not np.all(star <= t + 1e-9):
        raise InputError("The wet bulb cannot be above the dry bulb", remedy="Lower the wet bulb")
    ice = star < 0
    a, b, c = np.where(ice, 2.8344e6, 2.501e6), np.where(ice, 240.0, 2326.0), np.where(ice, 2100.0, 4186.0)
    w = ((a - b * star) * saturation_ratio(star, p) - CP_AIR * (t - star)) / (a + CP_VAPOUR * t - c * star)
    if not np.all(w >= 0):
        raise InputError("The wet bulb is below that of bone-dry air", remedy="Raise the wet bulb")
    answer: NDArray[Any] = w
    return answer


def water_enthalpy(t: ArrayLike) -> NDArray[np.float64]:
    """Of liquid water, of ice below 0 degC [J/kg]."""
    t = np.asarray(t, float)
    return np.where(t >= 0, 4186.0 * t, -333.4e3 + 2100.0 * t)


def vapour_enthalpy(t: ArrayLike) -> NDArray[np.float64]:
    """[J/kg]"""
    return LATENT + CP_VAPOUR * np.asarray(t, float)


def viscosity(t: ArrayLike) -> NDArray[np.float64]:
    """Dynamic viscosity of air [Pa s] by Sutherland's formula, -40..80 degC."""
    k = np.asarray(t, float) + 273.15
    return 1.716e-5 * (k / 273.15) ** 1.5 * (273.15 + 110.4) / (k + 110.4)
