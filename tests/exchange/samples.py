"""Small buildings and foreign files made on the spot, so that no file of anybody else is needed."""

from pathlib import Path

from msgspec import structs

from garnetfin.core.outlines import area_of
from garnetfin.project.derive import derive
from garnetfin.project.edits.openings import AddOpening
from garnetfin.project.lookup import walls_of
from garnetfin.project.new import new_project
from garnetfin.project.spaces import Level, Room
from garnetfin.project.tree import Project
from tests.project.test_shape import box


def tower(levels: int, across: int, along: int = 2, windows: bool = True, gap_m: float = 0.0) -> Project:
    """Levels of `across` x `along` rooms of 4 x 5 m, a window in every outside wall."""
    project = new_project()
    storeys = tuple(Level(id=f"L{k}", name=f"Level {k}", elevation_m=3.4 * k, storey_m=3.4) for k in range(levels))
    rooms = tuple(
        Room(
            id=f"n{k * across * along + j * across + i + 1}",
            number=f"{k}.{j * across + i + 1:02d}",
            name=f"Office {i}",
            level_id=f"L{k}",
            outline=box(i * 4 + gap_m / 2, j * 5 + gap_m / 2, i * 4 + 4 - gap_m / 2, j * 5 + 5 - gap_m / 2),
            use_id="office_single",
            ceiling_m=3.0,
            system_id="ahu1",
        )
        for k in range(levels)
        for j in range(along)
        for i in range(across)
    )
    project = derive(structs.replace(project, levels=storeys, rooms=rooms), {r.id for r in rooms})
    if windows:
        for room in rooms:
            for wall in walls_of(project.walls, room.id):
                if wall.outside:
                    project = AddOpening(wall.id, "window", wall.length_m / 2).apply(project)
    return project


def write_ifc(
    project: Project, path: Path, boundaries: bool = False, millimetres: bool = True, spaces: bool = True
) -> Path:
    """The rooms, walls and windows of a project as IFC4, with or without space boundaries that carry polygons."""
    import ifcopenshell

    f = ifcopenshell.file(schema="IFC4")
    k = 1000.0 if millimetres else 1.0
    n = 0

    def guid() -> str:
        nonlocal n
        n += 1
        return f"{n:022d}"

    def point(*xyz):
        return f.create_entity("IfcCartesianPoint", Coordinates=tuple(float(v) * k for v in xyz))

    def direction(*xyz):
        return f.create_entity("IfcDirection", DirectionRatios=tuple(float(v) for v in xyz))

    def placed(x=0.0, y=0.0, z=0.0, u=(1.0, 0.0), to=None):
        axis = f.create_entity(
            "IfcAxis2Placement3D",
            Location=point(x, y, z),
            Axis=direction(0, 0, 1),
            RefDirection=direction(u[0], u[1], 0),
        )
        return f.create_entity("IfcLocalPlacement", PlacementRelTo=to, RelativePlacement=axis)

    length = f.create_entity("IfcSIUnit", UnitType="LENGTHUNIT", Prefix="MILLI" if millimetres else None, Name="METRE")
    units = f.create_entity("IfcUnitAssignment", Units=(length,))
    world = f.create_entity(
        "IfcGeometricRepresentationContext",
        ContextType="Model",
        CoordinateSpaceDimension=3,
        Precision=1e-5,
        WorldCoordinateSystem=f.create_entity("IfcAxis2Placement3D", Location=point(0, 0, 0)),
    )
    whole = f.create_entity(
        "IfcProject", GlobalId=guid(), Name=project.name, UnitsInContext=units, RepresentationContexts=(world,)
    )
    building = f.create_entity("IfcBuilding", GlobalId=guid(), Name=project.name, ObjectPlacement=placed())
    f.create_entity("IfcRelAggregates", GlobalId=guid(), RelatingObject=whole, RelatedObjects=(building,))
    storeys = {
        x.id: f.create_entity(
            "IfcBuildingStorey",
            GlobalId=guid(),
            Name=x.name,
            Elevation=x.elevation_m * k,
            ObjectPlacement=placed(z=x.elevation_m),
        )
        for x in project.levels
    }
    f.create_entity(
        "IfcRelAggregates", GlobalId=guid(), RelatingObject=building, RelatedObjects=tuple(storeys.values())
    )
    made = {}
    for room in project.rooms if spaces else ():
        at = storeys[room.level_id].ObjectPlacement
        loop = f.create_entity(
            "IfcPolyline",
            Points=tuple(
                f.create_entity("IfcCartesianPoint", Coordinates=(x * k, y * k))
                for x, y in (*room.outline, room.outline[0])
            ),
        )
        profile = f.create_entity("IfcArbitraryClosedProfileDef", ProfileType="AREA", OuterCurve=loop)
        solid = f.create_entity(
            "IfcExtrudedAreaSolid", SweptArea=profile, ExtrudedDirection=direction(0, 0, 1), Depth=room.ceiling_m * k
        )
        shape = f.create_entity(
            "IfcProductDefinitionShape",
            Representations=(
                f.create_entity(
                    "IfcShapeRepresentation",
                    ContextOfItems=world,
                    RepresentationIdentifier="Body",
                    RepresentationType="SweptSolid",
                    Items=(solid,),
                ),
            ),
        )
        made[room.id] = f.create_entity(
            "IfcSpace",
            GlobalId=guid(),
            Name=room.number,
            LongName=room.name,
            ObjectPlacement=placed(to=at),
            Representation=shape,
        )
    for level_id, storey in storeys.items():
        own = tuple(made[r.id] for r in project.rooms if r.level_id == level_id and r.id in made)
        if own:
            f.create_entity("IfcRelAggregates", GlobalId=guid(), RelatingObject=storey, RelatedObjects=own)
    layers = tuple(
        f.create_entity("IfcMaterialLayer", Material=f.create_entity("IfcMaterial", Name=name), LayerThickness=t * k)
        for name, t in (("Plasterboard", 0.0125), ("Mineral wool insulation", 0.2), ("Concrete", 0.15))
    )
    outer = f.create_entity("IfcMaterialLayerSet", MaterialLayers=layers, LayerSetName="Outer wall")
    yes = f.create_entity("IfcPropertySingleValue", Name="IsExternal", NominalValue=f.create_entity("IfcBoolean", True))
    windows = []
    for wall in project.walls:
        level = next(x for x in project.levels if x.id == wall.level_id)
        (x0, y0), (x1, y1) = wall.start, wall.end
        u = ((x1 - x0) / wall.length_m, (y1 - y0) / wall.length_m)
        host = f.create_entity(
            "IfcWall", GlobalId=guid(), Name=wall.id, ObjectPlacement=placed(x0, y0, level.elevation_m, u)
        )
        if wall.outside:
            f.create_entity("IfcRelAssociatesMaterial", GlobalId=guid(), RelatedObjects=(host,), RelatingMaterial=outer)
            f.create_entity(
                "IfcRelDefinesByProperties",
                GlobalId=guid(),
                RelatedObjects=(host,),
                RelatingPropertyDefinition=f.create_entity(
                    "IfcPropertySet", GlobalId=guid(), Name="Pset_WallCommon", HasProperties=(yes,)
                ),
            )
        sides = [(wall.room_a, 1)] + ([(wall.room_b, -1)] if wall.room_b in made else [])

        def bound(room_id, element, left, right, low, high, turn, x0=x0, y0=y0, u=u, wall=wall):
            """A polygon on the wall's plane in the placement of the space; outward is to the right of start-end for
            room_a.
            """
            origin = (x0 + u[0] * (left if turn > 0 else right), y0 + u[1] * (left if turn > 0 else right))
            along = (u[0] * turn, u[1] * turn, 0)
            normal = (along[1], -along[0], 0)
            plane = f.create_entity(
                "IfcPlane",
                Position=f.create_entity(
                    "IfcAxis2Placement3D",
                    Location=point(*origin, low),
                    Axis=direction(*normal),
                    RefDirection=direction(*along),
                ),
            )
            w, h = (right - left) * k, (high - low) * k
            edge = f.create_entity(
                "IfcPolyline",
                Points=tuple(
                    f.create_entity("IfcCartesianPoint", Coordinates=c)
                    for c in ((0.0, 0.0), (w, 0.0), (w, h), (0.0, h), (0.0, 0.0))
                ),
            )
            surface = f.create_entity(
                "IfcCurveBoundedPlane", BasisSurface=plane, OuterBoundary=edge, InnerBoundaries=()
            )
            f.create_entity(
                "IfcRelSpaceBoundary",
                GlobalId=guid(),
                RelatingSpace=made[room_id],
                RelatedBuildingElement=element,
                ConnectionGeometry=f.create_entity("IfcConnectionSurfaceGeometry", SurfaceOnRelatingElement=surface),
                PhysicalOrVirtualBoundary="PHYSICAL",
                InternalOrExternalBoundary="EXTERNAL" if wall.outside else "INTERNAL",
            )

        if boundaries and wall.room_a in made:
            for room_id, turn in sides:
                bound(room_id, host, 0.0, wall.length_m, 0.0, wall.height_m, turn)
        for o in wall.openings:
            left = o.at_m - o.width_m / 2
            window = f.create_entity(
                "IfcWindow" if o.glazing_id else "IfcDoor",
                GlobalId=guid(),
                Name=o.id,
                OverallWidth=o.width_m * k,
                OverallHeight=o.height_m * k,
                ObjectPlacement=placed(x0 + u[0] * left, y0 + u[1] * left, level.elevation_m + o.sill_m, u),
            )
            windows.append(window)
            if boundaries and wall.room_a in made:
                bound(wall.room_a, window, left, left + o.width_m, o.sill_m, o.head_m, 1)
    if windows:
        values = tuple(
            f.create_entity("IfcPropertySingleValue", Name=name, NominalValue=f.create_entity("IfcReal", value))
            for name, value in (("ThermalTransmittance", 0.9), ("SolarHeatGainTransmittance", 0.4))
        )
        f.create_entity(
            "IfcRelDefinesByProperties",
            GlobalId=guid(),
            RelatedObjects=tuple(windows),
            RelatingPropertyDefinition=f.create_entity(
                "IfcPropertySet", GlobalId=guid(), Name="Pset_WindowCommon", HasProperties=values
            ),
        )
    f.write(str(path))
    return path


def write_dxf(path: Path, unit: int = 4, rooms: int = 2, door: bool = True) -> Path:
    """Rooms of 4 x 5 m between walls of 0.2 m in a row as lines, with a door gap, furniture as a block, a column as a
    circle.
    """
    import ezdxf

    k = {4: 1000.0, 6: 1.0, 2: 1 / 0.3048, 0: 1.0}[unit]
    doc = ezdxf.new("R2010")
    doc.header["$INSUNITS"] = unit
    for name in ("WALLS", "FURNITURE", "GRID"):
        doc.layers.add(name)
    doc.layers.get("GRID").off()
    space = doc.modelspace()
    for i in range(rooms):
        x0, x1 = i * 4.2, i * 4.2 + 4.0
        corners = [(x0, 0), (x1, 0), (x1, 5), (x0, 5)]
        if door:
            corners = [(x0 + 1.0, 5), (x0, 5), (x0, 0), (x1, 0), (x1, 5), (x0 + 1.9, 5)]
        space.add_lwpolyline([(x * k, y * k) for x, y in corners], close=not door, dxfattribs={"layer": "WALLS"})
    desk = doc.blocks.new("DESK")
    desk.add_line((0, 0), (1.6 * k, 0))
    space.add_blockref("DESK", (1 * k, 1 * k), dxfattribs={"layer": "FURNITURE"})
    space.add_circle((2 * k, 8 * k), 0.3 * k, dxfattribs={"layer": "GRID"})
    doc.saveas(path)
    return path


def floor_of(project: Project) -> float:
    return sum(area_of(r.outline) for r in project.rooms)


def add_beam(path: Path, at=(0.0, 2.0, 2.7), length: float = 4.0) -> Path:
    """A beam of 0.3 x 0.2 m along x into an IFC file in metres, as a structural engineer draws it."""
    import ifcopenshell

    f = ifcopenshell.open(str(path))
    make = f.create_entity
    direction = [make("IfcDirection", DirectionRatios=v) for v in ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))]
    start = make("IfcCartesianPoint", Coordinates=at)
    zero = make("IfcCartesianPoint", Coordinates=(0.0, 0.0, 0.0))
    solid = make(
        "IfcExtrudedAreaSolid",
        SweptArea=make("IfcRectangleProfileDef", ProfileType="AREA", XDim=0.3, YDim=0.2),
        Position=make("IfcAxis2Placement3D", Location=start, Axis=direction[0], RefDirection=direction[1]),
        ExtrudedDirection=direction[2],
        Depth=length,
    )
    shape = make(
        "IfcShapeRepresentation",
        ContextOfItems=f.by_type("IfcGeometricRepresentationContext")[0],
        RepresentationIdentifier="Body",
        RepresentationType="SweptSolid",
        Items=(solid,),
    )
    make(
        "IfcBeam",
        GlobalId="b".rjust(22, "0"),
        ObjectPlacement=make("IfcLocalPlacement", RelativePlacement=make("IfcAxis2Placement3D", Location=zero)),
        Representation=make("IfcProductDefinitionShape", Representations=(shape,)),
    )
    f.write(str(path))
    return path
