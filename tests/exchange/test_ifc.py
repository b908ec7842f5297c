"""IFC with and without space boundaries, and files that are damaged or lack what is needed."""

import tempfile
import unittest
from pathlib import Path

from numpy.testing import assert_allclose

from garnetfin.core.errors import FileError
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.exchange.ifc import read_ifc
from garnetfin.project.draft import check_draft
from garnetfin.project.edits.imports import TakeDraft
from garnetfin.project.new import new_project
from garnetfin.project.spaces import NO_ROOM
from garnetfin.project.tree import check_links
from tests.exchange.samples import floor_of, tower, write_ifc


def outside_m2(project) -> float:
    return sum(w.length_m * w.height_m for w in project.walls if w.outside)


class Ifc(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        cls.building = tower(2, 3)
        cls.plain = write_ifc(cls.building, cls.folder / "plain.ifc")
        cls.bounded = write_ifc(cls.building, cls.folder / "bounded.ifc", boundaries=True)

    def taken(self, path):
        draft = check_draft(read_ifc(path))
        made = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(new_project())
        check_links(made)
        return draft, made

    def test_rooms_walls_windows_and_neighbours_come_through_either_way(self):
        for path in (self.plain, self.bounded):
            draft, made = self.taken(path)
            with self.subTest(path.name):
                self.assertEqual(draft.derive, path is self.plain)
                self.assertEqual([x.name for x in made.levels], ["Level 0", "Level 1"])
                self.assertEqual({r.number for r in made.rooms}, {r.number for r in self.building.rooms})
                assert_allclose(
                    (floor_of(made), outside_m2(made)), (floor_of(self.building), outside_m2(self.building)), rtol=1e-6
                )
                glass = [sum(o.area_m2 for w in p.walls for o in w.openings) for p in (made, self.building)]
                assert_allclose(glass[0], glass[1], rtol=1e-6)
                inner = [sum(w.room_b not in NO_ROOM for w in p.walls) for p in (made, self.building)]
                self.assertEqual(inner[0], inner[1])
                self.assertEqual({s.kind for s in made.slabs}, {"roof", "ground", "between"})

    def test_rooms_between_walls_meet_in_the_middle_of_them(self):
        """Rooms 0.2 m apart: no wall's end becomes an outside wall, no strip a roof; floors stay as drawn."""
        between = tower(2, 3, gap_m=0.2)
        draft, made = self.taken(write_ifc(between, self.folder / "between.ifc"))
        self.assertIn("drawn between walls", " ".join(n.text for n in draft.notes))
        # outer sides stay at their inner faces: the whole storey is 11.8 x 9.8 m
        self.assertAlmostEqual(outside_m2(made), 2 * 2 * (11.8 + 9.8) * 3.4, delta=0.01)
        self.assertGreater(min(w.length_m for w in made.walls), 1.0)
        roofs = sum(s.area_m2 for s in made.slabs if s.kind == "roof")
        self.assertAlmostEqual(roofs, 11.8 * 9.8, delta=0.01)
        figures = run(made, Memo()).rooms
        for room in made.rooms:
            self.assertAlmostEqual(figures[room.id].figures.area_m2.figure, 3.8 * 4.8, places=3)
        # Rooms that meet already are left as they are.
        draft, _ = self.taken(self.plain)
        self.assertNotIn("drawn between walls", " ".join(n.text for n in draft.notes))

    def test_layers_and_window_figures_come_from_the_file(self):
        for path in (self.plain, self.bounded):
            _, made = self.taken(path)
            wall = next(w for w in made.walls if w.outside and w.openings)
            build_up = next(b for b in made.build_ups if b.id == wall.build_up_id)
            self.assertEqual(
                [(x.material, x.thickness_m) for x in build_up.layers],
                [("plasterboard_700", 0.0125), ("mineral_wool", 0.2), ("concrete_2200", 0.15)],
            )
            glazing = next(g for g in made.glazings if g.id == wall.openings[0].glazing_id)
            self.assertEqual((glazing.u_w_m2k, glazing.g), (0.9, 0.4))
            self.assertTrue(all(r.heating_w > 0 for r in run(made, Memo()).rooms.values()))

    def test_true_north_set_points_and_people_are_read(self):
        import ifcopenshell

        model = ifcopenshell.open(str(self.bounded))
        context = model.by_type("IfcGeometricRepresentationContext")[0]
        # North points to the left of the model: the model's y axis looks east.
        context.TrueNorth = model.create_entity("IfcDirection", DirectionRatios=(-1.0, 0.0))
        space = model.by_type("IfcSpace")[0]
        values = tuple(
            model.create_entity("IfcPropertySingleValue", Name=n, NominalValue=model.create_entity(k, v))
            for n, k, v in (
                ("SpaceTemperatureSummerMax", "IfcThermodynamicTemperatureMeasure", 25.5),
                ("OccupancyNumber", "IfcCountMeasure", 3),
            )
        )
        model.create_entity(
            "IfcRelDefinesByProperties",
            GlobalId="0" * 21 + "x",
            RelatedObjects=(space,),
            RelatingPropertyDefinition=model.create_entity(
                "IfcPropertySet", GlobalId="0" * 21 + "y", Name="Pset_Space", HasProperties=values
            ),
        )
        path = self.folder / "north.ifc"
        model.write(str(path))
        draft, made = self.taken(path)
        self.assertEqual((draft.north_deg, made.site.north_deg), (90.0, 90.0))
        room = next(r for r in made.rooms if r.origin.key == space.GlobalId)
        self.assertEqual((room.cooling_c.value, room.people.value), (25.5, 3))
        top = max(y for r in made.rooms for _, y in r.outline)
        upper = next(w for w in made.walls if w.outside and w.start[1] == w.end[1] == top)
        assert_allclose(upper.facing_deg, 90.0, atol=1e-3)

    def test_metres_and_millimetres_are_told_apart(self):
        metres = write_ifc(tower(1, 2, 1), self.folder / "m.ifc", millimetres=False)
        _, made = self.taken(metres)
        assert_allclose(floor_of(made), 40.0, rtol=1e-9)

    def test_a_round_trip_through_the_mesh_of_a_shape_that_is_no_upright_extrusion(self):
        import ifcopenshell

        model = ifcopenshell.open(str(self.plain))
        solid = model.by_type("IfcExtrudedAreaSolid")[0]
        space = model.by_type("IfcSpace")[0]
        box = model.create_entity("IfcBoundingBox")
        model.remove(box)
        half = model.create_entity(
            "IfcHalfSpaceSolid",
            AgreementFlag=False,
            BaseSurface=model.create_entity(
                "IfcPlane",
                Position=model.create_entity(
                    "IfcAxis2Placement3D",
                    Location=model.create_entity("IfcCartesianPoint", Coordinates=(0.0, 0.0, 2500.0)),
                ),
            ),
        )
        cut = model.create_entity(
            "IfcBooleanClippingResult", Operator="DIFFERENCE", FirstOperand=solid, SecondOperand=half
        )
        space.Representation.Representations[0].Items = (cut,)
        path = self.folder / "cut.ifc"
        model.write(str(path))
        draft = read_ifc(path)
        room = next(r for r in draft.rooms if r.id == space.GlobalId)
        assert_allclose(room.ceiling_m, 2.5, atol=1e-6)
        assert_allclose(sorted(room.outline), sorted(self.building.rooms[0].outline), atol=1e-3)

    def test_files_without_spaces_cut_off_or_of_another_kind_are_told(self):
        empty = write_ifc(tower(1, 1, 1), self.folder / "empty.ifc", spaces=False)
        self.assertRaisesRegex(FileError, "holds no spaces.*IfcSpace", read_ifc, empty)
        text = self.folder / "text.ifc"
        text.write_text("hello")
        self.assertRaisesRegex(FileError, "is not an IFC file", read_ifc, text)
        half = self.folder / "half.ifc"
        half.write_bytes(self.plain.read_bytes()[: -len(self.plain.read_bytes()) // 8])
        try:
            notes = read_ifc(half).notes
        except FileError:
            return
        self.assertTrue([n for n in notes if "cut off" in n.text])


if __name__ == "__main__":
    unittest.main()
