"""Units in rooms against published figures, closed forms, and the balance of heat and water in their rooms."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.equipment import room_units as units
from garnetfin.core.equipment import unit_choice as choice
from garnetfin.core.equipment import water
from garnetfin.core.equipment.catalogue import shipped
from garnetfin.core.equipment.coils import Air, Surface, Water, perform
from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.core.psychro.processes import cool_to

ROWS = {u.row: u for u in shipped("room_units")}
FAN_COILS = tuple(u for u in ROWS.values() if u.kind == "fan_coil")
RATED = units.rated_fan_coils(FAN_COILS)


def of_kind(kind):
    return tuple(u for u in ROWS.values() if u.kind == kind)


def each(*figures):
    return np.array(figures, float)


class FanCoils(unittest.TestCase):
    def test_published_coil_of_a_rating(self):
        i = FAN_COILS.index(ROWS["GF-FC3-4P high"])
        assert_allclose([RATED.air_w_k[i], RATED.water_w_k[i]], [261.43, 502.66], rtol=5e-4)
        self.assertTrue(RATED.fits.all())

    def test_ratings_come_back(self):
        """The coils found give the duties they were found from, by the coil itself."""
        w1 = float(air.ratio_from_wet_bulb(27.0, 19.0, air.SEA_LEVEL_PA))
        flow = 1.2 * each(*(m.air_m3s for m in FAN_COILS))
        total = each(*(m.cool_total_w for m in FAN_COILS))
        done = perform(
            Surface(RATED.air_w_k, RATED.water_w_k), Air(flow, 27.0, w1), Water(total / (4193 * 5), 7.0, 4193.0)
        )
        assert_allclose(done.total_w, total, rtol=6e-3)
        assert_allclose(done.sensible_w, each(*(m.cool_sensible_w for m in FAN_COILS)), rtol=6e-3)
        hot = units.fan_coil_heats(
            RATED.heating_w_k, flow / 1.2, each(*(m.heat_water_kg_s for m in FAN_COILS)), 0.0, 20.0, 45.0
        )
        assert_allclose(hot, each(*(m.heat_w for m in FAN_COILS)), rtol=1e-9)

    def at(self, need):
        i = FAN_COILS.index(ROWS["GF-FC3-4P high"])
        m = FAN_COILS[i]
        asked = units.RoomAsked(each(26.0), each(need), each(0.00012), each(0.025), each(0.008))
        return m, units.fan_coils_at(
            (RATED.air_w_k[[i]], RATED.water_w_k[[i]]),
            each(m.air_m3s),
            each(m.cool_water_kg_s),
            each(m.fan_w),
            asked,
            8.0,
        )

    def test_published_room(self):
        """Within the half per cent that eight sections differ from real moist air."""
        _, found = self.at(1744.8)
        assert_allclose(found.sensible_w, 1744.8, rtol=1e-5)
        assert_allclose(found.total_w, 1918.4, rtol=3e-3)
        assert_allclose(found.share, 0.8177, rtol=5e-3)
        assert_allclose([found.leaving_c[0], found.back_c[0]], [18.02, 13.00], atol=0.03)
        assert_allclose(found.room_w, 0.010370, rtol=5e-3)

    def test_water_and_heat_of_the_room_close(self):
        m, found = self.at(1500.0)
        assert_allclose(0.025 * (found.room_w - 0.008) + found.condensate_kg_s, 0.00012, rtol=2e-4)
        carried = found.share * m.cool_water_kg_s * float(water.liquid(8.0).heat) * (found.back_c - 8.0)
        assert_allclose(carried, found.total_w, rtol=1e-9)
        self.assertEqual(found.short_w[0], 0)

    def test_what_it_cannot_do_is_short(self):
        _, found = self.at(9000.0)
        self.assertEqual(found.share[0], 1.0)
        assert_allclose(found.short_w, 9000 - found.sensible_w, rtol=1e-12)


class Beams(unittest.TestCase):
    def test_published(self):
        assert_allclose(units.beam(ROWS["GF-B18M"], 25.0, 15.0, 0.015, 0.05), 445.323, rtol=1e-4)

    def test_never_warmer_than_the_room(self):
        for flow in (1e-4, 1e-3, 0.05):
            q = units.beam(ROWS["GF-B18M"], 24.0, 16.0, 0.02, flow)
            self.assertLess(q, flow * float(water.liquid(16.0).heat) * 8.0 * (1 + 1e-9))
        self.assertEqual(units.beam(ROWS["GF-B18M"], 15.0, 16.0, 0.02, 0.05), 0.0)

    def test_choice_keeps_each_limit(self):
        found = choice.beams(
            of_kind("beam"),
            each(1300.0, 4e4),
            each(25.0, 25.0),
            each(0.045, 0.02),
            each(3.0, 3.0),
            each(47.0, 47.0),
            choice.Circuit(15.0, 18.0),
        )
        picked = found[0]
        gives = picked.count * units.beam(picked.model, 25.0, 15.0, 0.045 / picked.count, picked.model.cool_water_kg_s)
        self.assertGreaterEqual(gives, 1300)
        self.assertTrue(all(t.why for t in picked.tried[:-1]))
        self.assertIsNone(found[1].model)
        self.assertTrue(all(t.why for t in found[1].tried))


class Radiators(unittest.TestCase):
    def test_published(self):
        m = ROWS["GF-P21-600-1000"]
        assert_allclose(units.radiator_heat(m.heat_w, m.heat_exponent, 60, 45, 20), 815.770, rtol=2e-6)
        back = units.radiator_back(m.heat_w, m.heat_exponent, 60.0, 20.0, 700.0)
        assert_allclose(back, 39.3260, atol=2e-4)

    def test_rating_is_itself(self):
        assert_allclose(units.radiator_heat(1469, 1.32, 75, 65, 20), 1469, rtol=1e-12)
        assert_allclose(units.log_excess(60, 60, 20), 40)
        self.assertEqual(units.radiator_heat(1469, 1.3, 40, 15, 20), 0)

    def test_choice_is_the_least_that_fits(self):
        models = of_kind("radiator")
        found = choice.radiators(
            models, each(700.0), each(20.0), each(1.4), each(0.65), choice.Circuit(60.0, 45.0), np.array([1])
        )[0]
        fit = [
            (float(units.radiator_heat(m.heat_w, m.heat_exponent, 60, 45, 20)), m.depth_m, m.model)
            for m in models
            if m.length_m <= 1.4 and m.height_m <= 0.65
        ]
        self.assertEqual(found.model.model, min(x for x in fit if x[0] >= 700)[2])


class Surfaces(unittest.TestCase):
    def test_published_floor(self):
        m = ROWS["GF-F150"]
        q, lift = units.surface_heat(
            m.resistance_m2k_w, 0.02, units.log_excess(35, 30, 20), units.FILMS["floor", "heats"]
        )
        assert_allclose([q, 20 + lift], [72.2435, 26.6965], rtol=2e-6)

    def test_the_widest_spacing_that_is_enough(self):
        floors = of_kind("floor")
        easy = choice.surfaces(floors, choice.SurfaceAsked(300.0, 20.0, 0.02, 20.0), choice.Circuit(35, 30), True)
        self.assertEqual(easy.model.resistance_m2k_w, max(m.resistance_m2k_w for m in floors))
        self.assertEqual(easy.rest_w, 0)
        hard = choice.surfaces(floors, choice.SurfaceAsked(9000.0, 20.0, 0.02, 20.0), choice.Circuit(55, 50), True)
        self.assertTrue(hard.capped)
        assert_allclose(hard.surface_c, hard.model.surface_high_c)
        assert_allclose(hard.heat_w + hard.rest_w, 9000.0)

    def test_a_cooled_ceiling_stays_above_the_dew_point(self):
        ceilings = of_kind("ceiling")
        found = choice.surfaces(
            ceilings, choice.SurfaceAsked(9000.0, 20.0, 0.0, 25.0, 17.0), choice.Circuit(8, 11), False
        )
        self.assertGreaterEqual(found.surface_c, 18.0 - 1e-9)
        self.assertTrue(found.capped)


class Others(unittest.TestCase):
    def test_published_direct(self):
        found = units.direct(ROWS["GF-DC50"], 25.0, 0.0095, 32.0, air.SEA_LEVEL_PA)
        assert_allclose(found.bypass, 0.1397, atol=5e-5)
        assert_allclose([found.total_w, found.sensible_w, found.t], [4970.6, 3810.0, 12.04], rtol=2e-4)

    def test_direct_returns_its_rating(self):
        for m in of_kind("direct"):
            w1 = float(air.ratio_from_wet_bulb(27.0, 19.0, air.SEA_LEVEL_PA))
            found = units.direct(m, 27.0, w1, 35.0, air.SEA_LEVEL_PA)
            assert_allclose([found.total_w, found.sensible_w], [m.cool_total_w, m.cool_sensible_w], rtol=2e-4)
            back = cool_to(27.0, w1, found.t, found.bypass, air.SEA_LEVEL_PA, 1.2 * m.air_m3s)
            assert_allclose(back.total_w, found.total_w, rtol=1e-6)

    def test_electric_is_the_least_that_is_enough(self):
        found = choice.electric(of_kind("electric"), each(800.0, 1e6))
        self.assertEqual(found[0].model.heat_w, min(m.heat_w for m in of_kind("electric") if m.heat_w >= 800))
        self.assertIsNone(found[1].model)

    def test_direct_choice(self):
        found = choice.direct(
            of_kind("direct"), each(3000.0, 6e5), each(24.0, 24.0), each(0.008, 0.008), 34.0, 101325.0
        )
        self.assertEqual(found[0].count, 1)
        self.assertTrue(all(t.value < 3000 for t in found[0].tried[:-1]))
        self.assertIsNone(found[1].model)


class FanCoilChoice(unittest.TestCase):
    def test_fewest_units_then_least_air(self):
        rows = [i for i, m in enumerate(FAN_COILS) if m.step == "medium" and m.pipes == 4]
        models = [FAN_COILS[i] for i in rows]
        rated = units.FanCoils(*(getattr(RATED, n)[rows] for n in units.FanCoils.__slots__))
        need, heat = each(600, 2500, 9000), each(500, 1500, 3000)
        asked = units.RoomAsked(
            each(25, 25, 25), need, each(4e-5, 8e-5, 2e-4), each(0.02, 0.04, 0.1), each(0.008, 0.008, 0.008)
        )
        found = choice.fan_coils(models, rated, asked, heat, each(21, 21, 21), each(60, 60, 60), 7.0, 45.0)
        self.assertEqual([p.count for p in found], sorted(p.count for p in found))
        for r, picked in enumerate(found):
            i = models.index(picked.model)
            n = picked.count
            worked = units.fan_coils_at(
                (rated.air_w_k[[i]] * n, rated.water_w_k[[i]] * n),
                each(picked.model.air_m3s * n),
                each(picked.model.cool_water_kg_s * n),
                each(picked.model.fan_w * n),
                units.RoomAsked(*(np.atleast_1d(x[r]) for x in asked[:5])),
                7.0,
            )
            assert_allclose(worked.sensible_w, need[r], rtol=1e-4)
            self.assertTrue(all(t.why for t in picked.tried[:-1]))

    def test_refused(self):
        with self.assertRaises(InputError):
            choice.electric((), each(100.0))
        with self.assertRaises(InputError):
            choice.electric(of_kind("electric"), each(np.nan))
