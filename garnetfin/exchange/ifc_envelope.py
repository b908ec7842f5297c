"""Walls with their layers, windows and doors of the building as IFC4."""

from garnetfin.exchange.ifc_parts import Model, Parts
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Opening, Wall
from garnetfin.project.tree import Project

FRAME_M = 0.08  # thickness of the body of a window or door
MORE_M = 0.02  # by which the hole in a wall is deeper than the wall


class Envelope:
    """Writes each wall once, with the holes in it and what fills them."""

    def __init__(self, parts: Parts, project: Project, model: Model) -> None:
        self.w, self.project, self.model = parts, project, model
        self.sets: dict[str, object] = {}  # layer sets by build-up

    def write(self) -> None:
        drawn = {r.id for r in self.project.rooms if not r.sketched or r.placed}
        for wall in self.project.walls:
            if wall.room_a in drawn or wall.room_b in drawn:
                self._wall(wall)

    def _wall(self, wall: Wall) -> None:
        w, length = self.w, wall.length_m
        along = ((wall.end[0] - wall.start[0]) / length, (wall.end[1] - wall.start[1]) / length, 0.0)
        elevation = w.at[wall.level_id][1]
        made = w.element(
            "IfcWall",
            f"wall/{wall.id}",
            f"Wall {wall.id}",
            wall.level_id,
            (*wall.start, elevation),
            w.shape(self._board(0.0, length, wall.thickness_m, 0.0, wall.height_m)),
            x=along,
            PredefinedType="STANDARD",
        )
        known = self.model.build_ups.get(wall.build_up_id)
        figures: list[tuple[str, bool | float]] = [("IsExternal", wall.outside)]
        if wall.outside and known is not None and known.u_w_m2k is not None:
            figures.append(("ThermalTransmittance", known.u_w_m2k))
        w.properties(made, f"wall/{wall.id}", "Pset_WallCommon", tuple(figures))
        layers = self._layers(wall.build_up_id)
        if layers is not None:
            w.related("IfcRelAssociatesMaterial", f"layers/{wall.id}", RelatedObjects=[made], RelatingMaterial=layers)
        for opening in wall.openings:
            self._opening(wall, opening, made, along, elevation)

    def _board(self, start: float, length: float, thick: float, low: float, high: float):
        """A body along the local x axis, its middle plane at y = 0."""
        w = self.w
        centre = w.file.createIfcAxis2Placement2D(w.point(start + length / 2, 0.0), None)
        profile = w.file.createIfcRectangleProfileDef("AREA", None, centre, float(length), float(thick))
        return w.file.createIfcExtrudedAreaSolid(profile, w.axes((0.0, 0.0, low)), w.up, float(high))

    def _opening(self, wall: Wall, o: Opening, host, along, elevation: float) -> None:
        w = self.w
        key = f"opening/{wall.id}/{o.id}"
        left = o.at_m - o.width_m / 2
        high = o.head_m - o.sill_m
        at = (wall.start[0] + along[0] * left, wall.start[1] + along[1] * left, elevation + o.sill_m)
        hole = w.file.create_entity(
            "IfcOpeningElement",
            GlobalId=w.id("hole", key),
            Name=f"Opening {o.id}",
            ObjectPlacement=w.placed(host.ObjectPlacement, (left, 0.0, o.sill_m)),
            Representation=w.shape(self._board(0.0, o.width_m, wall.thickness_m + MORE_M, 0.0, high)),
            PredefinedType="OPENING",
        )
        w.related("IfcRelVoidsElement", f"void/{key}", RelatingBuildingElement=host, RelatedOpeningElement=hole)
        glazing = find(self.project.glazings, o.glazing_id) if o.glazing_id else None
        kind = "IfcDoor" if "door" in o.kind else "IfcWindow"
        made = w.element(
            kind,
            key,
            f"{o.kind.capitalize()} {o.id}",
            wall.level_id,
            at,
            w.shape(self._board(0.0, o.width_m, FRAME_M, 0.0, high)),
            x=along,
            OverallHeight=float(high),
            OverallWidth=float(o.width_m),
        )
        w.related("IfcRelFillsElement", f"fill/{key}", RelatingOpeningElement=hole, RelatedBuildingElement=made)
        u = glazing.u_w_m2k if glazing is not None else o.door_u_w_m2k
        common = "Pset_DoorCommon" if kind == "IfcDoor" else "Pset_WindowCommon"
        w.properties(made, key, common, (("IsExternal", wall.outside), ("ThermalTransmittance", float(u))))
        if glazing is not None:
            figures = (("SolarHeatGainTransmittance", glazing.g), ("SolarTransmittance", glazing.tau_e))
            w.properties(made, key, "Pset_DoorWindowGlazingType", figures)

    def _layers(self, build_up_id: str):
        """The layer set of a build-up, inside first; None where its layers are not known."""
        known = self.model.build_ups.get(build_up_id)
        if known is None or not known.layers:
            return None
        if build_up_id not in self.sets:
            f, layers = self.w.file, []
            for layer in known.layers:
                material = f.createIfcMaterial(layer.name[:60] or "layer", None, None)
                figures = (
                    ("ThermalConductivity", "IfcThermalConductivityMeasure", layer.conductivity_w_mk),
                    ("SpecificHeatCapacity", "IfcSpecificHeatCapacityMeasure", layer.specific_heat_j_kgk),
                    ("MassDensity", "IfcMassDensityMeasure", layer.density_kg_m3),
                )
                values = [
                    f.createIfcPropertySingleValue(n, None, f.create_entity(kind, float(v)), None)
                    for n, kind, v in figures
                ]
                f.createIfcMaterialProperties("Pset_MaterialThermal", None, values[:2], material)
                f.createIfcMaterialProperties("Pset_MaterialCommon", None, values[2:], material)
                layers.append(
                    f.create_entity(
                        "IfcMaterialLayer", Material=material, LayerThickness=float(layer.thickness_m), Name=layer.name
                    )
                )
            self.sets[build_up_id] = f.create_entity(
                "IfcMaterialLayerSet", MaterialLayers=layers, LayerSetName=known.name
            )
        return self.sets[build_up_id]
