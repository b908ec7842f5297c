"""What the IFC files of this program hold, as an information delivery specification (IDS 1.0): others check a file
against it, or ask for one like it.
"""

from dataclasses import dataclass

NAMESPACE = "http://standards.buildingsmart.org/IDS"
SCHEMA = f"{NAMESPACE} {NAMESPACE}/1.0/ids.xsd"
INSTANCE = "http://www.w3.org/2001/XMLSchema-instance"
SYSTEM = "IFCDISTRIBUTIONSYSTEM"
FLOW, PRESSURE = "IFCVOLUMETRICFLOWRATEMEASURE", "IFCPRESSUREMEASURE"
TEMPERATURE, LENGTH = "IFCTHERMODYNAMICTEMPERATUREMEASURE", "IFCPOSITIVELENGTHMEASURE"


@dataclass(frozen=True, slots=True)
class Asked:
    """What things of a class must have: attributes, properties (set, name, measure), a material, a system."""

    name: str
    entity: str
    attributes: tuple[str, ...] = ()
    properties: tuple[tuple[str, str, str], ...] = ()
    material: bool = False
    system: bool = False


ASKED = (
    Asked(
        "Rooms carry number, name, set-points, people and area",
        "IFCSPACE",
        ("Name", "LongName"),
        (
            ("Pset_SpaceThermalRequirements", "SpaceTemperatureSummerMax", TEMPERATURE),
            ("Pset_SpaceThermalRequirements", "SpaceTemperatureWinterMin", TEMPERATURE),
            ("Pset_SpaceThermalRequirements", "AirConditioning", "IFCBOOLEAN"),
            ("Pset_SpaceOccupancyRequirements", "OccupancyNumber", "IFCCOUNTMEASURE"),
            ("Qto_SpaceBaseQuantities", "NetFloorArea", "IFCAREAMEASURE"),
        ),
    ),
    Asked(
        "Walls say whether they are outside, and their layers",
        "IFCWALL",
        (),
        (("Pset_WallCommon", "IsExternal", "IFCBOOLEAN"),),
        material=True,
    ),
    Asked(
        "Windows carry their U-value and solar gain",
        "IFCWINDOW",
        (),
        (
            ("Pset_WindowCommon", "ThermalTransmittance", "IFCTHERMALTRANSMITTANCEMEASURE"),
            ("Pset_DoorWindowGlazingType", "SolarHeatGainTransmittance", "IFCNORMALISEDRATIOMEASURE"),
        ),
    ),
    Asked(
        "Ducts carry flow, loss and nominal size, material and system",
        "IFCDUCTSEGMENT",
        ("Name",),
        (
            ("Garnetfin_Duct", "Flow", FLOW),
            ("Garnetfin_Duct", "Velocity", "IFCLINEARVELOCITYMEASURE"),
            ("Garnetfin_Duct", "PressureLoss", PRESSURE),
            ("Pset_DuctSegmentTypeCommon", "NominalDiameterOrWidth", LENGTH),
        ),
        material=True,
        system=True,
    ),
    Asked(
        "Fittings say what they are and belong to a system",
        "IFCDUCTFITTING",
        ("Name",),
        (("Garnetfin_Fitting", "Kind", "IFCLABEL"),),
        system=True,
    ),
    Asked(
        "Terminals carry their flow and belong to a system",
        "IFCAIRTERMINAL",
        ("Name",),
        (("Pset_AirTerminalOccurrence", "AirFlowRate", FLOW), ("Garnetfin_Terminal", "Pressure", PRESSURE)),
        system=True,
    ),
    Asked("Balancing dampers belong to a system", "IFCDAMPER", ("Name",), system=True),
    Asked("Air-handling units belong to a system", "IFCUNITARYEQUIPMENT", ("Name",), system=True),
    Asked("Fans of units belong to a system", "IFCFAN", ("Name",), system=True),
    Asked("Coils of units belong to a system", "IFCCOIL", ("Name",), system=True),
)


def write_ids(project: str, author: str, date: str) -> bytes:
    """Bytes of the specification. `author` is an e-mail address or ""; `date` as 2026-11-29."""
    from lxml import etree

    def put(parent, tag: str, text: str = "", **attributes: str):
        made = etree.SubElement(parent, f"{{{NAMESPACE}}}{tag}", attributes)
        if text:
            made.text = text
        return made

    def value(parent, name: str, text: str) -> None:
        put(put(parent, name), "simpleValue", text)

    root = etree.Element(f"{{{NAMESPACE}}}ids", nsmap={None: NAMESPACE, "xsi": INSTANCE})
    root.set(f"{{{INSTANCE}}}schemaLocation", SCHEMA)
    info = put(root, "info")
    put(info, "title", f"Air systems and rooms of {project}")
    put(info, "description", "What a file of rooms, ducts, terminals and units has to hold to be computed from.")
    if author:
        put(info, "author", author)
    put(info, "date", date)
    held = put(root, "specifications")
    for asked in ASKED:
        one = put(held, "specification", name=asked.name, ifcVersion="IFC4")
        found = put(one, "applicability", minOccurs="0", maxOccurs="unbounded")
        value(put(found, "entity"), "name", asked.entity)
        wanted = put(one, "requirements")
        if asked.system:
            part = put(wanted, "partOf", relation="IFCRELASSIGNSTOGROUP", cardinality="required")
            value(put(part, "entity"), "name", SYSTEM)
        for attribute in asked.attributes:
            value(put(wanted, "attribute", cardinality="required"), "name", attribute)
        for group, name, measure in asked.properties:
            made = put(wanted, "property", dataType=measure, cardinality="required")
            value(made, "propertySet", group)
            value(made, "baseName", name)
        if asked.material:
            put(wanted, "material", cardinality="required")
    return etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True)
