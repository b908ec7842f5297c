"""The building as gbXML 6.01: spaces, surfaces with adjacency, openings, constructions, window types, zones."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import cos, radians, sin, tan

from garnetfin.core.adjacency import Outline, anticlockwise
from garnetfin.core.outlines import area_of, inside
from garnetfin.core.tables import materials
from garnetfin.core.texts import readable
from garnetfin.project.derive import present
from garnetfin.project.fabric import BuildUp, BuildUpLayer, Glazing
from garnetfin.project.lookup import find
from garnetfin.project.spaces import NO_ROOM, OUTSIDE, SHAFT, Opening, PlanMark, Room, Slab, Wall
from garnetfin.project.systems import Zone
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

NAMESPACE = "http://www.gbxml.org/schema"
FILMS_M2K_W = 0.17  # inside 0.13 and outside 0.04, horizontal heat flow (ISO 6946)
OPENING_TYPES = {
    "window": "FixedWindow",
    "glass wall": "FixedWindow",
    "door": "NonSlidingDoor",
    "outside door": "NonSlidingDoor",
}
# What each room is counted with: people, lights [W/m2], equipment [W/m2], area [m2], volume [m3].
Figures = Mapping[str, tuple[float, float, float, float, float]]


@dataclass(frozen=True, slots=True)
class RoomLoads:
    """Loads of a room [W]: hour by hour of the month of its peak (0..11), heating; supply air [m3/s], None without."""

    month: int
    cooling_w: tuple[float, ...]
    heating_w: float
    flow_m3s: float | None


# What the schema has no place for, kept in the description of a space: field of the room, word.
SPOKEN = (
    ("heating_c", "heating"),
    ("cooling_c", "cooling"),
    ("outdoor_m3s", "outdoor"),
    ("extract_m3s", "extract"),
    ("supply_m3s", "supply"),
    ("infiltration_1h", "infiltration"),
    ("air_change_1h", "airchange"),
)
LEAST_PART_M = 0.01  # of a wall, in the ground or above it


def write_gbxml(project: Project, figures: Figures = {}, loads: Mapping[str, RoomLoads] = {}) -> bytes:  # noqa: B006  (read only)
    """Bytes of the file. Areas of surfaces are those of the project; figures fill in what rooms leave to the rule."""
    from lxml import etree

    root = etree.Element(
        f"{{{NAMESPACE}}}gbXML",
        nsmap={None: NAMESPACE},
        temperatureUnit="C",
        lengthUnit="Meters",
        areaUnit="SquareMeters",
        volumeUnit="CubicMeters",
        useSIUnitsForResults="true",
        version="6.01",
    )
    _Writer(project, figures, root, etree, loads).write()
    return etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True)


class _Writer:
    def __init__(self, project: Project, figures: Figures, root, etree, loads: Mapping[str, RoomLoads]) -> None:
        self.loads = loads
        self.project, self.figures, self.root, self.etree = project, figures, root, etree
        self.shafts = tuple(m for m in project.plan_marks if m.kind == "shaft")
        levels = sorted(project.levels, key=lambda x: x.elevation_m)
        self.levels = {x.id: x for x in levels}
        # A room reaches up to the top of the highest level it stands on.
        self.top: dict[str, float] = {}
        for level in levels:
            for room_id in present(project, level):
                self.top[room_id] = level.elevation_m + level.storey_m
        for room in project.rooms:
            self.top.setdefault(room.id, self.levels[room.level_id].elevation_m + room.ceiling_m)
        self.ids: dict[str, str] = {}

    def id(self, kind: str, own: str) -> str:
        """An XML id for one of ours, without signs an id may not have."""
        key = f"{kind}-{own}"
        if key not in self.ids:
            plain = "".join(c if c.isascii() and (c.isalnum() or c in "-_.") else "_" for c in key)
            while plain in self.ids.values():
                plain += "_"
            self.ids[key] = plain
        return self.ids[key]

    def add(self, parent, name: str, text: str | float | None = None, **attributes: str):
        made = self.etree.SubElement(parent, f"{{{NAMESPACE}}}{name}", **attributes)
        if text is not None:
            made.text = f"{text:.9g}" if isinstance(text, float) else readable(str(text))
        return made

    def write(self) -> None:
        project, site = self.project, self.project.site
        campus = self.add(self.root, "Campus", id="campus")
        place = self.add(campus, "Location")
        self.add(place, "Name", site.name if site else project.name)
        # the schema asks for one; the place is given by its coordinates
        self.add(place, "ZipcodeOrPostalCode", "00000")
        if site:
            self.add(place, "Latitude", float(site.latitude_deg))
            self.add(place, "Longitude", float(site.longitude_deg))
            self.add(place, "Elevation", float(site.altitude_m))
            self.add(place, "CADModelAzimuth", float(site.north_deg % 360))
        building = self.add(campus, "Building", id="building", buildingType="Unknown")
        self.add(building, "Name", project.name)
        self.add(building, "Area", float(sum(self._area(r) for r in project.rooms)))
        for level in self.levels.values():
            storey = self.add(building, "BuildingStorey", id=self.id("level", level.id))
            self.add(storey, "Name", level.name)
            self.add(storey, "Level", float(level.elevation_m))
        for room in project.rooms:
            self._space(building, room)
        for mark in self.shafts:
            self._shaft(building, mark)
        for wall in project.walls:
            self._wall(campus, wall)
        for slab in project.slabs:
            self._slab(campus, slab)
        for build_up in project.build_ups:
            self._construction(build_up)
        for glazing in project.glazings:
            self._glazing(glazing)
        for zone in project.zones:
            self._zone(zone)
        for room_id, found in self.loads.items():
            self._results(room_id, found)

    def _glazing(self, glazing: Glazing) -> None:
        kind = self.add(self.root, "WindowType", id=self.id("glazing", glazing.id))
        self.add(kind, "Name", glazing.name)
        self.add(
            kind,
            "Description",
            f"panes={glazing.panes} frame={glazing.frame_share:g} angle={glazing.angle_class:g} "
            f"diffuse={glazing.diffuse_ratio:g}",
        )
        self.add(kind, "U-value", float(glazing.u_w_m2k), unit="WPerSquareMeterK")
        self.add(kind, "SolarHeatGainCoeff", float(glazing.g), unit="Fraction", solarIncidentAngle="0")
        self.add(kind, "Transmittance", float(glazing.tau_e), unit="Fraction", type="Solar", surfaceType="Both")

    def _zone(self, zone: Zone) -> None:
        made = self.add(self.root, "Zone", id=self.id("zone", zone.id))
        self.add(made, "Name", zone.name)
        for field, name in (("heating_c", "DesignHeatT"), ("cooling_c", "DesignCoolT")):
            value = getattr(zone, field)
            if not isinstance(value, Rule):
                self.add(made, name, float(value.value), unit="C")

    def _results(self, room_id: str, found: RoomLoads) -> None:
        """Loads of a room: its cooling through the day of its peak, its heating, its supply air."""
        kinds = (
            ("CoolingLoad", "Watt", "ChilledWater", found.cooling_w, f"2001-{found.month + 1:02d}-21T00:00:00"),
            ("HeatLoad", "Watt", "HotWater", (found.heating_w,), "2001-01-21T00:00:00"),
            *(
                (("Flow", "LPerSec", "Electricity", (found.flow_m3s * 1000,), "2001-01-21T00:00:00"),)
                if found.flow_m3s is not None
                else ()
            ),
        )
        for kind, unit, resource, values, start in kinds:
            made = self.add(
                self.root,
                "Results",
                id=self.id(kind, room_id),
                unit=unit,
                resultsType=kind,
                resourceType=resource,
                valueType="Simulated",
                startTime=start,
                **({"timeIncrement": "PT1H"} if len(values) > 1 else {}),
            )
            self.add(made, "ObjectId", self.id("room", room_id))
            for value in values:
                self.add(made, "Value", float(value))

    def _area(self, room: Room) -> float:
        if room.id in self.figures:
            return self.figures[room.id][3]
        return area_of(room.outline) if isinstance(room.area_m2, Rule) else room.area_m2.value

    # -- spaces --------------------------------------------------------------------------------------------------
    def _space(self, building, room: Room) -> None:
        zone = {"zoneIdRef": self.id("zone", room.zone_id)} if room.zone_id else {}
        space = self.add(
            building,
            "Space",
            id=self.id("room", room.id),
            buildingStoreyIdRef=self.id("level", room.level_id),
            conditionType="HeatedAndCooled" if room.system_id else "Unconditioned",
            **zone,
        )
        self.add(space, "Name", f"{room.number} {room.name}")
        own = [
            f"{word}={value.value:.9g}" for field, word in SPOKEN if not isinstance(value := getattr(room, field), Rule)
        ]
        told = " ".join([f"use={room.use_id}", *own]) + (" list" if room.sketched else "")
        self.add(space, "Description", told)
        people, lights, equipment, area, volume = self.figures.get(room.id, (None, None, None, self._area(room), None))
        for name, unit, value, figure in (
            ("PeopleNumber", "NumberOfPeople", room.people, people),
            ("LightPowerPerArea", "WattPerSquareMeter", room.lights_w_m2, lights),
            ("EquipPowerPerArea", "WattPerSquareMeter", room.equipment_w_m2, equipment),
        ):
            given = figure if isinstance(value, Rule) else value.value
            if given is not None:
                self.add(space, name, float(given), unit=unit)
        self.add(space, "Area", float(area))
        self.add(space, "Volume", float(volume if volume is not None else area * room.ceiling_m))
        z = self.levels[room.level_id].elevation_m
        self._polygon(self.add(space, "PlanarGeometry"), [(x, y, z) for x, y in anticlockwise(room.outline)])
        self.add(space, "CADObjectId", room.number)

    def _shaft(self, building, mark: PlanMark) -> None:
        """A shaft as a space without plant, which its description tells from a room."""
        level = self.levels[mark.level_id]
        space = self.add(
            building,
            "Space",
            id=self.id("shaft", mark.id),
            buildingStoreyIdRef=self.id("level", mark.level_id),
            conditionType="Unconditioned",
        )
        self.add(space, "Name", mark.label or "Shaft")
        self.add(space, "Description", "shaft")
        self.add(space, "Area", float(mark.area_m2))
        self.add(space, "Volume", float(mark.area_m2 * level.storey_m))
        corners = [(x, y, level.elevation_m) for x, y in anticlockwise(mark.outline)]
        self._polygon(self.add(space, "PlanarGeometry"), corners)

    def _beyond(self, wall: Wall) -> str:
        """Id of what a wall borders on: a shaft by the nearest one of its level."""
        if wall.room_b != SHAFT:
            return self.id("room", wall.room_b) if wall.room_b not in NO_ROOM else ""
        from shapely import LineString, Polygon

        line = LineString((wall.start, wall.end))
        near = [(Polygon(m.outline).distance(line), m.id) for m in self.shafts if m.level_id == wall.level_id]
        return self.id("shaft", min(near)[1]) if near else ""

    def _polygon(self, parent, points: list[tuple[float, float, float]]) -> None:
        loop = self.add(parent, "PolyLoop")
        for point in points:
            at = self.add(loop, "CartesianPoint")
            for value in point:
                self.add(at, "Coordinate", f"{value:.9f}".rstrip("0").rstrip("."))

    # -- walls ---------------------------------------------------------------------------------------------------
    def _wall(self, campus, wall: Wall) -> None:
        """A wall, its part in the ground as a surface of its own where no opening stands in the way."""
        buried = wall.buried_m if wall.outside else 0.0
        whole = buried > wall.height_m - LEAST_PART_M
        if buried < LEAST_PART_M or any(o.sill_m < buried for o in wall.openings):
            self._upright(campus, wall, "wall", 0.0, wall.height_m)
        else:
            self._upright(campus, wall, "wall-in-ground", 0.0, wall.height_m if whole else buried)
            if not whole:
                self._upright(campus, wall, "wall", buried, wall.height_m)

    def _upright(self, campus, wall: Wall, word: str, low: float, high: float) -> None:
        # A wall stored under no room of its own side is turned, so that the first space is always a room.
        outside = wall.outside
        start, end, flipped = self._outward(wall)
        z = self.levels[wall.level_id].elevation_m
        corners = [(*start, z + low), (*end, z + low), (*end, z + high), (*start, z + high)]
        surface = self._surface(
            campus,
            self.id(word, wall.id),
            "UndergroundWall" if word != "wall" else "ExteriorWall" if outside else "InteriorWall",
            wall.build_up_id,
            wall.room_a,
            wall.room_b,
            corners,
            self._beyond(wall),
        )
        length = wall.length_m
        u = ((end[0] - start[0]) / length, (end[1] - start[1]) / length)
        for o in wall.openings if word == "wall" else ():
            at = length - o.at_m if flipped else o.at_m
            left, right = at - o.width_m / 2, at + o.width_m / 2
            points = [
                (start[0] + u[0] * t, start[1] + u[1] * t, z + h)
                for t, h in ((left, o.sill_m), (right, o.sill_m), (right, o.head_m), (left, o.head_m))
            ]
            self._opening(surface, wall, o, points)

    def _outward(self, wall: Wall) -> tuple[tuple, tuple, bool]:
        """Start and end with the first room to the left, and whether they had to change places."""
        (x0, y0), (x1, y1) = wall.start, wall.end
        nx, ny = (y1 - y0) / wall.length_m, -(x1 - x0) / wall.length_m
        north = self.project.site.north_deg if self.project.site else 0.0
        if wall.outside:
            turn = radians(wall.facing_deg - north)
            wrong = nx * sin(turn) + ny * cos(turn) < 0
        else:
            room = find(self.project.rooms, wall.room_a)
            middle = ((x0 + x1) / 2, (y0 + y1) / 2)
            wrong = room is not None and inside(room.outline, (middle[0] + nx * 0.15, middle[1] + ny * 0.15))
        return (wall.end, wall.start, True) if wrong else (wall.start, wall.end, False)

    def _surface(
        self,
        campus,
        surface_id: str,
        kind: str,
        build_up_id: str,
        first: str,
        second: str,
        corners: list,
        beyond: str = "",
    ):
        """A surface of the first room; `beyond`: id of the space behind it where it is no room of its own."""
        surface = self.add(
            campus,
            "Surface",
            id=surface_id,
            surfaceType=kind,
            constructionIdRef=self.id("build-up", build_up_id),
            exposedToSun="true" if kind in ("ExteriorWall", "Roof") else "false",
        )
        self.add(surface, "AdjacentSpaceId", spaceIdRef=self.id("room", first))
        if second != OUTSIDE:
            # an equally warm neighbour that is not drawn: the space itself
            other = beyond or self.id("room", first if second in NO_ROOM else second)
            self.add(surface, "AdjacentSpaceId", spaceIdRef=other)
        self._polygon(self.add(surface, "PlanarGeometry"), corners)
        return surface

    def _opening(self, surface, wall: Wall, o: Opening, points: list) -> None:
        glazing = {"windowTypeIdRef": self.id("glazing", o.glazing_id)} if o.glazing_id else {}
        made = self.add(
            surface, "Opening", id=self.id(f"opening-{wall.id}", o.id), openingType=OPENING_TYPES[o.kind], **glazing
        )
        self.add(made, "Name", o.kind)
        if not o.glazing_id:
            self.add(made, "U-value", float(o.door_u_w_m2k), unit="WPerSquareMeterK")
        self._polygon(self.add(made, "PlanarGeometry"), points)

    # -- slabs ---------------------------------------------------------------------------------------------------
    def _slab(self, campus, slab: Slab) -> None:
        first, second, kind = {
            "roof": (slab.room_below, OUTSIDE, "Roof"),
            "ground": (slab.room_above, OUTSIDE, "SlabOnGrade"),
            "exposed": (slab.room_above, OUTSIDE, "RaisedFloor"),
            "between": (slab.room_above, slab.room_below, "InteriorFloor"),
        }[slab.kind]
        if slab.kind == "between" and first in NO_ROOM:
            first, second = second, first
        if first in NO_ROOM:
            return
        for k, points in enumerate(self._slab_polygons(slab, first)):
            own = self.id("slab", slab.id if not k else f"{slab.id}.{k}")
            surface = self._surface(campus, own, kind, slab.build_up_id, first, second, points)
            if slab.kind == "ground" and not k:
                note = self.etree.Element(f"{{{NAMESPACE}}}Description")
                note.text = f"perimeter={slab.perimeter_m:.6f}"
                surface.insert(0, note)

    def _slab_polygons(self, slab: Slab, first: str) -> list[list[tuple[float, float, float]]]:
        """Polygons in plan where the slab lies, together exactly as large as the slab is."""
        rooms = {r.id: r for r in self.project.rooms}
        mine, above = rooms[first], first == slab.room_above
        shapes = _parts(
            mine.outline,
            rooms[other].outline if (other := slab.room_below if above else slab.room_above) in rooms else None,
            [r.outline for r in self._stacked(mine, above)] if slab.kind != "between" else [],
        )
        total = sum(area_of(s) for s in shapes)
        if total <= 1e-6:
            shapes, total = [anticlockwise(mine.outline)], area_of(mine.outline)
        factor = (slab.area_m2 / total) ** 0.5
        z = self.levels[mine.level_id].elevation_m if above else self.top[first]
        made = []
        for shape in shapes:
            mx, my = sum(p[0] for p in shape) / len(shape), sum(p[1] for p in shape) / len(shape)
            points = [(mx + (x - mx) * factor, my + (y - my) * factor) for x, y in shape]
            # Roofs look up, floors look down: away from the first space.
            made.append(self._tilted(points if slab.kind == "roof" or not above else points[::-1], slab, z))
        return made

    def _tilted(self, points: list, slab: Slab, z: float) -> list[tuple[float, float, float]]:
        if not slab.tilt_deg or slab.kind != "roof":
            return [(x, y, z) for x, y in points]
        north = self.project.site.north_deg if self.project.site else 0.0
        turn, slope = radians(slab.azimuth_deg - north), tan(radians(slab.tilt_deg))
        along = [x * sin(turn) + y * cos(turn) for x, y in points]
        lowest = max(along)
        return [(x, y, z + (lowest - a) * slope) for (x, y), a in zip(points, along)]

    def _stacked(self, room: Room, below: bool) -> list[Room]:
        """Rooms directly under (or over) a room: what they cover is no floor to outdoors (or no roof)."""
        z = self.levels[room.level_id].elevation_m if below else self.top[room.id]
        if below:
            return [
                r for r in self.project.rooms if r.id != room.id and not r.sketched and abs(self.top[r.id] - z) < 0.6
            ]
        return [
            r
            for r in self.project.rooms
            if r.id != room.id and not r.sketched and abs(self.levels[r.level_id].elevation_m - z) < 0.6
        ]

    # -- constructions -------------------------------------------------------------------------------------------
    def _construction(self, build_up: BuildUp) -> None:
        own = self.id("build-up", build_up.id)
        figures = [_figures(layer) for layer in build_up.layers]
        construction = self.add(self.root, "Construction", id=own)
        self.add(
            construction, "U-value", float(1 / (FILMS_M2K_W + sum(f[4] for f in figures))), unit="WPerSquareMeterK"
        )
        self.add(construction, "Absorptance", float(build_up.absorptance), unit="Fraction", type="ExtSolar")
        if not isinstance(build_up.inside_absorptance, Rule):
            self.add(construction, "Absorptance", build_up.inside_absorptance.value, unit="Fraction", type="IntSolar")
        self.add(construction, "LayerId", layerIdRef=f"{own}-layers")
        self.add(construction, "Name", build_up.name)
        layers = self.add(self.root, "Layer", id=f"{own}-layers")
        # In the file the first layer is the one outdoors.
        for k in reversed(range(len(figures))):
            self.add(layers, "MaterialId", materialIdRef=f"{own}-m{k}")
        for k, (name, thickness, conductivity, (density, heat), r) in enumerate(figures):
            material = self.add(self.root, "Material", id=f"{own}-m{k}")
            self.add(material, "Name", name)
            self.add(material, "R-value", float(r), unit="SquareMeterKPerW")
            if conductivity:
                self.add(material, "Thickness", float(thickness), unit="Meters")
                self.add(material, "Conductivity", float(conductivity), unit="WPerMeterK")
                self.add(material, "Density", float(density), unit="KgPerCubicM")
                self.add(material, "SpecificHeat", float(heat), unit="JPerKgK")


def _figures(layer: BuildUpLayer) -> tuple[str, float, float, tuple[float, float], float]:
    """(name, thickness, conductivity, (density, heat), resistance); conductivity 0 for a resistance alone."""
    if layer.own:
        return (
            layer.name or "layer",
            layer.thickness_m,
            layer.conductivity_w_mk,
            (layer.density_kg_m3, layer.specific_heat_j_kgk),
            (layer.thickness_m / layer.conductivity_w_mk),
        )
    material = materials().get(layer.material)
    if material is None:
        return layer.name or "air gap", layer.thickness_m, 0.0, (0.0, 0.0), layer.resistance_m2k_w or 0.1
    k = layer.conductivity_w_mk or material.conductivity_w_mk
    return (
        layer.name or material.name,
        layer.thickness_m,
        k,
        (material.density_kg_m3, material.specific_heat_j_kgk),
        layer.thickness_m / k,
    )


def _parts(mine: Outline, other: Outline | None, without: list[Outline]) -> list[Outline]:
    """Pieces without holes of an outline: what it shares with another, or what no other covers."""
    from shapely import Polygon, box, unary_union

    shape = Polygon(mine).buffer(0)
    if other is not None:
        shape = shape.intersection(Polygon(other).buffer(0))
    elif without:
        shape = shape.difference(unary_union([Polygon(o).buffer(0) for o in without]))
    waiting, found = list(getattr(shape, "geoms", [shape])), []
    while waiting:
        piece = waiting.pop()
        if piece.geom_type != "Polygon" or piece.area < 0.01:
            continue
        if not piece.interiors:
            found.append(anticlockwise(tuple(piece.exterior.coords)[:-1]))
            continue
        # A hole is opened by cutting the piece in two through it.
        x0, y0, x1, y1 = piece.bounds
        x = piece.interiors[0].centroid.x
        for half in (box(x0 - 1, y0 - 1, x, y1 + 1), box(x, y0 - 1, x1 + 1, y1 + 1)):
            waiting += getattr(cut := piece.intersection(half), "geoms", [cut])
    return found
