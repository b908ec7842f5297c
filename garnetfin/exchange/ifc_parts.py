"""What IFC files are written from, as plain parts, and the small entities of which everything in them is made."""

import uuid
from dataclasses import dataclass, field

from garnetfin.core.ducts.sizes import Section

Vector = tuple[float, float, float]
# ids are made from ours, so that one part keeps its id from file to file
NAMES = uuid.UUID("6b1b1b0e-6f5d-5c1e-9d0e-2f4a3c7d9e10")
# Measures of the schema by the name of a property; what is not named is a plain number.
MEASURES = {
    **dict.fromkeys(
        ("Flow", "CoolingDesignAirflow", "AirFlowRate", "NominalAirFlowRate"), "IfcVolumetricFlowRateMeasure"
    ),
    **dict.fromkeys(("NominalDiameterOrWidth", "NominalHeight"), "IfcPositiveLengthMeasure"),
    "NominalTotalPressure": "IfcPressureMeasure",
    "NominalRotationSpeed": "IfcRotationalFrequencyMeasure",
    "NominalPowerRate": "IfcPowerMeasure",
    **dict.fromkeys(
        ("PressureLoss", "StaticPressure", "TotalPressure", "Pressure", "Excess pressure"), "IfcPressureMeasure"
    ),
    **dict.fromkeys(("ElectricPower", "TotalSensibleHeatGain", "TotalHeatLoss"), "IfcPowerMeasure"),
    **dict.fromkeys(
        ("CoolingDryBulb", "HeatingDryBulb", "SpaceTemperatureSummerMax", "SpaceTemperatureWinterMin"),
        "IfcThermodynamicTemperatureMeasure",
    ),
    **dict.fromkeys(("Lining", "Insulation"), "IfcLengthMeasure"),
    "Velocity": "IfcLinearVelocityMeasure",
    "ThermalTransmittance": "IfcThermalTransmittanceMeasure",
    "OccupancyNumber": "IfcCountMeasure",
    **dict.fromkeys(("SolarHeatGainTransmittance", "SolarTransmittance"), "IfcNormalisedRatioMeasure"),
}
CHOICES = ("Shape", "AirflowType")  # properties that hold one of a list of words


@dataclass(frozen=True, slots=True)
class Space:
    """Figures of a room: area [m2], volume [m3], cooling and heating [W], supply air [m3/s], set-points [degC], people,
    lights and equipment [W/m2]; None where there is none. `use` in words.
    """

    area_m2: float
    volume_m3: float
    cooling_w: float | None
    heating_w: float | None
    flow_m3s: float | None
    cooling_c: float
    heating_c: float
    people: float
    lights_w_m2: float
    equipment_w_m2: float
    use: str
    served: bool


@dataclass(frozen=True, slots=True)
class InDuct:
    """A part that stands in a duct: its middle from the duct's start [m], its length, its own section; what it resists
    [min] and whether it shuts for smoke.
    """

    id: str
    tag: str
    kind: str
    model: str
    middle_m: float
    length_m: float
    section: Section
    mass_kg: float
    fire_min: int
    smoke: bool
    figures: tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class Duct:
    """A duct in the direction of the air: points by id, clear section, figures for its properties, and its damper if it
    has one.
    """

    id: str
    start: str
    end: str
    section: Section
    thickness_m: float
    material: str
    flexible: bool
    mass_kg: float
    figures: tuple[tuple[str, float], ...]
    damper: str = ""  # "", blade, orifice
    parts: tuple[InDuct, ...] = ()


@dataclass(frozen=True, slots=True)
class Outlet:
    """A terminal at the point of a duct."""

    id: str
    label: str
    model: str
    point: str
    room_id: str
    figures: tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class System:
    """Ducts of one air of an air system, from the points at its unit."""

    id: str
    name: str
    air: str
    roots: tuple[str, ...]  # its points at the unit, the first one first
    ducts: tuple[Duct, ...]
    outlets: tuple[Outlet, ...]


@dataclass(frozen=True, slots=True)
class UnitPart:
    """A part of an air-handling unit: figures of it, and of its fan where it is one."""

    id: str
    kind: str
    name: str
    figures: tuple[tuple[str, float], ...]
    fan: tuple[tuple[str, float | str], ...] = ()
    model: str = ""


@dataclass(frozen=True, slots=True)
class SheetLayer:
    """A layer with what counts of it, an air gap as a layer of as much resistance."""

    name: str
    thickness_m: float
    conductivity_w_mk: float
    density_kg_m3: float
    specific_heat_j_kgk: float


@dataclass(frozen=True, slots=True)
class Made:
    """A build-up: layers from inside out, U-value [W/m2K], None where it is not known."""

    name: str
    layers: tuple[SheetLayer, ...]
    u_w_m2k: float | None


@dataclass(frozen=True, slots=True)
class Model:
    spaces: dict[str, Space]
    systems: tuple[System, ...]
    parts: dict[str, tuple[UnitPart, ...]] = field(default_factory=dict)  # of the unit of each air system
    build_ups: dict[str, Made] = field(default_factory=dict)


def ifc_id(project: str, *parts: str) -> str:
    """The id of a part in every IFC file of a project: its class and our own id."""
    import ifcopenshell.guid

    return str(ifcopenshell.guid.compress(uuid.uuid5(NAMES, "/".join((project, *parts))).hex))


class Parts:
    """One file in the making: entities by name, products in their storeys."""

    def __init__(self, file, name: str) -> None:
        self.file, self.name = file, name
        self.up = file.createIfcDirection((0.0, 0.0, 1.0))
        self.origin2 = file.createIfcAxis2Placement2D(self.point(0.0, 0.0), None)
        self.body = None
        self.at: dict[str, tuple] = {}  # placement and elevation of each level
        self.held: dict[str, list] = {}  # elements of each storey

    def id(self, *parts: str) -> str:
        return ifc_id(self.name, *parts)

    def point(self, *xyz: float):
        return self.file.createIfcCartesianPoint(tuple(float(v) for v in xyz))

    def axes(self, at: Vector = (0.0, 0.0, 0.0), z: Vector | None = None, x: Vector | None = None):
        direction = self.file.createIfcDirection
        return self.file.createIfcAxis2Placement3D(
            self.point(*at), direction(z) if z else None, direction(x) if x else None
        )

    def placed(self, to, at: Vector = (0.0, 0.0, 0.0), z: Vector | None = None, x: Vector | None = None):
        return self.file.createIfcLocalPlacement(to, self.axes(at, z, x))

    def shape(self, *solids):
        return self.file.createIfcProductDefinitionShape(
            None, None, [self.file.createIfcShapeRepresentation(self.body, "Body", "SweptSolid", list(solids))]
        )

    def solid(self, profile, length: float):
        return self.file.createIfcExtrudedAreaSolid(profile, self.axes(), self.up, float(length))

    def box(self, wide: float, deep: float, high: float, low: float = 0.0):
        profile = self.file.createIfcRectangleProfileDef("AREA", None, self.origin2, float(wide), float(deep))
        return self.file.createIfcExtrudedAreaSolid(profile, self.axes((0.0, 0.0, low)), self.up, float(high))

    def related(self, kind: str, key: str, **of: object) -> None:
        self.file.create_entity(kind, GlobalId=self.id("rel", key), **of)

    def properties(self, element, key: str, name: str, figures) -> None:
        """A property set of plain figures and words."""
        if not figures:
            return
        made = self.file.createIfcPropertySet(self.id("pset", key, name), None, name, None, self.values(figures))
        self.related(
            "IfcRelDefinesByProperties", f"pset/{key}/{name}", RelatedObjects=[element], RelatingPropertyDefinition=made
        )

    def values(self, figures) -> list:
        """Properties of (name, figure or word), as the measures and choices of the schema."""
        kinds = {str: "IfcLabel", bool: "IfcBoolean"}
        made = []
        for name, value in figures:
            kind = kinds.get(type(value)) or MEASURES.get(name, "IfcReal")
            held = self.file.create_entity(kind, value)
            if name in CHOICES:
                made.append(self.file.createIfcPropertyEnumeratedValue(name, None, [held], None))
            else:
                made.append(self.file.createIfcPropertySingleValue(name, None, held, None))
        return made

    def quantities(self, element, key: str, name: str, figures: tuple[tuple[str, str, float], ...]) -> None:
        made = [self.file.create_entity(f"IfcQuantity{kind}", n, None, None, float(v)) for kind, n, v in figures]
        of = self.file.createIfcElementQuantity(self.id("qto", key), None, name, None, None, made)
        self.related("IfcRelDefinesByProperties", f"qto/{key}", RelatedObjects=[element], RelatingPropertyDefinition=of)

    def element(
        self,
        kind: str,
        key: str,
        name: str,
        level_id: str,
        at: Vector,
        shape,
        z: Vector | None = None,
        x: Vector | None = None,
        **more: object,
    ):
        """A product of a storey; `at` is in the building's coordinates."""
        place, elevation = self.at[level_id]
        made = self.file.create_entity(
            kind,
            GlobalId=self.id(kind, key),
            Name=name,
            ObjectPlacement=self.placed(place, (at[0], at[1], at[2] - elevation), z, x),
            Representation=shape,
            Tag=key[:80],
            **more,
        )
        self.held.setdefault(level_id, []).append(made)
        return made

    def port(self, element, key: str, flow: str):
        """A place at which an element may be joined."""
        made = self.file.create_entity(
            "IfcDistributionPort",
            GlobalId=self.id("port", key),
            Name=key[:80],
            FlowDirection=flow,
            PredefinedType="DUCT",
            SystemType="VENTILATION",
        )
        self.related("IfcRelNests", f"port/{key}", RelatingObject=element, RelatedObjects=[made])
        return made

    def join(self, giving, taking) -> None:
        self.related(
            "IfcRelConnectsPorts", f"{giving.GlobalId}/{taking.GlobalId}", RelatingPort=giving, RelatedPort=taking
        )
