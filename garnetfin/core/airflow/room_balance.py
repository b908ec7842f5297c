"""Air balance of rooms: supply + transfer in + infiltration = return + extract + transfer out + exfiltration.

Source: conservation of dry air; EN 16798-3 for the classes of pressure.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError

# Share of the larger of supply and extract that goes out past what comes in; our own classes.
PRESSURE = {"positive high": 0.10, "positive": 0.05, "neutral": 0.0, "negative": -0.05, "negative high": -0.10}
NEUTRAL = 0.03


@dataclass(frozen=True, slots=True, eq=False)
class RoomBalance:
    """Flows of rooms (rooms,) [m3/s at one density]; offset > 0 leaks out, < 0 leaks in; short is make-up that is
    missing.
    """

    supply: NDArray[np.float64]
    transfer_in: NDArray[np.float64]
    transfer_out: NDArray[np.float64]
    extract: NDArray[np.float64]
    returned: NDArray[np.float64]
    offset: NDArray[np.float64]
    short: NDArray[np.float64]

    @property
    def closing(self) -> NDArray[np.float64]:
        """What comes in less what goes out [m3/s]; zero but for rounding."""
        return (
            self.supply
            + self.transfer_in
            + np.maximum(-self.offset, 0)
            + self.short
            - self.returned
            - self.extract
            - self.transfer_out
            - np.maximum(self.offset, 0)
        )


def room_balance(
    supply: NDArray[Any],
    extract: NDArray[Any],
    offset_share: NDArray[Any],
    moves: NDArray[Any],
    flows: NDArray[Any],
    returns: NDArray[Any] | None = None,
) -> RoomBalance:
    """Return air closes the balance of every room.

    moves (transfers, 2)  rows of the room air leaves and the room it enters; flows (transfers,)
    returns (rooms,)      return air that is given; NaN where it closes the balance
    A room whose extract and transfer exceed what it gets has no return air and is short by the rest.

    Raises InputError for return air below 0.
    """
    n = len(supply)
    into = np.bincount(moves[:, 1], flows, n) if len(moves) else np.zeros(n)
    out = np.bincount(moves[:, 0], flows, n) if len(moves) else np.zeros(n)
    offset = offset_share * np.maximum(supply + into, extract + out)
    closing = supply + into - extract - out - offset
    returned = np.maximum(closing, 0.0)
    short = np.maximum(-closing, 0.0)
    if returns is not None:
        given = np.isfinite(returns)
        if (returns[given] < 0).any():
            raise InputError("Return air cannot be below 0")
        # What is left over when the return is given leaks out (or in).
        offset = np.where(given, offset + closing - np.nan_to_num(returns), offset)
        returned, short = np.where(given, np.nan_to_num(returns), returned), np.where(given, 0.0, short)
    return RoomBalance(supply, into, out, extract, returned, offset, short)


def pressure_class(offset: float, supply: float, extract: float) -> str:
    """What a room's offset amounts to, in the words of PRESSURE."""
    larger = max(supply, extract)
    share = offset / larger if larger > 0 else 0.0
    for name, limit in (("positive high", 0.10), ("positive", 0.05)):
        if share >= limit - 1e-9:
            return name
    for name, limit in (("negative high", -0.10), ("negative", -0.05)):
        if share <= limit + 1e-9:
            return name
    return "neutral" if abs(share) <= NEUTRAL else ("slightly positive" if share > 0 else "slightly negative")


def transfer_order(count: int, moves: NDArray[Any]) -> list[int]:
    """Rooms so that air comes from rooms before them; rooms in a ring come last, in the order given."""
    waiting = np.bincount(moves[:, 1], minlength=count) if len(moves) else np.zeros(count, int)
    ready, order = [i for i in range(count) if waiting[i] == 0], []
    while ready:
        room = ready.pop()
        order.append(room)
        for k in np.flatnonzero(moves[:, 0] == room) if len(moves) else ():
            waiting[moves[k, 1]] -= 1
            if waiting[moves[k, 1]] == 0:
                ready.append(int(moves[k, 1]))
    return [*order, *(i for i in range(count) if i not in set(order))]
