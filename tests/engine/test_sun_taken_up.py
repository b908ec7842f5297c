"""What build-ups take up of the sun acts as it stands: on roofs, on floors and ceilings, in old files too."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.engine.stages.climate import OUTER_FILM
from garnetfin.engine.stages.faces import ABSORBED, room_fabric
from garnetfin.project.edits.fabric import SetBuildUp
from garnetfin.project.migrate import migrate
from garnetfin.project.tree import FORMAT
from garnetfin.project.values import Pinned, Rule
from tests.example import one_room

ROOF = "b"  # the one build-up of the room: walls, floor and roof


def with_sun(outside: float) -> object:
    return SetBuildUp(ROOF, "absorptance", outside).apply(one_room())


def roof_load(project) -> float:
    return float(run(project, Memo()).room("r1").cause_w("roofs"))


class Roofs(unittest.TestCase):
    def test_sol_air_temperature_by_formula(self):
        # alpha 0.2, 950 W/m2, 40 C, h_o 25, facing up: 40 + (0.2 * 950 - 0.9 * 63) / 25
        self.assertAlmostEqual(40 + (0.2 * 950 - 0.9 * 63.0) / OUTER_FILM, 45.332, places=9)

    def test_a_cool_roof_is_cool(self):
        loads = {a: roof_load(with_sun(a)) for a in (0.2, 0.5, 0.8)}
        self.assertLess(loads[0.2], loads[0.5])
        self.assertLess(loads[0.5], loads[0.8])
        # everything from the sun on to the room's air is linear in what is taken up, at one and the same hour
        found = {a: run(with_sun(a), Memo()).room("r1") for a in (0.2, 0.5, 0.8)}
        whole = {a: r.by_cause_w.sum(axis=0) for a, r in found.items()}
        middle = (whole[0.2] + whole[0.8]) / 2
        assert_allclose(whole[0.5], middle, atol=1e-9 * float(np.abs(middle).max()))

    def test_the_surface_reads_the_build_up(self):
        for share in (0.1, 0.45, 0.9):
            project = with_sun(share)
            roof = next(s for s in room_fabric(project, project.rooms[0]).surfaces if s.face.kind == "roof")
            self.assertEqual(roof.absorptance, share)


class Inside(unittest.TestCase):
    def taken(self, project) -> dict[str, float]:
        return {s.face.kind: s.inside_absorptance for s in room_fabric(project, project.rooms[0]).surfaces}

    def test_by_rule_as_such_faces_usually_do(self):
        found = self.taken(one_room())
        self.assertEqual((found["wall"], found["roof"]), (ABSORBED["wall"], ABSORBED["ceiling"]))
        self.assertEqual(found["floor"], ABSORBED["floor"])

    def test_pinned_it_counts_on_every_face_of_the_build_up(self):
        pinned = SetBuildUp(ROOF, "inside_absorptance", Pinned(value=0.85)).apply(one_room())
        found = self.taken(pinned)
        self.assertEqual({found[k] for k in ("wall", "roof", "floor")}, {0.85})
        self.assertEqual(
            self.taken(SetBuildUp(ROOF, "inside_absorptance", Rule()).apply(pinned)), self.taken(one_room())
        )

    def test_a_dark_floor_keeps_more_of_the_sun_for_later(self):
        def swing(share: float) -> float:
            project = SetBuildUp(ROOF, "inside_absorptance", Pinned(value=share)).apply(one_room())
            sun = run(project, Memo()).room("r1")
            return float(sun.sensible_w[6].max())

        self.assertNotAlmostEqual(swing(0.2), swing(0.9), delta=0.1)


class OldFiles(unittest.TestCase):
    def test_what_stood_there_for_all_becomes_the_rule_and_what_was_typed_is_pinned(self):
        raw = {
            "format": 5,
            "build_ups": [{"id": "a", "inside_absorptance": 0.4}, {"id": "b", "inside_absorptance": 0.6}, {"id": "c"}],
            "book": {"build_ups": [{"id": "d", "inside_absorptance": 0.7}]},
        }
        new = migrate(raw)
        self.assertEqual(new["format"], FORMAT)
        self.assertEqual([b.get("inside_absorptance") for b in new["build_ups"]],
                         [None, {"origin": "pinned", "value": 0.6, "note": ""}, None])  # fmt: skip
        self.assertEqual(new["book"]["build_ups"][0]["inside_absorptance"]["value"], 0.7)

    def test_it_is_said_how_many_roofs_count_otherwise_now(self):
        import tempfile
        import zipfile
        from pathlib import Path

        import msgspec

        from garnetfin.project.store import load_all, save

        project = with_sun(0.5)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.gfin"
            save(project, path)
            self.assertEqual(load_all(path).told, ())
            with zipfile.ZipFile(path) as archive:
                members = {n: archive.read(n) for n in archive.namelist()}
            raw = msgspec.json.decode(members["project.json"])
            raw["format"] = 5
            for build_up in raw["build_ups"]:
                build_up["inside_absorptance"] = 0.4
            members["project.json"] = msgspec.json.encode(raw)
            with zipfile.ZipFile(path, "w") as archive:
                for name, data in members.items():
                    archive.writestr(name, data)
            opened = load_all(path)
            self.assertEqual(opened.told, ("1 roof now counts with its own absorptance, below 80 %.",))
            self.assertEqual(opened.project, project)
