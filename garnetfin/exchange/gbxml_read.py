"""gbXML into a draft: levels, spaces, surfaces with adjacency, openings, constructions, window types, zones."""

import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
from msgspec import structs
from numpy.typing import NDArray

from garnetfin.core.errors import FileError, GarnetfinError
from garnetfin.core.outlines import area_of, tidy
from garnetfin.exchange.faces import RawFace, RawOpening, area_vector, build_faces, floor_outline
from garnetfin.exchange.gbxml_write import SPOKEN
from garnetfin.project.draft import MOST_NOTES, Asked, Draft, Note, NoteKind
from garnetfin.project.fabric import BuildUp, BuildUpLayer, Glazing
from garnetfin.project.new import usual_build_ups
from garnetfin.project.spaces import INSIDE, SHAFT, Level, PlanMark, Room
from garnetfin.project.systems import Zone
from garnetfin.project.uses import use_of
from garnetfin.project.values import Imported, Rule, Value

ACCEPTED = "gbXML with Campus, Building and Space elements is accepted"
MOST_ELEMENTS = 3_000_000
FILMS_M2K_W = 0.17
DEFAULT_BUILD_UP = "default"
AREA_OFF = 0.05  # of the drawn area, from which a declared one is told
LENGTHS = {
    "Meters": 1.0,
    "Millimeters": 1e-3,
    "Centimeters": 1e-2,
    "Kilometers": 1e3,
    "Feet": 0.3048,
    "Inches": 0.0254,
    "Yards": 0.9144,
    "Miles": 1609.344,
}
AREAS = {
    "SquareMeters": 1.0,
    "SquareMillimeters": 1e-6,
    "SquareCentimeters": 1e-4,
    "SquareKilometers": 1e6,
    "SquareFeet": 0.3048**2,
    "SquareInches": 0.0254**2,
    "SquareYards": 0.9144**2,
    "SquareMiles": 1609.344**2,
}
VOLUMES = {
    "CubicMeters": 1.0,
    "CubicFeet": 0.3048**3,
    "CubicInches": 0.0254**3,
    "CubicYards": 0.9144**3,
    "CubicMillimeters": 1e-9,
    "CubicCentimeters": 1e-6,
    "CubicKilometers": 1e9,
    "CubicMiles": 1609.344**3,
}
BTU = 0.29307107017 / 0.3048**2  # Btu/h ft2 in W/m2
UNITS = {
    "WPerSquareMeterK": 1.0,
    "BtuPerHourSquareFtF": BTU * 1.8,
    "SquareMeterKPerW": 1.0,
    "HrSquareFtFPerBTU": 1 / (BTU * 1.8),
    "WPerMeterK": 1.0,
    "WPerCmC": 100.0,
    "BtuPerHourFtF": BTU * 1.8 * 0.3048,
    "KgPerCubicM": 1.0,
    "GramsPerCubicCm": 1000.0,
    "LbsPerCubicIn": 27679.9047,
    "LbsPerCubicFt": 16.018463374,
    "JPerKgK": 1.0,
    "BTUPerLbF": 4186.8,
    "Fraction": 1.0,
    "Percent": 0.01,
    "WattPerSquareMeter": 1.0,
    "WattPerSquareFoot": 1 / 0.3048**2,
    **LENGTHS,
}
IN_GROUND = {"SlabOnGrade", "UndergroundSlab", "UndergroundWall", "UndergroundCeiling"}


def parse_xml(path: Path):
    """The root element. Nothing is fetched, no entity is expanded, and a document type is refused."""
    from lxml import etree

    with path.open("rb") as file:
        head = file.read(4096)
    plain = head.replace(b"\x00", b"").lower()
    if b"<!doctype" in plain or b"<!entity" in plain:
        raise FileError(
            f"{path.name} carries a document type with entities", remedy="Remove the DOCTYPE lines; " + ACCEPTED
        )
    parser = etree.XMLParser(
        resolve_entities=False,
        no_network=True,
        load_dtd=False,
        dtd_validation=False,
        huge_tree=False,
        remove_comments=True,
        remove_pis=True,
    )
    try:
        tree = etree.parse(str(path), parser)
    except (etree.XMLSyntaxError, LookupError, ValueError) as error:
        line = getattr(error, "lineno", None)
        raise FileError(
            f"{path.name} is not well-formed XML", where=f"line {line}" if line else "", remedy=ACCEPTED
        ) from error
    if tree.docinfo.internalDTD is not None:
        raise FileError(f"{path.name} carries a document type", remedy="Remove the DOCTYPE lines; " + ACCEPTED)
    return tree.getroot()


def read_gbxml(path: Path, say: Callable[[float, str], None] = lambda share, words: None) -> Draft:
    """Raises FileError for a file that is no gbXML or holds no space; everything else is noted and the rest goes on."""
    say(0.05, "reading XML")
    root = parse_xml(path)
    if root.tag.rpartition("}")[2] != "gbXML":
        raise FileError(
            f"{path.name} is XML, but not gbXML",
            where=f"root element {root.tag.rpartition('}')[2][:40]}",
            remedy=ACCEPTED,
        )
    return _Reader(path.name, root, say).draft()


class _Reader:
    def __init__(self, name: str, root, say: Callable[[float, str], None]) -> None:
        self.name, self.root, self.say = name, root, say
        self.notes: list[Note] = []
        self.asked: dict[str, Asked] = {}  # figures that nothing tells, by material
        # Every element by its plain name, in one walk.
        self.by_name: dict[str, list] = {}
        count = 0
        for element in root.iter():
            if isinstance(element.tag, str):
                count += 1
                if count > MOST_ELEMENTS:
                    raise FileError(
                        f"{name} has more than {MOST_ELEMENTS} elements", remedy="Export a part of the building"
                    )
                self.by_name.setdefault(element.tag.rpartition("}")[2], []).append(element)
        self.metre = self._default(LENGTHS, "lengthUnit", "length")
        self.area_unit = self._default(AREAS, "areaUnit", "area")
        self.volume_unit = self._default(VOLUMES, "volumeUnit", "volume")
        self.fahrenheit = root.get("temperatureUnit") == "F"

    def _default(self, known: dict[str, float], attribute: str, what: str) -> float:
        unit = self.root.get(attribute)
        if unit not in known:
            self.note(
                "assumed", f"no {what} unit: metres" if unit is None else f"unknown {what} unit “{unit[:30]}”: metres"
            )
        return known.get(unit, 1.0)

    def note(self, kind: NoteKind, text: str, where: str = "") -> None:
        if len(self.notes) < MOST_NOTES:
            self.notes.append(Note(kind=kind, text=text, where=where[:120]))

    # -- small readers -------------------------------------------------------------------------------------------
    def child(self, element, name: str):
        return next((c for c in element if isinstance(c.tag, str) and c.tag.rpartition("}")[2] == name), None)

    def children(self, element, name: str) -> list:
        return [c for c in element if isinstance(c.tag, str) and c.tag.rpartition("}")[2] == name]

    def _all(self, element, name: str) -> Iterator:
        """Elements of a name in an element and below it."""
        return (e for e in element.iter() if isinstance(e.tag, str) and e.tag.rpartition("}")[2] == name)

    def text(self, element, name: str) -> str:
        found = self.child(element, name)
        return (found.text or "").strip()[:200] if found is not None else ""

    def figure(self, element, name: str, default_unit: float = 1.0) -> float | None:
        """A finite figure in SI, or None; one that is no figure is noted."""
        found = self.child(element, name)
        if found is None or not (found.text or "").strip():
            return None
        try:
            value = float(found.text)
        except ValueError:
            value = float("nan")
        if not np.isfinite(value):
            self.note("left out", f"{name} “{found.text.strip()[:30]}” is no figure", element.get("id", ""))
            return None
        return value * UNITS.get(found.get("unit", ""), default_unit)

    def polygon(self, element) -> NDArray:
        """Corners (n, 3) [m] of the first loop in an element; NaN where a coordinate is no figure."""
        loop = next(self._all(element, "PolyLoop"), None)
        points = []
        for at in self.children(loop, "CartesianPoint") if loop is not None else ():
            try:
                point = [float(c.text) for c in self.children(at, "Coordinate")]
            except (TypeError, ValueError):
                point = [float("nan")] * 3
            points.append(([*point, 0.0, 0.0, 0.0])[:3])
        return np.array(points, float).reshape(-1, 3) * self.metre

    # -- the whole -----------------------------------------------------------------------------------------------
    def draft(self) -> Draft:
        spaces = self.by_name.get("Space", [])
        if not spaces:
            raise FileError(f"{self.name} holds no spaces", remedy="Export the building with its spaces; " + ACCEPTED)
        self.say(0.3, f"{len(spaces)} spaces")
        location = next(iter(self.by_name.get("Location", [])), None)
        north = (self.figure(location, "CADModelAzimuth") or 0.0) % 360 if location is not None else 0.0
        glazings = self._glazings()
        build_ups, thickness = self._build_ups()
        levels = self._levels()
        self.shafts = self._shafts(levels)
        surfaces = self._surfaces({g.id for g in glazings}, {b.id for b in build_ups})
        self.say(0.5, f"{len(surfaces)} surfaces")
        rooms, levels = self._rooms([e for e in spaces if e.get("id", "") not in self.shafts], levels, surfaces)
        self.say(0.7, "walls and floors")
        faces = build_faces(surfaces, rooms, levels, north, thickness)
        if not surfaces:
            self.note("missing", "no surfaces: walls and floors follow from the outlines")
        for n in faces.notes[:MOST_NOTES]:
            self.note(n.kind, n.text, n.where)
        windows = sum(len(w.openings) for w in faces.walls)
        found = (
            f"{len(rooms)} rooms on {len(levels)} levels",
            f"{len(faces.walls)} walls, {windows} openings",
            f"{len(faces.slabs)} roofs and floors",
        )
        self.notes[:0] = [Note(kind="found", text=words) for words in found]
        used = {w.build_up_id for w in faces.walls} | {s.build_up_id for s in faces.slabs}
        zones = self._zones({r.zone_id for r in rooms})
        known = {z.id for z in zones}
        self.say(0.9, "checking")
        return Draft(
            source=self.name,
            name=self.text(next(iter(self.by_name.get("Building", [self.root]))), "Name") or self.name,
            north_deg=north,
            latitude_deg=self._degrees(location, "Latitude", 90),
            longitude_deg=self._degrees(location, "Longitude", 180),
            levels=tuple(levels),
            rooms=tuple(structs.replace(r, zone_id=r.zone_id if r.zone_id in known else "") for r in rooms),
            walls=tuple(_distinct(faces.walls)),
            slabs=tuple(_distinct(faces.slabs)),
            build_ups=tuple(b for b in build_ups if b.id in used) if surfaces else usual_build_ups(),
            glazings=tuple(glazings),
            zones=zones,
            derive=not surfaces,
            asked=tuple(self.asked.values()),
            altitude_m=self._elevation(location),
            marks=tuple(self.shafts.values()),
            notes=tuple(self.notes[:MOST_NOTES]),
        )

    def _degrees(self, location, name: str, most: float) -> float | None:
        value = self.figure(location, name) if location is not None else None
        return value if value is not None and abs(value) <= most else None

    def _elevation(self, location) -> float | None:
        """Height above the sea [m]."""
        value = self.figure(location, "Elevation", self.metre) if location is not None else None
        return value if value is not None and -430 <= value <= 9000 else None

    def _shafts(self, levels: list[Level]) -> dict[str, PlanMark]:
        """Shafts that were written as spaces, by their id."""
        found: dict[str, PlanMark] = {}
        for e in self.by_name.get("Space", []):
            own, geometry = e.get("id", ""), self.child(e, "PlanarGeometry")
            if self.text(e, "Description") != "shaft" or geometry is None:
                continue
            points = self.polygon(geometry)
            level = next((x for x in levels if x.id == e.get("buildingStoreyIdRef", "")), None)
            if level is None or len(points) < 3 or not np.isfinite(points).all():
                continue
            outline = tuple((round(float(x), 9), round(float(y), 9)) for x, y in points[:, :2])
            name = self.text(e, "Name")
            label = "" if name == "Shaft" else name[:40]
            found[own] = PlanMark(id=own, kind="shaft", level_id=level.id, outline=outline, label=label)
        return found

    def _levels(self) -> list[Level]:
        found = []
        for e in self.by_name.get("BuildingStorey", []):
            z = self.figure(e, "Level", self.metre)
            if z is None:
                points = self.polygon(e)
                z = float(points[0, 2]) if len(points) and np.isfinite(points[0, 2]) else None
            if z is not None and -500 <= z <= 2000 and all(x[0] != e.get("id") for x in found):
                found.append((e.get("id", f"level {len(found)}"), self.text(e, "Name") or f"Level {len(found)}", z))
        found.sort(key=lambda x: x[2])
        levels = []
        for i, (own, name, z) in enumerate(found):
            storey = found[i + 1][2] - z if i + 1 < len(found) else levels[-1].storey_m if levels else 3.4
            levels.append(Level(id=own, name=name[:40], elevation_m=z, storey_m=min(max(storey, 0.5), 100.0)))
        return levels

    # -- materials -----------------------------------------------------------------------------------------------
    def _build_ups(self) -> tuple[list[BuildUp], dict[str, float]]:
        """Constructions as build-ups, and their thickness [m] by id."""
        materials = {e.get("id"): e for e in self.by_name.get("Material", [])}
        stacks = {
            e.get("id"): [r.get("materialIdRef") for r in self.children(e, "MaterialId")]
            for e in self.by_name.get("Layer", [])
        }
        found, thickness = [], {}
        for e in self.by_name.get("Construction", []):
            own, name = e.get("id", ""), self.text(e, "Name") or e.get("id", "")
            refs = [m for x in self.children(e, "LayerId") for m in stacks.get(x.get("layerIdRef"), [])]
            try:
                known = [m for m in reversed(refs) if m in materials]
                if len(known) < len(refs):
                    self.note(
                        "missing",
                        f"construction {name} names {len(refs) - len(known)} materials that are not there",
                        own,
                    )
                layers = self._layers(e, own, name, [materials[m] for m in known])
                if not layers:
                    u = self.figure(e, "U-value") or 0.0
                    if not u > 0:
                        self.note(
                            "missing", f"construction {name} has neither layers nor a U-value: the usual wall", own
                        )
                        layers = usual_build_ups()[0].layers
                    else:
                        layers = (BuildUpLayer(resistance_m2k_w=max(1 / u - FILMS_M2K_W, 1e-3), name="by U-value"),)
                        self.note("assumed", f"construction {name} has a U-value alone: no mass", own)
                if own and all(b.id != own for b in found):
                    found.append(
                        BuildUp(
                            id=own,
                            name=name[:80],
                            layers=layers,
                            absorptance=self._absorbed(e, "ExtSolar", 0.6),
                            inside_absorptance=self._taken_up_inside(e),
                        )
                    )
                    thickness[own] = sum(x.thickness_m for x in layers)
            except GarnetfinError as error:
                self.note("left out", f"construction {name}: {error.what}; the usual wall instead", own)
        found.append(BuildUp(id=DEFAULT_BUILD_UP, name="W1 outside wall", layers=usual_build_ups()[0].layers))
        return found, thickness

    def _taken_up_inside(self, element) -> Value:
        """Imported where the file says it, else by rule."""
        value = self._absorbed(element, "IntSolar", -1.0)
        return Rule() if value < 0 else Imported(value=max(0.01, value), source=self.name)

    def _absorbed(self, element, kind: str, default: float) -> float:
        for e in self.children(element, "Absorptance"):
            if e.get("type") == kind:
                try:
                    value = float(e.text) * UNITS.get(e.get("unit", ""), 1.0)
                except (TypeError, ValueError):
                    return default
                return value if 0 <= value <= 1 else default
        return default

    def _layers(self, construction, own: str, name: str, of: list) -> tuple[BuildUpLayer, ...]:
        """Layers from the outside in. One that lacks its conductivity gets what the construction's U-value leaves for
        it; else it is asked about, with the library's figure for a name like it.
        """
        layers = [self._layer(e) for e in of]
        open_ = [i for i, e in enumerate(of) if self._lacks_conductivity(e)]
        if not open_:
            return tuple(layers)
        u = self.figure(construction, "U-value") or 0.0
        rest = (
            1 / u - FILMS_M2K_W - sum(_resistance(x) for i, x in enumerate(layers) if i not in open_) if u > 0 else 0.0
        )
        for i in open_:
            e = of[i]
            said, key = self.text(e, "Name") or "layer", e.get("id", "")
            thickness = self.figure(e, "Thickness", self.metre) or 0.0
            asked = Asked(
                key=key,
                name=said,
                thickness_m=thickness,
                places=((own, i),),
                density_kg_m3=self.figure(e, "Density") or 0.0,
                specific_heat_j_kgk=self.figure(e, "SpecificHeat") or 0.0,
            )
            if len(open_) == 1 and rest > 0.01:
                k = thickness / rest
                layers[i] = asked.layer(k)
                self.note("assumed", f"{said} in {name}: conductivity {k:.3f} W/mK, as U {u:.2f} asks for", key)
                continue
            alike = _in_library(said)
            before = self.asked.get(key)
            self.asked[key] = structs.replace(
                before or asked,
                places=(*(before.places if before else ()), (own, i)),
                suggestion=alike[1] if alike else None,
                source=alike[0] if alike else "",
            )
            # until it is answered the layer stands with the suggestion, or as nothing
            layers[i] = asked.layer(alike[1]) if alike else BuildUpLayer(name=said[:60], resistance_m2k_w=1e-3)
        return tuple(layers)

    def _lacks_conductivity(self, e) -> bool:
        """A thickness, and neither conductivity nor resistance; an air gap says so in its name."""
        thick, k, r = (
            self.figure(e, n, u) or 0.0 for n, u in (("Thickness", self.metre), ("Conductivity", 1.0), ("R-value", 1.0))
        )
        return thick > 0 and k <= 0 and r <= 0

    def _layer(self, e) -> BuildUpLayer:
        name = (self.text(e, "Name") or "layer")[:60]
        thickness, k = self.figure(e, "Thickness", self.metre) or 0.0, self.figure(e, "Conductivity") or 0.0
        density, heat, r = (
            self.figure(e, "Density") or 0.0,
            self.figure(e, "SpecificHeat") or 0.0,
            self.figure(e, "R-value") or 0.0,
        )
        if thickness > 0 and not k and r > 0:
            k = thickness / r
        if thickness > 0 and k > 0 and density >= 0.5 and heat >= 50:
            return BuildUpLayer(
                name=name, thickness_m=thickness, conductivity_w_mk=k, density_kg_m3=density, specific_heat_j_kgk=heat
            )
        if r <= 0 and thickness > 0 and k > 0:
            r = thickness / k
        return BuildUpLayer(name=name, resistance_m2k_w=max(r, 1e-3))

    def _glazings(self) -> list[Glazing]:
        found = []
        for e in self.by_name.get("WindowType", []):
            own, name = e.get("id", ""), self.text(e, "Name") or e.get("id", "")
            u, g = self.figure(e, "U-value"), self.figure(e, "SolarHeatGainCoeff")
            if u is None or g is None:
                self.note(
                    "assumed",
                    f"window type {name}: "
                    + " and ".join(w for w, v in (("U 1.3 W/m²K", u), ("g 0.50", g)) if v is None),
                    own,
                )
            u, g = u if u is not None else 1.3, g if g is not None else 0.5
            through = next(
                (
                    v
                    for t in self.children(e, "Transmittance")
                    if t.get("type") == "Solar" and (v := _float(t.text)) is not None
                ),
                0.86 * g,
            )
            told = dict(re.findall(r"(panes|frame|angle|diffuse)=([\d.]+)", self.text(e, "Description")))
            try:
                if own and all(x.id != own for x in found):
                    found.append(
                        Glazing(
                            id=own,
                            name=name[:80],
                            u_w_m2k=u,
                            g=g,
                            tau_e=min(through, g),
                            panes=int(told.get("panes", 2)),
                            frame_share=float(told.get("frame", 0.2)),
                            angle_class=float(told.get("angle", 2.5)),
                            diffuse_ratio=float(told.get("diffuse", 0.871)),
                            source=self.name,
                        )
                    )
            except (GarnetfinError, ValueError) as error:
                self.note("left out", f"window type {name}: {error}", own)
        return found

    def _zones(self, used: set[str]) -> tuple[Zone, ...]:
        found = []
        for e in self.by_name.get("Zone", []):
            own = e.get("id", "")
            if own in used and own and all(z.id != own for z in found):
                heat, cool = (self._celsius(e, name) for name in ("DesignHeatT", "DesignCoolT"))
                try:
                    found.append(Zone(id=own, name=(self.text(e, "Name") or own)[:60], heating_c=heat, cooling_c=cool))
                except GarnetfinError as error:
                    self.note("left out", f"set-points of a zone: {error.what}", own)
                    found.append(Zone(id=own, name=(self.text(e, "Name") or own)[:60]))
        return tuple(found)

    def _celsius(self, element, name: str) -> Value:
        value = self.figure(element, name)
        if value is None:
            return Rule()
        unit = self.child(element, name).get("unit") or ("F" if self.fahrenheit else "C")
        value = {"F": (value - 32) / 1.8, "K": value - 273.15, "R": value / 1.8 - 273.15}.get(unit, value)
        return Imported(value=round(value, 6), source=self.name)

    # -- surfaces ------------------------------------------------------------------------------------------------
    def _surfaces(self, glazings: set[str], build_ups: set[str]) -> list[RawFace]:
        found, seen = [], set()
        spaces = {e.get("id", "") for e in self.by_name.get("Space", [])}
        strange: list[str] = []  # of spaces that are not in the file
        double: list[str] = []
        for e in self.by_name.get("Surface", []):
            own, kind = e.get("id", ""), e.get("surfaceType", "")
            rooms = tuple(x.get("spaceIdRef", "") for x in self.children(e, "AdjacentSpaceId"))[:2]
            if own in seen:
                double.append(own)
                continue
            if rooms and not set(rooms) & spaces:
                strange.append(own)
                continue
            if kind == "Shade" or not rooms or kind == "Air":
                if kind == "Air":
                    self.note("left out", "an open boundary between rooms", own)
                continue
            seen.add(own)
            rooms = tuple(sorted((SHAFT if r in self.shafts else r for r in rooms), key=lambda r: r == SHAFT))
            if len(rooms) == 2 and rooms[0] == rooms[1]:
                rooms = (rooms[0], INSIDE)
            build_up = e.get("constructionIdRef", "")
            if build_up not in build_ups:
                self.note("assumed", "a surface without a construction has the usual wall", own)
                build_up = DEFAULT_BUILD_UP
            points = self._shape(e)
            if points is None:
                self.note("left out", "a surface without a polygon", own)
                continue
            openings = tuple(
                o for o in (self._opening(x, glazings) for x in self.children(e, "Opening")) if o is not None
            )
            edge = re.match(r"perimeter=([\d.]{1,12})$", self.text(e, "Description"))
            found.append(
                RawFace(
                    own,
                    points,
                    rooms,
                    build_up,
                    kind in IN_GROUND,
                    roof=kind == "Roof",
                    openings=openings,
                    perimeter_m=(_float(edge.group(1)) or 0.0) if edge else 0.0,
                )
            )
        for ids, words in (
            (strange, "surfaces border on spaces that are not in the file"),
            (double, "surfaces have an id that is there already"),
        ):
            if ids:
                self.note("left out", f"{len(ids)} {words}", ", ".join(ids[:3]))
        return found

    def _shape(self, e) -> NDArray[Any] | None:
        """Corners of a surface or an opening: its polygon, else the rectangle it is given as."""
        geometry = self.child(e, "PlanarGeometry")
        if geometry is not None:
            return self.polygon(geometry)
        box = self.child(e, "RectangularGeometry")
        if box is None:
            return None
        wide, high = self.figure(box, "Width", self.metre), self.figure(box, "Height", self.metre)
        corner = self.child(box, "CartesianPoint")
        try:
            at = np.array([float(c.text) for c in self.children(corner, "Coordinate")][:3]) * self.metre
        except (TypeError, ValueError):
            return None
        if not wide or not high or len(at) != 3:
            return None
        azimuth, tilt = (np.radians(self.figure(box, n) or d) for n, d in (("Azimuth", 0.0), ("Tilt", 90.0)))
        # the normal looks to the azimuth, clockwise from the file's y axis, and leans back by the tilt
        across = np.array([-np.cos(azimuth), np.sin(azimuth), 0.0])
        normal = np.array([np.sin(azimuth) * np.sin(tilt), np.cos(azimuth) * np.sin(tilt), np.cos(tilt)])
        up = np.cross(normal, across)
        self.note("assumed", "a surface given as a rectangle alone", e.get("id", ""))
        return np.array([at, at + across * wide, at + across * wide + up * high, at + up * high])

    def _opening(self, e, glazings: set[str]) -> RawOpening | None:
        own, kind = e.get("id", ""), e.get("openingType", "")
        points = self._shape(e)
        if points is None or kind == "Air":
            self.note(
                "left out",
                "an opening without a polygon" if points is None else "an opening without anything in it",
                own,
            )
            return None
        glazing = e.get("windowTypeIdRef", "")
        glazed = "Window" in kind or "Skylight" in kind
        if glazed and glazing not in glazings:
            if not glazings:
                self.note("missing", "a window without glazing is taken as opaque", own)
                glazed = False
            else:
                glazing = sorted(glazings)[0]
                self.note("assumed", f"a window without glazing has {glazing}", own)
        told = self.text(e, "Name")
        word = told if told in ("window", "glass wall", "door", "outside door") else "window" if glazed else "door"
        if not glazed and word in ("window", "glass wall"):
            word = "door"
        u = self.figure(e, "U-value")
        return RawOpening(own, word, points, glazing if glazed else "", u if u and 0.05 <= u <= 7 else 1.8)

    # -- rooms ---------------------------------------------------------------------------------------------------
    def _rooms(self, spaces: list, levels: list[Level], surfaces: list[RawFace]) -> tuple[list[Room], list[Level]]:
        floors: dict[str, list[NDArray]] = {}
        heights: dict[str, list[float]] = {}
        for face in surfaces:
            if len(face.points) >= 3 and np.isfinite(face.points).all():
                for r in face.rooms:
                    heights.setdefault(r, []).extend((float(face.points[:, 2].min()), float(face.points[:, 2].max())))
                    vector = area_vector(face.points)
                    if abs(vector[2]) > 0.9 * np.linalg.norm(vector):
                        floors.setdefault(r, []).append(face.points)
        rooms: list[Room] = []
        for e in spaces:
            own = e.get("id", "")
            if not own:
                continue
            try:
                room, levels = self._room(e, own, levels, floors.get(own, []), heights.get(own, []))
            except GarnetfinError as error:
                self.note("left out", f"a space: {error.what}", own)
                continue
            if room is not None:
                rooms.append(room)
        distinct = {r.id: r for r in reversed(rooms)}
        distinct = {r.id: distinct[r.id] for r in rooms}
        if len(distinct) < len(rooms):
            self.note("left out", f"{len(rooms) - len(distinct)} spaces have an id that is there already")
        self._tell_areas(list(distinct.values()))
        if not distinct:
            raise FileError(
                f"No space of {self.name} has a usable outline", remedy="Export the spaces with their geometry"
            )
        return list(distinct.values()), levels

    def _tell_areas(self, rooms: list[Room]) -> None:
        """Areas that the file declares against those of its outlines: all at one factor speak of another unit."""
        pairs = [
            (r, r.area_m2.value, area_of(r.outline))
            for r in rooms
            if isinstance(r.area_m2, Imported) and not r.sketched
        ]
        off = [(r, said, drawn) for r, said, drawn in pairs if abs(said / drawn - 1) > AREA_OFF]
        if not off:
            return
        ratios = np.array([said / drawn for _, said, drawn in off])
        foot = 0.3048**2
        for factor, words in ((1 / foot, "square feet under the name of square metres"), (foot, "the reverse")):
            if len(off) > 0.5 * len(rooms) and np.abs(np.median(ratios) / factor - 1) < 0.1:
                self.note(
                    "missing", f"declared areas are {np.median(ratios):.2f} times those drawn: {words}; check the units"
                )
                return
        for room, said, drawn in off[:20]:
            self.note("found", f"{room.number} declares {said:.1f} m², its outline has {drawn:.1f} m²", room.id)
        if len(off) > 20:
            self.note("found", f"{len(off) - 20} more rooms declare another area than their outlines have")

    def _room(
        self, e, own: str, levels: list[Level], floors: list[NDArray], heights: list[float]
    ) -> tuple[Room | None, list[Level]]:
        points = (
            self.polygon(geometry) if (geometry := self.child(e, "PlanarGeometry")) is not None else np.empty((0, 3))
        )
        outline = None
        if len(points) >= 3 and np.isfinite(points).all():
            outline = tidy([(float(x), float(y)) for x, y in points[:, :2]])
            if len(outline) < 3 or not _simple(outline):
                outline = floor_outline([points])
                if outline is not None:
                    self.note("assumed", "an outline that crossed itself was made straight", own)
        if outline is None and floors:
            lowest = min(float(p[:, 2].mean()) for p in floors)
            outline = floor_outline([p for p in floors if p[:, 2].mean() < lowest + 0.3])
        if outline is None:
            shell = self.child(e, "ShellGeometry")
            # Each loop is read by itself: polygon() takes the first loop in an element, and that is the loop.
            loops = [self.polygon(x) for x in self._all(shell, "PolyLoop")] if shell is not None else []
            flat = [
                p
                for p in loops
                if len(p) >= 3
                and np.isfinite(p).all()
                and abs(area_vector(p)[2]) > 0.9 * np.linalg.norm(area_vector(p))
            ]
            if flat:
                lowest = min(float(p[:, 2].mean()) for p in flat)
                outline = floor_outline([p for p in flat if p[:, 2].mean() < lowest + 0.3])
                heights = heights or [
                    float(v) for p in loops if np.isfinite(p).all() for v in (p[:, 2].min(), p[:, 2].max())
                ]
        if outline is None:
            self.note("left out", "a space without a usable outline", own)
            return None, levels
        z = min(heights) if heights else float(points[0, 2]) if len(points) and np.isfinite(points[0, 2]) else 0.0
        level, levels = _level(e.get("buildingStoreyIdRef", ""), z, levels)
        area, volume = self.figure(e, "Area", self.area_unit), self.figure(e, "Volume", self.volume_unit)
        drawn = area_of(outline)
        if area and volume and 0.5 <= volume / area <= 100:
            ceiling = volume / area
        else:
            ceiling = (
                max(heights) - min(heights) if heights and max(heights) - min(heights) > 0.5 else level.storey_m - 0.4
            )
            self.note("assumed", f"ceiling {ceiling:.2f} m", own)
        told = self.text(e, "Description")
        use_id, word = use_of(
            use.group(1) if (use := re.search(r"use=(\w+)", told)) else e.get("spaceType") or self.text(e, "Name")
        )
        if word:
            self.note("assumed", word, own)
        number, name = _named(self.text(e, "Name") or own, self.text(e, "CADObjectId"))
        values: dict[str, Any] = {}
        if area and abs(area / drawn - 1) > 0.001:
            values["area_m2"] = Imported(value=area, source=self.name)
        for field, tag in (
            ("people", "PeopleNumber"),
            ("lights_w_m2", "LightPowerPerArea"),
            ("equipment_w_m2", "EquipPowerPerArea"),
        ):
            value = self.figure(e, tag)
            if value is not None and tag == "PeopleNumber":
                unit = self.child(e, tag).get("unit", "")
                value = (
                    (area or drawn) / value
                    if unit == "SquareMPerPerson" and value > 0
                    else ((area or drawn) / (value * 0.3048**2) if unit == "SquareFtPerPerson" and value > 0 else value)
                )
            if value is not None and value >= 0:
                values[field] = Imported(value=round(value, 6), source=self.name)
        for field, word in SPOKEN:
            spoken = re.search(rf"\b{word}=(-?[\d.]{{1,12}}(?:e-?\d+)?)(?=\s|$)", told)
            value = _float(spoken.group(1)) if spoken else None
            if value is not None:
                values[field] = Imported(value=value, source=self.name)
        condition = e.get("conditionType", "HeatedAndCooled")
        return Room(
            id=own,
            number=number,
            name=name,
            level_id=level.id,
            outline=outline,
            use_id=use_id,
            ceiling_m=min(max(ceiling, 0.5), 100.0),
            system_id="" if condition == "Unconditioned" else "served",
            zone_id=e.get("zoneIdRef", ""),
            sketched=told.endswith(" list"),
            **values,
        ), levels


def _resistance(layer: BuildUpLayer) -> float:
    """Of a layer that carries its own figures [m2K/W]."""
    return layer.thickness_m / layer.conductivity_w_mk if layer.conductivity_w_mk else layer.resistance_m2k_w


def _in_library(name: str) -> tuple[str, float] | None:
    """(name, conductivity) of the library's material whose words a name shares most of."""
    from garnetfin.core.tables import materials

    words = set(re.findall(r"[a-z]{4,}", name.lower()))
    scored = [
        (len(words & own) / len(own), m)
        for m in materials().values()
        if (own := set(re.findall(r"[a-z]{4,}", m.name.lower())))
    ]
    best = max(scored, key=lambda pair: pair[0], default=(0.0, None))
    return (best[1].name, best[1].conductivity_w_mk) if best[1] is not None and best[0] >= 0.5 else None


def _float(text: str | None) -> float | None:
    try:
        value = float(text)
    except (TypeError, ValueError):
        return None
    return value if np.isfinite(value) else None


def _simple(outline: tuple) -> bool:
    from shapely import Polygon

    return Polygon(outline).is_valid and area_of(outline) >= 0.2


def _level(wanted: str, z: float, levels: list[Level]) -> tuple[Level, list[Level]]:
    """The level a space names, else the one at its floor, else a new one there."""
    named = next((x for x in levels if x.id == wanted), None)
    if named is not None:
        return named, levels
    near = [x for x in levels if abs(x.elevation_m - z) < 0.6]
    if near:
        return near[0], levels
    made = Level(
        id=f"level at {z:.2f}", name=f"Level at {z:.1f} m", elevation_m=min(max(z, -500.0), 2000.0), storey_m=3.4
    )
    return made, sorted((*levels, made), key=lambda x: x.elevation_m)


def _named(name: str, number: str) -> tuple[str, str]:
    """(number, name): the number as the file gives it, else the first word with a figure in it."""
    first, _, rest = name.partition(" ")
    if number and name.startswith(number + " "):
        return number[:40], name[len(number) + 1 :].strip()[:80] or number[:40]
    if rest and any(c.isdigit() for c in first):
        return first[:40], rest.strip()[:80]
    return (number or name)[:40], name[:80]


def _distinct(items: list) -> list:
    """The first of each id."""
    return list({x.id: x for x in reversed(items)}.values())[::-1]
