"""What the engine hands out: one immutable object with a table per stage."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any, NamedTuple, TypeVar

import numpy as np

from garnetfin import display
from garnetfin.core.airflow.outdoor_air import SystemVentilation
from garnetfin.core.airflow.supply import NEEDS
from garnetfin.core.ducts.balance import Runs
from garnetfin.core.ducts.fittings.dampers import DamperSetting
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.ducts.sizing import Ladder, Regained
from garnetfin.core.ducts.tree import Tree
from garnetfin.core.equipment.catalogue import InlineModel
from garnetfin.core.fans.curve import Curve
from garnetfin.core.fans.duty import Duty
from garnetfin.core.fans.ranking import Candidate
from garnetfin.core.loads.balance import HR_USUAL
from garnetfin.core.loads.estimate import Estimate
from garnetfin.core.loads.heating import HEATING_CAUSES
from garnetfin.core.loads.rooms import CAUSES
from garnetfin.core.psychro.properties import CP_AIR
from garnetfin.core.sun import FaceSun, SunDays
from garnetfin.core.systems.parts import Control, Rooms, Solved
from garnetfin.core.systems.parts import Part as CorePart
from garnetfin.core.terminals import TerminalPoint
from garnetfin.core.units import System
from garnetfin.core.weather.design_day import DesignDays
from garnetfin.display import in_units, told
from garnetfin.engine.equipment.records import Equipment
from garnetfin.engine.flows.flow_results import Flows, NoiseResult
from garnetfin.engine.resolve import Figure, RoomFigures, SiteFigures, SystemFigures
from garnetfin.project.ducts import Air
from garnetfin.project.lookup import find
from garnetfin.project.papers import Accepted
from garnetfin.project.systems import FAN_WAYS, AirSystem
from garnetfin.project.tree import Project


class Lack:
    """Codes of what is missing."""

    TOO_WARM = "too-warm"  # supply air for its rooms
    UNSOLVED = "unsolved"  # the plant of a room finds no steady day
    NOT_JOINED = "not-joined"  # ducts, to the unit or to a terminal
    NO_FACES = "no-faces"
    NOT_COMPUTED = "not-computed"  # what was typed cannot be computed
    NO_WAY_OUT = "no-way-out"  # for the heat of a room without plant
    NO_FAN = "no-fan"
    EXTRACT_ALONE = "extract-alone"  # a system that treats no air
    FAULT = "fault"  # of the program


def _tell(record: object, *names: str) -> None:
    """Sentences in which amounts stand are told in SI, and keep their figures for other units."""
    for name in names:
        object.__setattr__(record, name, told(getattr(record, name)))


@dataclass(frozen=True, slots=True)
class Missing:
    """Why a stage or a row could not be computed, in two words or so, and what would help.

    `code`, one of Lack, where what follows hangs on the reason: words are for readers alone.
    """

    reason: str
    remedy: str = ""
    code: str = ""

    def __post_init__(self) -> None:
        _tell(self, "reason", "remedy")


T = TypeVar("T")


def there(found: T | Missing | None) -> T:
    """What must be there, as whoever asks knows already. Raises LookupError where it is missing."""
    if found is None or isinstance(found, Missing):
        raise LookupError(found.remedy if isinstance(found, Missing) else "nothing was computed")
    return found


@dataclass(frozen=True, slots=True, eq=False)
class Climate:
    """Design days (12, 24), sun (12, 288), clear-sky irradiance (12, 288), pressure [Pa], densities [kg/m3]."""

    figures: SiteFigures
    days: DesignDays
    sun: SunDays
    beam: np.ndarray
    diffuse: np.ndarray
    pressure_pa: float
    dry_air_kg_m3: float
    winter_ratio: float
    compass_sun: dict[int, np.ndarray]  # azimuth 0, 45 .. 315 -> (12, 24) irradiance on a wall [W/m2]
    face: Any  # (azimuth, tilt) -> FaceSun, remembered
    sol_air: Any  # (azimuth, tilt, absorptance) -> (12, 24) [degC], remembered
    ground_c: np.ndarray  # (12, 24) virtual ground temperature

    @property
    def air_heat_j_m3k(self) -> float:
        """Heat capacity of the air of this place."""
        return self.dry_air_kg_m3 * CP_AIR


@dataclass(frozen=True, slots=True)
class Face:
    """One surface of a room as it enters the balance. `to` is what lies behind it."""

    kind: str  # wall, roof, floor, ceiling, partition, window, glass wall, door
    to: str  # outdoors, ground, unheated, inside
    area_m2: float
    u_w_m2k: float
    azimuth_deg: float
    tilt_deg: float
    name: str
    wall_id: str = ""
    opening_id: str = ""


@dataclass(frozen=True, slots=True, eq=False)
class Felt:
    """A room as its partitions and slabs give it to the rooms beside, through the twelve design days; arrays (12, 24).

    air_c, star_c   air and mean radiant temperature [degC]
    spread_w_m2     sun diffused in the room, on a face that takes it all up [W/m2]
    floor_w_m2      beam on its floors likewise
    """

    air_c: np.ndarray
    star_c: np.ndarray
    spread_w_m2: np.ndarray
    floor_w_m2: np.ndarray

    def environment_c(self, hc_w_m2k: float, absorptance: float, is_floor: bool) -> np.ndarray:
        """What the back of a face exchanges heat with (12, 24) [degC]: air, faces and sun by the face's own films."""
        sun = absorptance * (self.spread_w_m2 + (self.floor_w_m2 if is_floor else 0.0))
        return (hc_w_m2k * self.air_c + HR_USUAL * self.star_c + sun) / (hc_w_m2k + HR_USUAL)

    def moved_k(self, other: "Felt") -> float:
        """How far a wall's environment temperature in one lies from that in the other at most [K]."""
        return float(np.abs(self.environment_c(2.5, 0.4, False) - other.environment_c(2.5, 0.4, False)).max())


@dataclass(frozen=True, slots=True, eq=False)
class RoomResult:
    """One room: inputs, faces, loads by cause (causes, 12, 24) [W], heating by cause [W].

    A room without plant has no load; its air (12, 24) and winter temperature say where it drifts.
    """

    room_id: str
    figures: RoomFigures
    volume_m3: float
    faces: tuple[Face, ...]
    by_cause_w: np.ndarray
    sensible_w: np.ndarray
    latent_w: np.ndarray
    instant_w: np.ndarray  # by cause, what enters in the same hour
    air_c: np.ndarray  # with the plant's limits in force
    star_c: np.ndarray  # mean radiant temperature of its faces
    heating_by_cause_w: np.ndarray  # of the steady method
    heating_w: float  # the greater of the steady and the balanced figure
    heating_balanced_w: float
    counted: np.ndarray  # (12, 24) hours in which the peak is looked for
    kept: bool  # False: no plant
    winter_c: float  # air on the winter design day
    felt: Felt  # by the rooms beside
    # cooling that brings the room to its set-point in time, 0 around the clock
    start_up_w: float = 0.0
    reached_h: tuple[int, ...] = ()  # hour in which each start of the day does, with start_up_w; 24 = too late
    warm_up_w: float = 0.0  # heating likewise, 0 around the clock
    solved: bool = True
    estimate: Estimate | None = None  # the room stands on area, use and climate alone
    void: Felt | None = None  # above its ceiling
    return_gain_w: np.ndarray | None = None  # what return air takes from the void, on the coil and not on the room
    beside: Mapping[str, Felt] = field(default_factory=dict)  # rooms beside as this one felt them, by id
    # month 0..11 and hour 0..23 of the greatest sensible load in the hours that count; the earliest of equals
    peak: tuple[int, int] = field(init=False, default=(0, 0))

    def __post_init__(self) -> None:
        object.__setattr__(self, "peak", peak_of(self.sensible_w, self.counted))

    @property
    def peak_w(self) -> float:
        return float(self.sensible_w[self.peak])

    def cause_w(self, cause: str) -> float:
        """Its share of the peak."""
        return float(self.by_cause_w[CAUSES.index(cause)][self.peak])

    @property
    def warmest(self) -> tuple[float, int, int]:
        """(temperature, month, hour) of the warmest hour."""
        month, hour = np.unravel_index(int(self.air_c.argmax()), self.air_c.shape)
        return float(self.air_c[month, hour]), int(month), int(hour)

    @property
    def short_hours(self) -> int:
        """Hours of the twelve design days in which a limit of the plant lets the room get too warm."""
        if not np.isfinite(self.figures.cooling_limit_w.figure):
            return 0
        return int((self.air_c[self.counted] > self.figures.cooling_c.figure + 0.1).sum())


def peak_of(load_w: np.ndarray, counted: np.ndarray) -> tuple[int, int]:
    """Month and hour of the greatest of (12, 24) among hours (12, 24)."""
    values = np.where(counted, load_w, -np.inf) if counted.any() else load_w
    month, hour = np.unravel_index(int(np.argmax(values)), load_w.shape)
    return int(month), int(hour)


@dataclass(frozen=True, slots=True, eq=False)
class Block:
    """Rooms taken together: sums (causes, 12, 24) and (12, 24) [W], heating [W]; diversity = block / sum of peaks."""

    room_ids: tuple[str, ...]
    by_cause_w: np.ndarray
    sensible_w: np.ndarray
    latent_w: np.ndarray
    instant_w: np.ndarray
    heating_by_cause_w: np.ndarray
    heating_w: float
    sum_of_peaks_w: float
    counted: np.ndarray
    area_m2: float
    low_w: float  # of rooms that are estimated, the likely band; else as the load
    high_w: float

    @property
    def peak(self) -> tuple[int, int]:
        return peak_of(self.sensible_w, self.counted)

    @property
    def peak_w(self) -> float:
        return float(self.sensible_w[self.peak])

    @property
    def estimated(self) -> bool:
        return self.high_w > self.low_w + 1e-6


@dataclass(frozen=True, slots=True)
class RoomAir:
    """Air of a room [m3/s at local standard density]; needs in the order of NEEDS."""

    room_id: str
    needs_m3s: tuple[float, ...]
    governs: str  # a need, "pinned", "transfer air" or "no flow"
    exact_m3s: float
    flow_m3s: float
    origin: str = "rule"
    least_m3s: float = 0.0  # with variable flow
    extract_m3s: float = 0.0
    transfer_in_m3s: float = 0.0
    transfer_out_m3s: float = 0.0
    return_m3s: float = 0.0
    offset_m3s: float = 0.0  # > 0 leaks out of the room, < 0 into it
    short_m3s: float = 0.0  # make-up air that is missing
    pressure: str = "neutral"
    humidity_high: float = 1.0
    humidity_source: str = ""
    humidity_low: float = 0.0  # 0: none
    wanted_m3s: float = 0.0  # outdoor air over the effectiveness of the room's air distribution
    carried: tuple[str, ...] = NEEDS  # needs that the air has to meet
    rest: str = "none"  # what serves the room beside the air
    warm_k: float = 0.0  # by how much warmer than the mean its air arrives, by the heat of its ducts

    def need(self, name: str) -> float:
        return self.needs_m3s[NEEDS.index(name)]


@dataclass(frozen=True, slots=True)
class Move:
    """Air from one room to another; by_rule: its flow is what the other lacks."""

    from_room: str
    to_room: str
    flow_m3s: float
    by_rule: bool
    transfer_id: str = ""  # "" where the transfer itself is by rule


@dataclass(frozen=True, slots=True)
class FreshAir:
    """Outdoor air where air recirculates: the least intake that serves every room and the room that asks for it, the
    sum that rooms ask for; possible: False where even all outdoor air leaves that room short.
    """

    least_m3s: float
    critical_room: str
    sum_m3s: float
    possible: bool


class BoxInDuct(NamedTuple):
    """A flow box of some rooms: drop at their greatest flow [Pa], what is heard of it in a room (8,) [dB]."""

    room_ids: tuple[str, ...]
    drop_pa: float
    room_db: tuple[float, ...]


@dataclass(frozen=True, slots=True, eq=False)
class AirResult:
    """Air flows of a system.

    Arrays by room and hour of twelve design days: (R, 288) [W], flow_hours (R, 288) [m3/s].
    """

    system_id: str
    figures: SystemFigures
    rooms: tuple[RoomAir, ...]
    flow_m3s: float  # of the handler at its terminals: sum of peaks, or coincident peak
    outdoor_m3s: float
    density_kg_m3: float  # local standard density
    viscosity_pa_s: float
    heat_j_m3k: float  # heat capacity of a cubic metre at local standard density
    moves: tuple[Move, ...]
    supply_c: float  # at the rooms, where flows are made for it
    peaks_m3s: float  # sum of the rooms' own flows
    block_at: tuple[int, int] | None  # month and hour of the coincident peak, with variable flow
    flow_hours: np.ndarray
    winter_m3s: np.ndarray  # (R,) on the winter design day
    sensible_w: np.ndarray
    latent_w: np.ndarray
    plenum_w: np.ndarray  # (288,)
    # (R,) set-points when heated, by how much loads fall as rooms get warmer [W/K], and supply temperatures of zones
    # that have one, NaN without
    hold_c: np.ndarray
    fall_w_k: np.ndarray
    own_c: np.ndarray
    outdoor: Figure
    ventilation: SystemVentilation | None  # of ASHRAE 62.1, with recirculation
    critical_room: str = ""
    fresh: FreshAir | None = None  # where air recirculates
    # by room id, outdoor air that arrives, air that other rooms have not used included; every edit moves all of them
    arrives_m3s: Mapping[str, float] = field(default_factory=dict)

    block_m3s: float = 0.0  # greatest flow that loads and least flows ask for at one hour
    block_hour: int = 0
    boxes: tuple[BoxInDuct, ...] = ()  # in the supply ducts

    def intake_m3s(self, unit_m3s: float) -> float:
        """Outdoor air of a unit that moves unit_m3s, leaks of its ducts among it: by rule the share that rooms get."""
        if self.outdoor.origin != "rule" or self.flow_m3s <= 0:
            return self.outdoor_m3s
        return self.outdoor_m3s * unit_m3s / self.flow_m3s

    @property
    def diversity(self) -> float:
        """Coincident flow over the sum of the rooms' own, whatever the unit is sized for."""
        return self.block_m3s / self.peaks_m3s if self.peaks_m3s > 0 else 1.0


@dataclass(frozen=True, slots=True, eq=False)
class Point:
    """An air system at one hour: column `i` of what was solved. month -1: the winter design day."""

    month: int
    hour: int
    solved: Solved
    i: int

    @property
    def name(self) -> str:
        return "winter design day" if self.month < 0 else display.hour(self.month, self.hour)

    def node(self, node_id: str) -> tuple[float, float, float]:
        """(degC, kg/kg, kg/s) behind a part or at a named place."""
        n = self.solved.nodes[node_id]
        return float(n.t[self.i]), float(n.w[self.i]), float(n.m[self.i])

    def of(self, values: np.ndarray) -> float:
        return float(values[..., self.i])

    def heat_w(self, part_id: str) -> float:
        """Heat into the air at a part; coils take it out, so theirs is below 0."""
        found = self.solved.heat_w.get(part_id)
        return float(found[self.i]) if found is not None else 0.0

    @property
    def cooling_w(self) -> float:
        return float(self.solved.cooling_w[self.i])

    @property
    def heating_w(self) -> float:
        """Heat into the air by coils of the handler and at the terminals, and by room units or heaters."""
        unit = self.solved.unit_w[:, self.i]
        return float(self.solved.reheat_w[:, self.i].sum() - unit[unit < 0].sum())


@dataclass(frozen=True, slots=True, eq=False)
class TrainResult:
    """An air system solved at the hours that may govern, and on the winter design day."""

    system_id: str
    parts: tuple[CorePart, ...]
    figures: dict[tuple[str, str], Figure]  # of parts, by part id and name
    control: Control
    rooms: Rooms
    hours: tuple[tuple[int, int], ...]  # month and hour of the columns
    solved: Solved  # one column more than hours: the winter design day
    cooling: Point  # at the hour of the greatest coil load
    heating: Point
    room_ids: tuple[str, ...]
    pressure_pa: float
    coils_peak_w: float  # coil load at that hour
    set_c: np.ndarray  # (R,) set-points of the rooms when cooled, and when heated
    winter_set_c: np.ndarray
    winter_w: np.ndarray  # (R,) loads on the winter design day, below 0
    heat_parts: tuple[str, ...]  # ids of parts that heat with the plant's water
    on_plant: np.ndarray  # (R,) rooms whose units and heaters hang on the plant, and have no machine of their own

    def heater_w(self, point: Point) -> float:
        """All heat of the plant at a point: coils of the handler, reheat, room units and heaters on it."""
        own = np.where(self.on_plant, 0.0, np.minimum(point.solved.unit_w[:, point.i], 0.0)).sum()
        return sum(point.heat_w(i) for i in self.heat_parts) + point.heating_w + float(own)

    def cold_w(self, point: Point) -> float:
        """All cooling of the plant at a point: coils and room units on it."""
        unit = np.where(self.on_plant, point.solved.unit_w[:, point.i], 0.0)
        return point.cooling_w + float(unit[unit > 0].sum())


@dataclass(frozen=True, slots=True)
class Plant:
    """What the central plant must give [W], coincident and as the sum of all, water flows [m3/s] and floor [m2]."""

    cooling_w: float
    cooling_at: tuple[int, int]
    cooling_sum_w: float
    heating_w: float
    chilled_m3s: float
    hot_m3s: float
    plant_m2: float
    handlers_m2: float
    estimated: bool  # loads of rooms among it are early estimates


BOX_LOSS = "box"  # reference of a flow box: it loses what it does, whatever size its duct has
INLINE_LOSS = "part"  # reference of a part that stands in the duct: the same
BOUGHT_LOSS = (BOX_LOSS, INLINE_LOSS)


@dataclass(frozen=True, slots=True)
class FittingLoss:
    """A fitting booked on the segment after it: coefficient on `reference`'s velocity pressure."""

    name: str
    k: float
    reference: str  # duct, common, small, box, part
    pressure_pa: float
    place: str = ""  # elbow, takeoff, transition where another may be chosen
    part_id: str = ""  # of a part in the duct
    exponent: float = 2.0  # by which the loss of such a part grows with the flow


@dataclass(frozen=True, slots=True, eq=False)
class InlineRecord:
    """A part in a duct: its model and what it loses there.

    refusal     what its fixed model breaks (shape, size, velocity, minutes, smoke), "unknown" where no catalogue has
                it, "none" where by rule none serves; "" where it serves
    refused     why smaller models were not taken, by model
    near_m      from the end of its duct at the unit to its middle
    velocity    on its face
    own_pa      what it loses itself, adapters_pa transitions to its size on either side
    beyond      its flow lies above the last point of its curve
    typed       its loss is typed, not the catalogue's
    """

    part_id: str
    tag: str
    kind: str
    segment_id: str
    model: InlineModel | None
    pinned: bool
    refusal: str
    refused: dict[str, str]
    section: Section
    near_m: float
    length_m: float
    flow_m3s: float
    velocity_m_s: float
    own_pa: float
    adapters_pa: float
    exponent: float
    beyond: bool
    typed: bool
    fire_min: int
    smoke: bool
    from_a: bool  # the unit lies on the side of its duct's first end

    @property
    def pressure_pa(self) -> float:
        return self.own_pa + self.adapters_pa

    @property
    def mass_kg(self) -> float:
        return self.model.mass_kg if self.model is not None else 0.0

    @property
    def resists_min(self) -> int:
        """Minutes for which its model resists fire, whatever is asked of it."""
        return round(self.model.fire_min) if self.model is not None else 0

    @property
    def shuts_for_smoke(self) -> bool:
        return self.model is not None and bool(self.model.smoke)


@dataclass(frozen=True, slots=True)
class Make:
    """What a duct is made of: material, roughness [m], compression of flexible duct [%], lining inside and insulation
    outside [m].
    """

    material: str
    roughness_m: float
    compression: float
    lining_m: float
    insulation_m: float

    @property
    def around_m(self) -> float:
        """What lies around the air on every side [m], the sheet left out."""
        return self.lining_m + self.insulation_m


UNLINED = Make("galvanised", 0.09e-3, 0.0, 0.0, 0.0)


@dataclass(frozen=True, slots=True, eq=False)
class SegmentResult:
    """One duct in air direction; pressures in Pa, `left_pa` total pressure at its end."""

    segment_id: str
    flow_m3s: float
    section: Section
    ladder: Ladder
    pinned: bool
    length_m: float
    velocity_m_s: float
    friction_pa_m: float
    friction_pa: float
    flexible_pa: float
    fittings: tuple[FittingLoss, ...]
    loss_pa: float
    left_pa: float
    clear_height_m: float  # of the ceiling zones it passes, inf outside them
    obstacle_height_m: float  # under the lowest obstacle on the way, inf without one
    obstacle: str
    sleeve_m: float  # width of the narrowest sleeve it passes, inf without one
    mass_kg: float
    distance_m: float  # from the fan to its end
    terminals_on: int
    velocity_limit: float
    friction_limit: float = 0.0
    make: Make = UNLINED
    outer_height_m: float = 0.0  # with lining and insulation
    static_pa: float = 0.0  # greatest against the air around, at design; below 0 it sucks
    tightness: str = "B"
    tight_pinned: bool = False
    thickness_m: float = 0.0  # of its sheet
    noise_db: float = 0.0  # sound power its own flow makes
    # the balancing damper at its start; what stands pinned is in its fittings
    damper: DamperSetting | None = None
    damper_pinned: bool = False
    leak_m3s: float = 0.0  # out of it at design; below 0 into it
    end_pa: float = 0.0  # total pressure at its end with dampers as they take it
    role: str = "branch"  # riser, trunk, branch or last
    by: str = "limits"  # what gave its size: limits, pinned, regain, cost, kept, first velocity
    inline: tuple[InlineRecord, ...] = ()  # parts that stand in it, from the unit on

    @property
    def straight_m(self) -> float:
        """Its length less what parts in it take [m], on which air rubs."""
        return max(self.length_m - sum(p.length_m for p in self.inline), 0.0)


@dataclass(frozen=True, slots=True)
class TerminalResult:
    terminal_id: str
    label: str
    room_id: str
    segment_id: str
    flow_m3s: float
    point: TerminalPoint
    run_pa: float
    surplus_pa: float
    damper: DamperSetting  # of its own duct, or in its neck
    distance_m: float
    left_pa: float = 0.0  # surplus that no damper takes
    neck: bool = False  # it sits on a duct that goes on: its damper is in its neck


@dataclass(frozen=True, slots=True)
class TerminalAir:
    """A terminal with the air it takes: throw to 0.25 m/s over what it should reach, NC of it and of all in the
    room.
    """

    terminal_id: str
    room_id: str
    air: str  # supply, return, extract
    kind: str
    point: TerminalPoint
    flow_m3s: float
    throw_m: float
    ratio: float  # NaN where there is no rule
    reaches: bool
    nc: float  # NaN outside the table of the model
    room_nc: float


@dataclass(frozen=True, slots=True, eq=False)
class DuctResult:
    system_id: str
    segments: dict[str, SegmentResult]
    terminals: tuple[TerminalResult, ...]  # those the unit reaches, in the project's order
    unreached: tuple[str, ...]  # terminal ids
    unroomed: tuple[str, ...]  # served rooms without a terminal, with flow
    looped: tuple[str, ...]  # segments that close a ring
    tree: Tree
    runs: Runs
    segment_ids: tuple[str, ...]
    length_m: float
    mass_kg: float
    flow_m3s: float
    air: Air = "supply"  # or return, extract: then the tree is walked against the air
    ends: np.ndarray | None = None  # (segments, 2): points as drawn, as numbers of the tree
    regained: tuple[Regained, ...] = ()  # sections of the straight ways where it is sized by regain

    @property
    def leak_m3s(self) -> float:
        """What leaks out of all of them, or into those that are sucked."""
        return abs(sum(s.leak_m3s for s in self.segments.values()))

    @property
    def index(self) -> TerminalResult:
        return self.terminals[self.runs.index]

    def beyond(self, segment_id: str) -> tuple[str, ...]:
        """A duct and all that hang on it."""
        found, ids = {segment_id}, self.segment_ids
        for s in self.tree.order.tolist():
            parent = int(self.tree.parent[s])
            if parent >= 0 and ids[parent] in found:
                found.add(ids[s])
        return tuple(i for i in ids if i in found)

    def before(self, segment_id: str) -> SegmentResult | None:
        """The duct before one, on the unit's side; None at the unit."""
        parent = int(self.tree.parent[self.segment_ids.index(segment_id)])
        return self.segments[self.segment_ids[parent]] if parent >= 0 else None

    def path(self, segment_id: str) -> tuple[str, ...]:
        """Segment ids from the unit to this one."""
        return tuple(self.segment_ids[s] for s in self.tree.path(self.segment_ids.index(segment_id)))


@dataclass(frozen=True, slots=True, eq=False)
class DuctHeat:
    """Heat of a system's supply ducts on a summer's design day, by segment id.

    kinds       where each runs: room, void, shaft, plant, outdoors; around_c how warm it is there [degC]
    u_w_m2k     on the inside [W/m2K]; start_c, end_c of the air in it [degC]; gained_w what it takes up [W]
    outside_c   of its outside at the unit's end, dew_c at which that would drip [degC]
    terminal_c  air at every terminal; root_c air at the unit, so that terminals have what is held as their mean
    ua_w_k, surface_m2, mean_around_c   of all of them, as the train takes them
    """

    kinds: dict[str, str]
    around_c: dict[str, float]
    u_w_m2k: dict[str, float]
    start_c: dict[str, float]
    end_c: dict[str, float]
    gained_w: dict[str, float]
    outside_c: dict[str, float]
    dew_c: dict[str, float]
    terminal_c: dict[str, float]
    root_c: float
    ua_w_k: float
    surface_m2: float
    mean_around_c: float


@dataclass(frozen=True, slots=True, eq=False)
class FanLines:
    """What the fan chart draws, each (flow [m3/s], total pressure [Pa]) as arrays (2, points)."""

    chosen: np.ndarray
    others: tuple[tuple[str, np.ndarray], ...]
    speeds: tuple[tuple[float, np.ndarray], ...]  # the chosen fan at other speeds [rpm]
    system: np.ndarray
    stall: np.ndarray


@dataclass(frozen=True, slots=True, eq=False)
class FanResult:
    """The chosen fan at its operating point, the curve, and the other candidates at the wanted duty."""

    system_id: str
    part_pa: tuple[tuple[str, float], ...]
    duct_pa: float
    allowance_pa: float
    wanted_pa: float
    wanted_m3s: float
    candidates: tuple[Candidate, ...]
    chosen: Candidate | Missing
    curve: Curve | None
    point: Duty | None
    exponent: float  # of the system curve at the duty
    speed_origin: str
    lines: FanLines | None
    motor: Figure  # efficiency of motor and control
    effect_pa: float = 0.0  # system effect at the fan
    # every flow at which its curve meets the system's [m3/s]; more than one warns
    meets: tuple[float, ...] = ()
    way: str = "supply"  # of the air it moves: supply, return, extract, exhaust


@dataclass(frozen=True, slots=True)
class LevelCheck:
    """Floor of a level [m2]: in rooms, enclosed by rooms and claimed by none, as the architect gives it."""

    level_id: str
    rooms_m2: float
    unclaimed_m2: float
    floor_m2: float | None


@dataclass(frozen=True, slots=True)
class Facade:
    """Outside walls of one of eight directions [m2], openings included."""

    facing_deg: float
    wall_m2: float
    glass_m2: float


@dataclass(frozen=True, slots=True)
class Overlap:
    room_a: str
    room_b: str
    area_m2: float


@dataclass(frozen=True, slots=True)
class BuildingResult:
    levels: tuple[LevelCheck, ...]
    facades: tuple[Facade, ...]
    overlaps: tuple[Overlap, ...]


@dataclass(frozen=True, slots=True)
class Mend:
    label: str
    command: Any

    def __post_init__(self) -> None:
        _tell(self, "label")


@dataclass(frozen=True, slots=True)
class Finding:
    """Something that breaks a limit or deserves a look: what, why, and commands that would help."""

    code: str
    link: str  # the link of the chain it belongs to
    kind: str  # room, segment, terminal, system, site
    object_id: str
    title: str
    reason: str
    severity: str = "watch"  # watch or bad
    mends: tuple[Mend, ...] = ()

    def __post_init__(self) -> None:
        _tell(self, "title", "reason")

    def in_units(self, system: System) -> "Finding":
        """As it is told to a reader of these units."""
        if system == "SI":
            return self
        return replace(
            self,
            title=in_units(self.title, system),
            reason=in_units(self.reason, system),
            mends=tuple(Mend(in_units(m.label, system), m.command) for m in self.mends),
        )


@dataclass(frozen=True, slots=True, eq=False)
class First:
    """What is known of a project before its air: climate, loads of rooms, of rooms together."""

    project: Project
    climate: Climate | Missing
    rooms: dict[str, RoomResult | Missing]
    blocks: dict[str, Block | Missing]

    def upon(self, before: "Results") -> "Results | None":
        """These in place of those of `before`, whose other figures stand for the project as it was; None where parts
        came or went since, so that the two do not fit together.
        """
        now, then = self.project, before.project
        kinds = ("levels", "zones", "rooms", "walls", "slabs", "air_systems", "segments", "terminals", "duct_points")
        for kind in kinds:
            a, b = getattr(now, kind), getattr(then, kind)
            if a is not b and [x.id for x in a] != [x.id for x in b]:
                return None
        return replace(before, project=now, climate=self.climate, rooms=self.rooms, blocks=self.blocks)


@dataclass(frozen=True, slots=True, eq=False)
class Results:
    """Everything computed for one project. A stage that could not run holds Missing."""

    project: Project
    climate: Climate | Missing
    rooms: dict[str, RoomResult | Missing]
    # by air system id, "zone:" and a zone's id, and "" for all that are served
    blocks: dict[str, Block | Missing]
    air: dict[str, AirResult | Missing]
    ducts: dict[str, DuctResult | Missing]
    fans: dict[str, FanResult | Missing]
    findings: tuple[Finding, ...]
    seconds: float
    recomputed: int
    room_air: dict[str, RoomAir] = field(default_factory=dict)
    building: BuildingResult = BuildingResult((), (), ())
    trains: dict[str, TrainResult | Missing] = field(default_factory=dict)
    plant: Plant | Missing = Missing("no air system")
    terminals: dict[str, TerminalAir] = field(default_factory=dict)
    # return and extract ducts, by system and air
    leaving: dict[tuple[str, str], DuctResult | Missing] = field(default_factory=dict)
    noise: dict[str, NoiseResult | Missing] = field(default_factory=dict)
    # what every room really gets, by system
    real: dict[str, Flows | Missing] = field(default_factory=dict)
    # findings that the engineer answers for
    accepted: tuple[tuple[Finding, Accepted], ...] = ()
    # fans for air that leaves, by system and way
    other_fans: dict[tuple[str, str], FanResult | Missing] = field(default_factory=dict)
    # heat of supply ducts by system, where it is computed
    duct_heat: dict[str, DuctHeat] = field(default_factory=dict)
    equipment: Equipment = field(default_factory=Equipment)
    # air systems with the figures of their coils, where those are chosen
    working: dict[str, AirSystem] = field(default_factory=dict)

    def system(self, system_id: str) -> AirSystem | None:
        """An air system as it was computed: figures of its parts that its coils give are in it."""
        found: AirSystem | None = self.working.get(system_id) or find(self.project.air_systems, system_id)
        return found

    def fan(self, system_id: str, way: str = "supply") -> FanResult | Missing:
        """The fan of a system for one way of the air."""
        found = self.fans.get(system_id) if way == "supply" else self.other_fans.get((system_id, way))
        return found if found is not None else Missing(f"no {way} fan", f"The system has no {way} fan")

    def fans_of(self, system_id: str) -> dict[str, FanResult]:
        """All fans of a system that could be computed, by way."""
        found = {way: self.fan(system_id, way) for way in FAN_WAYS}
        return {way: f for way, f in found.items() if isinstance(f, FanResult)}

    def network(self, system_id: str, air: str = "supply") -> DuctResult | Missing:
        """The ducts of a system for one air."""
        found = self.ducts.get(system_id) if air == "supply" else self.leaving.get((system_id, air))
        return found if found is not None else Missing("no system", "Add an air system")

    def room_air_of(self, system_id: str) -> tuple[RoomAir, ...]:
        """Air of the rooms of a system; () where it could not be computed."""
        found = self.air.get(system_id)
        return found.rooms if isinstance(found, AirResult) else ()

    def with_ducts(self, project: Project, *networks: DuctResult) -> "Results":
        """As these would be with other ducts in a changed project; what hangs on their flows stays as it was."""
        supply = {n.system_id: n for n in networks if n.air == "supply"}
        leaving: dict[tuple[str, str], DuctResult] = {(n.system_id, n.air): n for n in networks if n.air != "supply"}
        return replace(self, project=project, ducts={**self.ducts, **supply}, leaving={**self.leaving, **leaving})

    def networks(self, system_id: str) -> tuple[DuctResult, ...]:
        """All ducts of a system that could be computed, those for air that leaves first."""
        found = (self.network(system_id, air) for air in ("outdoor", "extract", "return", "supply"))
        return tuple(d for d in found if isinstance(d, DuctResult))

    def room(self, room_id: str) -> RoomResult | None:
        found = self.rooms.get(room_id)
        return found if isinstance(found, RoomResult) else None


__all__ = [
    "CAUSES",
    "HEATING_CAUSES",
    "NEEDS",
    "AirResult",
    "Block",
    "Candidate",
    "Climate",
    "DuctResult",
    "Duty",
    "Face",
    "FaceSun",
    "FanLines",
    "FanResult",
    "Finding",
    "FittingLoss",
    "Mend",
    "Missing",
    "Results",
    "RoomAir",
    "RoomResult",
    "SegmentResult",
    "TerminalResult",
]
