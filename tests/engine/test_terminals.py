"""Terminals of rooms through the engine: shares, noise, throw, proposals for the whole example."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.terminal_choice import inside, nearest_wall
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import DuctResult, Missing
from garnetfin.engine.run import run
from garnetfin.engine.stages.terminals import OF_ROOM, limits_of, models, options, placement, single, terminal_flows
from garnetfin.project.catalogue import OwnTerminal, TerminalPoint
from garnetfin.project.edits.book import SetAssumption
from garnetfin.project.edits.duct_runs import SetTerminal
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.terminals import PlaceTerminals, TakeTerminals
from garnetfin.project.values import Pinned
from tests.example import by_number, station, station_results

AHU = "ahu-north"


class Flows(unittest.TestCase):
    def test_a_rooms_air_is_shared_among_its_terminals(self):
        results = station_results()
        for row in results.air[AHU].rooms:
            own = [t for t in results.terminals.values() if t.room_id == row.room_id and t.air == "supply"]
            if own:
                assert_allclose(sum(t.flow_m3s for t in own), row.flow_m3s)

    def test_a_pinned_share_leaves_the_rest_to_the_others(self):
        own = [t for t in station().terminals if t.room_id == by_number(station(), "0.01").id]
        project = SetTerminal(own[0].id, share=Pinned(value=0.5)).apply(station())
        flows = terminal_flows(project.terminals, station_results().air[AHU])
        assert_allclose(
            [flows[t.id] / station_results().room_air[own[0].room_id].flow_m3s for t in own], [0.5, 0.25, 0.25]
        )

    def test_noise_adds_up_and_is_that_of_the_catalogue(self):
        results = station_results()
        room = by_number(station(), "0.02").id
        own = [t for t in results.terminals.values() if t.room_id == room]
        assert_allclose(own[0].room_nc, own[0].nc + 10 * np.log10(len(own)), atol=1e-9)
        model = models(station().book)[own[0].point.model]
        assert_allclose(own[0].nc, np.interp(np.log(own[0].flow_m3s), np.log(model.flow_m3s), model.nc))


class Proposals(unittest.TestCase):
    def test_for_every_room_and_air_of_the_example(self):
        results, made = station_results(), []
        for row in results.air[AHU].rooms:
            for air, flow in OF_ROOM.items():
                found = placement(results, row.room_id, air)
                if getattr(row, flow) <= 1e-6:
                    self.assertIsInstance(found, Missing)
                    continue
                if isinstance(found, Missing):
                    self.assertIn("nothing fits", found.reason)
                    continue
                outline = np.array(next(r.outline for r in station().rooms if r.id == row.room_id))
                at = np.array(found.at)
                self.assertTrue(inside(outline, at).all())
                self.assertGreaterEqual(nearest_wall(outline, at)[0].min(), 0.3 - 1e-6)
                made.append(found)
        self.assertGreater(len(made), 40)
        grilles = tuple(p for p in made if p.air != "supply")
        project = PlaceTerminals(grilles).apply(station())
        again = run(project, Memo())
        for row in again.air[AHU].rooms:
            for air, flow in OF_ROOM.items():
                own = [t for t in again.terminals.values() if t.room_id == row.room_id and t.air == air]
                if own:
                    assert_allclose(sum(t.flow_m3s for t in own), getattr(row, flow), atol=1e-9)
                    if air != "supply":
                        # What is proposed keeps its limits once it is there.
                        limits = limits_of(project.book)
                        self.assertTrue(
                            all(
                                t.point.neck_m_s <= limits.neck_m_s + 1e-9
                                and t.point.pressure_pa <= limits.pressure_pa + 1e-9
                                for t in own
                            )
                        )
                        self.assertFalse(any(t.point.outside_table for t in own))
        # Ducts carry supply air alone; grilles leave them as they were.
        ducts: DuctResult = again.ducts[AHU]
        assert_allclose(ducts.flow_m3s, station_results().ducts[AHU].flow_m3s)
        self.assertEqual(len(ducts.terminals), len(station_results().ducts[AHU].terminals))

    def test_grilles_stand_beside_diffusers(self):
        results = station_results()
        room = by_number(station(), "0.01")
        found = placement(results, room.id, "return")
        supply = [
            p for t in station().terminals if t.room_id == room.id for p in station().duct_points if p.id == t.point_id
        ]
        self.assertGreaterEqual(min(np.hypot(x - p.x_m, y - p.y_m) for x, y in found.at for p in supply), 0.9)

    def test_limits_of_the_office_book_decide(self):
        strict = run(SetAssumption("noise_nc", Pinned(value=5.0)).apply(station()), Memo())
        room = by_number(station(), "0.03").id
        loose = options(station_results(), room, "supply")
        self.assertLess(len(options(strict, room, "supply").options), len(loose.options))
        named = placement(station_results(), room, "supply", loose.options[1].model)
        self.assertEqual(named.model, loose.options[1].model)

    def test_rooms_without_air_say_so(self):
        results = station_results()
        self.assertEqual(options(results, by_number(station(), "0.07").id, "supply").reason, "no air")
        self.assertEqual(options(results, by_number(station(), "0.01").id, "extract").reason, "no flow")
        self.assertEqual(options(results, "nobody", "supply").reason, "no air")

    def test_own_models_are_offered_and_used(self):
        own = OwnTerminal(
            id="OWN-1",
            kind="ceilr",
            description="own",
            use="supply",
            size_m=0.3,
            neck_m2=0.07,
            effective_m2=0.06,
            points=tuple(
                TerminalPoint(
                    flow_m3s=q, pressure_pa=4000 * q * q, throw_050_m=8 * q, throw_025_m=16 * q, sound_db=20.0, nc=10.0
                )
                for q in (0.02, 0.1, 0.4)
            ),
        )
        project = TakeTerminals((own,)).apply(station())
        results = run(project, Memo())
        room = by_number(project, "0.03").id
        self.assertIn("OWN-1", [o.model for o in options(results, room, "supply", ("ceilr",)).options])
        t = next(t for t in project.terminals if t.room_id == by_number(project, "0.02").id)
        used = run(
            SetTerminal(SetTerminal(t.id, kind="ceilr").terminal_id, model="OWN-1").apply(project), Memo()
        ).terminals[t.id]
        assert_allclose(used.point.pressure_pa, 4000 * used.flow_m3s**2, rtol=1e-6)

    def test_zero_flow_stops_nothing(self):
        room = by_number(station(), "0.01").id
        results = run(SetRoomValue((room,), "supply_m3s", Pinned(value=0.0)).apply(station()), Memo())
        own = [t for t in results.terminals.values() if t.room_id == room]
        self.assertTrue(own and all(t.flow_m3s == 0.0 and np.isnan(t.nc) for t in own))
        self.assertIsInstance(results.ducts[AHU], DuctResult)


class Single(unittest.TestCase):
    def test_a_room_with_corners_gets_one_terminal_well_inside(self):
        """The upper corridor turns a corner, so that the middle of its frame lies in another room."""
        room = by_number(station(), "1.07")
        found = single(station_results(), room.id, "supply")
        self.assertEqual(len(found.at), 1)
        outline = np.asarray(room.outline, float)
        self.assertTrue(inside(outline, np.array(found.at)).all())
        self.assertGreater(float(nearest_wall(outline, np.array(found.at))[0][0]), 0.5)

    def test_a_room_without_that_air_gets_none(self):
        dry = next(r.room_id for r in station_results().air["ahu-north"].rooms if r.extract_m3s == 0)
        self.assertIsNone(single(station_results(), dry, "extract"))
