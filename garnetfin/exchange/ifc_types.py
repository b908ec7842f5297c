"""Types of ducts, fittings, dampers, terminals and parts of units in IFC4, with the property sets of the schema."""

from garnetfin.core.ducts.sizes import Section
from garnetfin.exchange.ifc_parts import InDuct, Parts, UnitPart

SHAPES = {"round": "ROUND", "rectangular": "RECTANGULAR", "oval": "FLATOVAL"}
AIRS = {"supply": "SUPPLYAIR", "return": "RETURNAIR", "extract": "EXHAUSTAIR", "outdoor": "OTHER"}
# Parts of a unit: their class and what they are within it.
PARTS = {
    "intake": ("IfcDamper", "CONTROLDAMPER"),
    "filter": ("IfcFilter", "AIRPARTICLEFILTER"),
    "recovery": ("IfcAirToAirHeatRecovery", "NOTDEFINED"),
    "preheat": ("IfcCoil", "WATERHEATINGCOIL"),
    "precool": ("IfcCoil", "WATERCOOLINGCOIL"),
    "mixing": ("IfcDamper", "CONTROLDAMPER"),
    "cooling": ("IfcCoil", "WATERCOOLINGCOIL"),
    "heating": ("IfcCoil", "WATERHEATINGCOIL"),
    "humidifier": ("IfcHumidifier", "NOTDEFINED"),
    "supply_fan": ("IfcFan", "NOTDEFINED"),
    "return_fan": ("IfcFan", "NOTDEFINED"),
    "exhaust_fan": ("IfcFan", "NOTDEFINED"),
    "attenuator": ("IfcDuctSilencer", "NOTDEFINED"),
}
# Parts in ducts: class and what they are within it; USERDEFINED ones are named by their kind.
IN_DUCTS = {
    "fire damper": ("IfcDamper", "FIREDAMPER"),
    "smoke damper": ("IfcDamper", "SMOKEDAMPER"),
    "volume damper": ("IfcDamper", "BALANCINGDAMPER"),
    "heater": ("IfcCoil", "WATERHEATINGCOIL"),
    "filter": ("IfcFilter", "AIRPARTICLEFILTER"),
    "measuring cross": ("IfcSensor", "FLOWSENSOR"),
    "flexible connector": ("IfcDuctFitting", "CONNECTOR"),
    "access door": ("IfcDuctFitting", "USERDEFINED"),
    "own part": ("IfcDuctFitting", "USERDEFINED"),
}
Figures = tuple[tuple[str, float | str | bool], ...]


class Types:
    """Each type once; what is alike shares it."""

    def __init__(self, parts: Parts) -> None:
        self.w = parts
        self.made: dict[tuple[str, ...], object] = {}
        self.members: dict[tuple[str, ...], list] = {}
        self.materials: dict[str, list] = {}

    def give(self, element, kind: str, name: str, of: str, sets: dict[str, Figures] | None = None) -> None:
        """The type of that class and name for an element; `of` is its predefined type, `sets` its property sets."""
        key = (kind, name, of)
        if key not in self.made:
            held = [self._set("/".join(key), title, figures) for title, figures in (sets or {}).items()]
            self.made[key] = self.w.file.create_entity(
                kind, GlobalId=self.w.id("type", *key), Name=name[:120], HasPropertySets=held or None, PredefinedType=of
            )
        self.members.setdefault(key, []).append(element)

    def in_duct(self, part: InDuct) -> tuple[str, str]:
        """(class, what it is within it) of a part in a duct."""
        if part.kind == "attenuator":
            return "IfcDuctSilencer", "ROUND" if part.section.shape == "round" else "RECTANGULAR"
        if part.kind == "fire damper" and part.smoke:
            return "IfcDamper", "FIRESMOKEDAMPER"
        return IN_DUCTS[part.kind]

    def give_in_duct(self, element, part: InDuct) -> None:
        """The type of a part in a duct, with its fire class."""
        kind, of = self.in_duct(part)
        rated: Figures = (("FireResistanceRating", f"EI {part.fire_min}{' S' if part.smoke else ''}"),)
        sets = {"Pset_DamperTypeFireDamper": rated} if part.kind == "fire damper" and part.fire_min else None
        self.give(element, f"{kind}Type", f"{part.kind}, {part.model or part.section.label}", of, sets)

    def _set(self, key: str, title: str, figures: Figures):
        return self.w.file.createIfcPropertySet(
            self.w.id("type pset", key, title), None, title, None, self.w.values(figures)
        )

    def duct(self, element, section: Section, material: str, flexible: bool) -> None:
        """A duct of its section and material, with its nominal sizes."""
        wide, high = round(section.width_m * 1000), round(section.height_m * 1000)
        size = f"ø{wide}" if section.shape == "round" else f"{wide} × {high}"
        figures: list[tuple[str, float | str | bool]] = [("Shape", SHAPES[section.shape])]
        figures.append(("NominalDiameterOrWidth", float(section.width_m)))
        if section.shape != "round":
            figures.append(("NominalHeight", float(section.height_m)))
        of = "FLEXIBLESEGMENT" if flexible else "RIGIDSEGMENT"
        sets: dict[str, Figures] = {"Pset_DuctSegmentTypeCommon": tuple(figures)}
        self.give(element, "IfcDuctSegmentType", f"{material}, {size}", of, sets)
        self.materials.setdefault(material, []).append(element)

    def write(self) -> None:
        """The relations between types, materials and what has them."""
        for key, elements in self.members.items():
            self.w.related(
                "IfcRelDefinesByType", "type/" + "/".join(key), RelatedObjects=elements, RelatingType=self.made[key]
            )
        for name, elements in self.materials.items():
            self.w.related(
                "IfcRelAssociatesMaterial",
                f"material/{name}",
                RelatedObjects=elements,
                RelatingMaterial=self.w.file.createIfcMaterial(name, None, None),
            )


def unit_parts(w: Parts, types: Types, unit, system_id: str, parts: tuple[UnitPart, ...]) -> list:
    """The parts of a unit, in the order of the air, as what they are; in the unit, and members of its systems."""
    made = []
    for part in parts:
        if part.kind not in PARTS:
            continue
        kind, of = PARTS[part.kind]
        key = f"{system_id}/part/{part.id}"
        element = w.file.create_entity(
            kind,
            GlobalId=w.id(kind, key),
            Name=part.name,
            ObjectPlacement=w.placed(unit.ObjectPlacement),
            Tag=key[:80],
            PredefinedType=of,
        )
        w.properties(element, key, "Garnetfin_UnitPart", part.figures)
        if part.fan:
            w.properties(element, f"fan/{key}", "Garnetfin_Fan", part.fan)
            w.properties(element, f"common/{key}", "Pset_FanTypeCommon", _common_fan(dict(part.fan)))
        types.give(element, f"{kind}Type", part.model or part.name, of)
        made.append(element)
    if made:
        w.related("IfcRelAggregates", f"unit/{system_id}", RelatingObject=unit, RelatedObjects=made)
    return made


def _common_fan(fan: dict[str, float | str]) -> Figures:
    """A fan's duty as the schema names it; speeds in turns a second."""
    return (
        ("NominalAirFlowRate", float(fan["Flow"])),
        ("NominalTotalPressure", float(fan["TotalPressure"])),
        ("NominalRotationSpeed", float(fan["Speed"]) / 60.0),
        ("NominalPowerRate", float(fan["ElectricPower"])),
    )
