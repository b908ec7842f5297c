"""A state of moist air from any two of its properties.

Properties by name: t dry bulb, wb wet bulb, td dew point [degC]; w humidity ratio [kg/kg]; rh relative humidity [0..1];
h enthalpy [J/kg dry air]; v specific volume [m3/kg dry air]. ASHRAE Handbook Fundamentals ch. 1.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air

NAMES = {
    "t": "dry bulb",
    "w": "humidity ratio",
    "rh": "relative humidity",
    "wb": "wet bulb",
    "td": "dew point",
    "h": "enthalpy",
    "v": "specific volume",
}
COLDEST_C, HOTTEST_C = -60.0, 90.0
LEAST_PA, MOST_PA = 30e3, 120e3
FOG = 5e-4  # share above saturation that is taken as saturated


@dataclass(frozen=True, slots=True, eq=False)
class State:
    """Moist air; every array has the same shape."""

    t: NDArray[np.float64]
    w: NDArray[np.float64]
    p: NDArray[np.float64]

    def get(self, name: str) -> NDArray[np.float64]:
        """One of its properties by name, in SI [as State says]. Raises InputError for a name that is none."""
        match name:
            case "t" | "w":
                answer: NDArray[Any] = getattr(self, name)
                return answer
            case "rh":
                return air.relative_humidity(self.t, self.w, self.p)
            case "wb":
                return air.wet_bulb(self.t, self.w, self.p)
            case "td":
                return air.dew_point(self.w, self.p)
            case "h":
                return air.enthalpy(self.t, self.w)
            case "v":
                return air.specific_volume(self.t, self.w, self.p)
        raise InputError(f"Air has no property “{name}”", remedy="Take one of: " + ", ".join(NAMES))


def state(first: tuple[str, ArrayLike], second: tuple[str, ArrayLike], p: ArrayLike) -> State:
    """The state with two given properties, each (name, figures); figures and pressure [Pa] broadcast.

    Raises InputError where the pair does not fix a state, or where air of that kind does not exist.
    """
    given = {first[0]: np.asarray(first[1], float), second[0]: np.asarray(second[1], float)}
    _check(first[0], second[0], given, np.asarray(p, float))
    given = dict(zip((*given, "p"), np.broadcast_arrays(*given.values(), np.asarray(p, float))))
    pressure = given.pop("p")
    t, w = _solve(given, pressure)
    _exists(t, w, pressure)
    return State(t, np.clip(w, 0.0, _saturated(t, pressure)), pressure)


def doubtful(first: str, second: str) -> str:
    """Why figures from this pair deserve care, or ""."""
    if "v" in (first, second) and "w" not in (first, second):
        return "Volume fixes the humidity poorly: 0.15 % in it are up to 7 % of the water"
    return ""


def _check(a: str, b: str, given: dict[str, NDArray[Any]], p: NDArray[Any]) -> None:
    for name in (a, b):
        if name not in NAMES:
            raise InputError(f"Air has no property “{name}”", remedy="Take one of: " + ", ".join(NAMES.values()))
    if a == b:
        raise InputError(f"One {NAMES[a]} does not fix a state", remedy="Give two different properties")
    pair = {a, b}
    if pair == {"w", "td"}:
        raise InputError(
            "Humidity ratio and dew point say the same", remedy="Give a temperature or an enthalpy with one of them"
        )
    if pair == {"h", "wb"}:
        raise InputError("Enthalpy and wet bulb say nearly the same", remedy="Give a dry bulb with one of them")
    for name, values in given.items():
        if not np.isfinite(values).all():
            raise InputError(f"The {NAMES[name]} must be a finite number")
        if name in ("t", "wb", "td") and not np.all((values >= COLDEST_C) & (values <= HOTTEST_C)):
            raise InputError(f"The {NAMES[name]} must lie between {COLDEST_C:g} and {HOTTEST_C:g} °C")
        if name == "rh" and not np.all((values >= 0) & (values <= 1)):
            raise InputError("The relative humidity must lie between 0 and 100 %")
        if name == "w" and not np.all(values >= 0):
            raise InputError("The humidity ratio cannot be below 0")
    if not np.all((p >= LEAST_PA) & (p <= MOST_PA)):
        raise InputError("The air pressure must lie between 30 and 120 kPa")
    if "t" in given:
        for name in ("wb", "td"):
            if name in given and not np.all(given[name] <= given["t"] + 1e-9):
                raise InputError(f"The {NAMES[name]} cannot be above the dry bulb", remedy=f"Lower the {NAMES[name]}")


def _saturated(t: NDArray[Any], p: NDArray[Any]) -> NDArray[Any]:
    return _ratio(t, np.ones_like(t), p)


def _ratio(t: NDArray[Any], rh: NDArray[Any], p: NDArray[Any]) -> NDArray[Any]:
    """Humidity ratio; without bound where water boils."""
    pw = rh * air.saturated_vapour(t, p)
    return np.where(pw < 0.999 * p, air.RATIO * pw / np.maximum(p - pw, 1e-3 * p), 1e6)


def _given_t(name: str, value: NDArray[Any], t: NDArray[Any], p: NDArray[Any]) -> NDArray[Any]:
    """Humidity ratio at a dry bulb, from one other property."""
    match name:
        case "w":
            return value
        case "rh":
            return _ratio(t, value, p)
        case "td":
            return _saturated(value, p)
        case "h":
            return (value - air.CP_AIR * t) / (air.LATENT + air.CP_VAPOUR * t)
        case "v":
            return np.asarray((value * p / (287.042 * (t + 273.15)) - 1) / 1.607858)
    star = value
    a, b, c = _wick(star)
    answer: NDArray[Any] = ((a - b * star) * _saturated(star, p) - air.CP_AIR * (t - star)) / (
        a + air.CP_VAPOUR * t - c * star
    )
    return answer


def _wick(star: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any]]:
    return tuple(
        np.where(star < 0, ice, water) for ice, water in ((2.8344e6, 2.501e6), (240.0, 2326.0), (2100.0, 4186.0))
    )


def _given_w(name: str, value: NDArray[Any], w: NDArray[Any], p: NDArray[Any]) -> NDArray[Any]:
    """Dry bulb at a humidity ratio, from one other property."""
    match name:
        case "h":
            return air.temperature(value, w)
        case "v":
            answer: NDArray[Any] = value * p / (287.042 * (1 + 1.607858 * w)) - 273.15
            return answer
        case "rh":
            return air.saturation_temperature(np.maximum(p * w / (air.RATIO + w) / np.maximum(value, 1e-9), 1e-6), p)
    star = value
    a, b, c = _wick(star)
    return ((a - b * star) * _saturated(star, p) + air.CP_AIR * star - w * (a - c * star)) / (
        air.CP_AIR + air.CP_VAPOUR * w
    )


def _solve(given: dict[str, NDArray[Any]], p: NDArray[Any]) -> tuple[NDArray[Any], NDArray[Any]]:
    if "t" in given:
        other = next(n for n in given if n != "t")
        return given["t"], _given_t(other, given[other], given["t"], p)
    known = next((n for n in ("w", "td") if n in given), None)
    if known:
        w = given[known] if known == "w" else _saturated(given["td"], p)
        other = next(n for n in given if n != known)
        return _given_w(other, given[other], w, p), w
    (a, x), (b, y) = given.items()
    t = root(
        lambda t: _given_t(a, x, t, p) - _given_t(b, y, t, p), np.full(p.shape, COLDEST_C), np.full(p.shape, HOTTEST_C)
    )
    if not np.isfinite(t).all():
        raise InputError(f"No air has this {NAMES[a]} and this {NAMES[b]}", remedy="Check both figures")
    # The humid one of the two is the better conditioned way back.
    return t, _given_t(b if b in ("rh", "wb") else a, y if b in ("rh", "wb") else x, t, p)


def root(
    f: Callable[[NDArray[Any]], NDArray[Any]], low: NDArray[Any], high: NDArray[Any], steps: int = 60
) -> NDArray[Any]:
    """Where a monotone function of arrays passes zero, by bisection; NaN where the ends have the same sign."""
    at_low, at_high = f(low), f(high)
    none = np.sign(at_low) * np.sign(at_high) > 0
    rising = at_high > at_low
    for _ in range(steps):
        middle = 0.5 * (low + high)
        above = (f(middle) > 0) == rising
        low, high = np.where(above, low, middle), np.where(above, middle, high)
    return np.where(none, np.nan, 0.5 * (low + high))


def _exists(t: NDArray[Any], w: NDArray[Any], p: NDArray[Any]) -> None:
    if not np.all(np.isfinite(t) & (t >= COLDEST_C - 1e-6) & (t <= HOTTEST_C + 1e-6)):
        raise InputError(f"That air would be outside {COLDEST_C:g} to {HOTTEST_C:g} °C", remedy="Check both figures")
    if not np.all(w >= -1e-9):
        raise InputError("Air of that kind would be drier than dry", remedy="Check both figures")
    if not np.all(w <= _saturated(t, p) * (1 + FOG) + 1e-12):
        raise InputError(
            "Air cannot hold that much water: it would be fog", remedy="Lower the humidity or raise the dry bulb"
        )
