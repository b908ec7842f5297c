"""Heat of ducts through the whole engine: a march in slices, into train and rooms' flows, findings with mends."""

import unittest
from functools import lru_cache

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.ducts.heat import conductance
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results
from garnetfin.engine.run import run
from garnetfin.engine.stages.duct_heat import wrapped_ducts
from garnetfin.project.edits.duct_values import SetDuctChoice, SetDuctValue
from garnetfin.project.edits.systems import SetPattern, SetSystemChoice
from garnetfin.project.values import Pinned
from tests.example import station

AHU, MEMO = "ahu-north", Memo()
COMPUTED = SetSystemChoice(AHU, "heat", "computed")
EVERY = tuple(s.id for s in station().segments)


@lru_cache(maxsize=20)
def after(*edits) -> Results:
    project = COMPUTED.apply(station())
    for edit in edits:
        project = edit.apply(project)
    return run(project, MEMO)


def insulated(metres: float):
    return SetDuctValue(EVERY, "insulation_m", Pinned(value=metres))


class Marched(unittest.TestCase):
    def test_air_along_every_duct_in_slices(self):
        """0.01 K: K is taken at the temperature of the supply, where a march has it slice by slice."""
        for edits in ((), (insulated(0.0),)):
            results = after(*edits)
            heat, net, air = results.duct_heat[AHU], results.ducts[AHU], results.air[AHU]
            for i, s in net.segments.items():
                parent = net.before(i)
                self.assertEqual(heat.start_c[i], heat.root_c if parent is None else heat.end_c[parent.segment_id])
                drawn = [next(x for x in results.project.segments if x.id == i)]
                ducts = wrapped_ducts(results.project.duct_points, drawn, net, air)
                t, flow = heat.start_c[i], s.flow_m3s * air.density_kg_m3
                for _ in range(40):
                    k = float(conductance(ducts, t, heat.around_c[i]).k_w_mk[0])
                    t += k * s.length_m / 40 * (heat.around_c[i] - t) / (flow * (1006 + 1860 * 0.0085))
                    flow -= s.leak_m3s * air.density_kg_m3 / 40
                self.assertAlmostEqual(t, heat.end_c[i], delta=0.01, msg=i)

    def test_terminals_have_what_is_held_as_their_mean(self):
        results = after()
        heat, flows = results.duct_heat[AHU], results.ducts[AHU].terminals
        mean = np.average([heat.terminal_c[t.terminal_id] for t in flows], weights=[t.flow_m3s for t in flows])
        self.assertAlmostEqual(float(mean), results.air[AHU].supply_c, places=6)
        self.assertLess(heat.root_c, float(mean))


class Directions(unittest.TestCase):
    def test_more_insulation_never_takes_up_more(self):
        gains = [sum(after(insulated(t)).duct_heat[AHU].gained_w.values()) for t in (0.0, 0.019, 0.03, 0.06)]
        self.assertEqual(gains, sorted(gains, reverse=True))
        loads = [after(insulated(t)).trains[AHU].figures["duct", "u_value"].figure for t in (0.0, 0.019, 0.03, 0.06)]
        self.assertEqual(loads, sorted(loads, reverse=True))

    def test_a_duct_outdoors_takes_up_more(self):
        first = after().ducts[AHU].segment_ids[0]
        out = after(SetDuctChoice((first,), "around", "outdoors")).duct_heat[AHU]
        self.assertEqual(out.kinds[first], "outdoors")
        self.assertGreater(out.gained_w[first], 1.3 * after().duct_heat[AHU].gained_w[first])

    def test_a_unit_that_states_its_own_figures_has_none(self):
        results = run(station(), MEMO)
        self.assertEqual(results.duct_heat, {})
        self.assertEqual(results.trains[AHU].figures["duct", "u_value"].figure, 1.1)


class FedBack(unittest.TestCase):
    def test_rooms_get_air_for_what_arrives_at_them(self):
        results = after()
        heat, net = results.duct_heat[AHU], results.ducts[AHU]
        by_room: dict[str, list] = {}
        for t in net.terminals:
            by_room.setdefault(t.room_id, []).append(t)
        for row in results.air[AHU].rooms:
            mine = by_room.get(row.room_id)
            if not mine or row.flow_m3s <= 0:
                continue
            arrives = np.average([heat.terminal_c[t.terminal_id] for t in mine], weights=[t.flow_m3s for t in mine])
            self.assertAlmostEqual(row.warm_k, float(arrives) - results.air[AHU].supply_c, delta=0.006)
            room = results.rooms[row.room_id]
            if room.peak_w > 0:
                needs = room.peak_w / (results.air[AHU].heat_j_m3k * (room.figures.cooling_c.figure - arrives))
                assert_allclose(row.need("cooling"), needs, rtol=1e-3)

    def test_the_train_closes_and_supplies_each_room_as_its_duct_brings_it(self):
        for edits in ((), (SetPattern(AHU, "vav_reheat"),)):
            results = after(*edits)
            train = results.trains[AHU]
            solved, i = train.solved, train.cooling.i
            self.assertLess(float(np.abs(solved.energy["whole"]).max()), 0.1)  # of some 80 kW
            arriving = solved.supply_c[:, i] - solved.reheat_w[:, i] / np.maximum(
                solved.supply_kg_s[:, i] * (1006 + 1860 * train.cooling.node("supply")[1]), 1e-9
            )
            flowing = solved.supply_kg_s[:, i] > 1e-6
            mean = np.average(arriving[flowing], weights=solved.supply_kg_s[flowing, i])
            self.assertAlmostEqual(float(mean), train.cooling.node("supply")[0], places=5)
            warm = np.array([r.warm_k for r in results.air[AHU].rooms])[flowing]
            # Colder or warmer by what the ducts do, in proportion to how far supply air is from what is around.
            slope = np.polyfit(warm, arriving[flowing], 1)[0]
            self.assertGreater(slope, 0.6)
            self.assertLess(slope, 1.4)


class Found(unittest.TestCase):
    def test_bare_ducts_drip_and_the_least_insulation_mends_them(self):
        results = after(insulated(0.0))
        (found,) = [f for f in results.findings if f.code == "duct-condenses"]
        after_ = run(found.mends[0].command.apply(results.project), MEMO)
        self.assertNotIn("duct-condenses", {f.code for f in after_.findings})
        least = found.mends[0].command.value.value
        thinner = run(
            SetDuctValue(found.mends[0].command.segment_ids, "insulation_m", Pinned(value=least - 0.006)).apply(
                results.project
            ),
            MEMO,
        )
        heat = thinner.duct_heat[AHU]
        self.assertLess(min(heat.outside_c[i] - heat.dew_c[i] for i in heat.kinds), 1.5)

    def test_the_derivation_leads_from_the_beginning_to_the_end(self):
        results = after()
        heat = results.duct_heat[AHU]
        for i in results.ducts[AHU].segment_ids[:6]:
            why = explain(results, ("duct", i, "heat"))
            self.assertEqual(why.figure, heat.end_c[i])
            self.assertEqual(why.parts[0].figure, heat.gained_w[i])
        whole = explain(results, ("duct heat", AHU))
        assert_allclose(whole.figure, sum(heat.gained_w.values()))
