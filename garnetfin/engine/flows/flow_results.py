"""What really comes about: ways in which a system may stand, what every room gets under one, and what is heard in
it.
"""

from dataclasses import dataclass, field

import numpy as np

from garnetfin.core import noise
from garnetfin.core.fans.duty import Duty

SOURCES = ("fan", "ducts", "terminal", "damper", "box")


@dataclass(frozen=True, slots=True)
class WhatIf:
    """Ways in which a system may stand, combined at will. shut: ducts whose damper is closed; doors: rooms whose door
    is; speed: of the fan, of
    what it turns at; air_c: of the air in the ducts and the rooms' supply.
    """

    dampers_open: bool = False
    filter: str = ""  # "", clean, final
    pressed: bool = False  # flexible ducts pressed together
    turned_down: bool = False  # variable-volume boxes at their least flow
    leaking: bool = False  # ducts leak as their class allows
    shut: tuple[str, ...] = ()
    doors: tuple[str, ...] = ()
    speed: float = 1.0
    air_c: float | None = None

    @property
    def any(self) -> bool:
        return self != WhatIf()

    @property
    def words(self) -> str:
        """What is different, in short."""
        parts = [
            name
            for on, name in (
                (self.dampers_open, "dampers open"),
                (self.filter == "final", "filter loaded"),
                (self.filter == "clean", "filter clean"),
                (self.pressed, "flexible ducts compressed"),
                (self.turned_down, "boxes at minimum"),
                (self.leaking, "duct leakage"),
                (self.shut, f"{len(self.shut)} shut"),
                (self.doors, f"{len(self.doors)} doors closed"),
                (self.speed != 1.0, f"fan at {self.speed * 100:.0f} %"),
                (self.air_c is not None, f"air at {self.air_c or 0:.0f} °C"),
            )
            if on
        ]
        return ", ".join(parts) or "as designed"


@dataclass(frozen=True, slots=True)
class RoomGets:
    """Supply air of a room: design and real [m3/s], needs it falls short of, cooling it lacks [W] and what that does to
    its air [K], its pressure [Pa].
    """

    room_id: str
    design_m3s: float
    real_m3s: float
    short: tuple[str, ...]
    lacks_w: float
    warmer_k: float
    pressure_pa: float

    @property
    def outdoor_met(self) -> bool:
        return "outdoor air" not in self.short


@dataclass(frozen=True, slots=True, eq=False)
class Flows:
    """The system as it really runs.

    Flows by terminal and duct id [m3/s], all airs; fan: its point, None without a fan from the catalogue.
    """

    what: WhatIf
    terminals: dict[str, float]
    segments: dict[str, float]
    rooms: tuple[RoomGets, ...]
    fan_m3s: float
    fan_pa: float
    fan: Duty | None
    stalled: tuple[str, ...]  # airs whose fan runs left of its peak
    back: dict[str, Duty]  # points of return and extract fans, where ducts for them are drawn
    starved: tuple[str, ...]  # boxes that are open and still short
    backwards: tuple[str, ...]  # terminals through which air flows the wrong way
    isolated: tuple[str, ...]  # rooms that a shut damper cuts off
    design: dict[str, float] = field(default_factory=dict)  # of supply terminals
    design_back: dict[str, float] = field(default_factory=dict)  # of those through which air leaves
    left_pa: dict[str, float] = field(default_factory=dict)  # total pressure at the end of each duct
    root_pa: float = 0.0  # where supply ducts begin
    parts_pa: tuple[tuple[str, float], ...] = ()  # what parts of the unit lose at this flow
    converged: bool = True
    steps: int = 0
    residual_pa: float = 0.0
    residual_m3s: float = 0.0
    worst: str = ""  # what fits worst, in words

    def ratio(self, terminal_id: str) -> float:
        """Real over design flow; NaN where no air is designed."""
        wanted = self.design.get(terminal_id) or self.design_back.get(terminal_id, 0.0)
        return self.terminals[terminal_id] / wanted if wanted > 0 else float("nan")

    @property
    def spread(self) -> float:
        """Greatest distance of a supply terminal from its design flow, as a share."""
        return max((abs(self.ratio(i) - 1) for i, q in self.design.items() if q > 0), default=0.0)


@dataclass(frozen=True, slots=True, eq=False)
class TerminalNoise:
    """Sound pressure in the room of one terminal by source (5, 8) [dB]; the greatest pressure its damper takes before
    it is heard [Pa].
    """

    terminal_id: str
    room_id: str
    by_source: np.ndarray
    nc: float
    heard_pa: float
    limit_nc: float

    @property
    def loudest(self) -> str:
        return SOURCES[int(np.argmax(noise.weighted(self.by_source)))]

    @property
    def dba_by_source(self) -> tuple[float, ...]:
        return tuple(float(x) for x in noise.weighted(self.by_source))

    @property
    def dba(self) -> float:
        return float(noise.weighted(noise.add(self.by_source)))


@dataclass(frozen=True, slots=True, eq=False)
class RoomNoise:
    """All supply terminals of a room together: bands (8,) [dB], NC, NR, dB(A), and the limit."""

    room_id: str
    bands: np.ndarray
    nc: float
    nr: float
    dba: float
    limit_nc: float
    loudest: str

    @property
    def over(self) -> float:
        return self.nc - self.limit_nc


@dataclass(frozen=True, slots=True, eq=False)
class NoiseResult:
    """terminals and rooms by id; at_end: sound power at the end of each duct (8,) [dB]; index: the terminal that is
    furthest above its limit.
    """

    terminals: dict[str, TerminalNoise]
    rooms: dict[str, RoomNoise]
    at_end: dict[str, np.ndarray]
    index: str
    fan_bands: np.ndarray | None
