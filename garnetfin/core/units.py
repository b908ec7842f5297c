"""Quantities: what is stored (SI), what is shown (SI or IP), and what may be typed.

Figures are stored in SI. Display multiplies by plain factors (a test compares them with Pint);
Pint itself is imported only when something is typed with a unit.

Source: SI brochure; NIST SP 811 for IP units.
"""

import math
import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from garnetfin.core.errors import InputError

System = Literal["SI", "IP"]


@dataclass(frozen=True, slots=True)
class Unit:
    """shown = stored * factor + offset, with `digits` decimals and the symbol behind it."""

    symbol: str
    factor: float
    digits: int
    pint: str
    offset: float = 0.0


@dataclass(frozen=True, slots=True)
class Quantity:
    name: str
    si: Unit
    ip: Unit

    def unit(self, system: System) -> Unit:
        """How it is shown in a system of units."""
        return self.si if system == "SI" else self.ip


def _same(name: str, symbol: str, factor: float, digits: int, pint: str) -> Quantity:
    unit = Unit(symbol, factor, digits, pint)
    return Quantity(name, unit, unit)


QUANTITIES: dict[str, Quantity] = {
    q.name: q
    for q in (
        Quantity("temperature", Unit("°C", 1, 1, "degC"), Unit("°F", 1.8, 1, "degF", 32.0)),
        Quantity("temperature_difference", Unit("K", 1, 1, "delta_degC"), Unit("°F", 1.8, 1, "delta_degF")),
        Quantity("length", Unit("m", 1, 2, "m"), Unit("ft", 1 / 0.3048, 2, "ft")),
        Quantity("altitude", Unit("m", 1, 0, "m"), Unit("ft", 1 / 0.3048, 0, "ft")),
        Quantity("duct_size", Unit("mm", 1000, 0, "mm"), Unit("in", 1 / 0.0254, 1, "inch")),
        Quantity("sheet", Unit("mm", 1000, 1, "mm"), Unit("in", 1 / 0.0254, 3, "inch")),
        Quantity("area", Unit("m²", 1, 1, "m**2"), Unit("ft²", 1 / 0.3048**2, 0, "ft**2")),
        Quantity("volume", Unit("m³", 1, 0, "m**3"), Unit("ft³", 1 / 0.3048**3, 0, "ft**3")),
        Quantity("room_flow", Unit("L/s", 1000, 0, "liter/s"), Unit("cfm", 60 / 0.3048**3, 0, "ft**3/min")),
        Quantity("system_flow", Unit("m³/s", 1, 2, "m**3/s"), Unit("cfm", 60 / 0.3048**3, 0, "ft**3/min")),
        Quantity("power", Unit("W", 1, 0, "W"), Unit("Btu/h", 1 / 0.29307107017, 0, "Btu/hour")),
        Quantity("load", Unit("kW", 1e-3, 2, "kW"), Unit("kBtu/h", 1e-3 / 0.29307107017, 1, "kBtu/hour")),
        Quantity("refrigeration", Unit("kW", 1e-3, 1, "kW"), Unit("tons", 1 / 3516.8528420667, 1, "refrigeration_ton")),
        Quantity(
            "specific_fan_power",
            Unit("W/(m³/s)", 1, 0, "W/(m**3/s)"),
            Unit("W/cfm", 0.3048**3 / 60, 2, "W/(ft**3/min)"),
        ),
        Quantity("shaft_power", Unit("kW", 1e-3, 2, "kW"), Unit("hp", 1 / 745.69987158, 2, "hp")),
        Quantity(
            "power_density",
            Unit("W/m²", 1, 1, "W/m**2"),
            Unit("Btu/h ft²", 0.3048**2 / 0.29307107017, 2, "Btu/hour/ft**2"),
        ),
        # Lights and equipment: watts on both sides of the sea.
        Quantity("electric_density", Unit("W/m²", 1, 1, "W/m**2"), Unit("W/ft²", 0.3048**2, 2, "W/ft**2")),
        Quantity(
            "irradiance",
            Unit("W/m²", 1, 0, "W/m**2"),
            Unit("Btu/h ft²", 0.3048**2 / 0.29307107017, 0, "Btu/hour/ft**2"),
        ),
        Quantity(
            "u_value",
            Unit("W/m²K", 1, 2, "W/m**2/delta_degC"),
            Unit("Btu/h ft² °F", 0.3048**2 / 0.29307107017 / 1.8, 3, "Btu/hour/ft**2/delta_degF"),
        ),
        Quantity(
            "resistance",
            Unit("m²K/W", 1, 3, "m**2*delta_degC/W"),
            Unit("ft² h °F/Btu", 1.8 * 0.29307107017 / 0.3048**2, 2, "ft**2*delta_degF*hour/Btu"),
        ),
        Quantity(
            "conductivity",
            Unit("W/mK", 1, 3, "W/m/delta_degC"),
            Unit("Btu/h ft °F", 0.3048 / 0.29307107017 / 1.8, 3, "Btu/hour/ft/delta_degF"),
        ),
        Quantity(
            "specific_heat",
            Unit("J/kgK", 1, 0, "J/kg/delta_degC"),
            Unit("Btu/lb °F", 1 / 4186.8, 3, "Btu/lb/delta_degF"),
        ),
        Quantity(
            "material_density", Unit("kg/m³", 1, 0, "kg/m**3"), Unit("lb/ft³", 0.3048**3 / 0.45359237, 1, "lb/ft**3")
        ),
        Quantity("areal_mass", Unit("kg/m²", 1, 0, "kg/m**2"), Unit("lb/ft²", 0.3048**2 / 0.45359237, 1, "lb/ft**2")),
        Quantity(
            "areal_heat",
            Unit("kJ/m²K", 1e-3, 0, "kJ/m**2/delta_degC"),
            Unit("Btu/ft² °F", 0.3048**2 / 1055.05585262 / 1.8, 2, "Btu/ft**2/delta_degF"),
        ),
        Quantity("pressure", Unit("Pa", 1, 0, "Pa"), Unit("in wg", 1 / 249.08891, 2, "inH2O")),
        Quantity("fine_pressure", Unit("Pa", 1, 1, "Pa"), Unit("in wg", 1 / 249.08891, 3, "inH2O")),
        Quantity("friction", Unit("Pa/m", 1, 2, "Pa/m"), Unit("in wg/100 ft", 30.48 / 249.08891, 3, "inH2O/hectofoot")),
        Quantity("velocity", Unit("m/s", 1, 1, "m/s"), Unit("fpm", 60 / 0.3048, 0, "ft/min")),
        Quantity("mass", Unit("kg", 1, 0, "kg"), Unit("lb", 1 / 0.45359237, 0, "lb")),
        Quantity("linear_mass", Unit("kg/m", 1, 1, "kg/m"), Unit("lb/ft", 0.3048 / 0.45359237, 1, "lb/ft")),
        Quantity("density", Unit("kg/m³", 1, 3, "kg/m**3"), Unit("lb/ft³", 0.3048**3 / 0.45359237, 4, "lb/ft**3")),
        Quantity("humidity_ratio", Unit("g/kg", 1000, 1, "g/kg"), Unit("gr/lb", 7000, 0, "grain/lb")),
        Quantity("enthalpy", Unit("kJ/kg", 1e-3, 1, "kJ/kg"), Unit("Btu/lb", 1 / 2326.0, 1, "Btu/lb", 7.686)),
        Quantity("enthalpy_difference", Unit("kJ/kg", 1e-3, 1, "kJ/kg"), Unit("Btu/lb", 1 / 2326.0, 1, "Btu/lb")),
        Quantity(
            "specific_volume", Unit("m³/kg", 1, 3, "m**3/kg"), Unit("ft³/lb", 0.45359237 / 0.3048**3, 2, "ft**3/lb")
        ),
        Quantity("mass_flow", Unit("kg/s", 1, 2, "kg/s"), Unit("lb/min", 60 / 0.45359237, 0, "lb/minute")),
        Quantity("moisture_flow", Unit("kg/h", 3600, 1, "kg/hour"), Unit("lb/h", 3600 / 0.45359237, 1, "lb/hour")),
        Quantity("water_flow", Unit("L/s", 1000, 2, "liter/s"), Unit("gpm", 60 / 3.785411784e-3, 1, "gallon/min")),
        Quantity("air_pressure", Unit("kPa", 1e-3, 1, "kPa"), Unit("in Hg", 1 / 3386.389, 2, "inHg")),
        _same("hours", "h", 1, 0, "hour"),
        _same("fraction", "%", 100, 0, "percent"),
        _same("noise", "dB", 1, 0, "dimensionless"),
        _same("plain", "", 1, 2, "dimensionless"),
        _same("count", "", 1, 0, "dimensionless"),
        _same("people", "", 1, 0, "dimensionless"),
        _same("air_change", "1/h", 1, 1, "1/hour"),
        _same("angle", "°", 1, 0, "degree"),
        _same("latitude", "°", 1, 2, "degree"),
        _same("hours", "h", 1, 1, "hour"),
        _same("speed", "rpm", 1, 0, "rpm"),
        _same("specific_fan_power", "kW/(m³/s)", 1e-3, 2, "kW/(m**3/s)"),
    )
}

_NUMBER = re.compile(r"\s*([-+\u2212]?(?:\d[\d\u2009\u202f ]*)?(?:[.,]\d+)?(?:[eE][-+]?\d+)?)\s*(.*?)\s*$")
_FEET = re.compile(
    r"\s*(?:(?P<feet>\d+(?:\.\d+)?)\s*[\u2032'])?\s*-?\s*"
    r"(?:(?P<inches>\d+(?:\.\d+)?)?\s*(?:(?P<part>\d{1,3})/(?P<of>\d{1,3}))?\s*(?:[\u2033\"]|''))?\s*$"
)
FOOT_M, INCH_M = 0.3048, 0.0254
# Trade spellings that Pint does not read as such.
_SPELLINGS = (
    (r"\bW/\(?m\^?[2²]\s*K\)?", "W/m**2/delta_degC"),
    (r"\bin\.? ?w\.?g\.?", "inH2O"),
    (r"\bcfm\b", "ft**3/min"),
    (r"\bfpm\b", "ft/min"),
    (r"\bl/s\b", "liter/s"),
    (r"\bgr\b", "grain"),
    (r"\bMBH\b", "kBtu/hour"),
    (r"\b(tons?|TR)\b", "refrigeration_ton"),
    (r"\bk?Btu/h\b", lambda m: m.group(0) + "our"),
    (r"\bm3/h\b", "m**3/hour"),
    (r"\b(mm|cm|m|ft|in)\^?([23])\b", r"\1**\2"),
    (r"\bin\b", "inch"),
    ("%", "percent"),
    ("²", "**2"),
    ("³", "**3"),
    (r"°\s*C\b", "degC"),
    (r"°\s*F\b", "degF"),
    ("°", "degree"),
    (r"/100 ft", "/hectofoot"),
)


@lru_cache(maxsize=1)
def _registry():
    """Pint's registry; importing it takes half a second, so only a typed unit asks for it."""
    import pint

    registry = pint.UnitRegistry(cache_folder=None)
    registry.define("kBtu = 1000 Btu")
    registry.define("hectofoot = 100 ft")
    return registry


def to_shown(quantity: str, value: float, system: System) -> float:
    """The stored SI figure in the unit shown [as Quantity.unit says]."""
    unit = QUANTITIES[quantity].unit(system)
    return value * unit.factor + unit.offset


def from_shown(quantity: str, shown: float, system: System) -> float:
    """The figure in SI [of its quantity] for one typed in the unit shown."""
    unit = QUANTITIES[quantity].unit(system)
    return (shown - unit.offset) / unit.factor


def feet_and_inches(text: str) -> float | None:
    """Metres of a length typed as 12\' 6", 12\'-6 1/2" or 8"; None of anything else.

    Raises InputError where inches do not fit below a foot or a fraction divides by nothing.
    """
    found = _FEET.match(text)
    if found is None or not any(found.group(part) for part in ("feet", "inches", "part")):
        return None
    feet, inches = float(found["feet"] or 0.0), float(found["inches"] or 0.0)
    if found["part"]:
        of = float(found["of"])
        if of == 0:
            raise InputError(f"“{text.strip()}” divides by 0", remedy="Type feet and inches as 12' 6 1/2\"")
        inches += float(found["part"]) / of
    if found["feet"] and inches >= 12:
        raise InputError(f"“{text.strip()}” has a foot among its inches", remedy="Type feet and inches as 12' 6\"")
    return feet * FOOT_M + inches * INCH_M


def parse(text: str, quantity: str, system: System) -> float:
    """The SI figure for what was typed, e.g. "12 ft", "850 m3/h", "0.3 in wg", "12' 6\"", or a bare number.

    A bare number is in the unit shown. Raises InputError saying what is accepted.
    """
    unit = QUANTITIES[quantity].unit(system)
    accepted = f"Type a number{f' in {unit.symbol}' if unit.symbol else ''}, or with another unit behind it"
    if QUANTITIES[quantity].si.pint in ("m", "mm"):
        length_m = feet_and_inches(text)
        if length_m is not None:
            return length_m
    match = _NUMBER.match(text)
    if match is None or not match.group(1).strip(" -+\u2212"):
        raise InputError(f"“{text.strip()}” is not a number", remedy=accepted)
    digits = re.sub(r"[\u2009\u202f ]", "", match.group(1)).replace(",", ".").replace("\u2212", "-")
    number, symbol = float(digits), match.group(2)
    if not math.isfinite(number):
        raise InputError(f"“{text.strip()}” is not a finite number", remedy=accepted)
    if not symbol or symbol == unit.symbol:
        return from_shown(quantity, number, system)
    if len(symbol) > 24 or "**" in symbol:
        raise InputError(f"“{symbol[:24]}” is not a unit", remedy=accepted)
    for pattern, put in _SPELLINGS:
        symbol = re.sub(pattern, put, symbol)
    target = QUANTITIES[quantity].si
    registry = _registry()
    try:
        if quantity.startswith("temperature_"):
            symbol = {"degC": "delta_degC", "degF": "delta_degF", "K": "delta_degC"}.get(symbol, symbol)
        shown = registry.Quantity(number, symbol).to(target.pint).magnitude
    except Exception as error:  # Pint raises a family of its own; any of them means: not this quantity
        raise InputError(
            f"“{match.group(2)}” is not a unit of {quantity.replace('_', ' ')}", remedy=accepted
        ) from error
    return (float(shown) - target.offset) / target.factor
