"""IFC4 (and 2x3) into a draft: storeys, spaces, their boundaries, windows, doors and the layers of walls.

With space boundaries that carry geometry the faces come from these; without, walls and floors follow from the spaces'
outlines, and windows and doors go to the wall they stand in.
"""

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
from msgspec import structs
from numpy.typing import NDArray

from garnetfin.core.adjacency import LARGEST_GAP_M
from garnetfin.core.errors import FileError, GarnetfinError
from garnetfin.core.outlines import area_of, meeting_in_walls, tidy
from garnetfin.exchange.faces import RawFace, RawOpening, area_vector, build_faces, floor_outline
from garnetfin.exchange.ifc_fabric import Fabric, number, psets_of
from garnetfin.project.draft import MOST_NOTES, Draft, LooseOpening, Note, NoteKind
from garnetfin.project.spaces import INSIDE, Level, Opening, Room
from garnetfin.project.uses import use_of
from garnetfin.project.values import Imported, Rule

ACCEPTED = "An IFC file (IFC2X3, IFC4, IFC4X3) with spaces is accepted"
MOST_SPACES = 5_000
ENOUGH_BOUNDARIES = 0.8
PAIR_GAP_M = 0.6


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
        try:
            self.metre = float(ifcopenshell.util.unit.calculate_unit_scale(model))
        except Exception:  # no unit assignment at all
            self.metre = 1.0
            self.note("assumed", "no length unit: metres")
        if not 1e-6 < self.metre < 1e4:
            raise FileError(f"{name} has a length unit of {self.metre:g} m", remedy=ACCEPTED)
        if not whole:
            self.note("missing", "the end of the file: it may be cut off")
        self.fabric = Fabric(model, name, self.metre, self.note)

    def note(self, kind: NoteKind, text: str, where: str = "") -> None:
        if len(self.notes) < MOST_NOTES:
            self.notes.append(Note(kind=kind, text=text, where=where[:120]))

    # -- the whole -----------------------------------------------------------------------------------------------
    def draft(self) -> Draft:
        spaces = self.model.by_type("IfcSpace")
        if not spaces:
            raise FileError(
                f"{self.name} holds no spaces", remedy="Let the architect export rooms as IfcSpace; " + ACCEPTED
            )
        if len(spaces) > MOST_SPACES:
            raise FileError(
                f"{self.name} holds {len(spaces)} spaces, more than {MOST_SPACES}",
                remedy="Export a part of the building",
            )
        levels = self._levels()
        rooms: list[Room] = []
        for i, space in enumerate(spaces):
            if i % 20 == 0:
                self.say(0.15 + 0.4 * i / len(spaces), f"space {i + 1} of {len(spaces)}")
            room, levels = self._room(space, levels)
            if room is not None:
                rooms.append(room)
        rooms = list({r.id: r for r in rooms}.values())
        if not rooms:
            raise FileError(
                f"No space of {self.name} has a usable shape", remedy="Export the spaces with their geometry"
            )
        self.say(0.6, "boundaries")
        raws = self._boundaries({r.id for r in rooms})
        common: dict[str, Any] = dict(
            source=self.name, name=self._project_name(), levels=tuple(levels), rooms=tuple(rooms)
        )
        latitude, longitude = self._place()
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

    def _place(self) -> tuple[float | None, float | None]:
        def degrees(parts) -> float | None:
            if not parts or len(parts) < 3:
                return None
            sign = -1 if min(parts) < 0 else 1
            return sign * sum(abs(p) / d for p, d in zip(parts, (1, 60, 3600, 3.6e9)))

        for site in self.model.by_type("IfcSite"):
            lat, lon = degrees(site.RefLatitude), degrees(site.RefLongitude)
            if lat is not None and lon is not None and abs(lat) <= 90 and abs(lon) <= 180:
                return lat, lon
        return None, None

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
            z = float(self._matrix(storey)[2, 3])
            if not np.isfinite(z) or abs(z) < 1e-9:
                z = float(storey.Elevation or 0.0) * self.metre
            if np.isfinite(z) and -500 <= z <= 2000:
                found.append((storey.GlobalId, str(storey.Name or "Level")[:40], z))
        found = sorted({x[0]: x for x in found}.values(), key=lambda x: x[2])
        levels: list[Level] = []
        for i, (own, name, z) in enumerate(found):
            storey = found[i + 1][2] - z if i + 1 < len(found) else levels[-1].storey_m if levels else 3.4
            levels.append(
                Level(id=own, name=name, elevation_m=round(z, 6), storey_m=round(min(max(storey, 0.5), 100.0), 6))
            )
        return levels

    def _matrix(self, product) -> NDArray:
        """Placement (4, 4), translation in metres."""
        import ifcopenshell.util.placement

        try:
            m = np.array(ifcopenshell.util.placement.get_local_placement(product.ObjectPlacement), float)
        except Exception:  # missing, circular or of a kind that is not local
            return np.eye(4)
        m[:3, 3] *= self.metre
        return m

    # -- spaces --------------------------------------------------------------------------------------------------
    def _room(self, space, levels: list[Level]) -> tuple[Room | None, list[Level]]:
        label = f"{space.Name or ''} {space.LongName or ''}".strip() or space.GlobalId
        try:
            found = self._shape(space)
        except Exception:  # the geometry kernel raises anything on a broken shape
            found = None
        if found is None:
            self.note("left out", "a space without a usable shape", label)
            return None, levels
        outline, z, height = found
        storey = next(
            (r.RelatingObject for r in space.Decomposes or () if r.RelatingObject.is_a("IfcBuildingStorey")), None
        )
        level = next((x for x in levels if storey is not None and x.id == storey.GlobalId), None)
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
        use_id, assumed = use_of(str(space.ObjectType or "") or name)
        if assumed:
            self.note("assumed", assumed, label)
        values = self._values(space, area_of(outline))
        try:
            return Room(
                id=space.GlobalId,
                number=number[:40],
                name=name[:80],
                level_id=level.id,
                outline=outline,
                use_id=use_id,
                ceiling_m=round(min(max(height, 0.5), 100.0), 6),
                system_id="served",
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

    def _values(self, space, drawn: float) -> dict[str, Any]:
        psets = psets_of(space)
        values: dict[str, Any] = {}
        for field, names in (
            ("people", ("OccupancyNumber",)),
            ("cooling_c", ("SpaceTemperatureSummerMax",)),
            ("heating_c", ("SpaceTemperatureWinterMin",)),
        ):
            for name in names:
                value = number(psets.get(name))
                if value is not None and ((field == "people" and value >= 0) or 0 < value < 50):
                    values[field] = Imported(value=value, source=self.name)
        crossed = (
            "cooling_c" in values and "heating_c" in values and values["heating_c"].value > values["cooling_c"].value
        )
        if crossed:
            self.note("left out", "a winter set-point above the summer one", str(space.Name))
            return {k: v for k, v in values.items() if k not in ("cooling_c", "heating_c")}
        return values

    def _shape(self, space) -> tuple[tuple, float, float] | None:
        """(outline, floor level, height) of a space: from an upright extrusion at once, else from its mesh."""
        if space.Representation is None:
            return None
        solids = [
            i for r in space.Representation.Representations if r.RepresentationIdentifier == "Body" for i in r.Items
        ]
        if len(solids) == 1 and solids[0].is_a("IfcExtrudedAreaSolid"):
            found = self._extrusion(solids[0], self._matrix(space))
            if found is not None:
                return found
        import ifcopenshell.geom

        settings = ifcopenshell.geom.settings()
        settings.set("use-world-coords", True)
        shape = ifcopenshell.geom.create_shape(settings, space)
        points = np.array(shape.geometry.verts, float).reshape(-1, 3)
        triangles = np.array(shape.geometry.faces, int).reshape(-1, 3)
        if not len(points) or not np.isfinite(points).all():
            return None
        z0, z1 = float(points[:, 2].min()), float(points[:, 2].max())
        corners = points[triangles]
        normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        flat = (np.abs(normal[:, 2]) > 0.9 * np.linalg.norm(normal, axis=1)) & (corners[:, :, 2].max(axis=1) < z0 + 0.3)
        outline = floor_outline(list(corners[flat]))
        return None if outline is None or z1 - z0 < 0.5 else (outline, z0, z1 - z0)

    def _extrusion(self, solid, placed: NDArray) -> tuple[tuple, float, float] | None:
        import ifcopenshell.util.placement

        points = self._profile(solid.SweptArea)
        if points is None:
            return None
        local = (
            np.eye(4)
            if solid.Position is None
            else np.array(ifcopenshell.util.placement.get_axis2placement(solid.Position), float)
        )
        local[:3, 3] *= self.metre
        whole = placed @ local
        direction = whole[:3, :3] @ np.array([*solid.ExtrudedDirection.DirectionRatios, 0.0][:3], float)
        direction /= np.linalg.norm(direction)
        if abs(direction[2]) < 0.999:
            return None
        space = (whole @ np.column_stack([points, np.zeros(len(points)), np.ones(len(points))]).T)[:3].T
        if not np.isfinite(space).all() or np.ptp(space[:, 2]) > 0.01:
            return None
        height = float(solid.Depth) * self.metre
        outline = tidy([(float(x), float(y)) for x, y in space[:, :2]])
        from shapely import Polygon

        if len(outline) < 3 or not Polygon(outline).is_valid or area_of(outline) < 0.2 or not 0.5 <= height <= 100:
            return None
        return outline, float(space[0, 2]) - (height if direction[2] < 0 else 0.0), height

    def _profile(self, profile) -> NDArray | None:
        """Corners (n, 2) [m] of a straight-edged profile."""
        if profile.is_a("IfcRectangleProfileDef") and not profile.is_a("IfcRoundedRectangleProfileDef"):
            x, y = float(profile.XDim) / 2, float(profile.YDim) / 2
            points = np.array([(-x, -y), (x, -y), (x, y), (-x, y)])
            if profile.Position is not None:
                at = np.array(profile.Position.Location.Coordinates[:2], float)
                u = (
                    np.array(profile.Position.RefDirection.DirectionRatios[:2], float)
                    if profile.Position.RefDirection
                    else np.array([1.0, 0.0])
                )
                u /= np.linalg.norm(u)
                points = at + points[:, :1] * u + points[:, 1:] * np.array([-u[1], u[0]])
            return points * self.metre
        if profile.is_a() == "IfcArbitraryClosedProfileDef":
            points = self._curve(profile.OuterCurve)
            return None if points is None else points[:, :2]
        return None

    def _curve(self, curve) -> NDArray | None:
        """Corners (n, 2 or 3) [m] of a polyline."""
        if curve.is_a("IfcPolyline"):
            points = [p.Coordinates for p in curve.Points]
        elif curve.is_a("IfcIndexedPolyCurve"):
            if any(s.is_a("IfcArcIndex") for s in curve.Segments or ()):
                return None
            points = list(curve.Points.CoordList)
        elif curve.is_a("IfcCompositeCurve"):
            parts = [self._curve(s.ParentCurve) for s in curve.Segments]
            if any(p is None for p in parts):
                return None
            return np.vstack([p[:-1] for p in parts])
        else:
            return None
        points = np.array([tuple(p) for p in points], float) * self.metre
        if len(points) > 1 and np.allclose(points[0], points[-1]):
            points = points[:-1]
        return points if len(points) >= 3 else None

    # -- boundaries ----------------------------------------------------------------------------------------------
    def _boundaries(self, rooms: set[str]) -> list[RawFace]:
        """Faces from space boundaries; none when too few of them carry a polygon."""
        bounds = [
            b
            for b in self.model.by_type("IfcRelSpaceBoundary")
            if b.RelatingSpace is not None
            and b.RelatingSpace.is_a("IfcSpace")
            and b.RelatingSpace.GlobalId in rooms
            and b.PhysicalOrVirtualBoundary != "VIRTUAL"
        ]
        shaped = [(b, p) for b in bounds if (p := self._boundary_polygon(b)) is not None]
        if (
            not shaped
            or len(shaped) < ENOUGH_BOUNDARIES * len(bounds)
            or (len({b.RelatingSpace.GlobalId for b, _ in shaped}) < ENOUGH_BOUNDARIES * len(rooms))
        ):
            return []
        hosts = [(b, p) for b, p in shaped if not _is_opening(b)]
        holes: dict[str, list] = {}
        for b, p in shaped:
            if _is_opening(b):
                holes.setdefault(b.RelatingSpace.GlobalId, []).append((b, p))
        pairs = _pairs(hosts)
        found, done = [], set()
        for i, (b, polygon) in enumerate(hosts):
            if i in done:
                continue
            other = pairs.get(i)
            done |= {i} | ({other} if other is not None else set())
            room = b.RelatingSpace.GlobalId
            outside = b.InternalOrExternalBoundary in ("EXTERNAL", "EXTERNAL_EARTH")
            sides = (
                (room, hosts[other][0].RelatingSpace.GlobalId)
                if other is not None
                else (room,)
                if outside
                else (room, INSIDE)
            )
            build_up = self.fabric.build_up(b.RelatedBuildingElement, outside and other is None)
            openings = tuple(o for h, p in holes.get(room, ()) if _lies_on(p, polygon) for o in self._raw_opening(h, p))
            found.append(
                RawFace(
                    b.GlobalId,
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
            points = self._curve(surface.OuterBoundary)
            if points is None:
                return None
            plane = np.array(ifcopenshell.util.placement.get_axis2placement(surface.BasisSurface.Position), float)
        except Exception:  # a boundary that refers to nothing usable
            return None
        plane[:3, 3] *= self.metre
        whole = self._matrix(boundary.RelatingSpace) @ plane
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
            m = self._matrix(element)
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
