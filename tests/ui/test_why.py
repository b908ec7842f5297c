"""Why? over charts, plans and bars: what lies under the pointer is what is derived."""

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QCursor
from PySide6.QtTest import QTest

from garnetfin import display
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.ui.frame.side_panel import why_under
from garnetfin.ui.view_models import card as vms
from tests.example import by_number
from tests.ui.driver import WindowTest

AHU = "ahu-north"


class Why(WindowTest):
    def under(self, widget, at) -> tuple:
        point = at.toPoint() if isinstance(at, QPointF) else QPoint(*at)
        address = why_under(widget, widget.mapToGlobal(point))
        if address:
            self.assertIsNotNone(explain(self.session.results, address), address)
        return address

    def part(self, kind, title: str = ""):
        return next(p for p in self.window.card.parts if isinstance(p.vm, kind) and title in ("", p.vm.title))

    def test_the_plan_derives_what_the_link_is_about(self):
        room = by_number(self.session.project, "0.01")
        x, y = (room.outline[0][k] + 0.6 * (1 if room.outline[2][k] > room.outline[0][k] else -1) for k in (0, 1))
        for link, address in (("Building", ("room", room.id, "cooling")), ("Ducts", ("flow", room.id))):
            plan = self.view(link).plan
            self.assertEqual(self.under(plan, plan.map.map(QPointF(x, y))), address)
        plan = self.view("Ducts").plan
        points = {p.id: p for p in self.session.project.duct_points}
        flat = [
            (points[s.a], points[s.b], s.id)
            for s in self.session.project.segments
            if s.air == "supply"
            and {points[s.a].level_id, points[s.b].level_id} == {self.session.show.level_id}
            and points[s.a].z_m == points[s.b].z_m
        ]
        a, b, longest = max(flat, key=lambda f: abs(f[0].x_m - f[1].x_m) + abs(f[0].y_m - f[1].y_m))
        self.assertEqual(
            self.under(plan, plan.map.map(QPointF(0.6 * a.x_m + 0.4 * b.x_m, 0.6 * a.y_m + 0.4 * b.y_m))),
            ("duct", longest, "size"),
        )

    def test_bars_of_the_fan_are_derived_one_by_one_and_together(self):
        self.view("Fan")
        bars = self.part(vms.PartBars)
        fan = self.session.results.fans[AHU]
        for i, (name, pa) in enumerate(fan.part_pa):
            why = explain(self.session.results, self.under(bars, (40, bars.HEAD + (i + 0.5) * bars.STEP)))
            self.assertAlmostEqual(why.figure, pa, msg=name)
        total = explain(self.session.results, self.under(bars, (40, bars.HEAD + (len(bars.vm.rows) + 0.7) * bars.STEP)))
        self.assertAlmostEqual(total.figure, fan.wanted_pa)

    def test_every_hour_of_the_day_has_its_own_derivation(self):
        room = by_number(self.session.project, "0.01").id
        self.session.select("room", room)
        self.wait()
        day, found = self.part(vms.DayLine), self.session.results.room(room)
        for hour in (3, 15):
            why = explain(self.session.results, self.under(day, ((hour + 0.5) / 24 * day.width(), day.HEAD + 30)))
            self.assertAlmostEqual(why.figure, float(found.sensible_w[found.peak[0], hour]))

    def test_rungs_of_the_ladder_say_what_another_size_would_come_to(self):
        self.view("Ducts")
        self.session.select("segment", "s1")
        self.wait()
        ladder = self.part(vms.Ladder)
        for i, rung in enumerate(ladder.vm.rungs):
            why = explain(self.session.results, self.under(ladder, (40, ladder.TOP + (i + 0.5) * ladder.STEP)))
            if not rung.reason:
                self.assertEqual(display.figure("friction", why.figure, "SI"), rung.friction)

    def test_charts_derive_what_they_draw(self):
        stair = self.view("Balance").stair
        terminal = stair.vm.paths[3]
        _, x, y = stair._scales()
        self.assertEqual(
            self.under(stair, QPointF(x(terminal.corners[-1][0]), y(terminal.corners[-1][1])))[0], "surplus"
        )
        air = self.view("Air")
        row = air.strip.vm.rows[0]
        self.assertEqual(self.under(air.strip, (30, air.strip.TOP + air.strip.ROW / 2)), ("flow", row.room_id))
        self.session.set_show(link="Balance", what=WhatIf(dampers_open=True))
        self.wait()
        # solved beside the results
        self.assertEqual(self.under(stair, QPointF(x(terminal.corners[-1][0]), y(terminal.corners[-1][1]))), ())
        days = self.view("Climate").days
        self.assertEqual(self.under(days, days.box_of(6).center()), ("month", 6, "dry_bulb_c"))

    def test_the_key_opens_what_the_pointer_rests_on(self):
        self.view("Fan")
        bars = self.part(vms.PartBars)
        QCursor.setPos(bars.mapToGlobal(QPoint(40, int(bars.HEAD + bars.STEP / 2))))
        QTest.keyClick(self.window.card, Qt.Key.Key_W)
        self.wait()
        self.assertTrue(self.window.side.asking)
        self.assertIn(bars.vm.rows[0].label, self.window.side.why.vm.name)
