"""What an air system is made of: an ordered list of parts, rooms, hours, how it answers; and what it comes to when it
is solved.

t degC, w kg/kg, m kg dry air/s, W.

Source: own arrangement.
"""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import processes as do

Array = NDArray[np.float64]
SUPPLY_KINDS = (
    "intake",
    "filter",
    "recovery",
    "preheat",
    "precool",
    "mixing",
    "cooling",
    "heating",
    "humidifier",
    "supply_fan",
    "attenuator",
    "duct",
    "terminals",
)
RETURN_KINDS = ("plenum", "return_fan", "attenuator", "exhaust_fan", "relief")
ONCE = (
    "intake",
    "recovery",
    "mixing",
    "supply_fan",
    "duct",
    "terminals",
    "rooms",
    "plenum",
    "return_fan",
    "exhaust_fan",
    "relief",
)
AT_OUTLETS = ("filter", "attenuator")  # may stand behind the supply duct
ROOM_UNITS = ("unit", "own unit")  # what serves rooms and takes cooling from the air
SMALLEST = 1e-9  # kg/s below which nothing flows


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a train: figures by name in SI, and what is chosen."""

    id: str
    kind: str
    figures: dict[str, float] = field(default_factory=dict)
    choice: str = ""

    def get(self, name: str, usual: float = 0.0) -> float:
        """A figure of the part by its name [as its kind says]."""
        return self.figures.get(name, usual)


@dataclass(frozen=True, slots=True, eq=False)
class Rooms:
    """Rooms of a system (R,). Flows in kg/s; moves (transfers, 2) rooms air leaves and enters, with `transfer_kg_s`.

    set_c, sensible_w, latent_w (R, H): set-point and loads at it; sensible below 0 is heating. humid_high (R,):
    relative humidity limit. Between set_c and hold_c (R, H) a room floats, and no reheat is given; None: at set_c.
    fall_w_k (R,): by how much the load falls as a room gets a kelvin warmer; None: 0. own_c (R,): supply temperature
    of a zone of its own, to which its air is heated at its branch; NaN without, None: all without.
    """

    design_kg_s: Array
    least_kg_s: Array
    extract_kg_s: Array
    offset_share: Array
    moves: NDArray[np.intp]
    transfer_kg_s: Array
    set_c: Array
    sensible_w: Array
    latent_w: Array
    humid_high: Array
    units: NDArray[np.bool_]  # rooms that a unit or heater serves, where the system has such
    heaters: NDArray[np.bool_]  # rooms with a heater of their own in any system
    hold_c: Array | None = None
    fall_w_k: Array | None = None
    own_c: Array | None = None
    # (R,) by how much warmer than the mean of all terminals the air of each arrives when it is supplied at
    # Control.supply_c, since ducts warm it on its way; None: as warm everywhere
    warm_k: Array | None = None
    rest: tuple[str, ...] | None = None  # what else serves each room, as Control.rest; None: all as that says


@dataclass(frozen=True, slots=True, eq=False)
class Hours:
    """Conditions of the hours (H,). plenum_w is heat to the return air above ceilings."""

    outdoor_c: Array
    outdoor_w: Array
    pressure_pa: float
    on: NDArray[np.bool_]
    cooling: NDArray[np.bool_]
    heating: NDArray[np.bool_]
    plenum_w: Array


@dataclass(frozen=True, slots=True)
class Control:
    """How the system answers. flow: fixed, load. supply: held (at the rooms), coil (held leaving the coil), room (what
    the rooms
    need together), neediest (of the room that needs it coldest). rest: none, reheat, unit, own unit, heater - what else
    serves a room.
    """

    flow: str = "fixed"
    supply: str = "held"
    rest: str = "none"
    supply_c: float = 14.0
    warm_limit_k: float = 11.0
    outdoor_kg_s: float = 0.0  # least outdoor air; ignored without mixing
    # with flow by load: the flow for which the fans' pressures stand, and the share of them that the sensor in the
    # ducts holds whatever flows; 0: pressures stay as they are
    fan_kg_s: float = 0.0
    fan_base: float = 0.3
    fan_reset: bool = False  # what the sensor holds follows the box that is most open


@dataclass(frozen=True, slots=True, eq=False)
class Node:
    """The air behind a part, or at a named place: t, w, m (H,)."""

    id: str
    t: Array
    w: Array
    m: Array


@dataclass(frozen=True, slots=True, eq=False)
class Solved:
    """A train at H hours; rooms (R, H). heat_w: heat into the air by part; coils take it out, so theirs is below 0."""

    nodes: dict[str, Node]
    heat_w: dict[str, Array]
    water_kg_s: dict[str, Array]  # into the air by part; condensate below 0
    coils: dict[str, do.Coil]
    supply_kg_s: Array  # (R, H)
    supply_c: Array  # (R, H) behind the terminals
    reheat_w: Array  # at the terminals, that of zones included
    zone_w: Array  # of it, what brings the air to a zone's own supply temperature
    unit_w: Array  # cooling of room units > 0, heating < 0
    load_w: Array  # (R, H) sensible, of rooms where they end up
    room_c: Array
    room_w: Array
    handler_kg_s: Array
    outdoor_kg_s: Array
    relief_kg_s: Array
    return_kg_s: Array
    leak_kg_s: Array
    raised_kg_s: Array  # outdoor air beyond what is wanted, because too little air returns
    recovery_share: Array
    frost: NDArray[np.bool_]
    free: NDArray[np.bool_]  # outdoor air beyond the least, by choice
    fog_kg_s: Array
    humid_short: NDArray[np.bool_]
    target_c: Array  # supply temperature wanted at the terminals
    residual: Array  # largest of the torn figures, in units of SETTLED
    steps: int
    energy: dict[str, Array]  # closing of every node [W]
    water: dict[str, Array]  # [kg/s]

    @property
    def solved(self) -> NDArray[np.bool_]:
        """(hours,) True where the torn streams close."""
        return self.residual <= 1e3

    @property
    def cooling_w(self) -> Array:
        """All that is taken out by coils of the handler."""
        return sum((c.total_w for c in self.coils.values()), np.zeros(len(self.handler_kg_s)))

    @property
    def sensible_w(self) -> Array:
        """(hours,) sensible cooling of all coils [W]."""
        return sum((c.sensible_w for c in self.coils.values()), np.zeros(len(self.handler_kg_s)))


def check_order(parts: tuple[Part, ...]) -> None:
    """Raises InputError where a train cannot be: parts twice, on the wrong side, or behind what they feed."""
    kinds = [p.kind for p in parts]
    for kind in ONCE:
        if kinds.count(kind) > 1:
            raise InputError(f"A unit has one {kind.replace('_', ' ')}, not {kinds.count(kind)}", remedy="Take one out")
    alone = not any(kind in SUPPLY_KINDS for kind in kinds)  # draws air out and supplies none
    for kind in ("rooms",) if alone else ("rooms", "terminals"):
        if kind not in kinds:
            raise InputError(f"A unit needs {kind}", remedy=f"Put the {kind} in")
    at = kinds.index("rooms")
    for i, kind in enumerate(kinds):
        if kind == "rooms":
            continue
        if (i < at and kind not in SUPPLY_KINDS) or (i > at and kind not in RETURN_KINDS):
            raise InputError(
                f"The {kind.replace('_', ' ')} is on the wrong side of the rooms", remedy="Drag it to the other duct"
            )
    if not alone and kinds.index("terminals") != at - 1:
        raise InputError("Terminals come last before the rooms", remedy="Move what is behind them in front of them")
    behind = kinds[kinds.index("duct") + 1 : at - 1] if "duct" in kinds else []
    if any(kind not in AT_OUTLETS for kind in behind):
        raise InputError(
            "Only filters and silencers come between the supply duct and the terminals",
            remedy="Move what is behind the duct in front of it",
        )
    if "intake" in kinds and kinds[0] != "intake":
        raise InputError("The intake comes first", remedy="Move it to the front")
    if "recovery" in kinds and "mixing" in kinds and kinds.index("recovery") > kinds.index("mixing"):
        raise InputError("A heat recovery stands before the mixing", remedy="Move it in front of the mixing")
    if "relief" in kinds and kinds[-1] != "relief":
        raise InputError("The relief comes last", remedy="Move it to the end")
