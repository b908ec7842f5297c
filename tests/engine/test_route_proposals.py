"""Whole proposals on the example: each complete one is what it says, keeps clear and keeps pins; a failed one says
where and what frees it.
"""

import unittest
from dataclasses import replace

from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.engine.layout.routes import Proposal, Question, ask, propose, ranked, starts
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Results
from garnetfin.engine.run import run
from garnetfin.project.ducts import DuctPoint, PinnedSize, Terminal
from garnetfin.project.edits.ceilings import SetCeilingZone
from garnetfin.project.edits.duct_runs import SetSize
from garnetfin.project.lookup import find
from garnetfin.project.spaces import Obstacle
from garnetfin.project.tree import Project, check_links
from garnetfin.ui.view_models.routes import tiles
from tests.example import by_number, station

AHU = "ahu-north"
MEMO = Memo()
COMPUTED: dict[str, tuple] = {}


def upper() -> tuple[Results, tuple[Proposal, ...]]:
    """All layouts of the upper level, made once."""
    if "U" not in COMPUTED:
        results = run(station(), MEMO)
        COMPUTED["U"] = results, propose(results, ask(results, AHU, "supply", "U"))
    return COMPUTED["U"]


def with_grilles(level_id: str, numbers: tuple[str, ...], drop: float = 0.0) -> Project:
    """Return grilles in rooms beside the corridor, and every ceiling of the example lower."""
    project = station()
    points, terminals = [], []
    for k, number in enumerate(numbers):
        room = by_number(project, number)
        xs, ys = [p[0] for p in room.outline], [p[1] for p in room.outline]
        y = max(ys) - 1.2 if min(ys) > 7 else min(ys) + 4.5
        points.append(
            DuctPoint(
                id=f"g{k}",
                level_id=level_id,
                x_m=sum((min(xs), max(xs))) / 2 + 0.4,
                y_m=y,
                z_m=6.2 if level_id == "U" else 2.8,
            )
        )
        terminals.append(
            Terminal(id=f"r{k}", label=f"{number}-R", point_id=f"g{k}", room_id=room.id, kind="egrid", air="return")
        )
    project = structs.replace(
        project, duct_points=project.duct_points + tuple(points), terminals=project.terminals + tuple(terminals)
    )
    for zone in project.ceiling_zones:
        project = SetCeilingZone(zone.id, "ceiling_m", zone.ceiling_m - drop).apply(project) if drop else project
    check_links(project)
    return project


class Complete(unittest.TestCase):
    def test_several_kinds_all_as_they_say(self):
        results, found = upper()
        works = [p for p in found if p.failure is None]
        self.assertGreaterEqual(len(works), 2)
        self.assertEqual(len({p.kind for p in found}), len(found))
        for p in works:
            taken = p.command.apply(station())
            check_links(taken)
            after = run(taken, MEMO)
            network = after.ducts[AHU]
            assert_allclose((network.runs.fan_pa, network.mass_kg), (p.fan_pa, p.mass_kg), rtol=1e-9)
            self.assertEqual(sum(len(s.fittings) for s in network.segments.values()), p.fittings)
            self.assertEqual((network.unreached, network.unroomed, network.looped), ((), (), ()))
            codes = {f.code for f in after.findings} - {f.code for f in results.findings}
            self.assertFalse(codes & {"crossing", "duct-height", "outside", "not-joined", "ring", "overlap"}, p.kind)

    def test_they_come_best_first_and_are_not_alike(self):
        _, found = upper()
        works = [p for p in found if p.failure is None]
        scores = [p.score for p in works]
        self.assertEqual(scores, sorted(scores))
        self.assertTrue(all(0 < s <= 1 + 1e-9 for s in scores))
        self.assertEqual(len({(round(p.mass_kg), round(p.fan_pa)) for p in works}), len(works))
        by_mass = ranked(works, {"mass_kg": 1.0})
        self.assertEqual(by_mass[0].mass_kg, min(p.mass_kg for p in works))

    def test_one_that_breaks_a_limit_comes_after_those_that_keep_them(self):
        _, found = upper()
        first, second = [replace(p, breaks="", fan_pa=100.0 + i) for i, p in enumerate(found) if p.failure is None][:2]
        self.assertEqual([p.breaks for p in ranked([first, second])], ["", ""])
        fast = replace(first, breaks="3 ducts run faster than the limit", mass_kg=1.0, cost=1.0)
        self.assertEqual([p.kind for p in ranked([fast, second])], [second.kind, first.kind])
        hungry = ranked([replace(first, fan_pa=800.0, mass_kg=1.0, cost=1.0), second])
        self.assertEqual([p.kind for p in hungry], [second.kind, first.kind])
        self.assertIn("7.9 times the least pressure", hungry[1].breaks)
        tile = tiles(hungry, "SI")[1]
        self.assertTrue(tile.works and tile.watched and not any(least for *_, least in tile.figures))

    def test_rooms_with_net_outlines_are_laid_out(self):
        """As a file of rooms has them: every outline 100 mm within its walls, so that 200 mm part the rooms."""
        from shapely import Polygon

        rooms = []
        for r in station().rooms:
            inner = Polygon(r.outline).buffer(-0.1, join_style="mitre")
            rooms.append(structs.replace(r, outline=tuple((x, y) for x, y in list(inner.exterior.coords)[:-1])))
        project = structs.replace(station(), rooms=tuple(rooms))
        results = run(project, Memo())
        found = propose(results, ask(results, AHU, "supply", "U"), mended=False)
        self.assertGreaterEqual(sum(p.failure is None for p in found), 2, [p.failure for p in found])

    def test_pinned_last_pieces_keep_their_size(self):
        terminal = next(t for t in station().terminals if t.label == "1.01")
        last = next(s for s in station().segments if terminal.point_id in (s.a, s.b))
        project = SetSize((last.id,), PinnedSize(shape="round", width_m=0.25, height_m=0.25)).apply(station())
        results = run(project, MEMO)
        best = next(p for p in propose(results, ask(results, AHU, "supply", "U"), mended=False) if p.failure is None)
        taken = best.command.apply(project)
        new = next(s for s in taken.segments if terminal.point_id in (s.a, s.b))
        self.assertEqual(new.size, PinnedSize(shape="round", width_m=0.25, height_m=0.25))

    def test_only_a_part_is_proposed_anew(self):
        results = run(station(), MEMO)
        chosen = tuple(t.id for t in station().terminals if t.label in ("0.01a", "0.01b", "0.01c"))
        question = ask(results, AHU, "supply", "G", chosen)
        self.assertEqual(question.terminal_ids, chosen)
        best = next(p for p in propose(results, question, mended=False) if p.failure is None)
        taken = best.command.apply(station())
        kept = {s.id for s in station().segments} & {s.id for s in taken.segments}
        self.assertGreater(len(kept), 60)
        beyond = {
            i
            for t in results.ducts[AHU].terminals
            if t.terminal_id not in chosen
            for i in results.ducts[AHU].path(t.segment_id)
        }
        self.assertTrue(beyond <= kept)  # what feeds others is left alone
        self.assertEqual(run(taken, MEMO).ducts[AHU].unreached, ())

    def test_heights_that_are_given_hold(self):
        results = run(station(), MEMO)
        question = structs_replace(ask(results, AHU, "supply", "U"), trunk_m=2.85)
        best = next(p for p in propose(results, question, mended=False) if p.failure is None)
        taken = best.command.apply(station())
        old = {p.id for p in station().duct_points}
        heights = [round(p.z_m - 3.6, 2) for p in taken.duct_points if p.id not in old]
        self.assertEqual(max(set(heights), key=heights.count), 2.85)

    def test_a_start_is_chosen_among_unit_risers_and_open_ends(self):
        results = run(station(), MEMO)
        question = ask(results, AHU, "supply", "G")
        offered = dict(starts(results, question))
        self.assertTrue(offered and all(words.startswith(("unit", "riser", "open end")) for words in offered.values()))
        chosen = next(iter(offered))
        best = next(
            p for p in propose(results, structs_replace(question, start=chosen), mended=False) if p.failure is None
        )
        route = best.command.steps[0] if hasattr(best.command, "steps") else best.command
        self.assertEqual(route.start, chosen)
        with self.assertRaisesRegex(InputError, "not lie on this level"):
            propose(
                results, structs_replace(question, start=next(p.id for p in station().duct_points if p.level_id == "U"))
            )

    def test_stopped_early_it_gives_what_it_has(self):
        results, _ = upper()
        asked = []

        def stop() -> bool:
            return len(asked) > 1

        found = propose(
            results, ask(results, AHU, "supply", "U"), lambda share, name: asked.append(name), stop, mended=False
        )
        self.assertLessEqual(len(found), 2)


def structs_replace(question: Question, **changes) -> Question:
    from dataclasses import replace

    return replace(question, **changes)


class Beside(unittest.TestCase):
    NUMBERS = ("1.01", "1.03", "1.08", "1.09", "1.12")

    def test_return_in_a_layer_of_its_own_meets_no_supply_duct(self):
        project = with_grilles("U", self.NUMBERS, 0.45)
        results = run(project, MEMO)
        found = propose(results, ask(results, AHU, "return", "U"), mended=False)
        works = [p for p in found if p.failure is None]
        self.assertTrue(works)
        for p in works:
            after = run(p.command.apply(project), MEMO)
            self.assertNotIn("crossing", [f.code for f in after.findings])
            network = after.network(AHU, "return")
            self.assertEqual(network.unreached, ())
            self.assertEqual(after.project.air_systems[0].return_point_id != "", True)

    def test_where_it_does_not_fit_it_says_how_much_is_missing(self):
        project = with_grilles("U", self.NUMBERS)
        results = run(project, MEMO)
        failed = [p for p in propose(results, ask(results, AHU, "return", "U"), mended=False) if p.failure is not None]
        self.assertTrue(failed)
        for p in failed:
            self.assertIsNone(p.command)
            self.assertRegex(p.failure.reason, r"\d+ mm|No way|no lane|no size")
            self.assertTrue(p.failure.blocked)

    def test_a_mend_that_is_offered_frees_it(self):
        project = with_grilles("U", ("1.08", "1.09", "1.12"))
        results = run(project, MEMO)
        question = ask(results, AHU, "return", "U")
        offered = [
            (p.kind, change)
            for p in propose(results, question)
            if p.failure
            for _, change in p.failure.mends
            if not isinstance(change, Question)
        ]
        for kind, change in offered[:1]:
            freed = change.apply(project)
            again = propose(run(freed, MEMO), question, mended=False)
            self.assertIsNone(next(p for p in again if p.kind == kind).failure)


class Others(unittest.TestCase):
    def test_what_stands_in_rooms_and_ceilings_of_others_are_in_the_way_of_nothing(self):
        project, across = station(), ((-5.0, -5.0), (80.0, -5.0), (80.0, 60.0), (-5.0, 60.0))
        heights = {"pipe": (0.1, 0.3), "ceiling": (2.7, 2.75)}
        others = tuple(
            Obstacle(id=kind, kind=kind, level_id="U", outline=across, bottom_m=low, top_m=high, source="theirs.ifc")
            for kind, (low, high) in heights.items()
        )
        results = run(structs.replace(project, obstacles=(*project.obstacles, *others)), MEMO)
        made = propose(results, ask(results, AHU, "supply", "U"))
        self.assertEqual(
            [(p.kind, p.failure, p.command) for p in made], [(p.kind, p.failure, p.command) for p in upper()[1]]
        )
        beam = structs.replace(others[0], kind="beam", bottom_m=2.5, top_m=3.2)
        shut = run(structs.replace(project, obstacles=(beam,)), MEMO)
        self.assertTrue(all(p.failure for p in propose(shut, ask(shut, AHU, "supply", "U"), mended=False)))


class Wrong(unittest.TestCase):
    def test_a_room_kept_clear_is_gone_round_or_named(self):
        results = run(station(), MEMO)
        hall = by_number(station(), "0.03").id
        for p in propose(results, structs_replace(ask(results, AHU, "supply", "G"), shut=(hall,)), mended=False):
            self.assertIsNotNone(p.failure)
            self.assertIn("kept clear", p.failure.reason)
        rest = tuple(
            t.id
            for t in station().terminals
            if find(station().duct_points, t.point_id).level_id == "G" and t.room_id != hall and t.air == "supply"
        )
        works = [
            p
            for p in propose(
                results, structs_replace(ask(results, AHU, "supply", "G", rest), shut=(hall,)), mended=False
            )
            if p.failure is None
        ]
        outline = find(station().rooms, hall).outline
        xs, ys = [q[0] for q in outline], [q[1] for q in outline]
        old = {q.id for q in station().duct_points}
        for p in works:
            for q in p.project.duct_points:
                self.assertFalse(
                    q.id not in old and min(xs) + 0.1 < q.x_m < max(xs) - 0.1 and min(ys) + 0.1 < q.y_m < max(ys) - 0.1
                )

    def test_nothing_to_route(self):
        results = run(station(), MEMO)
        with self.assertRaisesRegex(InputError, "no return terminals"):
            propose(results, ask(results, AHU, "return", "G"))
        with self.assertRaises(InputError):
            propose(results, Question("gone", "supply", "G", ("t1",)))

    def test_a_terminal_that_moved_since_is_not_taken(self):
        from garnetfin.project.edits.terminals import MoveTerminals

        _, found = upper()
        best = next(p for p in found if p.failure is None)
        moved = MoveTerminals((next(t.id for t in station().terminals if t.label == "1.01"),), 0.5, 0.0).apply(
            station()
        )
        with self.assertRaisesRegex(InputError, "moved since"):
            best.command.apply(moved)
