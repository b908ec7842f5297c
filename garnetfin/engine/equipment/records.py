"""What is known of each piece of equipment: what it has to do, what was chosen, what it then does, what it breaks.

Flows in m3/s at local standard density, water in kg/s, heat in W, pressures in Pa.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, NamedTuple

from garnetfin.core.adjacency import Outline
from garnetfin.core.equipment.casings import Layout
from garnetfin.core.equipment.catalogue import BoxModel, MachineModel, Splitter, UnitModel
from garnetfin.core.equipment.coils import Candidate
from garnetfin.core.equipment.plant import MachineTried, Pump
from garnetfin.core.equipment.shafts import Pipe, Riser, ShaftSize
from garnetfin.core.equipment.standing import Lacks
from garnetfin.core.equipment.unit_choice import Tried
from garnetfin.engine.resolve import Figure

if TYPE_CHECKING:
    from garnetfin.engine.results import Missing


@dataclass(frozen=True, slots=True)
class Refused:
    """A model that was looked at and not taken: the first limit it breaks, in words, and its figures."""

    model: str
    why: str
    value: float = 0.0
    limit: float = 0.0
    quantity: str = "plain"


class BoxWater(NamedTuple):
    """Hot water of a box that gives just its reheat; NaN where its coil cannot."""

    flow_kg_s: float
    back_c: float
    drop_pa: float


@dataclass(frozen=True, slots=True)
class BoxRecord:
    """A flow box; why: what a pinned one breaks, "" where it serves."""

    id: str
    tag: str
    system_id: str
    room_ids: tuple[str, ...]
    kind: str  # vav, cav
    reheat: bool
    most_m3s: float
    wanted_m3s: float  # what asks for a least flow
    least: Figure
    heating: Figure
    need_m3s: float  # what the heating load would take
    heat_w: float  # of its rooms in winter
    leaving: Figure
    supply_c: float  # at the hour of the greatest reheat
    reheat_w: float
    reheat_m3s: float
    hot_c: float
    limit_nc: float
    model: BoxModel | None
    pinned: bool
    why: str
    velocity_m_s: float
    box_pa: float
    coil_pa: float
    radiated_nc: float
    discharge_nc: float
    gives_w: float
    room_db: tuple[float, ...]  # what is heard of it in a room, in octave bands
    water: BoxWater | None
    tried: tuple[Refused, ...]

    @property
    def drop_pa(self) -> float:
        return self.box_pa + self.coil_pa


@dataclass(frozen=True, slots=True, eq=False)
class CoilRecord:
    """A coil of a unit; at: hour of its greatest heat, month -1 the winter design day."""

    id: str
    tag: str
    system_id: str
    part_id: str
    kind: str  # cooling, precool, heating, preheat
    at: tuple[int, int]
    air_kg_s: float
    air_m3s: float
    t1: float
    w1: float
    t2: float
    w2: float
    heat_w: float  # taken out, below 0 put in
    sensible_w: float
    water_in: Figure
    water_out: Figure
    chosen: Candidate | None
    pinned: bool
    bypass: float  # of the chosen coil; NaN where it heats or none serves
    valve_kg_s: float
    tried: tuple[Refused, ...]


@dataclass(frozen=True, slots=True, eq=False)
class UnitRecord:
    """An air handling unit; limits: (what, value, limit, quantity) of those it breaks."""

    id: str
    tag: str
    name: str
    supply_m3s: float
    exhaust_m3s: float
    outside_pa: float  # of the ducts outside it
    velocity: Figure
    face_m_s: float
    velocity_class: str
    layout: Layout | None
    pinned: bool
    fan_w: float
    specific_w_m3s: float
    fan_class: str
    ratio: float  # of its recovery; NaN without
    recovery_class: str
    inner_w_m3s: float
    inner_limit: float
    duct_dba: float  # sound power into the supply ducts before a silencer, NaN where unknown
    casing_dba: float  # through its walls
    tried: tuple[Refused, ...]


@dataclass(frozen=True, slots=True)
class Standing:
    """Where a unit stands: its floor with the space its service takes and its body there; None where it does not fit,
    and what is missing then. high_m: missing height [m].
    """

    room_id: str
    pinned: bool
    size_m: tuple[float, float]  # of the floor, along the unit and across
    clear_m: float  # height it wants
    floor: Outline | None
    body: Outline | None
    lacks: Lacks | None
    high_m: float

    @property
    def fits(self) -> bool:
        return self.floor is not None and self.high_m <= 0


@dataclass(frozen=True, slots=True)
class RoomUnitRecord:
    """Units in a room; short: what is left of the needs [W]."""

    id: str
    tag: str
    room_id: str
    kind: str
    by_hand: bool  # the unit stands there because it was put
    model: UnitModel | None
    count: int
    pinned: bool
    cool_need_w: float
    heat_need_w: float
    primary_m3s: float
    room_c: float
    room_rh: float
    dew_c: float
    water_in_c: float
    water_back_c: float
    cool_total_w: float
    cool_sensible_w: float
    heat_w: float
    condensate_kg_s: float
    water_kg_s: float
    hot_water_kg_s: float
    sound_dba: float
    limit_dba: float
    surface_c: float
    short_cool_w: float
    short_heat_w: float
    tried: tuple[Tried, ...]


@dataclass(frozen=True, slots=True)
class MachineRecord:
    """Machines of a circuit with their pump; year figures are early ones, from full-load hours."""

    id: str  # cold, hot
    tag: str
    kind: str
    load_w: float
    wet_w: float  # of it condensate of units in rooms
    margin: Figure
    water_c: float
    back_c: float
    around: Figure  # air, or condenser water, at design
    model: MachineModel | None
    pinned: bool
    count: int
    standby: int
    each_w: float
    input_w: float
    spare: float
    pump: Pump
    main: Pipe | None  # pipe of the circuit
    pipe_m: float
    floor_m2: float
    room_m2: float
    year_wh: float
    cost: float
    tried: tuple[MachineTried, ...]


@dataclass(frozen=True, slots=True)
class SilencerRecord:
    """A set of splitters behind a supply fan; levels in eight octave bands [dB]. lacks: the band that lets most
    through, and by how much, where none serves.
    """

    id: str
    tag: str
    system_id: str
    part_id: str
    air_m3s: float
    face_m: tuple[float, float]
    before_db: tuple[float, ...]
    allowed_db: tuple[float, ...]
    model: Splitter | None
    drop_pa: float
    after_db: tuple[float, ...]
    own_db: tuple[float, ...]
    lacks_hz: float
    lacks_db: float
    tried: tuple[Refused, ...]
    pinned: bool = False


class ShaftDuct(NamedTuple):
    """A riser through a level; size None where none is large enough."""

    system_id: str
    way: str
    flow_m3s: float
    size: Riser | None


@dataclass(frozen=True, slots=True)
class ShaftRecord:
    """What passes a level in a shaft, the size it wants, and what is drawn there [m2]."""

    id: str
    name: str
    ducts: tuple[ShaftDuct, ...]
    size: ShaftSize | None
    drawn_m2: float


@dataclass(frozen=True, slots=True)
class PlantSpace:
    """Floors [m2] of handlers and machines indoors, together; clear height [m]; floor of machines on the roof; floor at
    the upper end of what is likely, and what would then be larger.
    """

    handlers_m2: float
    machines_m2: float
    total_m2: float
    clear_m: float
    roof_m2: float
    upper_m2: float
    upper: tuple[str, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Equipment:
    """All equipment of a project, each kind by its id."""

    boxes: Mapping[str, BoxRecord] = field(default_factory=dict)
    room_units: Mapping[str, RoomUnitRecord] = field(default_factory=dict)
    coils: Mapping[str, CoilRecord] = field(default_factory=dict)
    units: Mapping[str, UnitRecord] = field(default_factory=dict)
    machines: "Mapping[str, MachineRecord | Missing]" = field(default_factory=dict)
    silencers: Mapping[str, SilencerRecord] = field(default_factory=dict)
    shafts: Mapping[str, ShaftRecord] = field(default_factory=dict)
    space: PlantSpace | None = None
    standings: Mapping[str, Standing] = field(default_factory=dict)  # of units that stand in rooms
    box_ducts: Mapping[str, tuple[str, ...]] = field(default_factory=dict)  # that each box stands in

    def box_of(self, room_id: str) -> BoxRecord | None:
        """The flow box of a room."""
        return next((b for b in self.boxes.values() if room_id in b.room_ids), None)
