"""Ducts through walls that resist fire, through the whole engine: found, told, mended; walls divided stay rated."""

import unittest
from functools import cache

from shapely import LineString

from garnetfin.core.errors import InputError
from garnetfin.display import told
from garnetfin.engine.layout.fire_crossings import fire_crossings
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.edits.inline import MoveInline, SetInlineChoice
from garnetfin.project.edits.openings import RateWalls, SetWall
from garnetfin.project.edits.shape import SplitRoom
from garnetfin.project.lookup import find
from tests.example import by_number, station, station_results

ROOMS = ("0.01", "0.02")


@cache
def rated():
    return RateWalls(tuple(by_number(station(), n).id for n in ROOMS), 90).apply(station())


def known(results):
    return {i: r for n in results.ducts.values() for i, r in n.segments.items()}


def fire(results):
    return [f for f in results.findings if f.code == "fire-crossing"]


class Crossings(unittest.TestCase):
    def test_walls_around_rooms_are_rated_and_no_other(self):
        inside = {by_number(station(), n).id for n in ROOMS}
        for w in rated().walls:
            around = not w.outside and (w.room_a in inside) != (w.room_b in inside)
            self.assertEqual(w.fire_min, 90 if around else 0)

    def test_as_another_library_finds_them(self):
        """Every duct with every rated wall in plan, and its height there."""
        project = rated()
        wanted = set()
        for w in (w for w in project.walls if w.fire_min):
            foot = find(project.levels, w.level_id).elevation_m
            for s in project.segments:
                a, b = (find(project.duct_points, i) for i in (s.a, s.b))
                line = LineString([(a.x_m, a.y_m), (b.x_m, b.y_m)])
                z = sorted((a.z_m, b.z_m))
                if (
                    line.length > 0.01
                    and line.crosses(LineString([w.start, w.end]))
                    and foot <= z[0] <= foot + w.height_m
                ):
                    wanted.add(s.id)
        found = fire_crossings(project, known(station_results()))
        self.assertGreater(len(wanted), 3)
        self.assertEqual({c.segment_id for c in found}, wanted)
        self.assertEqual({(c.minutes, c.lacks) for c in found}, {(90, "none")})

    def test_told_once_and_mended_by_one_step(self):
        results = run(rated(), Memo())
        (one,) = fire(results)
        count = len(fire_crossings(rated(), known(results)))
        self.assertIn(f"{count} crossings", told(one.title))
        first, all_ = (m.command for m in one.mends)
        self.assertEqual(len(first.places), 1)
        mended = run(all_.apply(rated()), Memo())
        self.assertEqual(fire(mended), [])
        for c in fire_crossings(mended.project, known(mended)):
            segment = find(mended.project.segments, c.segment_id)
            part = next(p for p in segment.inline if p.id == c.part_id)
            self.assertAlmostEqual(part.at, c.at)
        ducts, before = mended.ducts["ahu-north"], results.ducts["ahu-north"]
        self.assertGreater(ducts.runs.fan_pa, before.runs.fan_pa)

    def test_too_few_minutes_another_place_and_smoke(self):
        mended = fire(run(rated(), Memo()))[0].mends[1].command.apply(rated())
        part = next(p for s in mended.segments for p in s.inline)
        short = SetInlineChoice((part.id,), "model", "GF-F60-200").apply(mended)
        for project, lacks in (
            (short, "too short"),
            (MoveInline(part.id, 0.02).apply(mended), "without a fire damper"),
            (SetWall(tuple(w.id for w in mended.walls if w.fire_min), "smoke", True).apply(mended), ""),
        ):
            found = fire(run(project, Memo()))
            # the models of 90 minutes that are taken shut for smoke too
            self.assertEqual([lacks in told(f.title) for f in found], [True] if lacks else [])
            for f in found:
                self.assertEqual(fire(run(f.mends[0].command.apply(project), Memo())), [])

    def test_nothing_rated_tells_nothing(self):
        self.assertEqual(fire(station_results()), [])

    def test_a_class_that_is_none_is_refused(self):
        with self.assertRaises(InputError):
            RateWalls((by_number(station(), "0.01").id,), 45).apply(station())


class Walls(unittest.TestCase):
    def test_a_wall_that_is_divided_resists_in_both_pieces(self):
        project = rated()
        room = by_number(project, "0.02")
        xs, ys = zip(*room.outline)
        x = (min(xs) + max(xs)) / 2
        split = SplitRoom(room.id, ((x, min(ys) - 1), (x, max(ys) + 1))).apply(project)
        new = {r.id for r in split.rooms} - {r.id for r in project.rooms} | {room.id}
        corridor = {
            w.fire_min
            for w in split.walls
            if not w.outside and {w.room_a, w.room_b} & new and not {w.room_a, w.room_b} <= new
        }
        self.assertEqual(corridor - {0}, {90})
        before = sum(w.length_m for w in project.walls if w.fire_min)
        self.assertAlmostEqual(sum(w.length_m for w in split.walls if w.fire_min), before, delta=0.3)


if __name__ == "__main__":
    unittest.main()
