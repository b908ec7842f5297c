"""Fan in the window: axes, what-ifs on the diagram, groups of fans, catalogues of one's own, the first pass."""

import tempfile
from pathlib import Path

from garnetfin.engine.flows.flow_results import WhatIf
from tests.engine.test_first_pass import listed
from tests.exchange.test_fan_catalogue import own
from tests.ui.driver import WindowTest

AHU = "ahu-north"


class Fan(WindowTest):
    first = "Fan"

    def setUp(self):
        super().setUp()
        self.fan = self.view("Fan")

    def idle(self) -> bool:
        return self.session.settled and not self.fan.working

    def test_every_axis_passes_through_the_point(self):
        strip, point = self.fan.axes_strip, self.session.results.fans[AHU].point
        for axis, value in (
            ("efficiency", point.efficiency * 100),
            ("power", point.shaft_w / 1000),
            ("noise", point.sound_db),
            ("pressure", point.pressure_pa),
        ):
            self.click(strip, strip.box_of(axis).center())
            self.wait()
            self.assertAlmostEqual(self.fan.chart.vm.point[1], value, 6)
            self.assertFalse(self.fan.chart.grab().isNull())

    def test_all_what_ifs_stand_on_one_diagram_and_in_a_table(self):
        self.click(self.fan.states_switch, (12, 12))
        self.wait(self.idle)
        self.wait()
        self.assertEqual(
            [s[0] for s in self.fan.chart.vm.states],
            ["dampers open", "filter clean", "filter loaded", "flexible ducts compressed", "duct leakage"],
        )
        head = self.fan.drawer.head
        self.click(head, head.box_of(2).center())
        self.wait(self.idle)
        self.wait()
        self.assertEqual(len(self.fan.points.model_.vm.rows), 6)
        self.session.set_show(what=WhatIf(speed=0.9))
        self.wait(self.idle)
        self.wait()
        self.assertEqual([s[0] for s in self.fan.chart.vm.states if s[3]], ["fan at 90 %"])

    def test_rooms_get_what_the_network_gives_them(self):
        self.session.set_show(what=WhatIf(dampers_open=True))
        head = self.fan.drawer.head
        self.click(head, head.box_of(1).center())
        self.wait()
        shown = {r.id: r.cells[4].text for r in self.fan.rooms.model_.vm.rows}
        flows = self.session.state.flows
        self.assertGreater(len(set(shown.values())), 10)
        self.assertEqual(len(shown), len(flows.design))

    def test_two_fans_side_by_side_from_the_card(self):
        from garnetfin.project.edits.systems import SetFans

        self.window.do(SetFans(AHU, "parallel", 2))
        self.wait()
        self.assertIn("how many", str(self.window.card.vm))
        self.assertEqual(self.session.results.fans[AHU].curve.fans, 2)

    def test_a_catalogue_of_ones_own_joins_the_candidates_and_leaves(self):
        with tempfile.TemporaryDirectory() as folder:
            good, bad, odd = (Path(folder) / n for n in ("own.csv", "bad.csv", "odd.csv"))
            good.write_text(own(), encoding="utf-8")
            bad.write_text(own(flow_m3_s="x"), encoding="utf-8")
            odd.write_text(own(static_pressure_pa="440"), encoding="utf-8")
            self.fan.read_catalogue(bad)
            self.assertIn("row 4", self.window.banner.sentence.words)
            self.fan.read_catalogue(good)
            self.wait()
            self.assertIn("OWN-1", [r.id for r in self.fan.candidates.model_.vm.rows])
            self.fan.read_catalogue(odd)
            self.wait()
            self.assertIn("the outlet gives 20 Pa", self.window.banner.sentence.words)
        self.assertTrue(self.fan.away_link.isVisible())
        self.click(self.fan.away_link, (10, 8))
        self.wait()
        self.assertNotIn("OWN-1", [r.id for r in self.fan.candidates.model_.vm.rows])

    def test_the_card_tells_of_all_fans_and_a_year(self):
        text = str(self.window.card.vm)
        for words in (
            "Specific fan power of the system",
            "Class of EN 16798-3",
            "A year of running",
            "Static pressure",
        ):
            self.assertIn(words, text)


class FirstPass(WindowTest):
    open_example = False

    def test_from_the_menu_to_a_fan_and_back_by_one_undo(self):
        self.session.start(listed(("Ground",)), None)
        self.wait()
        before = self.session.project
        self.window.actions_["first design"].trigger()
        page = self.window.first_pass_page
        self.assertIs(self.window.side.currentWidget(), page)
        self.wait(lambda: not page.working and page.found is not None)
        self.wait()
        self.assertIsNot(self.session.project, before)
        self.assertIsNotNone(self.session.results.fans["ahu1"].point)
        self.assertGreater(len(page._rows), 15)
        self.session.undo()
        self.wait()
        self.assertIs(self.session.project, before)
        page.close_link.click()
        self.assertIs(self.window.side.currentWidget(), self.window.card)

    def test_stopped_it_leaves_the_project_alone(self):
        self.session.start(listed(), None)
        self.wait()
        before = self.session.project
        self.window.first_pass()
        page = self.window.first_pass_page
        self.click(page.stop_button, (10, 8))
        self.wait(lambda: not page.working)
        self.wait()
        self.assertIs(self.session.project, before)
        self.assertIn("nothing of it was taken", page.line.text())

    def test_an_edit_meanwhile_goes_before_it(self):
        from garnetfin.project.edits.rooms import SetRoomText

        self.session.start(listed(("Ground",)), None)
        self.wait()
        self.window.first_pass()
        self.session.do(SetRoomText(self.session.project.rooms[0].id, "name", "Edited"))
        edited = self.session.project
        page = self.window.first_pass_page
        self.wait(lambda: not page.working and page.found is not None)
        self.wait()
        self.assertIs(self.session.project, edited)
        self.assertIn("start it again", self.window.banner.sentence.words)
