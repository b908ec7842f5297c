"""What moved between two states is told with what moved it most, whatever kind of face or figure that is."""

import unittest

from garnetfin.core.tables import materials
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import CAUSES
from garnetfin.engine.run import run
from garnetfin.engine.studies.change_list import FIELDS, OF_FACES, change_list
from garnetfin.project.edits.fabric import SetLayer
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.lookup import find
from garnetfin.project.values import Pinned
from tests.example import by_number, station, station_results


class Reasons(unittest.TestCase):
    def test_every_cause_it_weighs_by_is_one_of_the_loads(self):
        named = {cause for _, _, cause in FIELDS.values() if cause} | {
            c for causes in OF_FACES.values() for c in causes
        }
        self.assertTrue(named)
        self.assertEqual(named - set(CAUSES), set())

    def test_a_roof_that_moves_most_stands_first(self):
        room = by_number(station(), "1.02")
        face = next(f for f in station_results().room(room.id).faces if f.kind == "roof")
        roof = next(s for s in station().slabs if s.kind == "roof" and s.room_below == room.id)
        layers = find(station().build_ups, roof.build_up_id).layers
        insulation = min(
            (i for i, layer in enumerate(layers) if layer.material),
            key=lambda i: materials()[layers[i].material].conductivity_w_mk,
        )
        project = SetLayer(roof.build_up_id, insulation, "conductivity_w_mk", 0.4).apply(station())
        for field, value in (("lights_w_m2", 7.9), ("infiltration_1h", 0.19)):
            project = SetRoomValue((room.id,), field, Pinned(value=value)).apply(project)
        now = run(project, Memo())
        self.assertGreater(
            next(f for f in now.room(room.id).faces if f.kind == "roof").u_w_m2k, 1.5 * face.u_w_m2k, "no test of it"
        )
        change = next(c for c in change_list(station_results(), now).rooms if c.room_id == room.id)
        self.assertTrue(change.reasons[0].startswith("roof U"), change.reasons)

    def test_nothing_moved_lists_nothing(self):
        self.assertFalse(change_list(station_results(), station_results()).any)
