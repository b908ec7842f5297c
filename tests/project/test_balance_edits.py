"""Edits of dampers, sizes, fans and stand-in places."""

import unittest

from garnetfin.core.errors import InputError
from garnetfin.project.edits.duct_runs import SetSizes
from garnetfin.project.edits.duct_values import SetDuctChoice, SetDuctValue
from garnetfin.project.edits.lay_out import AddShaft, LayOutRooms
from garnetfin.project.edits.systems import ChooseFan, SetFans, SetFanValue
from garnetfin.project.lookup import find
from garnetfin.project.tree import check_links
from garnetfin.project.values import Pinned, Rule
from tests.engine.test_first_pass import listed
from tests.example import station

AHU = "ahu-north"


class Dampers(unittest.TestCase):
    def test_kind_and_blade_are_set_on_many_and_shared_otherwise(self):
        before = station()
        ids = tuple(s.id for s in before.segments[:3])
        after = SetDuctChoice(ids, "damper", "blade").apply(before)
        self.assertEqual([s.damper for s in after.segments[:4]], ["blade"] * 3 + [""])
        self.assertIs(after.segments[3], before.segments[3])
        self.assertIs(SetDuctChoice(ids, "damper", "blade").apply(after), after)
        pinned = SetDuctValue(ids, "damper_deg", Pinned(value=40.0)).apply(after)
        self.assertEqual(SetDuctValue(ids, "damper_deg", Rule()).apply(pinned).segments, after.segments)

    def test_what_cannot_be_is_refused(self):
        self.assertRaisesRegex(
            InputError, "no damper “gate”.*blade", SetDuctChoice(("s1",), "damper", "gate").apply, station()
        )
        for value in (-1.0, 91.0):
            self.assertRaisesRegex(
                InputError, "Blade angle", SetDuctValue(("s1",), "damper_deg", Pinned(value=value)).apply, station()
            )


class Sizes(unittest.TestCase):
    def test_many_at_once(self):
        after = SetSizes((("s1", "rectangular", 0.9, 0.3), ("s2", "rectangular", 0.8, 0.3))).apply(station())
        self.assertEqual(
            [(find(after.segments, i).size.width_m, find(after.segments, i).size.height_m) for i in ("s1", "s2")],
            [(0.9, 0.3), (0.8, 0.3)],
        )
        self.assertRaises(InputError, SetSizes((("s1", "rectangular", 9.0, 0.3),)).apply, station())


class Fans(unittest.TestCase):
    def test_arrangement_and_count_belong_together(self):
        two = SetFans(AHU, "parallel", 0).apply(station()).air_systems[0].fan("supply")
        self.assertEqual((two.arrangement, two.count), ("parallel", 2))
        four = SetFans(AHU, "", 4).apply(SetFans(AHU, "series", 2).apply(station())).air_systems[0].fan("supply")
        self.assertEqual((four.arrangement, four.count), ("series", 4))
        # several of one are side by side
        three = SetFans(AHU, "", 3).apply(station()).air_systems[0].fan("supply")
        self.assertEqual((three.arrangement, three.count), ("parallel", 3))
        self.assertRaisesRegex(InputError, "cannot stand “ring”", SetFans(AHU, "ring", 2).apply, station())
        self.assertRaisesRegex(InputError, "Number of fans", SetFans(AHU, "parallel", 40).apply, station())

    def test_values_at_the_fan_have_their_range(self):
        for name, bad in (("outlet_duct_m", -1.0), ("effect_k", 50.0), ("drive_efficiency", 1.2)):
            self.assertRaises(InputError, SetFanValue(AHU, name, Pinned(value=bad)).apply, station())


class FansApart(unittest.TestCase):
    def test_each_fan_has_its_own_choice(self):
        back = SetFanValue(AHU, "speed_rpm", Pinned(value=900.0), "return").apply(station())
        system = back.air_systems[0]
        self.assertEqual(system.fan("return").speed_rpm, Pinned(value=900.0))
        self.assertEqual(system.fan("supply"), station().air_systems[0].fan("supply"))
        # Back to the rule nothing is left of it.
        self.assertEqual(SetFanValue(AHU, "speed_rpm", Rule(), "return").apply(back), station())
        self.assertRaisesRegex(InputError, "no sideways fan", ChooseFan(AHU, "", "sideways").apply, station())


class Places(unittest.TestCase):
    def test_rooms_of_a_list_lie_in_rows_and_keep_their_figures(self):
        before = listed(("Ground",))
        ids = tuple(r.id for r in before.rooms)
        after = LayOutRooms(ids).apply(before)
        check_links(after)
        for old, new in zip(before.rooms, after.rooms):
            self.assertTrue(new.placed and new.sketched)
            self.assertEqual(
                (new.area_m2, new.use_id, new.ceiling_m, new.system_id),
                (old.area_m2, old.use_id, old.ceiling_m, old.system_id),
            )
            xs, ys = zip(*new.outline)
            # corridors are as long as the rows
            if new.use_id != "corridor":
                self.assertAlmostEqual((max(xs) - min(xs)) * (max(ys) - min(ys)), new.area_m2.value, 2)
        for old, new in zip(before.walls, after.walls):  # walls go along as they are
            self.assertAlmostEqual(old.length_m, new.length_m, 6)

    def test_drawn_rooms_stay_and_the_rest_lies_clear_of_them(self):
        self.assertIs(LayOutRooms(tuple(r.id for r in station().rooms)).apply(station()), station())

    def test_a_shaft_only_where_there_is_none(self):
        levels = tuple(x.id for x in station().levels)
        self.assertIs(AddShaft(levels).apply(station()), station())
        laid = LayOutRooms(tuple(r.id for r in listed().rooms)).apply(listed())
        after = AddShaft(("L0", "L1")).apply(laid)
        shafts = [m for m in after.plan_marks if m.kind == "shaft"]
        self.assertEqual([m.level_id for m in shafts], ["L0", "L1"])
        self.assertEqual(shafts[0].outline, shafts[1].outline)
        self.assertIs(AddShaft(("L0", "L1")).apply(after), after)
