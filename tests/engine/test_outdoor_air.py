"""Outdoor air, least flows and hourly flows of air systems, from typed inputs to findings, by independent ways."""

import unittest

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.edits.book import SetBookChoice
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import SetPattern, SetSystemValue
from garnetfin.project.values import Pinned, Rule
from tests.engine.crowded import crowded
from tests.example import by_number, station, station_results

AHU = "ahu-north"


def pinned(value: float) -> Pinned:
    return Pinned(value=value)


def after(*edits, of=station):
    project = of()
    for edit in edits:
        project = edit.apply(project)
    return run(project, Memo())


def tracer(results, system_id: str, intake_m3s: float) -> dict[str, float]:
    """Outdoor air that arrives in every room, from a tracer stepped through time in the rooms and the return air.

    Of the engine only flows are used: supply, transfers, extract, return; the rest closes the rooms' balances.
    """
    flows = results.air[system_id]
    at = {r.room_id: i for i, r in enumerate(flows.rooms)}
    supply, returned = (np.array([getattr(r, n) for r in flows.rooms]) for n in ("flow_m3s", "return_m3s"))
    extract, out = (np.array([getattr(r, n) for r in flows.rooms]) for n in ("extract_m3s", "transfer_out_m3s"))
    came = np.zeros(len(supply))
    for move in flows.moves:
        came[at[move.to_room]] += move.flow_m3s
    leaks_in = np.maximum(extract + out + returned - supply - came, 0.0)
    q = np.array([r.wanted_m3s for r in flows.rooms])
    share = 1 - min(1.0, intake_m3s / supply.sum())
    c, in_supply = np.zeros(len(supply)), 0.0
    step = 0.4 / (supply + came + leaks_in).max()
    for _ in range(60_000):
        into = supply * in_supply
        for move in flows.moves:
            into[at[move.to_room]] += move.flow_m3s * c[at[move.from_room]]
        c = c + step * (q + into - (supply + came + leaks_in) * c)
        in_supply = share * float((returned * c).sum() / returned.sum())
    arrives = supply * (1 - in_supply) + leaks_in
    for move in flows.moves:
        arrives[at[move.to_room]] += move.flow_m3s * (1 - c[at[move.from_room]])
    return {r.room_id: float(a) for r, a in zip(flows.rooms, arrives)}


class Arrives(unittest.TestCase):
    def test_the_canteen_beside_offices_by_a_tracer(self):
        """The example as it once ran: the sum of its rooms, of which the canteen gets little more than half."""
        results = after(SetBookChoice("recirculation", "sum"))
        flows = results.air[AHU]
        assert_allclose(flows.outdoor_m3s, sum(r.wanted_m3s for r in flows.rooms))
        found = flows.arrives_m3s
        apart = tracer(results, AHU, flows.outdoor_m3s)
        for room_id, value in apart.items():
            self.assertAlmostEqual(found[room_id], max(value, 0.0), 5)
        canteen = next(r for r in flows.rooms if r.room_id == by_number(station(), "0.09").id)
        self.assertLess(found[canteen.room_id], 0.7 * canteen.wanted_m3s)
        told = next(f for f in results.findings if f.code == "outdoor-short")
        least = max(flows.rooms, key=lambda r: r.wanted_m3s - found[r.room_id])
        self.assertEqual((told.object_id, least.room_id), (canteen.room_id, canteen.room_id))
        self.assertEqual(len(told.mends), 1)
        for mend in told.mends:
            again = run(mend.command.apply(results.project), Memo())
            arrives = again.air[AHU].arrives_m3s[least.room_id]
            self.assertGreater(arrives, 0.99 * least.wanted_m3s, mend.label)

    def test_by_rule_every_room_gets_its_share(self):
        flows = station_results().air[AHU]
        for r in flows.rooms:
            self.assertGreater(flows.arrives_m3s[r.room_id], r.wanted_m3s * 0.999, r.room_id)
        self.assertGreater(flows.outdoor_m3s, flows.fresh.sum_m3s)
        self.assertEqual(flows.outdoor.origin, "rule")
        less = after(SetSystemValue(AHU, "outdoor_m3s", pinned(flows.outdoor_m3s * 0.98)))
        self.assertIn("outdoor-short", {f.code for f in less.findings})

    def test_more_supply_in_the_critical_room_lowers_the_intake(self):
        told = next(f for f in station_results().findings if f.code == "outdoor-driven")
        self.assertEqual(told.object_id, station_results().air[AHU].fresh.critical_room)
        again = run(told.mends[0].command.apply(station()), Memo()).air[AHU]
        self.assertLess(again.outdoor_m3s / again.flow_m3s, 0.995)
        self.assertNotEqual(again.fresh.critical_room, told.object_id)
        together = run(told.mends[1].command.apply(station()), Memo()).air[AHU]
        self.assertLess(together.outdoor_m3s / together.flow_m3s, 0.8)
        self.assertLess(together.outdoor_m3s, station_results().air[AHU].outdoor_m3s)

    def test_choices_of_the_book(self):
        raised, bare = after().air[AHU], after(SetBookChoice("recirculation", "bare")).air[AHU]
        share = max(r.wanted_m3s / r.flow_m3s for r in bare.rooms if r.flow_m3s > 0)
        assert_allclose(bare.outdoor_m3s, share * bare.flow_m3s)
        self.assertGreater(bare.outdoor_m3s, raised.outdoor_m3s)  # no credit for air that others have not used

    def test_without_mixing_all_supply_is_outdoor_air(self):
        flows = after(SetPattern(AHU, "doas")).air[AHU]
        self.assertIsNone(flows.fresh)
        for r in flows.rooms:
            if not r.transfer_in_m3s:
                self.assertGreaterEqual(flows.arrives_m3s[r.room_id], r.flow_m3s - 1e-9)


class Zones(unittest.TestCase):
    def test_people_and_area_with_variable_flow_keeps_recirculating(self):
        """Least flows are searched; at the zones' outdoor air itself all supply had to be outdoor air."""
        results = after(SetBookChoice("outdoor_method", "people and area"), SetPattern(AHU, "vav_reheat"))
        flows = results.air[AHU]
        v = flows.ventilation
        zd = max(r.wanted_m3s / r.least_m3s for r in flows.rooms if r.least_m3s > 0 and r.flow_m3s > 0)
        self.assertLess(zd, 1.0)
        # 1 + Xs - Zd of the critical zone; heating, with less effective ceiling outlets, may ask for more
        self.assertLessEqual(v.efficiency, 1 + v.share - zd + 1e-6)
        self.assertLess(flows.outdoor_m3s, 0.95 * flows.flow_m3s)
        for r in flows.rooms:
            self.assertLessEqual(r.least_m3s, r.flow_m3s + 1e-12)
            self.assertGreaterEqual(r.least_m3s, min(r.flow_m3s, 0.3 * r.flow_m3s) - 1e-9)

    def test_least_intake_needs_no_more_than_least_heat(self):
        method = SetBookChoice("outdoor_method", "people and area")
        heat = after(method, SetPattern(AHU, "vav_reheat")).air[AHU]
        intake = after(method, SetPattern(AHU, "vav_reheat"), SetBookChoice("least_flows", "intake")).air[AHU]
        self.assertLessEqual(intake.outdoor_m3s, heat.outdoor_m3s + 1e-9)
        self.assertGreaterEqual(sum(r.least_m3s for r in intake.rooms), sum(r.least_m3s for r in heat.rooms) - 1e-9)

    def test_simplified(self):
        flows = after(
            SetBookChoice("outdoor_method", "people and area, simplified"), SetPattern(AHU, "vav_reheat")
        ).air[AHU]
        for r in flows.rooms:
            if r.flow_m3s > 0:
                self.assertGreaterEqual(r.least_m3s, min(1.5 * r.wanted_m3s, r.flow_m3s) - 1e-9)
        # all people at once: efficiency 0.75
        assert_allclose(
            flows.outdoor_m3s, min(sum(r.wanted_m3s for r in flows.rooms) / 0.75, flows.flow_m3s), rtol=1e-9
        )

    def test_displacement_is_more_effective(self):
        method = SetBookChoice("outdoor_method", "people and area")
        mixed = after(method).air[AHU]
        low = structs.replace(
            station(),
            terminals=tuple(structs.replace(t, kind="displ") if t.air == "supply" else t for t in station().terminals),
        )
        displaced = run(method.apply(low), Memo()).air[AHU]
        for a, b in zip(mixed.rooms, displaced.rooms):
            if a.room_id in {t.room_id for t in low.terminals if t.air == "supply"}:
                assert_allclose(b.wanted_m3s, a.wanted_m3s / 1.2)


class Hourly(unittest.TestCase):
    def test_every_need_counts_in_every_hour(self):
        """A damp room and one of air changes alone keep their flows with variable flow, and their ducts carry them."""
        results = after(
            SetRoomValue(("n1",), "moisture_w", pinned(1500.0)),
            SetRoomValue(("n2",), "air_change_1h", pinned(6.0)),
            SetRoomValue(("n2",), "people", pinned(0.0)),
            SetRoomValue(("n2",), "lights_w_m2", pinned(0.0)),
            SetPattern("ahu1", "vav_reheat"),
            of=crowded,
        )
        flows = results.air["ahu1"]
        rows = {r.room_id: r for r in flows.rooms}
        self.assertEqual(rows["n1"].governs, "latent")
        self.assertEqual(rows["n2"].governs, "air change")
        at = {r.room_id: i for i, r in enumerate(flows.rooms)}
        self.assertAlmostEqual(flows.flow_hours[at["n1"]].max(), rows["n1"].exact_m3s, 9)
        self.assertGreaterEqual(rows["n2"].least_m3s, rows["n2"].exact_m3s - 1e-9)
        ducts = results.ducts["ahu1"]
        for t in ducts.terminals:
            alone = [s for s in ducts.segments.values() if s.segment_id == t.segment_id and s.terminals_on == 1]
            for s in alone:
                self.assertAlmostEqual(s.flow_m3s - s.leak_m3s, t.flow_m3s, 9)

    def test_the_unit_carries_its_winter_flow_too(self):
        cold = after(SetSystemValue("ahu1", "warm_limit_k", pinned(3.0)), SetPattern("ahu1", "vav_reheat"), of=crowded)
        flows = cold.air["ahu1"]
        self.assertGreaterEqual(flows.flow_m3s, flows.winter_m3s.sum() - 1e-9)
        self.assertGreater(flows.winter_m3s.sum(), 0)


class OwnSupply(unittest.TestCase):
    def test_a_zone_gets_what_it_asks_for(self):
        zone = structs.replace(crowded().zones[0], supply_c=pinned(18.0))
        results = run(structs.replace(crowded(), zones=(zone,)), Memo())
        proof, flows = results.trains["ahu1"], results.air["ahu1"]
        i = next(k for k, r in enumerate(flows.rooms) if r.room_id == "n1")
        at = proof.cooling
        self.assertAlmostEqual(float(at.solved.supply_c[i, at.i]), 18.0, 3)
        self.assertGreater(float(at.solved.zone_w[i, at.i]), 0.0)
        self.assertNotIn("zone-supply", {f.code for f in results.findings})

    def test_by_rule_the_system_supplies_the_coldest(self):
        zone = structs.replace(crowded().zones[0], supply_c=pinned(11.0))
        project = structs.replace(crowded(), zones=(zone,))
        by_rule = run(project, Memo()).air["ahu1"]
        self.assertEqual((by_rule.figures.supply_c.figure, by_rule.figures.supply_c.origin), (11.0, "rule"))
        held = run(SetSystemValue("ahu1", "supply_c", pinned(15.0)).apply(project), Memo())
        self.assertIn("zone-supply", {f.code for f in held.findings})
        self.assertEqual(
            run(SetSystemValue("ahu1", "supply_c", Rule()).apply(held.project), Memo())
            .air["ahu1"]
            .figures.supply_c.figure,
            11.0,
        )


if __name__ == "__main__":
    unittest.main()
