"""How figures are shown: rounding, minus sign, thousands, units. Screen and papers use the same."""

import math
from collections.abc import Iterable
from functools import lru_cache
from typing import TYPE_CHECKING, Any, NamedTuple

from garnetfin.core.units import QUANTITIES, System
from garnetfin.core.units import to_shown as to_shown

if TYPE_CHECKING:
    from garnetfin.core.ducts.sizes import Section

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


def within(value: float) -> str:
    """What something closes within: the next power of ten, a thousandth at least. "within 0.01" of 0.004."""
    size = abs(value)
    if not math.isfinite(size):
        return DASH
    power = max(-3, math.ceil(math.log10(size) - 1e-9)) if size > 0 else -3
    return f"within {number(10.0**power, max(0, -power))}"


def signed(value: float, digits: int = 0) -> str:
    """With its sign, which nothing has not."""
    text = number(value, digits)
    return f"+{text}" if value > 0 and text.strip("0.") else text


def unit(quantity: str, system: System) -> str:
    return QUANTITIES[quantity].unit(system).symbol


def in_watts(quantity: str, value: float) -> str:
    """The quantity a figure is written in: small loads read better in watts."""
    return "power" if quantity == "load" and abs(value) < 10_000 else quantity


def cooling(in_tons: str) -> str:
    """The quantity that cooling of coils and plant is written in, as the office standards have it."""
    return "refrigeration" if in_tons else "load"


# a table of a large building is written anew after an edit that moves few of its figures
@lru_cache(maxsize=65_536)
def figure(quantity: str, value: float, system: System, digits: int | None = None) -> str:
    """A stored SI figure as shown, without its unit."""
    if value is None or not math.isfinite(value):
        return DASH
    if quantity == "people" and 0 < value < 1:
        value = 1.0  # part of a person is counted, and printed as one
    shown = QUANTITIES[quantity].unit(system)
    return number(to_shown(quantity, value, system), shown.digits if digits is None else digits)


def with_unit(quantity: str, value: float, system: System, digits: int | None = None) -> str:
    symbol = unit(quantity, system)
    space = "" if symbol in ("°", "%") and symbol == "°" else " "
    return figure(quantity, value, system, digits) + (space + symbol if symbol else "")


QUARTERS = ("", "¼", "½", "¾")


def feet(length_m: float) -> str:
    """Feet and inches to the nearest quarter: 12\u2032 6½\u2033."""
    if not math.isfinite(length_m):
        return DASH
    quarters = round(abs(length_m) / 0.0254 * 4)
    whole, rest = divmod(quarters, 48)
    inches, quarter = divmod(rest, 4)
    sign = MINUS if length_m < 0 and quarters else ""
    return f"{sign}{number(whole)}\u2032 {inches if inches or not quarter else ''}{QUARTERS[quarter]}\u2033"


def measure(length_m: float, system: System, with_symbol: bool = True) -> str:
    """A length as it stands on drawings: "6.40 m", in IP feet and inches."""
    if system == "IP":
        return feet(length_m)
    return with_unit("length", length_m, system) if with_symbol else figure("length", length_m, system)


def size(section: "Section", system: System) -> str:
    """ "400 × 250" or "ø200" in mm; inches in IP."""
    digits = 0 if system == "SI" else 1
    width = figure("duct_size", section.width_m, system, digits)
    if section.shape == "round":
        return f"ø{width}"
    between = "⬭" if section.shape == "oval" else "×"
    return f"{width} {between} {figure('duct_size', section.height_m, system, digits)}"


def direction(azimuth_deg: float) -> str:
    return DIRECTIONS[int(((azimuth_deg % 360) + 22.5) // 45) % 8]


def hours_of_day(hours: Iterable[Any]) -> str:
    """Marked hours of a day (24,) as spans, across midnight where they run so: "7–18 h", "20–6 h"."""
    marked = [bool(h) for h in hours]
    if all(marked):
        return "around the clock"
    starts = [h for h in range(24) if marked[h] and not marked[h - 1]]
    spans = [(h, next(k for k in range(1, 25) if not marked[(h + k) % 24])) for h in starts]
    return ", ".join(f"{h}–{(h + length - 1) % 24 + 1}" for h, length in spans) + " h" if spans else "never"


def hour(month: int, at: int) -> str:
    """ "21 Aug, 16–17 h" """
    return f"21 {MONTHS[month]}, {at}–{at + 1} h"


def size_of_wheel(diameter_m: float, system: System) -> str:
    return f"ø{figure('duct_size', diameter_m, system, 0 if system == 'SI' else 1)}"


# -- sentences whose figures keep their quantities -----------------------------------------------------------------
START, BETWEEN, END = "\x02", "\x1f", "\x03"


class Amount(NamedTuple):
    """A figure of a sentence: SI value, decimals in SI (the unit's own where None), `bare` without its unit."""

    quantity: str
    value: float
    digits: int | None = None
    bare: bool = False

    def text(self, system: System) -> str:
        digits = self.digits if system == "SI" else None
        if self.bare:
            return figure(self.quantity, self.value, system, digits)
        return with_unit(self.quantity, self.value, system, digits)


class Told(str):
    """A sentence as it reads in SI, with the pieces from which it is told in other units."""

    pieces: tuple[str | Amount, ...]


def amount(quantity: str, value: float, digits: int | None = None, bare: bool = False) -> str:
    """A figure to be put into a sentence; `told` reads it there."""
    return START + BETWEEN.join((quantity, repr(float(value)), str(digits), str(bare))) + END


def section_amount(section: "Section") -> str:
    """A duct's size to be put into a sentence, as `size` writes it."""
    width = amount("duct_size", section.width_m, bare=True)
    if section.shape == "round":
        return f"ø{width}"
    return f"{width} {'⬭' if section.shape == 'oval' else '×'} {amount('duct_size', section.height_m, bare=True)}"


def told(text: str) -> str:
    """A sentence with amounts in it, as it reads in SI; one without is given back."""
    if START not in text:
        return text
    pieces: list[str | Amount] = []
    for part in text.split(START):
        inside, end, after = part.partition(END)
        if end:
            quantity, value, digits, bare = inside.split(BETWEEN)
            pieces.append(Amount(quantity, float(value), None if digits == "None" else int(digits), bare == "True"))
        pieces.append(after if end else part)
    made = Told("".join(p if isinstance(p, str) else p.text("SI") for p in pieces))
    made.pieces = tuple(p for p in pieces if p != "")
    return made


def in_units(text: str, system: System) -> str:
    """A sentence for a reader of these units."""
    if system == "SI" or not isinstance(text, Told):
        return text
    return "".join(p if isinstance(p, str) else p.text(system) for p in text.pieces)
