"""What a law of a fitting is, and the one list of them."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from math import cos, radians
from pkgutil import iter_modules

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

At = Mapping[str, float]
Figures = float | NDArray[np.float64]

MOST_SHARE = 1.2  # of the whole flow in a leg; beyond it the end value holds


@dataclass(frozen=True, slots=True)
class Law:
    """A coefficient from the parameters that a row of the catalogue lists."""

    name: str
    k: Callable[[At], float]


@dataclass(frozen=True, slots=True)
class LegLaw:
    """The coefficient of one leg of a junction on the velocity pressure of the whole flow.

    of          (share of the whole flow, area over that of the whole, figure of the law) -> k, of floats or of arrays
    read        parameters of the catalogue -> (share, area, figure)
    fitted      (k, share, area) -> the figure at which the law gives k there; None where no figure does. Laws without
                it have a figure that is the row's own, or none
    """

    name: str
    of: Callable[[Figures, Figures, Figures], Figures]
    read: Callable[[At], tuple[float, float, float]]
    fitted: Callable[[float, float, float], float | None] | None = None

    def k(self, at: At) -> float:
        """The coefficient [-] at parameters of the catalogue."""
        return self.one(*self.read(at))

    def one(self, share: float, area: float, figure: float = 0.0) -> float:
        """The coefficient at one share and area."""
        return float(self.of(share, area, figure))


class _List:
    def __init__(self) -> None:
        self.laws: dict[str, Law | LegLaw] = {}

    def add(self, law: Law | LegLaw) -> None:
        if law.name in self.laws:
            raise InputError(
                f"There are two laws of fittings named “{law.name}”", remedy="Give the second a name of its own"
            )
        self.laws[law.name] = law


_known = _List()


def register(*laws: Law | LegLaw) -> None:
    """Called by each file of laws for what it holds. Raises InputError for a name that is taken."""
    for law in laws:
        _known.add(law)


@cache
def laws() -> dict[str, Law | LegLaw]:
    """All laws by name, those of files in the order of their names."""
    package = __name__.rpartition(".")[0]
    for found in sorted(m.name for m in iter_modules(import_module(package).__path__)):
        import_module(f"{package}.{found}")
    return _known.laws


@cache
def leg_laws() -> tuple[LegLaw, ...]:
    """Those of legs of junctions; the solver of networks knows them by their place here."""
    return tuple(law for law in laws().values() if isinstance(law, LegLaw))


@cache
def leg_law(name: str) -> LegLaw:
    """One of them by its name. Raises InputError for a name that is none."""
    return leg_laws()[number(name)]


@cache
def number(name: str) -> int:
    """The place of a leg's law. Raises InputError for a name that is none."""
    for i, law in enumerate(leg_laws()):
        if law.name == name:
            return i
    raise InputError(f"There is no law of a leg named “{name}”", where="laws of fittings")


# One formula serves single figures, which come by the thousand and want no arrays, and arrays.


def cosine(angle_deg: Figures) -> Figures:
    """Of an angle [deg]."""
    return np.cos(np.radians(angle_deg)) if isinstance(angle_deg, np.ndarray) else cos(radians(angle_deg))


def within(x: Figures, low: float, high: float) -> Figures:
    """The figures, kept between two ends."""
    return np.clip(x, low, high) if isinstance(x, np.ndarray) else min(max(x, low), high)


def where(condition: bool | NDArray[np.bool_], yes: Figures, no: Figures) -> Figures:
    """One figure or the other."""
    if isinstance(condition, np.ndarray):
        return np.where(condition, yes, no)
    return yes if condition else no
