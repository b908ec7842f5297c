"""IFC4 (and 2x3) into a draft: storeys, spaces, their boundaries, windows, doors and the layers of walls.

With space boundaries that carry geometry the faces come from these; without, walls and floors follow from the spaces'
outlines, and windows and doors go to the wall they stand in.
"""

from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
from msgspec import structs
from numpy.typing import NDArray

from garnetfin.core.adjacency import LARGEST_GAP_M
from garnetfin.core.errors import FileError, GarnetfinError
from garnetfin.core.outlines import area_of, meeting_in_walls
from garnetfin.exchange.faces import RawFace, RawOpening, area_vector, build_faces
from garnetfin.exchange.ifc_fabric import Fabric, number, psets_of
from garnetfin.exchange.ifc_references import references
from garnetfin.exchange.ifc_shapes import Shapes
from garnetfin.project.draft import MOST_NOTES, Draft, LooseOpening, Note, NoteKind
from garnetfin.project.spaces import INSIDE, Level, Opening, Room
from garnetfin.project.systems import Zone
from garnetfin.project.uses import use_of
from garnetfin.project.values import Imported, Rule

ACCEPTED = "An IFC file (IFC2X3, IFC4, IFC4X3) with spaces is accepted"
MOST_SPACES = 5_000
ENOUGH_BOUNDARIES = 0.8
PAIR_GAP_M = 0.6
# Fields of a room, between which figures they are taken, and the properties that hold them, the first that is there.
SAID = (
    ("people", (0.0, 1e5), ("OccupancyNumber",)),
    ("cooling_c", (5.0, 50.0), ("SpaceTemperatureSummerMax", "SpaceTemperatureMax")),
    ("heating_c", (-10.0, 40.0), ("SpaceTemperatureWinterMin", "SpaceTemperatureMin")),
    ("lights_w_m2", (0.0, 1000.0), ("LightingLoadIntensity",)),
    ("equipment_w_m2", (0.0, 1e5), ("ReceptacleLoadIntensity",)),
)


def read_ifc(path: Path, say: Callable[[float, str], None] = lambda share, words: None) -> Draft:
    """Raises FileError for what is no IFC file or has no space with a usable shape."""
    import ifcopenshell

    with path.open("rb") as file:
        if not file.read(200).lstrip(b"\xef\xbb\xbf \r\n\t").startswith(b"ISO-10303-21"):
            raise FileError(f"{path.name} is not an IFC file", remedy=ACCEPTED)
    say(0.05, "reading IFC")
    try:
        model = ifcopenshell.open(str(path))
    except Exception as error:  # the parser raises several kinds, none of them documented
        raise FileError(f"{path.name} is damaged or of a schema that is not read", remedy=ACCEPTED) from error
    if model is None or not str(getattr(model, "schema", "")).startswith("IFC"):
        raise FileError(f"{path.name} is damaged or of a schema that is not read", remedy=ACCEPTED)
    # A file that is cut off is opened without a complaint: its end is looked for.
    with path.open("rb") as file:
        file.seek(max(0, path.stat().st_size - 400))
        whole = b"END-ISO-10303-21" in file.read()
    return _Reader(path.name, model, say, whole).draft()


class _Reader:
    def __init__(self, name: str, model, say: Callable[[float, str], None], whole: bool) -> None:
        import ifcopenshell.util.unit

        self.name, self.model, self.say = name, model, say
        self.notes: list[Note] = []
        self.zones: dict[int, Zone] = {}
        try:
            self.metre = float(ifcopenshell.util.unit.calculate_unit_scale(model))
        except Exception:  # no unit assignment at all
            self.metre = 1.0
            self.note("assumed", "no length unit: metres")
        if not 1e-6 < self.metre < 1e4:
            raise FileError(f"{name} has a length unit of {self.metre:g} m", remedy=ACCEPTED)
        if not whole:
            self.note("missing", "the end of the file: it may be cut off")
        self.shapes = Shapes(model, self.metre)
        if np.abs(self.shapes.base[:2]).max() > 0:
            east, north, _ = self.shapes.base
            self.note("assumed", f"coordinates of a map: the drawing begins at {east:,.0f} / {north:,.0f} m")
        self.fabric = Fabric(model, name, self.metre, self.note)
        self.keys = self._own_keys("IfcSpace", "spaces") | self._own_keys("IfcBuildingStorey", "storeys")

    def _own_keys(self, kind: str, words: str) -> dict[int, str]:
        """Our key of each thing of a kind by its number in the file: its id, apart where several have the same."""
        found: dict[int, str] = {}
        seen: set[str] = set()
        doubles = 0
        for thing in self.model.by_type(kind):
            key = str(thing.GlobalId)
            if key in seen:
                doubles += 1
                key = f"{key} {thing.id()}"
            seen.add(key)
            found[thing.id()] = key
        if doubles:
            self.note("assumed", f"{doubles} {words} with an id that another has: kept apart")
        return found

    def note(self, kind: NoteKind, text: str, where: str = "") -> None:
        if len(self.notes) < MOST_NOTES:
            self.notes.append(Note(kind=kind, text=text, where=where[:120]))

    # -- the whole -----------------------------------------------------------------------------------------------
    def draft(self) -> Draft:
        spaces = self.model.by_type("IfcSpace")
        levels = self._levels()
        others = references(self.model, self.shapes, levels, self.say, self.note)
        if others:
            kinds = Counter(r.obstacle.kind for r in others)
            words = ", ".join(f"{kind} ({count})" for kind, count in kinds.most_common())
            self.note("found", f"drawn by others, in the way of ducts: {words}")
        if not spaces and others:
            self.note("missing", "rooms: the file holds no spaces")
            return Draft(
                source=self.name,
                name=self._project_name(),
                levels=tuple(levels),
                references=others,
                notes=tuple(self.notes[:MOST_NOTES]),
            )
        if not spaces:
            raise FileError(
                f"{self.name} holds no spaces", remedy="Let the architect export rooms as IfcSpace; " + ACCEPTED
            )
        if len(spaces) > MOST_SPACES:
            raise FileError(
                f"{self.name} holds {len(spaces)} spaces, more than {MOST_SPACES}",
                remedy="Export a part of the building",
            )
        rooms: list[Room] = []
        for i, space in enumerate(spaces):
            if i % 20 == 0:
                self.say(0.15 + 0.4 * i / len(spaces), f"space {i + 1} of {len(spaces)}")
            room, levels = self._room(space, levels)
            if room is not None:
                rooms.append(room)
        if not rooms:
            raise FileError(
                f"No space of {self.name} has a usable shape", remedy="Export the spaces with their geometry"
            )
        self.say(0.6, "boundaries")
        raws = self._boundaries({r.id for r in rooms})
        common: dict[str, Any] = dict(
            source=self.name, name=self._project_name(), levels=tuple(levels), rooms=tuple(rooms)
        )
        latitude, longitude, altitude = self._place()
        north = self._north()
        if raws:
            faces = build_faces(
                raws,
                rooms,
                levels,
                north,
                {k: sum(x.thickness_m for x in b.layers) for k, b in self.fabric.build_ups.items()},
            )
            for n in faces.notes:
                self.note(n.kind, n.text, n.where)
            count = (len(faces.walls), len(faces.slabs), sum(len(w.openings) for w in faces.walls))
            parts: dict[str, Any] = dict(
                walls=tuple({w.id: w for w in faces.walls}.values()),
                slabs=tuple({s.id: s for s in faces.slabs}.values()),
            )
            self.note("found", "space boundaries with geometry: faces are as the file gives them")
        else:
            self.note("missing", "space boundaries with geometry: walls and floors follow from the outlines")
            rooms = self._meeting(rooms)
            common["rooms"] = tuple(rooms)
            self.say(0.75, "windows and doors")
            loose = tuple(self._loose(levels))
            outer, inner = self.fabric.walls()
            parts = dict(openings=loose, derive=True, outside_build_up=outer, inside_build_up=inner)
            count = (0, 0, len(loose))
        if not self.fabric.build_ups:
            self.note("assumed", "usual build-ups: the file has no layers")
        found = [f"{len(rooms)} rooms on {len({r.level_id for r in rooms})} levels", f"{count[2]} openings"]
        found += [f"{count[0]} walls", f"{count[1]} roofs and floors"] if raws else []
        self.notes[:0] = [Note(kind="found", text=words) for words in found]
        return Draft(
            **common,
            **parts,
            north_deg=north,
            latitude_deg=latitude,
            longitude_deg=longitude,
            altitude_m=altitude,
            zones=tuple(self.zones.values()),
            references=others,
            build_ups=tuple(self.fabric.build_ups.values()),
            glazings=tuple(self.fabric.glazings.values()),
            notes=tuple(self.notes[:MOST_NOTES]),
        )

    def _project_name(self) -> str:
        for kind in ("IfcBuilding", "IfcProject"):
            for e in self.model.by_type(kind):
                if getattr(e, "LongName", None) or e.Name:
                    return str(getattr(e, "LongName", None) or e.Name)[:80]
        return self.name

    def _place(self) -> tuple[float | None, float | None, float | None]:
        """(latitude, longitude [deg], height above the sea [m]), each None where the file does not say."""

        def degrees(parts) -> float | None:
            if not parts or len(parts) < 3:
                return None
            sign = -1 if min(parts) < 0 else 1
            return sign * sum(abs(p) / d for p, d in zip(parts, (1, 60, 3600, 3.6e9)))

        for site in self.model.by_type("IfcSite"):
            lat, lon = degrees(site.RefLatitude), degrees(site.RefLongitude)
            high = site.RefElevation
            altitude = float(high) * self.metre if high is not None else float(self.shapes.base[2])
            altitude = altitude if -430 <= altitude <= 9000 and (high is not None or altitude) else None
            if lat is not None and lon is not None and abs(lat) <= 90 and abs(lon) <= 180:
                return lat, lon, altitude
            if altitude is not None:
                return None, None, altitude
        return None, None, None

    def _north(self) -> float:
        """Bearing of the model's y axis [deg]: true north is given as a direction in the model's plane."""
        for context in self.model.by_type("IfcGeometricRepresentationContext", include_subtypes=False):
            if context.TrueNorth is not None:
                x, y = (float(v) for v in context.TrueNorth.DirectionRatios[:2])
                if np.isfinite((x, y)).all() and (x or y):
                    return round(float(-np.degrees(np.arctan2(x, y))) % 360, 6)
        return 0.0

    def _levels(self) -> list[Level]:
        found = []
        for storey in self.model.by_type("IfcBuildingStorey"):
            z = float(self.shapes.matrix(storey)[2, 3])
            if not np.isfinite(z) or abs(z) < 1e-9:
                z = float(storey.Elevation or 0.0) * self.metre
            if np.isfinite(z) and -500 <= z <= 2000:
                found.append((self.keys[storey.id()], str(storey.Name or "Level")[:40], z))
        found.sort(key=lambda x: x[2])
        levels: list[Level] = []
        for i, (own, name, z) in enumerate(found):
            storey = found[i + 1][2] - z if i + 1 < len(found) else levels[-1].storey_m if levels else 3.4
            levels.append(
                Level(id=own, name=name, elevation_m=round(z, 6), storey_m=round(min(max(storey, 0.5), 100.0), 6))
            )
        return levels

    # -- spaces --------------------------------------------------------------------------------------------------
    def _room(self, space, levels: list[Level]) -> tuple[Room | None, list[Level]]:
        label = f"{space.Name or ''} {space.LongName or ''}".strip() or space.GlobalId
        try:
            found = self.shapes.of(space)
        except Exception:  # the geometry kernel raises anything on a broken shape
            found = None
        if found is None:
            self.note("left out", "a space without a usable shape", label)
            return None, levels
        outline, z = found.outline, found.floor_m
        storey = next(
            (r.RelatingObject for r in space.Decomposes or () if r.RelatingObject.is_a("IfcBuildingStorey")), None
        )
        level = next((x for x in levels if storey is not None and x.id == self.keys[storey.id()]), None)
        if level is None:
            near = [x for x in levels if abs(x.elevation_m - z) < 0.6]
            level = (
                near[0]
                if near
                else Level(id=f"level at {z:.2f}", name=f"Level at {z:.1f} m", elevation_m=round(z, 6), storey_m=3.4)
            )
            if not near:
                levels = sorted((*levels, level), key=lambda x: x.elevation_m)
        number = str(space.Name or "").strip() or label
        name = str(space.LongName or "").strip() or number
        psets = psets_of(space)
        use_id, assumed = use_of(str(space.ObjectType or psets.get("OccupancyType") or "") or name)
        if assumed:
            self.note("assumed", assumed, label)
        values = self._values(space, psets)
        if found.hollow_m2:
            values["area_m2"] = Imported(value=round(found.net_m2, 4), source=self.name)
            self.note(
                "left out",
                f"the walls of a courtyard or shaft of {found.hollow_m2:.1f} m² within a room: its area is taken off "
                "the floor; draw it as a room or a shaft",
                label,
            )
        if found.mean_m < 0.99 * found.high_m:
            self.note(
                "assumed",
                f"a room up to {found.high_m:.2f} m high counts with its mean height of {found.mean_m:.2f} m, which "
                "gives its volume",
                label,
            )
        try:
            return Room(
                id=self.keys[space.id()],
                number=number[:40],
                name=name[:80],
                level_id=level.id,
                outline=outline,
                use_id=use_id,
                ceiling_m=round(min(max(found.mean_m, 0.5), 100.0), 6),
                system_id="" if psets.get("AirConditioning") is False else "served",
                zone_id=self._zone(space, label),
                **values,
            ), levels
        except GarnetfinError as error:
            self.note("left out", error.what, label)
            return None, levels

    def _meeting(self, rooms: list[Room]) -> list[Room]:
        """Rooms drawn between walls go out to the middle of the walls they share, before faces follow from them. Their
        floor stays what the file draws.
        """
        made: dict[str, tuple[tuple[float, float], ...]] = {}
        for level_id in dict.fromkeys(r.level_id for r in rooms):
            own = {r.id: r.outline for r in rooms if r.level_id == level_id}
            made |= {i: o for i, o in meeting_in_walls(own).items() if o != own[i]}
        if not made:
            return rooms
        self.note(
            "assumed",
            f"{len(made)} of {len(rooms)} rooms are drawn between walls: they meet in the middle of walls up to "
            f"{LARGEST_GAP_M * 100:.0f} cm thick, and their floor areas stay as drawn, between walls",
        )
        return [
            structs.replace(
                r, outline=made[r.id], area_m2=Imported(value=round(area_of(r.outline), 4), source=self.name)
            )
            if r.id in made and isinstance(r.area_m2, Rule)
            else structs.replace(r, outline=made.get(r.id, r.outline))
            for r in rooms
        ]

    def _zone(self, space, label: str) -> str:
        """The zone a space is in; "" in none."""
        groups = [r.RelatingGroup for r in space.HasAssignments or () if r.is_a("IfcRelAssignsToGroup")]
        zones = [g for g in groups if g is not None and g.is_a("IfcZone")]
        if not zones:
            return ""
        if len(zones) > 1:
            self.note("left out", f"zones beside {zones[0].Name or zones[0].GlobalId}", label)
        own = zones[0]
        zone = self.zones.setdefault(
            own.id(), Zone(id=f"zone {own.id()}", name=str(own.LongName or own.Name or own.GlobalId)[:60])
        )
        return zone.id

    def _values(self, space, psets: dict) -> dict[str, Any]:
        """What the file says of people, set-points, lights and equipment; what is out of bounds is told."""
        values: dict[str, Any] = {}
        for field, (low, high), names in SAID:
            for name in names:
                value = number(psets.get(name))
                if value is None:
                    continue
                if low <= value <= high:
                    values.setdefault(field, Imported(value=value, source=self.name))
                else:
                    self.note("left out", f"{name} of {value:g}", str(space.Name))
        crossed = (
            "cooling_c" in values and "heating_c" in values and values["heating_c"].value > values["cooling_c"].value
        )
        if crossed:
            self.note("left out", "a winter set-point above the summer one", str(space.Name))
            return {k: v for k, v in values.items() if k not in ("cooling_c", "heating_c")}
        return values

    # -- boundaries ----------------------------------------------------------------------------------------------
    def _boundaries(self, rooms: set[str]) -> list[RawFace]:
        """Faces from space boundaries; none when too few of them carry a polygon."""
        bounds = [
            b
            for b in self.model.by_type("IfcRelSpaceBoundary")
            if b.RelatingSpace is not None
            and b.RelatingSpace.is_a("IfcSpace")
            and self.keys[b.RelatingSpace.id()] in rooms
            and b.PhysicalOrVirtualBoundary != "VIRTUAL"
        ]
        shaped = [(b, p) for b in bounds if (p := self._boundary_polygon(b)) is not None]
        if (
            not shaped
            or len(shaped) < ENOUGH_BOUNDARIES * len(bounds)
            or (len({b.RelatingSpace.id() for b, _ in shaped}) < ENOUGH_BOUNDARIES * len(rooms))
        ):
            return []
        hosts = [(b, p) for b, p in shaped if not _is_opening(b)]
        holes: dict[str, list] = {}
        for b, p in shaped:
            if _is_opening(b):
                holes.setdefault(self.keys[b.RelatingSpace.id()], []).append((b, p))
        pairs = _pairs(hosts)
        found, done = [], set()
        for i, (b, polygon) in enumerate(hosts):
            if i in done:
                continue
            other = pairs.get(i)
            done |= {i} | ({other} if other is not None else set())
            room = self.keys[b.RelatingSpace.id()]
            outside = b.InternalOrExternalBoundary in ("EXTERNAL", "EXTERNAL_EARTH")
            sides = (
                (room, self.keys[hosts[other][0].RelatingSpace.id()])
                if other is not None
                else (room,)
                if outside
                else (room, INSIDE)
            )
            build_up = self.fabric.build_up(b.RelatedBuildingElement, outside and other is None)
            openings = tuple(o for h, p in holes.get(room, ()) if _lies_on(p, polygon) for o in self._raw_opening(h, p))
            found.append(
                RawFace(
                    f"{b.GlobalId} {b.id()}",
                    polygon,
                    sides,
                    build_up,
                    b.InternalOrExternalBoundary == "EXTERNAL_EARTH",
                    openings=openings,
                )
            )
        return found

    def _boundary_polygon(self, boundary) -> NDArray | None:
        geometry = boundary.ConnectionGeometry
        surface = getattr(geometry, "SurfaceOnRelatingElement", None)
        if surface is None or not surface.is_a("IfcCurveBoundedPlane"):
            return None
        import ifcopenshell.util.placement

        try:
            points = self.shapes.curve(surface.OuterBoundary)
            if points is None:
                return None
            plane = np.array(ifcopenshell.util.placement.get_axis2placement(surface.BasisSurface.Position), float)
        except Exception:  # a boundary that refers to nothing usable
            return None
        plane[:3, 3] *= self.metre
        whole = self.shapes.matrix(boundary.RelatingSpace) @ plane
        flat = np.column_stack([points[:, :2], np.zeros(len(points)), np.ones(len(points))])
        placed = (whole @ flat.T)[:3].T
        return placed if np.isfinite(placed).all() else None

    def _raw_opening(self, boundary, polygon: NDArray) -> Iterator[RawOpening]:
        element = boundary.RelatedBuildingElement
        window = element.is_a("IfcWindow")
        outside = boundary.InternalOrExternalBoundary in ("EXTERNAL", "EXTERNAL_EARTH")
        psets = psets_of(element)
        u = number(psets.get("ThermalTransmittance"))
        glazing = self.fabric.glazing(psets).id if window else ""
        yield RawOpening(
            boundary.GlobalId,
            "window" if window else "outside door" if outside else "door",
            polygon,
            glazing,
            u if u and 0.05 <= u <= 7 else 1.8,
        )

    # -- windows and doors without boundaries --------------------------------------------------------------------
    def _loose(self, levels: list[Level]) -> Iterator[LooseOpening]:
        """Windows and doors by their own placement and overall measures."""
        for element in (*self.model.by_type("IfcWindow"), *self.model.by_type("IfcDoor")):
            width, height = (float(v or 0) * self.metre for v in (element.OverallWidth, element.OverallHeight))
            m = self.shapes.matrix(element)
            if not np.isfinite(m).all() or not 0.05 <= width <= 100 or not 0.05 <= height <= 100 or not levels:
                self.note("left out", "a window or door without measures", str(element.Name or element.GlobalId))
                continue
            # Placement is the lower corner; the opening runs along the local x axis.
            middle = m[:3, 3] + m[:3, 0] * width / 2
            z = float(m[2, 3])
            under = [x for x in levels if x.elevation_m <= z + 0.3]
            level = max(under, key=lambda x: x.elevation_m) if under else levels[0]
            window = element.is_a("IfcWindow")
            sill = min(max(z - level.elevation_m, -1.0), 100.0)
            psets = psets_of(element)
            u = number(psets.get("ThermalTransmittance"))
            yield LooseOpening(
                level_id=level.id,
                at=(round(float(middle[0]), 6), round(float(middle[1]), 6)),
                opening=Opening(
                    id=element.GlobalId,
                    kind="window" if window else "door",
                    at_m=0.0,
                    width_m=round(width, 6),
                    sill_m=round(sill, 6),
                    head_m=round(sill + height, 6),
                    glazing_id=self.fabric.glazing(psets).id if window else "",
                    door_u_w_m2k=u if u and 0.05 <= u <= 7 else 1.8,
                ),
            )


def _is_opening(boundary) -> bool:
    element = boundary.RelatedBuildingElement
    return element is not None and (element.is_a("IfcWindow") or element.is_a("IfcDoor"))


def _pairs(hosts: list) -> dict[int, int]:
    """The two boundaries of one wall or floor seen from its two rooms: as the file says, else same element, back to
    back.
    """
    at = {b.id(): i for i, (b, _) in enumerate(hosts)}
    found: dict[int, int] = {}
    by_element: dict[int, list[int]] = {}
    for i, (b, _) in enumerate(hosts):
        other = getattr(b, "CorrespondingBoundary", None)
        if other is not None and other.id() in at:
            found[i], found[at[other.id()]] = at[other.id()], i
        elif b.RelatedBuildingElement is not None and b.InternalOrExternalBoundary == "INTERNAL":
            by_element.setdefault(b.RelatedBuildingElement.id(), []).append(i)
    for members in by_element.values():
        for n, i in enumerate(members):
            if i in found:
                continue
            p = hosts[i][1]
            vector = area_vector(p)
            area = float(np.linalg.norm(vector))
            for j in members[n + 1 :]:
                q = hosts[j][1]
                if j in found or hosts[i][0].RelatingSpace == hosts[j][0].RelatingSpace:
                    continue
                other = area_vector(q)
                apart = q.mean(axis=0) - p.mean(axis=0)
                if abs(float(vector @ other)) > 0.98 * area * float(np.linalg.norm(other)) and (
                    abs(float(np.linalg.norm(other)) / area - 1) < 0.05 and float(np.linalg.norm(apart)) < PAIR_GAP_M
                ):
                    found[i], found[j] = j, i
                    break
    return found


def _lies_on(hole: NDArray, host: NDArray) -> bool:
    """True when an opening's middle lies on a wall's polygon, up to half a metre before or behind it."""
    vector = area_vector(host)
    normal = vector / np.linalg.norm(vector)
    middle = hole.mean(axis=0)
    if abs(float((middle - host.mean(axis=0)) @ normal)) > 0.5 or abs(float(area_vector(hole) @ normal)) < 0.9 * float(
        np.linalg.norm(area_vector(hole))
    ):
        return False
    low, high = host.min(axis=0) - 0.5 * np.abs(normal) - 1e-6, host.max(axis=0) + 0.5 * np.abs(normal) + 1e-6
    return bool((middle >= low).all() and (middle <= high).all())
