"""Levels, rooms, and the walls and slabs between them."""

from math import hypot
from typing import Literal

from garnetfin.core.errors import InputError
from garnetfin.core.outlines import area_of
from garnetfin.project.values import FIRE_MIN, Node, Point, Rule, Value, outline_ok, value_within, within

OUTSIDE = ""
SHAFT = "shaft"  # behind a wall: a closed shaft
CEILING = "ceiling"  # kind of an obstacle
INSIDE = "inside"  # behind a wall or slab: a room that is not drawn, taken as equally warm
NO_ROOM = frozenset({OUTSIDE, SHAFT, INSIDE})


class Level(Node, frozen=True):
    id: str
    name: str
    elevation_m: float
    storey_m: float
    floor_m2: Value = Rule()  # the architect's floor area, to check the rooms against

    def __post_init__(self) -> None:
        within(self.elevation_m, -500, 2000, "Elevation", f"level {self.name}", "m")
        within(self.storey_m, 0.5, 100, "Storey height", f"level {self.name}", "m")
        value_within(self.floor_m2, 0.1, 1e7, "Floor area", f"level {self.name}", "m²")


class RoomOrigin(Node, frozen=True):
    """What a file said of a room when it was last read, so that edits made since can be told from changes of the file.

    `faces` is a digest of the room's walls, openings and slabs as they were taken over.
    """

    source: str  # name of the file
    key: str  # the room's id there
    number: str
    name: str
    use_id: str
    level_id: str
    ceiling_m: float
    outline: tuple[Point, ...]
    faces: str = ""


class Room(Node, frozen=True):
    id: str  # never shown, never reused
    number: str
    name: str
    level_id: str
    outline: tuple[Point, ...]
    use_id: str
    ceiling_m: float
    area_m2: Value = Rule()
    cooling_c: Value = Rule()
    heating_c: Value = Rule()
    people: Value = Rule()
    lights_w_m2: Value = Rule()
    equipment_w_m2: Value = Rule()
    infiltration_1h: Value = Rule()
    air_change_1h: Value = Rule()
    outdoor_m3s: Value = Rule()
    supply_m3s: Value = Rule()
    people_area_m2: Value = Rule()  # floor for each person; counts where people are by rule
    moisture_w: Value = Rule()  # latent heat of a process, while the room is used
    cooling_limit_w: Value = Rule()  # what its plant can take out; by rule without limit
    heating_limit_w: Value = Rule()
    extract_m3s: Value = Rule()  # by rule as its use asks
    return_m3s: Value = Rule()  # by rule it closes the room's air balance
    pressure: Literal["positive high", "positive", "neutral", "negative", "negative high"] = "neutral"
    activity: str = ""  # of the people; "" = as the use has it
    profile_id: str = ""  # "" = as the use has it
    plenum_m: float = 0.0  # void above the ceiling that return air passes
    system_id: str = ""  # "" = unheated, no air
    air: Literal["supply", "transfer"] = "supply"
    # that governs; "" = the greatest
    need: Literal["", "cooling", "latent", "heating", "outdoor air", "air change", "make-up"] = ""
    # what serves it beside the air; "" = as the terminals of its air system
    rest: Literal["", "none", "reheat", "unit", "own unit", "heater"] = ""
    by_units: bool = False  # kept by units of its own where no air system serves it
    zone_id: str = ""  # "" = in no zone
    sketched: bool = False  # from a list: its outline is no place, its walls are typed
    placed: bool = False  # from a list, with a stand-in place for terminals and ducts
    origin: RoomOrigin | None = None

    @property
    def kept(self) -> bool:
        """Whether plant keeps it at its set-points: an air system's, or units of its own."""
        return bool(self.system_id) or self.by_units

    def __post_init__(self) -> None:
        where = f"room {self.number} {self.name}"
        outline_ok(self.outline, "A room", where)
        within(self.ceiling_m, 0.5, 100, "Ceiling height", where, "m")
        value_within(self.area_m2, 0.01, 1e6, "Area", where, "m²")
        value_within(self.cooling_c, 5, 50, "Cooling set-point", where, "°C")
        value_within(self.heating_c, -10, 40, "Heating set-point", where, "°C")
        value_within(self.people, 0, 1e5, "People", where)
        value_within(self.people_area_m2, 0.1, 1e5, "Floor for each person", where, "m²")
        value_within(self.moisture_w, 0, 1e6, "Latent heat of a process", where, "W")
        value_within(self.cooling_limit_w, 0, 1e7, "Cooling that is there", where, "W")
        value_within(self.heating_limit_w, 0, 1e7, "Heating that is there", where, "W")
        value_within(self.extract_m3s, 0, 1000, "Extract air", where, "m³/s")
        value_within(self.return_m3s, 0, 1000, "Return air", where, "m³/s")
        within(self.plenum_m, 0, 10, "Void above the ceiling", where, "m")
        value_within(self.lights_w_m2, 0, 1000, "Lights", where, "W/m²")
        value_within(self.equipment_w_m2, 0, 1e5, "Equipment", where, "W/m²")
        value_within(self.infiltration_1h, 0, 50, "Infiltration", where, "1/h")
        value_within(self.air_change_1h, 0, 200, "Least air change", where, "1/h")
        value_within(self.outdoor_m3s, 0, 1000, "Outdoor air", where, "m³/s")
        value_within(self.supply_m3s, 0, 1000, "Supply air", where, "m³/s")
        if not (isinstance(self.heating_c, Rule) or isinstance(self.cooling_c, Rule)) and (
            self.heating_c.value > self.cooling_c.value
        ):
            raise InputError(
                "The heating set-point is above the cooling set-point",
                where=where,
                remedy="Lower the one or raise the other",
            )


class Opening(Node, frozen=True):
    """A window, glass wall or door; `at_m` is its middle along the wall from the wall's start."""

    id: str
    kind: Literal["window", "glass wall", "door", "outside door"]
    at_m: float
    width_m: float
    sill_m: float
    head_m: float
    glazing_id: str = ""  # "" = opaque door
    door_u_w_m2k: float = 1.8
    reveal_m: float = 0.1
    overhang_m: float = 0.0
    overhang_gap_m: float = 0.0
    fin_left_m: float = 0.0  # as seen from outside
    fin_right_m: float = 0.0
    fin_gap_m: float = 0.0  # between jamb and fin
    # how far the overhang goes past the jambs, and fins past head and sill; by rule without end
    overhang_left_m: Value = Rule()
    overhang_right_m: Value = Rule()
    fin_above_m: Value = Rule()
    fin_below_m: Value = Rule()
    own_glazing: bool = False  # chosen by hand; fabric sets leave it alone

    def __post_init__(self) -> None:
        where = f"{self.kind} {self.id}"
        within(self.at_m, 0, 1e4, "Place along the wall", where, "m")
        within(self.width_m, 0.05, 200, "Width", where, "m")
        within(self.sill_m, -1, 100, "Sill", where, "m")
        if not self.sill_m < self.head_m <= 200:
            raise InputError(
                f"The head must be above the sill of {self.sill_m:g} m, got {self.head_m:g} m", where=where
            )
        within(self.door_u_w_m2k, 0.05, 7, "U-value", where, "W/m²K")
        within(self.reveal_m, 0, 3, "Reveal", where, "m")
        within(self.overhang_m, 0, 20, "Overhang", where, "m")
        within(self.overhang_gap_m, 0, 20, "Gap below the overhang", where, "m")
        within(self.fin_left_m, 0, 20, "Left fin", where, "m")
        within(self.fin_right_m, 0, 20, "Right fin", where, "m")
        within(self.fin_gap_m, 0, 20, "Gap beside fins", where, "m")
        value_within(self.overhang_left_m, 0, 200, "Overhang past the left jamb", where, "m")
        value_within(self.overhang_right_m, 0, 200, "Overhang past the right jamb", where, "m")
        value_within(self.fin_above_m, 0, 200, "Fins above the head", where, "m")
        value_within(self.fin_below_m, 0, 200, "Fins below the sill", where, "m")

    @property
    def height_m(self) -> float:
        return self.head_m - self.sill_m

    @property
    def area_m2(self) -> float:
        return self.width_m * self.height_m


class Wall(Node, frozen=True):
    """A straight stretch with the same room on either side; room_b "" is outdoors, "shaft" a closed shaft."""

    id: str
    level_id: str
    start: Point
    end: Point
    room_a: str
    room_b: str
    thickness_m: float
    height_m: float
    build_up_id: str
    facing_deg: float = 0.0  # outward bearing, outside walls only
    openings: tuple[Opening, ...] = ()
    buried_m: float = 0.0  # height of it that stands against earth
    own_fabric: bool = False  # build-up chosen by hand; fabric sets leave it alone
    fire_min: int = 0  # resists fire for so long
    smoke: bool = False  # what passes it has to shut for smoke too

    def __post_init__(self) -> None:
        where = f"wall {self.id}"
        if self.fire_min not in FIRE_MIN:
            raise InputError(
                f"{self.fire_min} minutes are no class",
                where=where,
                remedy="Take one of: " + ", ".join(str(m) for m in FIRE_MIN),
            )
        within(self.buried_m, 0, self.height_m, "Height against earth", where, "m")
        within(self.thickness_m, 0.001, 5, "Thickness", where, "m")
        within(self.height_m, 0.1, 200, "Height", where, "m")
        within(self.facing_deg, -360, 360, "Direction", where, "°")
        within(self.length_m, 0.001, 1e5, "Length", where, "m")

    @property
    def length_m(self) -> float:
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])

    @property
    def outside(self) -> bool:
        return self.room_b == OUTSIDE

    def other(self, room_id: str) -> str:
        return self.room_b if room_id == self.room_a else self.room_a


class Slab(Node, frozen=True):
    """A roof, a floor on the ground or above outdoors (exposed), or a floor between two rooms; area in plan."""

    id: str
    kind: Literal["roof", "ground", "between", "exposed"]
    room_below: str  # "" for a floor on the ground
    room_above: str  # "" for a roof
    area_m2: float
    build_up_id: str
    perimeter_m: float = 0.0  # exposed edge, floors on the ground
    tilt_deg: float = 0.0
    azimuth_deg: float = 180.0
    own_fabric: bool = False

    def __post_init__(self) -> None:
        where = f"{self.kind} {self.id}"
        within(self.area_m2, 0.001, 1e6, "Area", where, "m²")
        within(self.perimeter_m, 0, 1e5, "Perimeter", where, "m")
        within(self.tilt_deg, 0, 90, "Tilt", where, "°")
        within(self.azimuth_deg, -360, 360, "Direction", where, "°")


class PlanMark(Node, frozen=True):
    """Something drawn on the plan that has no load: a shaft, stair, void or unit, or a block beside that shades."""

    id: str
    kind: Literal["shaft", "stair", "void", "unit", "block"]
    level_id: str
    outline: tuple[Point, ...]
    label: str = ""
    height_m: float = 0.0  # of a block, above the floor of its level

    def __post_init__(self) -> None:
        outline_ok(self.outline, "A plan mark", self.id)
        within(self.height_m, 0, 1000, "Height", f"{self.kind} {self.id}", "m")

    @property
    def area_m2(self) -> float:
        """In plan."""
        return area_of(self.outline)


class CeilingZone(Node, frozen=True):
    """Where ducts may run: between the ceiling and the underside of the structure, less an allowance."""

    id: str
    name: str
    level_id: str
    outline: tuple[Point, ...]
    ceiling_m: float
    soffit_m: float
    allowance_m: float = 0.05

    def __post_init__(self) -> None:
        outline_ok(self.outline, "A ceiling zone", self.id)
        if not 0 < self.ceiling_m < self.soffit_m <= 200:
            raise InputError("The ceiling must lie below the structure", where=f"ceiling zone {self.id}")
        within(self.allowance_m, 0, self.soffit_m - self.ceiling_m, "Allowance", f"ceiling zone {self.id}", "m")

    @property
    def free_m(self) -> float:
        return self.soffit_m - self.ceiling_m - self.allowance_m


class Sleeve(Node, frozen=True):
    """A hole through an obstacle; its middle in plan and its heights above the level's floor."""

    at: Point
    width_m: float
    bottom_m: float
    top_m: float

    def __post_init__(self) -> None:
        within(self.width_m, 0.01, 100, "Width", "sleeve", "m")
        if not -10 <= self.bottom_m < self.top_m <= 200:
            raise InputError("A sleeve's top must be above its bottom", where="sleeve")


class Obstacle(Node, frozen=True):
    """A beam or rack in the way of ducts; heights above the level's floor. `group`: class and layer in its file.

    A ceiling of others is shown where it hangs, and in the way of nothing: rooms and ceiling zones say where ducts go.
    """

    id: str
    kind: str
    level_id: str
    outline: tuple[Point, ...]
    bottom_m: float
    top_m: float
    sleeves: tuple[Sleeve, ...] = ()
    source: str = ""  # the file it came from; "" = drawn here
    group: str = ""

    def __post_init__(self) -> None:
        outline_ok(self.outline, "An obstacle", self.id)
        if not -10 <= self.bottom_m < self.top_m <= 200:
            raise InputError("An obstacle's top must be above its bottom", where=f"{self.kind} {self.id}")

    @property
    def in_way(self) -> bool:
        return self.kind != CEILING
