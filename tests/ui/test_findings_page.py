"""All findings at the side: by cause, by link and level, one after the other by key, each where it is."""

import unittest

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from garnetfin.engine.results import Finding
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.values import Pinned
from garnetfin.ui.state import Selection, Show, State
from garnetfin.ui.view_models.findings import findings_list, level_of
from tests.example import by_number, station, station_results
from tests.ui.driver import WindowTest


class Lists(unittest.TestCase):
    STATE = State(station(), station_results(), Selection(), Show(), False)

    def test_all_are_there_once_those_that_break_a_limit_first(self):
        vm, all_ = findings_list(self.STATE), station_results().findings
        self.assertCountEqual([id(f) for f in vm.in_order], [id(f) for f in all_])
        severities = [c.severity for c in vm.causes]
        self.assertEqual(severities, sorted(severities, key=("bad", "watch").index))
        for cause in vm.causes:
            self.assertEqual({(f.code, f.link) for f in cause.findings}, {(cause.findings[0].code, cause.link)})

    def test_by_link_and_level(self):
        all_ = station_results().findings
        for key, words in findings_list(self.STATE).links[1:]:
            shown = findings_list(self.STATE, key).in_order
            self.assertEqual({f.link for f in shown}, {key})
            self.assertEqual(words, f"{key}, {sum(f.link == key for f in all_)}")
        upper = findings_list(self.STATE, level_id="U").in_order
        self.assertTrue(upper)
        self.assertEqual({level_of(station(), f) for f in upper}, {"U"})

    def test_levels_of_all_kinds_of_parts(self):
        project = station()
        segment, terminal, wall = project.segments[0], project.terminals[0], project.walls[0]
        points = {p.id: p.level_id for p in project.duct_points}
        for kind, part_id, level in (
            ("segment", segment.id, points[segment.a]),
            ("terminal", terminal.id, points[terminal.point_id]),
            ("opening", f"{wall.id}/x", wall.level_id),
            ("room", by_number(project, "1.02").id, "U"),
            ("room", "gone", ""),
            ("system", "ahu-north", ""),
        ):
            self.assertEqual(level_of(project, Finding("x", "Ducts", kind, part_id, "t", "r")), level, kind)


class Page(WindowTest):
    def open(self):
        self.window.actions_["findings"].trigger()
        self.wait()
        return self.window.findings_page

    def test_keys(self):
        keys = {
            n: self.window.actions_[n].shortcut().toString() for n in ("findings", "next finding", "finding before")
        }
        self.assertEqual(keys, {"findings": "F7", "next finding": "F8", "finding before": "Shift+F8"})

    def test_keys_walk_through_all_of_them_and_each_is_selected(self):
        page = self.open()
        self.assertIs(self.window.side.currentWidget(), page)
        seen = []
        for _ in self.window.session.results.findings:
            self.window.actions_["next finding"].trigger()
            self.wait()
            self.assertIs(self.window.side.currentWidget(), page)
            seen.append(page.now)
            if page.now.kind in ("room", "segment", "terminal"):
                self.assertEqual(self.window.session.selection.ids, (page.now.object_id,))
        self.assertEqual(len({id(f) for f in seen}), len(self.window.session.results.findings))
        self.window.actions_["finding before"].trigger()
        self.assertIs(page.now, seen[-2])

    def test_filters_and_a_fix(self):
        room = by_number(station(), "0.03").id
        self.window.do(SetRoomValue((room,), "heating_c", Pinned(value=30.0)))
        self.wait()
        page = self.open()
        page.link.setCurrentIndex(page.link.findData("Loads"))
        page.link.activated.emit(page.link.currentIndex())
        self.assertEqual(page.asked[0], "Loads")
        while page.step(1).code != "set-points-crossed":
            pass
        self.wait()
        button = next(b for b in page.block.mends if "Heating" in b.text())
        button.click()
        self.wait()
        self.assertNotIn("set-points-crossed", [f.code for f in self.window.session.results.findings])
        self.assertNotIn("set-points-crossed", [f.code for f in page._vm.in_order])

    def test_it_gives_way_to_what_is_chosen_elsewhere_and_closes_by_escape(self):
        page = self.open()
        self.window.session.select("room", by_number(station(), "0.01").id)
        self.wait()
        self.assertIs(self.window.side.currentWidget(), self.window.side.card)
        self.open()
        self.assertIs(self.window.side.currentWidget(), page)
        QTest.keyClick(page.tree, Qt.Key.Key_Escape)
        self.assertIs(self.window.side.currentWidget(), self.window.side.card)


if __name__ == "__main__":
    unittest.main()
