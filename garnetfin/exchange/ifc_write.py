"""The building and its air systems as IFC4: spaces with their loads, duct segments, fittings, dampers, terminals and
units, joined port to port.

What was computed comes in as plain parts (Model); this file knows IFC and nothing of how figures are made.
"""

from math import hypot

from garnetfin.core.adjacency import anticlockwise
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.tables import room_uses
from garnetfin.exchange.ifc_envelope import Envelope
from garnetfin.exchange.ifc_parts import Duct, InDuct, Model, Outlet, Parts, Space, System, Vector
from garnetfin.exchange.ifc_types import AIRS, Types, unit_parts
from garnetfin.project.tree import Project

SYSTEM_TYPES = {"supply": "VENTILATION", "return": "VENTILATION", "extract": "EXHAUST", "outdoor": "VENTILATION"}
LEAST_PIECE_M = 0.02  # a duct between two fittings keeps at least this much
SHEET_M = 0.0007
DAMPER_M = 0.1
STRAIGHT = 0.02  # sine below which two ducts run on in one line


def write_model(project: Project, model: Model) -> bytes:
    """Bytes of an IFC4 file in metres."""
    import ifcopenshell

    writer = _Writer(ifcopenshell.file(schema="IFC4"), project, model)
    writer.write()
    return writer.file.to_string().encode()


class _Writer(Parts):
    def __init__(self, file, project: Project, model: Model) -> None:
        super().__init__(file, project.model_name)
        self.project, self.model = project, model
        self.types = Types(self)
        self.points = {p.id: (p.x_m, p.y_m, p.z_m) for p in project.duct_points}
        self.level_of = {p.id: p.level_id for p in project.duct_points}
        self.spaces: dict[str, object] = {}
        self.referenced: dict[str, list] = {}
        self.profiles: dict[tuple, object] = {}

    # -- the building --------------------------------------------------------------------------------------------
    def write(self) -> None:
        f = self.file
        site = self.project.site
        north = self._north(site.north_deg if site else 0.0)
        self.context = f.createIfcGeometricRepresentationContext(
            None, "Model", 3, 1e-5, self.axes(), f.createIfcDirection(north)
        )
        self.body = f.createIfcGeometricRepresentationSubContext(
            "Body", "Model", None, None, None, None, self.context, None, "MODEL_VIEW", None
        )
        units = [
            f.createIfcSIUnit(None, kind, None, name)
            for kind, name in (
                ("LENGTHUNIT", "METRE"),
                ("AREAUNIT", "SQUARE_METRE"),
                ("VOLUMEUNIT", "CUBIC_METRE"),
                ("PLANEANGLEUNIT", "RADIAN"),
                ("POWERUNIT", "WATT"),
                ("PRESSUREUNIT", "PASCAL"),
                ("THERMODYNAMICTEMPERATUREUNIT", "DEGREE_CELSIUS"),
                ("TIMEUNIT", "SECOND"),
            )
        ]
        units.append(f.createIfcSIUnit(None, "MASSUNIT", "KILO", "GRAM"))
        project = f.create_entity(
            "IfcProject",
            GlobalId=self.id("project"),
            Name=self.project.name,
            RepresentationContexts=[self.context],
            UnitsInContext=f.createIfcUnitAssignment(units),
        )
        place = self.placed(None)
        where = f.create_entity(
            "IfcSite",
            GlobalId=self.id("site"),
            Name=site.name if site else "Site",
            ObjectPlacement=place,
            CompositionType="ELEMENT",
            **(
                {
                    "RefLatitude": _angle(site.latitude_deg),
                    "RefLongitude": _angle(site.longitude_deg),
                    "RefElevation": float(site.altitude_m),
                }
                if site
                else {}
            ),
        )
        inside = self.placed(place)
        self.building = f.create_entity(
            "IfcBuilding",
            GlobalId=self.id("building"),
            Name=self.project.name,
            ObjectPlacement=inside,
            CompositionType="ELEMENT",
        )
        self.related("IfcRelAggregates", "site", RelatingObject=project, RelatedObjects=[where])
        self.related("IfcRelAggregates", "building", RelatingObject=where, RelatedObjects=[self.building])
        self.storeys = {}
        for level in self.project.levels:
            self.at[level.id] = (self.placed(inside, (0.0, 0.0, level.elevation_m)), level.elevation_m)
            self.storeys[level.id] = f.create_entity(
                "IfcBuildingStorey",
                GlobalId=self.id("level", level.id),
                Name=level.name,
                ObjectPlacement=self.at[level.id][0],
                CompositionType="ELEMENT",
                Elevation=float(level.elevation_m),
            )
        if self.storeys:
            self.related(
                "IfcRelAggregates", "levels", RelatingObject=self.building, RelatedObjects=list(self.storeys.values())
            )
        self._rooms()
        self._zones()
        Envelope(self, self.project, self.model).write()
        self._systems()
        self.types.write()
        for level_id, elements in self.held.items():
            self.related(
                "IfcRelContainedInSpatialStructure",
                f"held/{level_id}",
                RelatedElements=elements,
                RelatingStructure=self.storeys[level_id],
            )
        for room_id, elements in self.referenced.items():
            self.related(
                "IfcRelReferencedInSpatialStructure",
                f"referenced/{room_id}",
                RelatedElements=elements,
                RelatingStructure=self.spaces[room_id],
            )

    @staticmethod
    def _north(north_deg: float) -> tuple[float, float]:
        from math import cos, radians, sin

        return sin(radians(north_deg)), cos(radians(north_deg))

    def _rooms(self) -> None:
        by_level: dict[str, list] = {}
        for room in self.project.rooms:
            if room.sketched and not room.placed:
                continue  # a line of a list has no place
            corners = [self.point(x, y) for x, y in anticlockwise(room.outline)]
            profile = self.file.createIfcArbitraryClosedProfileDef(
                "AREA", None, self.file.createIfcPolyline([*corners, corners[0]])
            )
            made = self.file.create_entity(
                "IfcSpace",
                GlobalId=self.id("room", room.id),
                Name=room.number,
                LongName=room.name,
                ObjectType=room_uses()[room.use_id].name,
                CompositionType="ELEMENT",
                PredefinedType="INTERNAL",
                ObjectPlacement=self.placed(self.at[room.level_id][0]),
                Representation=self.shape(self.solid(profile, room.ceiling_m)),
            )
            self.spaces[room.id] = made
            by_level.setdefault(room.level_id, []).append(made)
            known = self.model.spaces.get(room.id)
            if known is not None:
                self._requirements(made, room.id, known)
                figures = (
                    ("TotalSensibleHeatGain", known.cooling_w),
                    ("TotalHeatLoss", known.heating_w),
                    ("CoolingDesignAirflow", known.flow_m3s),
                    ("CoolingDryBulb", known.cooling_c),
                    ("HeatingDryBulb", known.heating_c),
                )
                self.properties(
                    made,
                    f"room/{room.id}",
                    "Pset_SpaceThermalDesign",
                    tuple((n, float(v)) for n, v in figures if v is not None),
                )
                self.quantities(
                    made,
                    f"room/{room.id}",
                    "Qto_SpaceBaseQuantities",
                    (("Area", "NetFloorArea", known.area_m2), ("Volume", "NetVolume", known.volume_m3)),
                )
        for level_id, spaces in by_level.items():
            self.related(
                "IfcRelAggregates", f"rooms/{level_id}", RelatingObject=self.storeys[level_id], RelatedObjects=spaces
            )

    def _requirements(self, made, room_id: str, known: Space) -> None:
        """What the room is for, as the sets of the schema have it."""
        key = f"room/{room_id}"
        self.properties(
            made,
            key,
            "Pset_SpaceOccupancyRequirements",
            (("OccupancyType", known.use), ("OccupancyNumber", float(known.people))),
        )
        self.properties(
            made,
            key,
            "Pset_SpaceThermalRequirements",
            (
                ("SpaceTemperatureSummerMax", float(known.cooling_c)),
                ("SpaceTemperatureWinterMin", float(known.heating_c)),
                ("AirConditioning", known.served),
            ),
        )
        self.properties(
            made,
            key,
            "Pset_ThermalLoadDesignCriteria",
            (
                ("LightingLoadIntensity", float(known.lights_w_m2)),
                ("ReceptacleLoadIntensity", float(known.equipment_w_m2)),
            ),
        )

    def _zones(self) -> None:
        """Zones of control with their rooms."""
        for zone in self.project.zones:
            rooms = [self.spaces[r.id] for r in self.project.rooms if r.zone_id == zone.id and r.id in self.spaces]
            if rooms:
                made = self.file.create_entity("IfcZone", GlobalId=self.id("zone", zone.id), Name=zone.name)
                self.related("IfcRelAssignsToGroup", f"zone/{zone.id}", RelatedObjects=rooms, RelatingGroup=made)

    # -- the air systems -----------------------------------------------------------------------------------------
    def _systems(self) -> None:
        units: dict[str, list] = {}
        for system in self.model.systems:
            members = _Air(self, system).write(units)
            made = self.file.create_entity(
                "IfcDistributionSystem",
                GlobalId=self.id("system", system.id, system.air),
                Name=f"{system.name} {system.air}",
                LongName=f"{system.name}, {system.air} air",
                PredefinedType=SYSTEM_TYPES[system.air],
            )
            self.related(
                "IfcRelAssignsToGroup", f"system/{system.id}/{system.air}", RelatedObjects=members, RelatingGroup=made
            )
            self.related(
                "IfcRelServicesBuildings",
                f"serves/{system.id}/{system.air}",
                RelatingSystem=made,
                RelatedBuildings=[self.building],
            )

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

    def profile(self, section: Section, thickness_m: float):
        """The sheet of a duct around its clear section."""
        key = (section, thickness_m)
        if key not in self.profiles:
            wide, high, t = section.width_m + 2 * thickness_m, section.height_m + 2 * thickness_m, thickness_m
            if section.shape == "round":
                made = self.file.createIfcCircleHollowProfileDef("AREA", None, self.origin2, wide / 2, t)
            elif section.shape == "rectangular":
                made = self.file.createIfcRectangleHollowProfileDef(
                    "AREA", None, self.origin2, wide, high, t, None, None
                )
            else:
                made = self.file.createIfcRoundedRectangleProfileDef(
                    "AREA", None, self.origin2, wide, high, min(wide, high) / 2
                )
            self.profiles[key] = made
        return self.profiles[key]


class _Air:
    """Ducts of one air, joined from the unit to every terminal."""

    def __init__(self, writer: _Writer, system: System) -> None:
        self.w, self.system = writer, system
        self.meet: dict[str, list[Duct]] = {}
        for d in system.ducts:
            self.meet.setdefault(d.start, []).append(d)
            self.meet.setdefault(d.end, []).append(d)
        self.members: list = []
        # (point, duct) -> the port of what stands at the point towards the duct
        self.open: dict[tuple[str, str], object] = {}

    def write(self, units: dict[str, list]) -> list:
        self._unit(units)
        for point_id, ducts in self.meet.items():
            if len(ducts) > 1 and point_id not in self.system.roots:
                self._fitting(point_id, ducts)
        for outlet in self.system.outlets:
            self._outlet(outlet)
        for duct in self.system.ducts:
            self._duct(duct)
        return self.members

    # -- what stands at points -----------------------------------------------------------------------------------
    def _unit(self, units: dict[str, list]) -> None:
        """The unit of the air system, made with its first air, its parts inside."""
        w, system = self.w, self.system
        root = system.roots[0]
        at = w.points[root]
        if system.id not in units:
            made = w.element(
                "IfcUnitaryEquipment",
                system.id,
                system.name,
                w.level_of[root],
                at,
                w.shape(w.box(1.2, 1.2, 1.0, -0.5)),
                PredefinedType="AIRHANDLER",
            )
            w.types.give(made, "IfcUnitaryEquipmentType", "Air-handling unit", "AIRHANDLER")
            parts = unit_parts(w, w.types, made, system.id, w.model.parts.get(system.id, ()))
            units[system.id] = [made, *parts]
        self.members += units[system.id]
        for point_id in system.roots:
            for duct in self.meet.get(point_id, []):
                self._open(units[system.id][0], f"{system.id}/{system.air}/{duct.id}", point_id, duct)

    def _open(self, element, key: str, point_id: str, duct: Duct) -> None:
        self.open[point_id, duct.id] = self.w.port(element, f"{key}", "SOURCE" if duct.start == point_id else "SINK")

    def _fitting(self, point_id: str, ducts: list[Duct]) -> None:
        """A bend, transition or junction as a body that fills the joint; two alike ducts in one line join without
        one.
        """
        w = self.w
        kind = self.kind_of(point_id, ducts)
        if not kind:
            return
        wide, high = max(d.section.width_m for d in ducts), max(d.section.height_m for d in ducts)
        key = f"{self.system.id}/{self.system.air}/{point_id}"
        made = w.element(
            "IfcDuctFitting",
            key,
            kind.capitalize(),
            w.level_of[point_id],
            w.points[point_id],
            w.shape(w.box(wide, wide, high, -high / 2)),
            x=self._along(point_id, ducts),
            PredefinedType=kind,
        )
        self.members.append(made)
        w.properties(made, key, "Garnetfin_Fitting", (("Kind", kind.lower()), ("Ends", float(len(ducts)))))
        w.types.give(made, "IfcDuctFittingType", kind.capitalize(), kind)
        for duct in ducts:
            self._open(made, f"{key}/{duct.id}", point_id, duct)

    def kind_of(self, point_id: str, ducts: list[Duct]) -> str:
        if len(ducts) > 2:
            return "JUNCTION"
        a, b = (self._away(point_id, d) for d in ducts)
        cross = hypot(hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2]), a[0] * b[1] - a[1] * b[0])
        if cross > STRAIGHT:
            return "BEND"
        return "TRANSITION" if ducts[0].section != ducts[1].section else ""

    def _along(self, point_id: str, ducts: list[Duct]) -> Vector | None:
        for d in ducts:
            u = self._away(point_id, d)
            if hypot(u[0], u[1]) > 0.1:
                length = hypot(u[0], u[1])
                return (u[0] / length, u[1] / length, 0.0)
        return None

    def _away(self, point_id: str, duct: Duct) -> Vector:
        a, b = self.w.points[point_id], self.w.points[duct.end if duct.start == point_id else duct.start]
        d = tuple(q - p for p, q in zip(a, b))
        length = max(1e-9, hypot(*d))
        return tuple(v / length for v in d)

    def _outlet(self, outlet: Outlet) -> None:
        w, ducts = self.w, self.meet.get(outlet.point, [])
        kind = "DIFFUSER" if self.system.air == "supply" else "GRILLE"
        made = w.element(
            "IfcAirTerminal",
            outlet.id,
            outlet.label,
            w.level_of[outlet.point],
            w.points[outlet.point],
            w.shape(w.box(0.3, 0.3, 0.1, -0.1)),
            PredefinedType=kind,
            ObjectType=outlet.model or None,
        )
        self.members.append(made)
        w.properties(made, f"terminal/{outlet.id}", "Garnetfin_Terminal", outlet.figures)
        flow = (("AirflowType", AIRS[self.system.air]), ("AirFlowRate", float(dict(outlet.figures)["Flow"])))
        w.properties(made, f"air/{outlet.id}", "Pset_AirTerminalOccurrence", flow)
        w.types.give(made, "IfcAirTerminalType", outlet.model or "Air terminal", kind)
        if outlet.room_id in w.spaces:
            w.referenced.setdefault(outlet.room_id, []).append(made)
        supply = self.system.air in ("supply", "outdoor")
        port = w.port(made, f"terminal/{outlet.id}", "SINK" if supply else "SOURCE")
        if len(ducts) == 1:
            self.open[outlet.point, ducts[0].id] = port
        elif (
            fitting := next(
                (m for m in self.members if m.Tag == f"{self.system.id}/{self.system.air}/{outlet.point}"), None
            )
        ) is not None:
            # it sits on a duct that goes on
            own = w.port(fitting, f"neck/{outlet.id}", "SOURCE" if supply else "SINK")
            w.join(*((own, port) if supply else (port, own)))

    # -- ducts ---------------------------------------------------------------------------------------------------
    def _cut(self, point_id: str, duct: Duct) -> float:
        """How much of a duct the fitting at its end takes [m]."""
        ducts = self.meet[point_id]
        if point_id in self.system.roots:
            return 0.0
        return max(d.section.width_m for d in ducts) / 2 if len(ducts) > 1 and self.kind_of(point_id, ducts) else 0.0

    def _straight(self, duct: Duct, key: str, at, axes, long: float, whole: float, length: float, last):
        """A straight piece of a duct as a segment of its own, joined to what is before it; (its entry, its outlet).

        whole   what it counts in the bill, of the duct's length
        """
        w, share = self.w, whole / max(length, 1e-9)
        made = w.element(
            "IfcDuctSegment",
            key,
            f"Duct {key}",
            w.level_of[duct.start],
            at,
            w.shape(w.solid(w.profile(duct.section, duct.thickness_m or SHEET_M), long)),
            *axes,
            PredefinedType="FLEXIBLESEGMENT" if duct.flexible else "RIGIDSEGMENT",
            ObjectType=duct.material,
        )
        self.members.append(made)
        w.properties(made, f"duct/{key}", "Garnetfin_Duct", duct.figures)
        w.types.duct(made, duct.section, duct.material, duct.flexible)
        w.quantities(
            made,
            f"duct/{key}",
            "Qto_DuctSegmentBaseQuantities",
            (
                ("Length", "Length", whole),
                ("Area", "GrossCrossSectionArea", duct.section.area_m2),
                ("Area", "OuterSurfaceArea", duct.section.perimeter_m * whole),
                ("Weight", "GrossWeight", duct.mass_kg * share),
            ),
        )
        return self._ports(made, key, last)

    def _part(self, duct: Duct, part: InDuct, at, axes, long: float, last):
        """A part in a duct, joined to what is before it; (its entry, its outlet)."""
        w, key = self.w, f"{duct.id}/{part.id}"
        kind, of = w.types.in_duct(part)
        made = w.element(
            kind,
            key,
            f"{part.tag} {part.kind}",
            w.level_of[duct.start],
            at,
            w.shape(w.solid(w.profile(part.section, 2 * (duct.thickness_m or SHEET_M)), long)),
            *axes,
            PredefinedType=of,
            **({"ObjectType": part.kind} if of == "USERDEFINED" else {}),
        )
        self.members.append(made)
        w.properties(made, f"part/{part.id}", "Garnetfin_PartInDuct", (("Model", part.model), *part.figures))
        w.types.give_in_duct(made, part)
        return self._ports(made, key, last)

    def _ports(self, made, key: str, last):
        into, out = self.w.port(made, f"{key}/in", "SINK"), self.w.port(made, f"{key}/out", "SOURCE")
        if last is not None:
            self.w.join(last, into)
        return into, out

    def _duct(self, duct: Duct) -> None:
        w = self.w
        a, b = w.points[duct.start], w.points[duct.end]
        length = hypot(*(q - p for p, q in zip(a, b)))
        u = self._away(duct.start, duct)
        cut_a, cut_b = self._cut(duct.start, duct), self._cut(duct.end, duct)
        room = max(0.0, length - LEAST_PIECE_M)
        if cut_a + cut_b > room:
            cut_a, cut_b = (v * room / (cut_a + cut_b) for v in (cut_a, cut_b))
        start = tuple(p + v * cut_a for p, v in zip(a, u))
        flat = hypot(u[0], u[1])
        x = (u[1] / flat, -u[0] / flat, 0.0) if flat > 1e-6 else (1.0, 0.0, 0.0)
        sheet = duct.thickness_m or SHEET_M
        straight = max(length - cut_a - cut_b, min(length, LEAST_PIECE_M))
        last = self.open.get((duct.start, duct.id))
        if duct.damper:
            taken = min(DAMPER_M, straight / 2)
            damper = w.element(
                "IfcDamper",
                f"{duct.id}/damper",
                f"Damper {duct.id}",
                w.level_of[duct.start],
                start,
                w.shape(w.solid(w.profile(duct.section, sheet * 2), taken)),
                u,
                x,
                PredefinedType="BALANCINGDAMPER",
            )
            self.members.append(damper)
            w.types.give(damper, "IfcDamperType", f"Balancing damper, {duct.damper}", "BALANCINGDAMPER")
            into = w.port(damper, f"{duct.id}/damper/in", "SINK")
            if last is not None:
                w.join(last, into)
            last = w.port(damper, f"{duct.id}/damper/out", "SOURCE")
            start, straight = tuple(p + v * taken for p, v in zip(start, u)), straight - taken
            cut_a += taken
        first, out, done = None, last, 0.0
        axes = (u, x)
        # straight pieces with the parts between them, each joined to the one before it
        for n, (part, begin, stop) in enumerate([*_stations(duct, cut_a, straight), (None, straight, straight)]):
            long, at = begin - done, tuple(p + v * done for p, v in zip(start, u))
            if long > LEAST_PIECE_M / 2 or part is None:
                key = duct.id if part is None else f"{duct.id}/{n + 1}"
                whole = long + cut_a + cut_b if first is None and part is None else long
                into, out = self._straight(duct, key, at, axes, max(long, LEAST_PIECE_M / 2), whole, length, out)
                first = first or into
            if part is not None:
                at = tuple(p + v * begin for p, v in zip(start, u))
                into, out = self._part(duct, part, at, axes, max(stop - begin, LEAST_PIECE_M / 2), out)
                first, done = first or into, stop
        into = first
        far = self.open.get((duct.end, duct.id))
        if far is not None:
            w.join(out, far)
        else:
            self.open[duct.end, "free"] = out  # the next duct in one line takes it up
        waiting = self.open.pop((duct.start, "free"), None) if last is None else None
        if waiting is not None:
            w.join(waiting, into)


def _stations(duct: Duct, cut_m: float, straight_m: float) -> list[tuple[InDuct, float, float]]:
    """(part, from, to) along the straight of a duct [m], which begins `cut_m` behind the duct's start."""
    found, done = [], 0.0
    for part in sorted(duct.parts, key=lambda p: p.middle_m):
        begin = min(max(part.middle_m - part.length_m / 2 - cut_m, done), straight_m)
        done = min(begin + part.length_m, straight_m)
        found.append((part, begin, done))
    return found


def _angle(degrees: float) -> tuple[int, int, int, int]:
    """Degrees, minutes, seconds and millionths, each with the sign."""
    whole = round(abs(degrees) * 3600 * 1_000_000)
    sign = -1 if degrees < 0 else 1
    seconds, millionths = divmod(whole, 1_000_000)
    minutes, second = divmod(seconds, 60)
    degree, minute = divmod(minutes, 60)
    return sign * degree, sign * minute, sign * second, sign * millionths
