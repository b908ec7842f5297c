"""Air systems solved: two cases with published check values, closed forms, closing balances over random trains, and
refusals.
"""

import unittest
from dataclasses import replace

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.psychro import properties as air
from garnetfin.core.systems.handler import at_part_flow, reset_share
from garnetfin.core.systems.parts import Control, Hours, Part, Rooms
from garnetfin.core.systems.sweep import economiser_share
from garnetfin.core.systems.train import solve

P = 101325.0


def rooms(
    m, sensible, latent, set_c, extract=0.0, moves=(), transfer=(), least=0.0, offset=0.0, heaters=False
) -> Rooms:
    """Arrays of any number of rooms at one hour or several."""
    m = np.atleast_1d(np.asarray(m, float))
    n = len(m)

    def column(v):
        return np.broadcast_to(
            np.asarray(v, float).reshape(n, -1) if np.ndim(v) else np.full((n, 1), float(v)),
            (n, np.size(v) // n if np.ndim(v) else 1),
        ).copy()

    return Rooms(
        m,
        np.full(n, float(least)) if np.ndim(least) == 0 else np.asarray(least, float),
        np.full(n, float(extract)) if np.ndim(extract) == 0 else np.asarray(extract, float),
        np.full(n, float(offset)),
        np.array(moves, int).reshape(-1, 2),
        np.array(transfer, float),
        column(set_c),
        column(sensible),
        column(latent),
        np.full(n, 0.6),
        np.ones(n, bool),
        np.full(n, heaters),
    )


def hours(t, rh, plenum=0.0, cooling=True, heating=True) -> Hours:
    t = np.atleast_1d(np.asarray(t, float))
    on = np.ones(len(t), bool)
    return Hours(t, air.humidity_ratio(t, rh, P), P, on, on & cooling, on & heating, np.full(len(t), float(plenum)))


COOLING = (
    Part("mixing", "mixing"),
    Part("coil", "cooling", {"bypass": 0.1}),
    Part("fan", "supply_fan", {"pressure_pa": 800.0, "efficiency": 0.6}),
    Part("duct", "duct", {"leakage": 0.03, "ua_w_k": 0.0}),
    Part("terminals", "terminals"),
    Part("rooms", "rooms"),
    Part("plenum", "plenum"),
    Part("back", "return_fan", {"pressure_pa": 200.0, "efficiency": 0.5}),
    Part("relief", "relief"),
)


class CheckCases(unittest.TestCase):
    """Solved elsewhere with all node equations at once by least squares; agreement there is 1e-9, the figures are
    printed to four or five digits.
    """

    def test_cooling_with_plenum_leak_and_both_fans(self):
        flow = 10e3 / (float(air.specific_heat(0.00867)) * 10.0)
        # The flow itself follows from the supply humidity that comes out: two rounds settle it below the fifth digit.
        for _ in range(4):
            found = solve(
                COOLING,
                rooms(flow, 10e3, 2500.0, 24.0),
                hours(32.0, 0.5, plenum=1000.0),
                Control("fixed", "held", supply_c=14.0, outdoor_kg_s=0.25),
            )
            flow = 10e3 / (float(air.specific_heat(found.nodes["supply"].w[0])) * 10.0)
        node = {k: (float(n.t[0]), float(n.w[0])) for k, n in found.nodes.items()}
        coil = found.coils["coil"]
        assert_allclose(found.handler_kg_s, 1.00861, atol=2e-5)
        assert_allclose(node["mixing"], (26.750, 0.010978), atol=(1e-3))
        assert_allclose(node["mixing"][1], 0.010978, atol=1e-6)
        assert_allclose(node["coil"], (12.928, 0.008670), atol=1e-3)
        assert_allclose(coil.adp_c, 11.385, atol=1e-3)
        assert_allclose((coil.total_w[0], coil.sensible_w[0]), (20062, 14250), atol=1.0)
        assert_allclose((node["plenum"][0], node["return"][0]), (24.669, 25.004), atol=1e-3)
        rh = air.relative_humidity(found.room_c, found.room_w, P)
        assert_allclose(rh, 0.5176, atol=1e-4)

    def test_heating_with_recovery_at_its_frost_limit_and_steam(self):
        parts = (
            Part("recovery", "recovery", {"sensible": 0.75, "latent": 0.0, "frost_c": 1.0}),
            Part("coil", "heating"),
            Part("steam", "humidifier", {"humidity": 0.35}, "steam"),
            Part("fan", "supply_fan", {"pressure_pa": 600.0, "efficiency": 0.6}),
            Part("terminals", "terminals"),
            Part("rooms", "rooms"),
            Part("back", "return_fan", {"pressure_pa": 400.0, "efficiency": 0.55}),
        )
        found = solve(
            parts,
            rooms(0.6, -5000.0, 500.0, 21.0),
            hours(-12.0, 0.8),
            # what the air leaves of the load a room heater takes
            Control("fixed", "held", "heater", supply_c=29.1876),
        )
        assert_allclose(found.recovery_share, 0.9556, atol=1e-4)
        self.assertTrue(found.frost[0])
        assert_allclose((found.nodes["recovery"].t[0], found.nodes["coil"].t[0]), (12.083, 27.853), atol=1e-3)
        assert_allclose(found.heat_w["coil"], 9538, atol=1.0)
        assert_allclose(found.water_kg_s["steam"], 0.002408, atol=1e-6)
        assert_allclose(air.relative_humidity(found.room_c, found.room_w, P), 0.35, atol=1e-5)


class ClosedForms(unittest.TestCase):
    BARE = (
        Part("coil", "cooling", {"bypass": 0.1}),
        Part("heat", "heating"),
        Part("fan", "supply_fan", {"pressure_pa": 0.0, "efficiency": 0.5}),
        Part("terminals", "terminals"),
        Part("rooms", "rooms"),
    )

    def test_all_outdoor_air_held_at_the_rooms(self):
        # Without fan heat the coil goes from outdoors to the supply temperature, the room lands where its load puts it.
        found = solve(
            self.BARE,
            rooms([0.5, 0.3], [2500.0, 900.0], [300.0, 0.0], [25.0, 24.0]),
            hours(32.0, 0.4),
            Control("fixed", "held", supply_c=14.0),
        )
        w = found.nodes["supply"].w[0]
        cp = air.specific_heat(w)
        assert_allclose(found.room_c[:, 0], 14.0 + np.array([2500.0, 900.0]) / (np.array([0.5, 0.3]) * cp), rtol=1e-9)
        assert_allclose(
            found.room_w[:, 0] - w,
            np.array([300.0, 0.0]) / air.vapour_enthalpy([25.0, 24.0]) / [0.5, 0.3],
            rtol=1e-9,
            atol=1e-15,
        )
        assert_allclose(found.nodes["coil"].t, 14.0, atol=1e-6)

    def test_reheat_gives_every_room_its_set_point(self):
        parts = tuple(replace(p, choice="reheat") if p.kind == "terminals" else p for p in self.BARE)
        q, m, set_c = np.array([3000.0, 400.0, -500.0]), np.array([0.3, 0.25, 0.2]), np.array([25.0, 24.0, 22.0])
        found = solve(
            parts, rooms(m, q, 0.0, set_c), hours(30.0, 0.4), Control("fixed", "held", "reheat", supply_c=14.0)
        )
        cp = float(air.specific_heat(found.nodes["supply"].w[0]))
        need = set_c - q / (m * cp)
        assert_allclose(found.reheat_w[:, 0], m * cp * np.maximum(need - 14.0, 0.0), rtol=1e-9, atol=1e-6)
        assert_allclose(found.room_c[:, 0], np.where(need >= 14.0, set_c, 14.0 + q / (m * cp)), rtol=1e-9)

    def test_the_neediest_room_sets_the_supply(self):
        found = solve(
            self.BARE,
            rooms([0.3, 0.3], [1800.0, 900.0], 0.0, [24.0, 24.0]),
            hours(30.0, 0.3),
            Control("fixed", "neediest", supply_c=12.0),
        )
        cp = float(air.specific_heat(found.nodes["supply"].w[0]))
        assert_allclose(found.nodes["supply"].t, 24.0 - 1800.0 / (0.3 * cp), atol=1e-6)

    def test_variable_flow_follows_the_load_between_its_limits(self):
        q = np.array([[500.0, 2000.0, 9000.0]])
        found = solve(
            self.BARE,
            rooms(0.4, q, 0.0, np.full((1, 3), 24.0), least=0.1),
            hours([28.0, 28.0, 28.0], 0.4),
            Control("load", "held", supply_c=14.0),
        )
        cp = air.specific_heat(found.nodes["supply"].w)
        assert_allclose(found.supply_kg_s[0], np.clip(q[0] / (cp * 10.0), 0.1, 0.4), rtol=1e-7)
        self.assertLess(found.room_c[0, 0], 23.9)  # at its least flow the room is overcooled
        assert_allclose(found.room_c[0, 1], 24.0, atol=1e-6)
        self.assertGreater(found.room_c[0, 2], 24.1)

    def test_room_units_take_what_the_air_does_not(self):
        parts = tuple(replace(p, choice="unit") if p.kind == "terminals" else p for p in self.BARE)
        found = solve(
            parts,
            rooms([0.1, 0.1], [2000.0, -1500.0], 0.0, [25.0, 21.0]),
            hours(10.0, 0.5),
            Control("fixed", "held", "unit", supply_c=18.0),
        )
        cp = float(air.specific_heat(found.nodes["supply"].w[0]))
        assert_allclose(
            found.unit_w[:, 0], np.array([2000.0, -1500.0]) - 0.1 * cp * (np.array([25.0, 21.0]) - 18.0), rtol=1e-9
        )
        assert_allclose(found.room_c[:, 0], [25.0, 21.0], atol=1e-9)

    def test_between_its_set_points_a_room_floats_and_reheat_holds_the_lower(self):
        """Published states of a box: 24 and 21 degC, 30 W/K of loss, supply at 14, 61.31 W/K at the least flow."""
        parts = tuple(replace(p, choice="reheat") if p.kind == "terminals" else p for p in self.BARE)
        q = np.array([[1500.0, 300.0, 100.0, 700.0]])
        cp = float(air.specific_heat(0.00867))
        for _ in range(2):  # the least flow as mass follows from the humidity that comes out
            case = replace(
                rooms(0.2 * 1226.2 / cp, q, 0.0, np.full((1, 4), 24.0), least=0.05 * 1226.2 / cp),
                hold_c=np.full((1, 4), 21.0),
                fall_w_k=np.array([30.0]),
            )
            found = solve(parts, case, hours(np.full(4, 28.0), 0.4), Control("load", "held", "reheat", supply_c=14.0))
            cp = float(air.specific_heat(found.nodes["supply"].w[0]))
        assert_allclose(found.reheat_w[0], (0.0, 39.170, 239.170, 0.0), atol=1e-3)
        floating = (700.0 + 30.0 * 24.0 + 61.31 * 14.0) / (30.0 + 61.31)
        # 700 W are more than the least flow takes at 24 degC: its flow follows the load
        self.assertGreater(floating, 24.0)
        assert_allclose(found.room_c[0], (24.0, 21.0, 21.0, 24.0), atol=1e-6)
        assert_allclose(found.load_w[0], (1500.0, 390.0, 190.0, 700.0), atol=1e-6)
        assert_allclose(found.energy["whole"], 0.0, atol=1e-3)

    def test_a_room_without_reheat_floats_by_its_own_loss(self):
        case = replace(rooms(0.1, 400.0, 0.0, 24.0), hold_c=np.array([[20.0]]), fall_w_k=np.array([25.0]))
        found = solve(self.BARE, case, hours(28.0, 0.4), Control("fixed", "held", supply_c=14.0))
        cp = float(air.specific_heat(found.nodes["supply"].w[0]))
        wanted = (400.0 + 25.0 * 24.0 + 0.1 * cp * 14.0) / (25.0 + 0.1 * cp)
        assert_allclose(found.room_c[0, 0], wanted, atol=1e-7)

    def test_a_zone_gets_the_supply_temperature_it_asks_for(self):
        case = replace(rooms([0.3, 0.2], [2500.0, 900.0], 0.0, [24.0, 24.0]), own_c=np.array([np.nan, 18.0]))
        found = solve(self.BARE, case, hours(28.0, 0.4), Control("fixed", "held", supply_c=14.0))
        cp = float(air.specific_heat(found.nodes["supply"].w[0]))
        assert_allclose(found.supply_c[:, 0], (14.0, 18.0), atol=1e-6)
        assert_allclose(found.zone_w[:, 0], (0.0, 0.2 * cp * 4.0), atol=1e-3)
        assert_allclose(found.energy["whole"], 0.0, atol=1e-3)

    def test_an_economiser_meets_its_goal_and_leaves_the_coil_off(self):
        # 7 degC .004 into 24 degC .009 for 14 degC: .590446, where a straight line in temperature gives .588235
        share = economiser_share(*(np.array([x]) for x in (14.0, 24.0, 0.009, 7.0, 0.004)))
        assert_allclose(share, 0.590446, atol=5e-7)
        parts = (Part("mixing", "mixing", {"changeover_c": 20.0}, "dry bulb"), *self.BARE)
        found = solve(
            parts,
            rooms(0.5, np.full((1, 3), 5000.0), 200.0, np.full((1, 3), 24.0)),
            hours([-12.0, 3.0, 11.0], 0.9),
            Control("fixed", "held", supply_c=14.0, outdoor_kg_s=0.05),
        )
        self.assertTrue(found.free.all())
        assert_allclose(found.nodes["mixing"].t, 14.0, atol=1e-4)
        assert_allclose(found.cooling_w, 0.0, atol=0.5)  # of 5 kW
        assert_allclose(found.energy["whole"], 0.0, atol=1e-2)

    def test_an_economiser_cools_for_nothing(self):
        parts = (Part("mixing", "mixing", {"changeover_c": 20.0}, "dry bulb"), *self.BARE)
        found = solve(
            parts,
            rooms(1.0, [[8000.0, 8000.0, 8000.0]], 0.0, np.full((1, 3), 24.0)),
            hours([5.0, 13.9, 30.0], 0.6),
            Control("fixed", "held", supply_c=14.0, outdoor_kg_s=0.2),
        )
        cold, cool, hot = range(3)
        # Mixed to 14 degC at 5 degC outdoors; nearly all of it at 13.9; the least at 30.
        assert_allclose(found.nodes["mixing"].t[cold], 14.0, atol=1e-6)
        self.assertTrue(found.free[cold] and found.free[cool] and not found.free[hot])
        self.assertLess(found.cooling_w[cold], 1e-6)
        self.assertGreater(found.outdoor_kg_s[cool], 0.95)
        assert_allclose(found.outdoor_kg_s[hot], 0.2)

    def test_months_without_cooling_or_heating_let_rooms_drift(self):
        parts = self.BARE
        found = solve(
            parts,
            rooms(0.5, [[3000.0, -3000.0]], 0.0, np.full((1, 2), 23.0)),
            hours([28.0, -5.0], 0.4, cooling=False, heating=False),
            Control("fixed", "held", supply_c=16.0),
        )
        assert_allclose(found.nodes["supply"].t, [28.0, -5.0], atol=1e-6)
        self.assertEqual(float(found.cooling_w.sum() + found.heat_w["heat"].sum()), 0.0)

    def test_transfer_air_brings_its_heat(self):
        # A room without supply lives on the air of another one.
        found = solve(
            self.BARE,
            rooms(
                [0.4, 0.0], [2000.0, 300.0], [200.0, 100.0], 24.0, extract=[0.0, 0.1], moves=[(0, 1)], transfer=[0.1]
            ),
            hours(28.0, 0.4),
            Control("fixed", "held", supply_c=15.0),
        )
        cp = float(air.specific_heat(found.room_w[0, 0]))
        assert_allclose(found.room_c[1, 0] - found.room_c[0, 0], 300.0 / (0.1 * cp), rtol=1e-9)
        assert_allclose(
            found.room_w[1, 0] - found.room_w[0, 0], 100.0 / float(air.vapour_enthalpy(24.0)) / 0.1, rtol=1e-9
        )


class Closing(unittest.TestCase):
    def random_train(self, rng: np.random.Generator) -> tuple[Part, ...]:
        front = [Part("intake", "intake")]
        if rng.random() < 0.6:
            front.append(
                Part(
                    "recovery",
                    "recovery",
                    {
                        "sensible": rng.uniform(0.3, 0.9),
                        "latent": rng.choice([0.0, 0.6]),
                        "frost_c": rng.choice([-3.0, 2.0]),
                    },
                )
            )
        if rng.random() < 0.4:
            front.append(Part("preheat", "preheat", {"set_c": 6.0}))
        if rng.random() < 0.7:
            front.append(
                Part("mixing", "mixing", {"changeover_c": 18.0}, str(rng.choice(["", "dry bulb", "enthalpy"])))
            )
        middle = [
            Part("coil", "cooling", {"bypass": rng.uniform(0, 0.3)}, str(rng.choice(["", "dry air"]))),
            Part("heat", "heating"),
        ]
        if rng.random() < 0.4:
            middle.append(Part("moist", "humidifier", {"humidity": 0.35}, str(rng.choice(["steam", "spray"]))))
        fan = Part("fan", "supply_fan", {"pressure_pa": rng.uniform(200, 1500), "efficiency": rng.uniform(0.4, 0.8)})
        middle.insert(int(rng.integers(0, len(middle) + 1)), fan)
        back = [
            Part(
                "duct",
                "duct",
                {"leakage": rng.uniform(0, 0.08), "ua_w_k": rng.uniform(0, 80), "around_c": 27.0},
                str(rng.choice(["", "outside"])),
            ),
            Part("terminals", "terminals"),
            Part("rooms", "rooms"),
        ]
        if rng.random() < 0.5:
            back.append(Part("plenum", "plenum"))
        if rng.random() < 0.7:
            back.append(Part("back", "return_fan", {"pressure_pa": 250.0, "efficiency": 0.5}))
        return (*front, *middle, *back, Part("relief", "relief"))

    def test_energy_and_water_close_around_every_node_of_any_train(self):
        rng = np.random.default_rng(7)
        t = np.array([-12.0, 2.0, 14.0, 22.0, 33.0])
        for k in range(40):
            n = int(rng.integers(1, 9))
            parts, m = self.random_train(rng), rng.uniform(0.05, 0.6, n)
            q = m[:, None] * 1010.0 * np.array([-9.0, -3.0, 2.0, 6.0, 9.0]) * rng.uniform(0.4, 1.1, (n, 5))
            case = rooms(
                m,
                q,
                rng.uniform(0, 250, (n, 5)),
                np.full((n, 5), 23.0),
                extract=m * rng.choice([0.0, 0.4], n),
                least=0.2 * m,
                moves=[(0, n - 1)] if n > 1 else (),
                transfer=[0.02] if n > 1 else (),
                offset=rng.choice([-0.05, 0, 0.05]),
            )
            control = Control(
                str(rng.choice(["fixed", "load"])),
                str(rng.choice(["held", "coil", "room", "neediest"])),
                str(rng.choice(["none", "reheat", "unit", "heater"])),
                14.0,
                11.0,
                0.3 * m.sum(),
            )
            found = solve(parts, case, hours(t, rng.uniform(0.3, 0.9, 5), plenum=200.0), control)
            with self.subTest(train=k, parts=[p.kind for p in parts], control=control):
                scale = max(float(np.abs(found.cooling_w).max()), float(np.abs(q).sum(axis=0).max()), 1000.0)
                at = found.residual <= 1.0
                # an hour on an edge between two ways of running may stay open
                self.assertGreaterEqual(at.sum(), 4)
                for name in found.energy:
                    # The definitions close exactly; what is left is the last step of the torn figures, micro-kelvins of
                    # a few kg/s.
                    self.assertLess(float(np.abs(found.energy[name][at]).max()), 1e-4 * scale, name)
                    self.assertLess(float(np.abs(found.water[name][at]).max()), 1e-4 * scale / 2.5e6, name)

    def test_plain_substitution_ends_in_the_same_state(self):
        # An independent route to the solution: start far away, many damped rounds of the flows' own coupling.
        far = np.array([[30.0], [0.004], [4.0], [30.0], [0.015]])
        case = rooms([0.5, 0.3], [3000.0, 1000.0], [300.0, 100.0], 24.0)
        near = solve(
            COOLING, case, hours(32.0, 0.5, plenum=500.0), Control("fixed", "held", supply_c=14.0, outdoor_kg_s=0.2)
        )
        again = solve(
            COOLING,
            case,
            hours(32.0, 0.5, plenum=500.0),
            Control("fixed", "held", supply_c=14.0, outdoor_kg_s=0.2),
            far,
        )
        for name, node in near.nodes.items():
            assert_allclose(again.nodes[name].t, node.t, atol=2e-5, err_msg=name)
            assert_allclose(again.nodes[name].w, node.w, atol=2e-8, err_msg=name)


class Fans(unittest.TestCase):
    def test_pressure_and_efficiency_at_part_flow(self):
        # 0.6 of the design flow of 800 Pa: 800 (0.3 + 0.7 x 0.36) = 441.6 Pa
        pressure, efficiency = at_part_flow(np.array([0.6, 1.0]), 800.0, 0.5, 0.3)
        assert_allclose(pressure, (441.6, 800.0), atol=1e-9)
        # shaft power 0.6 x 441.6 / 800 = 0.3312 of the design's: the drive keeps 0.869883 of its efficiency
        assert_allclose(efficiency, (0.5 * 0.869883, 0.5), atol=1e-6)

    def test_a_sensor_that_is_reset_holds_what_the_neediest_box_asks_for(self):
        # Boxes at 0.5 and 0.7 of their design: 0.49 of what is held; 0.6 of the flow: 800 (0.3 x 0.49 + 0.7 x 0.36)
        reset = reset_share(np.array([[0.5, 0.05], [1.4, 0.02], [0.0, 0.0]]), np.array([1.0, 2.0, 0.0]))
        assert_allclose(reset, (0.49, 0.2), atol=1e-12)
        pressure, _ = at_part_flow(np.array([0.6]), 800.0, 0.5, 0.3, reset[:1])
        assert_allclose(pressure, 319.2, atol=1e-9)
        assert_allclose(reset_share(np.zeros((1, 2)), np.zeros(1)), 1.0)

    def test_a_reset_fan_takes_less_and_only_at_part_flow(self):
        q = np.array([[1000.0, 2500.0]])
        case = rooms(0.25, q, 0.0, np.full((1, 2), 24.0), least=0.02)
        control = Control("load", "held", supply_c=14.0, outdoor_kg_s=0.05, fan_kg_s=0.25)
        held = solve(COOLING, case, hours([28.0, 28.0], 0.4), control)
        reset = solve(COOLING, case, hours([28.0, 28.0], 0.4), replace(control, fan_reset=True))
        self.assertLess(reset.heat_w["fan"][0], 0.97 * held.heat_w["fan"][0])
        self.assertGreater(reset.heat_w["fan"][1], 0.9 * held.heat_w["fan"][1])
        assert_allclose(reset.energy["whole"], 0.0, atol=1e-2)

    def test_a_fan_of_variable_flow_warms_the_air_less(self):
        q = np.array([[1000.0, 2500.0]])
        case = rooms(0.25, q, 0.0, np.full((1, 2), 24.0), least=0.02)
        control = Control("load", "held", supply_c=14.0, outdoor_kg_s=0.05)
        plain = solve(COOLING, case, hours([28.0, 28.0], 0.4), control)
        eased = solve(COOLING, case, hours([28.0, 28.0], 0.4), replace(control, fan_kg_s=float(plain.handler_kg_s[1])))
        assert_allclose(eased.heat_w["fan"][1], plain.heat_w["fan"][1], rtol=1e-3)
        self.assertLess(eased.heat_w["fan"][0], 0.6 * plain.heat_w["fan"][0])
        assert_allclose(eased.energy["whole"], 0.0, atol=1e-2)

    def test_filters_stand_at_the_outlets_too(self):
        duct = next(k for k, p in enumerate(COOLING) if p.kind == "duct")
        parts = (*COOLING[: duct + 1], Part("last", "filter"), *COOLING[duct + 1 :])
        found = solve(parts, rooms(0.5, 4000.0, 300.0, 24.0), hours(30.0, 0.5), Control("fixed", "held", supply_c=14.0))
        assert_allclose(found.nodes["last"].t, found.nodes["supply"].t)


class Refusals(unittest.TestCase):
    def test_trains_that_cannot_be_say_why(self):
        end = (Part("t", "terminals"), Part("r", "rooms"))
        for words, parts in (
            ("one mixing", (Part("a", "mixing"), Part("b", "mixing"), *end)),
            ("needs rooms", (Part("t", "terminals"),)),
            ("wrong side", (*end, Part("c", "cooling"))),
            ("Terminals come last", (Part("t", "terminals"), Part("c", "cooling"), Part("r", "rooms"))),
            ("Only filters and silencers", (Part("d", "duct"), Part("c", "cooling"), *end)),
            ("stands before the mixing", (Part("m", "mixing"), Part("x", "recovery"), *end)),
            ("intake comes first", (Part("c", "cooling"), Part("i", "intake"), *end)),
            ("relief comes last", (*end, Part("x", "relief"), Part("f", "return_fan"))),
        ):
            with self.subTest(words=words):
                self.assertRaisesRegex(
                    InputError, words, solve, parts, rooms(0.1, 100.0, 0.0, 24.0), hours(30.0, 0.5), Control()
                )
