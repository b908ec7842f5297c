"""IFC as it comes: clipped and hollow rooms, doubled ids, maps, old material figures, parts of others; and our own
file read again.
"""

import tempfile
import unittest
from pathlib import Path

import ifcopenshell
import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose
from shapely import Polygon

from garnetfin.core.outlines import area_of
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.engine.slices import duct_parts
from garnetfin.engine.stages.duct_layout import clearances
from garnetfin.exchange.ifc import read_ifc
from garnetfin.project.draft import check_draft, groups_of
from garnetfin.project.ducts import DuctPoint, Segment
from garnetfin.project.edits.imports import TakeDraft
from garnetfin.project.new import new_project
from garnetfin.project.spaces import CeilingZone
from garnetfin.project.tree import check_links
from garnetfin.report.document import Order
from garnetfin.report.handover import ifc
from tests.example import station_results
from tests.exchange.samples import add_beam, tower, write_ifc


class Messy(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.path = write_ifc(tower(1, 2, 1), self.folder / "a.ifc", millimetres=False)
        self.model = ifcopenshell.open(str(self.path))
        self.make = self.model.create_entity

    def read(self):
        self.model.write(str(self.path))
        return check_draft(read_ifc(self.path))

    def words(self, draft) -> str:
        return " | ".join(n.text for n in draft.notes)

    def point(self, *xyz):
        return self.make("IfcCartesianPoint", Coordinates=tuple(map(float, xyz)))

    def axes(self, at=(0, 0, 0), z=None, x=None):
        direction = lambda v: self.make("IfcDirection", DirectionRatios=tuple(map(float, v))) if v else None  # noqa: E731
        return self.make("IfcAxis2Placement3D", Location=self.point(*at), Axis=direction(z), RefDirection=direction(x))

    def ring(self, *corners):
        points = [self.point(*c) for c in corners]
        return self.make("IfcPolyline", Points=[*points, points[0]])

    def body(self, item):
        self.model.by_type("IfcSpace")[0].Representation.Representations[0].Items = (item,)

    def test_a_gabled_room_has_its_true_volume(self):
        """A house of 4 x 5 m, 2 m at the eaves and 4 m at the ridge: 60 m3, where its box is 80."""
        gable = self.make(
            "IfcArbitraryClosedProfileDef",
            ProfileType="AREA",
            OuterCurve=self.ring((0, 0), (4, 0), (4, 2), (2, 4), (0, 2)),
        )
        # drawn as its gable, pushed out along y
        solid = self.make(
            "IfcExtrudedAreaSolid",
            SweptArea=gable,
            Position=self.axes((0, 5, 0), (0, -1, 0), (1, 0, 0)),
            ExtrudedDirection=self.make("IfcDirection", DirectionRatios=(0.0, 0.0, 1.0)),
            Depth=5.0,
        )
        self.body(solid)
        draft = self.read()
        made = TakeDraft(draft, (draft.rooms[0].id,)).apply(new_project())
        assert_allclose(run(made, Memo()).room(made.rooms[0].id).volume_m3, 60.0, rtol=1e-6)
        self.assertIn("mean height of 3.00 m", self.words(draft))

    def test_a_courtyard_is_taken_off_the_floor_and_told(self):
        hollow = self.make(
            "IfcArbitraryProfileDefWithVoids",
            ProfileType="AREA",
            OuterCurve=self.ring((0, 0), (10, 0), (10, 8), (0, 8)),
            InnerCurves=(self.ring((3, 3), (6, 3), (6, 5), (3, 5)),),
        )
        up = self.make("IfcDirection", DirectionRatios=(0.0, 0.0, 1.0))
        solid = self.make(
            "IfcExtrudedAreaSolid", SweptArea=hollow, Position=self.axes(), ExtrudedDirection=up, Depth=3.0
        )
        self.body(solid)
        draft = self.read()
        self.assertAlmostEqual(draft.rooms[0].area_m2.value, 80 - 6)
        self.assertIn("courtyard or shaft of 6.0 m²", self.words(draft))
        # the same through the mesh: clipped by a plane above it, it is no upright extrusion any more
        half = self.make(
            "IfcHalfSpaceSolid", BaseSurface=self.make("IfcPlane", Position=self.axes((0, 0, 2.5))), AgreementFlag=False
        )
        self.body(self.make("IfcBooleanClippingResult", Operator="DIFFERENCE", FirstOperand=solid, SecondOperand=half))
        room = self.read().rooms[0]
        self.assertAlmostEqual(room.area_m2.value, 74.0, places=3)
        self.assertAlmostEqual(room.ceiling_m, 2.5, places=4)

    def test_slabs_keep_their_openings_and_ceilings_are_in_the_way_of_nothing(self):
        up = self.make("IfcDirection", DirectionRatios=(0.0, 0.0, 1.0))
        hollow = self.make(
            "IfcArbitraryProfileDefWithVoids",
            ProfileType="AREA",
            OuterCurve=self.ring((0, 0), (10, 0), (10, 8), (0, 8)),
            InnerCurves=(self.ring((3, 3), (6, 3), (6, 5), (3, 5)),),
        )
        plain = self.make("IfcArbitraryClosedProfileDef", ProfileType="AREA", OuterCurve=hollow.OuterCurve)
        for name, profile, z, depth, more in (
            ("IfcSlab", hollow, 3.0, 0.25, {}),
            ("IfcCovering", plain, 2.5, 0.02, {"PredefinedType": "CEILING"}),
        ):
            solid = self.make(
                "IfcExtrudedAreaSolid",
                SweptArea=profile,
                Position=self.axes((0, 0, z)),
                ExtrudedDirection=up,
                Depth=depth,
            )
            context = self.model.by_type("IfcGeometricRepresentationContext")[0]
            shape = self.make(
                "IfcShapeRepresentation",
                ContextOfItems=context,
                RepresentationIdentifier="Body",
                RepresentationType="SweptSolid",
                Items=(solid,),
            )
            self.make(
                name,
                GlobalId=name.rjust(22, "0"),
                ObjectPlacement=self.make("IfcLocalPlacement", RelativePlacement=self.axes()),
                Representation=self.make("IfcProductDefinitionShape", Representations=(shape,)),
                **more,
            )
        draft = self.read()
        found = [r.obstacle for r in draft.references]
        slabs, ceilings = ([o for o in found if o.kind == kind] for kind in ("slab", "ceiling"))
        self.assertAlmostEqual(sum(area_of(o.outline) for o in slabs), 74.0, places=3)
        hole = Polygon([(3, 3), (6, 3), (6, 5), (3, 5)])
        self.assertLess(max(Polygon(o.outline).intersection(hole).area for o in slabs), 1e-6)
        assert_allclose([(o.bottom_m, o.top_m) for o in (slabs[0], *ceilings)], [(3.0, 3.25), (2.5, 2.52)], atol=1e-6)
        self.assertAlmostEqual(area_of(ceilings[0].outline), 80.0, places=3)
        taken = TakeDraft(draft, (draft.rooms[0].id,), groups=tuple(groups_of(draft))).apply(new_project())
        level = taken.levels[0].id
        zone = CeilingZone(
            id="z", name="Void", level_id=level, outline=((0, 0), (10, 0), (10, 8), (0, 8)), ceiling_m=2.4, soffit_m=3.2
        )
        ends = [DuctPoint(id=i, level_id=level, x_m=x, y_m=1.0, z_m=2.7) for i, x in (("a", 1.0), ("b", 9.0))]
        drawn = structs.replace(taken, ceiling_zones=(zone,), duct_points=tuple(ends))
        drawn = structs.replace(drawn, segments=(Segment(id="s", system_id="", a="a", b="b"),))
        (found,) = clearances(duct_parts(drawn, "", "supply"), Memo())
        self.assertIn("slab", found.obstacle)  # the ceiling hangs lower, and hinders nothing
        self.assertAlmostEqual(found.obstacle_m, 3.0 - 2.4 - zone.allowance_m)

    def test_round_rooms_have_few_corners(self):
        circle = self.make("IfcCircleProfileDef", ProfileType="AREA", Radius=6.0)
        up = self.make("IfcDirection", DirectionRatios=(0.0, 0.0, 1.0))
        self.body(
            self.make("IfcExtrudedAreaSolid", SweptArea=circle, Position=self.axes(), ExtrudedDirection=up, Depth=3.0)
        )
        room = self.read().rooms[0]
        self.assertLess(len(room.outline), 40)
        xy = np.array(room.outline)
        area = 0.5 * abs(float(np.sum(xy[:, 0] * np.roll(xy[:, 1], -1) - xy[:, 1] * np.roll(xy[:, 0], -1))))
        assert_allclose(area, np.pi * 36, rtol=0.02)  # chords stay within 5 cm, the kernel's own mesh within its own

    def test_spaces_of_one_id_are_kept_apart(self):
        first, second = self.model.by_type("IfcSpace")
        second.GlobalId = first.GlobalId
        draft = self.read()
        self.assertEqual(len(draft.rooms), 2)
        self.assertIn("1 spaces with an id that another has", self.words(draft))

    def test_the_height_above_the_sea_and_map_coordinates(self):
        site = next(iter(self.model.by_type("IfcSite")), None)
        building = self.model.by_type("IfcBuilding")[0]
        site = site or self.make("IfcSite", GlobalId="0" * 21 + "s", CompositionType="ELEMENT")
        site.RefElevation = 412.5
        place = self.make("IfcLocalPlacement", RelativePlacement=self.axes((2_600_000, 1_200_000, 412.5)))
        building.ObjectPlacement = place
        for thing in (*self.model.by_type("IfcBuildingStorey"), *self.model.by_type("IfcSpace")):
            own = thing.ObjectPlacement
            if own is not None and own.PlacementRelTo is None:
                own.PlacementRelTo = place
        draft = self.read()
        self.assertEqual(draft.altitude_m, 412.5)
        self.assertAlmostEqual(draft.levels[0].elevation_m, 0.0)
        self.assertLess(max(abs(v) for r in draft.rooms for p in r.outline for v in p), 2000)
        self.assertIn("coordinates of a map", self.words(draft))

    def test_zones_uses_people_and_rooms_without_plant(self):
        first, second = self.model.by_type("IfcSpace")
        first.ObjectType = "Meeting room"
        zone = self.make("IfcZone", GlobalId="0" * 21 + "z", Name="South side")
        self.make("IfcRelAssignsToGroup", GlobalId="0" * 21 + "g", RelatedObjects=(first, second), RelatingGroup=zone)
        for i, (space, name, kind, value) in enumerate(
            (
                (first, "LightingLoadIntensity", "IfcReal", 9.5),
                (first, "ReceptacleLoadIntensity", "IfcReal", 12.0),
                (first, "SpaceTemperatureMax", "IfcThermodynamicTemperatureMeasure", 300.0),
                (second, "AirConditioning", "IfcBoolean", False),
            )
        ):
            held = self.make("IfcPropertySingleValue", Name=name, NominalValue=self.make(kind, value))
            self.make(
                "IfcRelDefinesByProperties",
                GlobalId="0" * 20 + f"{i}r",
                RelatedObjects=(space,),
                RelatingPropertyDefinition=self.make(
                    "IfcPropertySet", GlobalId="0" * 20 + f"{i}p", Name=f"Pset_{i}", HasProperties=(held,)
                ),
            )
        draft = self.read()
        rooms = {r.id: r for r in draft.rooms}
        a, b = rooms[first.GlobalId], rooms[second.GlobalId]
        self.assertEqual((a.use_id, a.lights_w_m2.value, a.equipment_w_m2.value), ("meeting", 9.5, 12.0))
        self.assertEqual([z.name for z in draft.zones], ["South side"])
        self.assertEqual((a.zone_id, bool(a.system_id), bool(b.system_id)), (draft.zones[0].id, True, False))
        self.assertIn("SpaceTemperatureMax of 300", self.words(draft))  # kelvins are no set-point, and it is said

    def test_parts_of_others_stand_in_the_way_by_class_and_layer(self):
        add_beam(self.path)
        self.model = ifcopenshell.open(str(self.path))
        self.make = self.model.create_entity
        beam = self.model.by_type("IfcBeam")[0]
        shape = beam.Representation.Representations[0]
        self.make(
            "IfcPipeSegment",
            GlobalId="p".rjust(22, "0"),
            ObjectPlacement=self.make("IfcLocalPlacement", RelativePlacement=self.axes((0, 1, -0.2))),
            Representation=self.make(
                "IfcProductDefinitionShape",
                Representations=(
                    copy := self.make(
                        "IfcShapeRepresentation",
                        ContextOfItems=shape.ContextOfItems,
                        RepresentationIdentifier="Body",
                        RepresentationType="SweptSolid",
                        Items=shape.Items,
                    ),
                ),
            ),
        )
        shape = copy
        self.make("IfcPresentationLayerAssignment", Name="S-HEAT", AssignedItems=(shape,))
        self.make("IfcSlab", GlobalId="s".rjust(22, "0"))
        self.make("IfcCovering", GlobalId="f".rjust(22, "0"), PredefinedType="FLOORING")
        draft = self.read()
        self.assertEqual(groups_of(draft), {"beam": 1, "pipe, layer S-HEAT": 1})
        self.assertIn("1 slab without a usable shape", self.words(draft))
        self.assertIn("1 coverings of floors, walls and parts", self.words(draft))
        taken = TakeDraft(draft, tuple(r.id for r in draft.rooms), groups=("beam",)).apply(new_project())
        check_links(taken)
        (beam,) = taken.obstacles
        # 0.3 wide across y, 0.2 high, from x = 0 to 4
        self.assertEqual((beam.kind, beam.source), ("beam", "a.ifc"))
        assert_allclose((beam.bottom_m, beam.top_m), (2.6, 2.8), atol=1e-6)
        xy = np.array(beam.outline)
        assert_allclose((xy.min(axis=0), xy.max(axis=0)), ((0, 1.85), (4, 2.15)), atol=1e-6)
        # taken once more, with the pipe: nothing stands there twice
        again = TakeDraft(draft, (), groups=tuple(groups_of(draft))).apply(taken)
        self.assertEqual(sorted(o.kind for o in again.obstacles), ["beam", "pipe"])
        self.assertEqual(again.rooms, taken.rooms)
        self.assertIn(beam.id, {o.id for o in again.obstacles})

    def test_a_file_of_beams_alone_is_taken_beside_the_rooms(self):
        for space in self.model.by_type("IfcSpace"):
            self.model.remove(space)
        self.model.write(str(self.path))
        draft = check_draft(read_ifc(add_beam(self.path)))
        self.assertEqual((draft.rooms, groups_of(draft)), ((), {"beam": 1}))
        project = station_results().project
        made = TakeDraft(draft, (), groups=("beam",)).apply(project)
        self.assertEqual(made.rooms, project.rooms)
        self.assertEqual(len(made.obstacles), len(project.obstacles) + 1)


class OldSchema(unittest.TestCase):
    def test_conductivities_of_the_old_schema_are_read(self):
        from garnetfin.exchange.ifc_fabric import Fabric

        model = ifcopenshell.file(schema="IFC2X3")
        wool = model.create_entity("IfcMaterial", Name="Special board")
        model.create_entity(
            "IfcThermalMaterialProperties", Material=wool, SpecificHeatCapacity=1400.0, ThermalConductivity=0.022
        )
        model.create_entity("IfcGeneralMaterialProperties", Material=wool, MassDensity=33.0)
        layer = model.create_entity("IfcMaterialLayer", Material=wool, LayerThickness=0.1)
        layers = model.create_entity("IfcMaterialLayerSet", MaterialLayers=(layer,), LayerSetName="Wall")
        wall = model.create_entity("IfcWallStandardCase", GlobalId="w".rjust(22, "0"))
        model.create_entity(
            "IfcRelAssociatesMaterial", GlobalId="r".rjust(22, "0"), RelatedObjects=(wall,), RelatingMaterial=layers
        )
        notes = []
        fabric = Fabric(model, "old.ifc", 1.0, lambda *words: notes.append(words))
        build_up = fabric.build_ups[fabric.build_up(wall, True)]
        made = build_up.layers[0]
        self.assertEqual((made.conductivity_w_mk, made.density_kg_m3, made.specific_heat_j_kgk), (0.022, 33.0, 1400.0))
        self.assertEqual(notes, [])


class OurOwn(unittest.TestCase):
    """The example as IFC, read again."""

    @classmethod
    def setUpClass(cls):
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        path = cls.folder / "own.ifc"
        path.write_bytes(ifc(Order(station_results())))
        cls.draft = check_draft(read_ifc(path))
        cls.made = TakeDraft(cls.draft, tuple(r.id for r in cls.draft.rooms)).apply(new_project())
        check_links(cls.made)

    def test_what_rooms_are_for_comes_back(self):
        before = station_results()
        rooms = {r.number: r for r in self.made.rooms}
        zones = {z.id: z.name for z in self.made.zones}
        theirs = {z.id: z.name for z in before.project.zones}
        self.assertEqual(len(rooms), len(before.project.rooms))
        for room in before.project.rooms:
            other, figures = rooms[room.number], before.room(room.id).figures
            self.assertEqual((other.name, other.use_id), (room.name, room.use_id), room.number)
            self.assertEqual(zones.get(other.zone_id, ""), theirs.get(room.zone_id, ""), room.number)
            for field in ("people", "heating_c", "cooling_c", "lights_w_m2", "equipment_w_m2"):
                self.assertAlmostEqual(getattr(other, field).value, getattr(figures, field).figure, places=6)
        served = {r.number: bool(r.system_id) for r in self.draft.rooms}
        self.assertEqual(served, {r.number: bool(r.system_id) for r in before.project.rooms})

    def test_windows_with_their_glass_and_walls_with_their_layers_come_back(self):
        before = station_results().project

        def glass(project) -> dict[tuple[float, float], float]:
            known = {g.id: g for g in project.glazings}
            sums: dict[tuple[float, float], float] = {}
            for wall in project.walls:
                for o in wall.openings:
                    if o.glazing_id:
                        key = round(known[o.glazing_id].u_w_m2k, 3), round(known[o.glazing_id].g, 3)
                        sums[key] = sums.get(key, 0.0) + o.area_m2
            return sums

        wanted, found = glass(before), glass(self.made)
        self.assertEqual(set(found), set(wanted))
        for key, area in wanted.items():
            self.assertAlmostEqual(found[key], area, places=3)
        self.assertFalse(groups_of(self.draft), "our own ducts are no obstacles")
        walls = {w.build_up_id for w in before.walls if w.outside}
        ours = {b.name for b in before.build_ups if b.id in walls}
        outside = next(w for w in self.made.walls if w.outside)
        name = next(b.name for b in self.made.build_ups if b.id == outside.build_up_id)
        self.assertIn(name, ours)


if __name__ == "__main__":
    unittest.main()
