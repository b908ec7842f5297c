"""When the plant of a room runs through a day, and which of its hours only make the room ready for use.

Everything here is cyclic: the hour before 0 is 23, so that use and plant may run across midnight.

Source: own method.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

Mode = Literal["always", "use", "hours"]


@dataclass(frozen=True, slots=True, eq=False)
class PlantDay:
    """Hours of the plant (..., 24) bool: running, of these the start-up before use, and the first used one after it.

    A start is an hour without plant followed by one with it; a start that meets no use before the plant stops has no
    start-up.
    """

    on: NDArray[np.bool_]
    start_up: NDArray[np.bool_]
    first_used: NDArray[np.bool_]

    @property
    def counted(self) -> NDArray[np.bool_]:
        """Hours in which the governing load is looked for."""
        return self.on & ~self.start_up

    @property
    def always(self) -> bool:
        """Whether nothing ever stops it."""
        return bool(self.on.all())


def plant_day(
    used: NDArray[np.bool_], mode: Mode = "use", lead_h: int = 0, from_h: int = 0, to_h: int = 24, early_h: int = 0
) -> PlantDay:
    """The plant's day (24,) for hours of use (24,) by the clock.

    mode      `use`: used hours and lead_h hours before each; `hours`: from_h to to_h by the clock, across midnight
              where from_h > to_h; `always`, and rooms that are never used: around the clock
    early_h   hours by which the clock runs ahead of the time counted here, 1 in the months of summer time

    Raises InputError for hours of the plant that end where they begin.
    """
    return _plant_day(np.asarray(used, bool).tobytes(), mode, lead_h, from_h, to_h, early_h)


@lru_cache(maxsize=4096)
def _plant_day(by_clock: bytes, mode: Mode, lead_h: int, from_h: int, to_h: int, early_h: int) -> PlantDay:
    used = np.roll(np.frombuffer(by_clock, bool), -early_h)
    none = np.zeros(24, bool)
    if mode == "always" or not used.any():
        return PlantDay(~none, none, none)
    if mode == "hours":
        if from_h == to_h:
            raise InputError("The plant must stop after it starts", where="hours of the plant")
        length = (to_h - from_h) % 24 or 24
        on = (np.arange(24) - (from_h - early_h)) % 24 < length
    else:
        on = np.any([np.roll(used, -k) for k in range(lead_h + 1)], axis=0)
    start_up, first = none.copy(), none.copy()
    for start in np.flatnonzero(on & ~np.roll(on, 1)):
        # of the hours from the start to the stop, those before the first used one
        run = [(start + k) % 24 for k in range(24)]
        run = run[: next(k for k, hour in enumerate(run) if not on[hour])]
        met = next((k for k, hour in enumerate(run) if used[hour]), None)
        if met is not None:
            start_up[run[:met]] = True
            first[run[met]] = True
    return PlantDay(on, start_up, first)
