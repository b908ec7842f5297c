"""How figures are shown: rounding, minus sign, thousands, units. Screen and papers use the same."""

import math
from functools import lru_cache

from garnetfin.core.units import QUANTITIES, System
from garnetfin.core.units import to_shown as to_shown

MINUS, THIN, DASH = "\u2212", "\u202f", "–"
DIRECTIONS = ("North", "North-east", "East", "South-east", "South", "South-west", "West", "North-west")
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def number(value: float, digits: int = 0) -> str:
    """1234.5 -> "1 234"; −3 with a true minus; an en dash for what is not a number."""
    if value is None or not math.isfinite(value):
        return DASH
    text = f"{value:,.{digits}f}".replace(",", THIN)
    if text.lstrip("-").replace("0", "").replace(".", "").replace(THIN, "") == "":
        text = text.lstrip("-")
    return text.replace("-", MINUS)


def signed(value: float, digits: int = 0) -> str:
    """With its sign, which nothing has not."""
    text = number(value, digits)
    return f"+{text}" if value > 0 and text.strip("0.") else text


def unit(quantity: str, system: System) -> str:
    return QUANTITIES[quantity].unit(system).symbol


def in_watts(quantity: str, value: float) -> str:
    """The quantity a figure is written in: small loads read better in watts."""
    return "power" if quantity == "load" and abs(value) < 10_000 else quantity


# a table of a large building is written anew after an edit that moves few of its figures
@lru_cache(maxsize=65_536)
def figure(quantity: str, value: float, system: System, digits: int | None = None) -> str:
    """A stored SI figure as shown, without its unit."""
    if value is None or not math.isfinite(value):
        return DASH
    shown = QUANTITIES[quantity].unit(system)
    return number(to_shown(quantity, value, system), shown.digits if digits is None else digits)


def with_unit(quantity: str, value: float, system: System, digits: int | None = None) -> str:
    symbol = unit(quantity, system)
    space = "" if symbol in ("°", "%") and symbol == "°" else " "
    return figure(quantity, value, system, digits) + (space + symbol if symbol else "")


def size(section, system: System) -> str:
    """ "400 × 250" or "ø200" in mm; inches in IP."""
    digits = 0 if system == "SI" else 1
    width = figure("duct_size", section.width_m, system, digits)
    if section.shape == "round":
        return f"ø{width}"
    between = "⬭" if section.shape == "oval" else "×"
    return f"{width} {between} {figure('duct_size', section.height_m, system, digits)}"


def direction(azimuth_deg: float) -> str:
    return DIRECTIONS[int(((azimuth_deg % 360) + 22.5) // 45) % 8]


def hour(month: int, at: int) -> str:
    """ "21 Aug, 16–17 h" """
    return f"21 {MONTHS[month]}, {at}–{at + 1} h"


def size_of_wheel(diameter_m: float, system: System) -> str:
    return f"ø{figure('duct_size', diameter_m, system, 0 if system == 'SI' else 1)}"
