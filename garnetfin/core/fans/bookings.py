"""What each fan of a system carries, for any set of fans: pressures at the boxes of a unit, dampers that throttle.

Paths and places. All pressures above outdoors:

    outdoors --a--> M (mixing box) --u, S, s--> rooms (P) --r, R--> N (box behind the return fan)
    N --t--> M (recirculation)      N --X, e--> outdoors (relief)      rooms --x, E--> outdoors (extract ducts)

A fan carries what no other fan on its way does.

Source: own arrangement; verified by loop equations.
"""

from dataclasses import dataclass

from garnetfin.core.errors import InputError


@dataclass(frozen=True, slots=True)
class Losses:
    """Losses at the design flows [Pa]: outdoors to the mixing box, from there to the supply root, supply ducts with the
    index room's terminal, return ducts with what stands before box N, recirculation damper open, relief, extract.
    """

    outdoor: float
    unit: float
    supply: float
    back: float = 0.0
    recirculation: float = 0.0
    relief: float = 0.0
    extract: float = 0.0

    def __post_init__(self) -> None:
        for name in self.__slots__:
            if not getattr(self, name) >= 0:
                raise InputError(f"A loss of {getattr(self, name):g} Pa cannot be", where=name, remedy="0 Pa or more")


@dataclass(frozen=True, slots=True)
class Present:
    """Which fans there are, and which ways air takes."""

    supply: bool = True
    back: bool = True
    exhaust: bool = False
    extract: bool = False
    recirculates: bool = False  # q_rec > 0
    relieves: bool = True  # q_x > 0
    extracts: bool = False  # q_e > 0


@dataclass(frozen=True, slots=True)
class Bookings:
    """Pressures above outdoors at rooms, box N, mixing box M; what fans lift; what dampers take beyond being open.

    All Pa. `idle`: the return fan would have to hold air back, so it lifts nothing.
    """

    rooms: float
    box: float
    mixing: float
    supply: float
    back: float
    exhaust: float
    extract: float
    outdoor_damper: float
    recirculation_damper: float
    relief_damper: float
    idle: bool = False


def bookings(lost: Losses, there: Present, wanted_pa: float = 0.0) -> Bookings:
    """Bookings with rooms at `wanted_pa` above outdoors where fans can hold them there [Pa]."""
    a, u, s, r, e = lost.outdoor, lost.unit, lost.supply, lost.back, lost.relief
    t, x = lost.recirculation, lost.extract
    rooms = wanted_pa if there.supply else -(a + u + s)
    if there.relieves and not there.back and not there.exhaust:
        rooms = max(rooms, r + e)
    if there.extracts and not there.extract:
        rooms = max(rooms, x)
    back, idle = 0.0, False
    box = rooms - r
    if there.back:
        least = [0.0]
        if there.relieves and not there.exhaust:
            least.append(e)
        if there.recirculates:
            least.append(t - a)
        box = max(least)
        back = r + box - rooms
        if back < 0:
            back, box, idle = 0.0, rooms - r, True
    exhaust = max(0.0, e - box) if there.exhaust and there.relieves else 0.0
    mixing = min(-a, box - t) if there.recirculates else -a
    return Bookings(
        rooms=rooms,
        box=box,
        mixing=mixing,
        supply=u + s + rooms - mixing if there.supply else 0.0,
        back=back,
        exhaust=exhaust,
        extract=max(0.0, x - rooms) if there.extract and there.extracts else 0.0,
        outdoor_damper=-a - mixing,
        recirculation_damper=box - t - mixing if there.recirculates else 0.0,
        relief_damper=box + exhaust - e if there.relieves else 0.0,
        idle=idle,
    )
