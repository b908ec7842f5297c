"""A hasty engineer: edits, views, selections, undo in any order and without waiting; nothing may fall over."""

import random

import tests
from garnetfin.engine.flows.flow_results import WhatIf
from garnetfin.ui.state import LINKS
from tests.engine.test_random_projects import edit
from tests.example import station_results
from tests.ui.driver import WindowTest


class Hasty(WindowTest):
    def hurry(self, seed: int, steps: int) -> None:
        rng = random.Random(seed)
        for _ in range(steps):
            project = self.session.project
            for _ in range(rng.randrange(1, 4)):
                self.session.do(edit(rng, self.session.project))
            match rng.randrange(6):
                case 0:
                    self.session.undo()
                case 1:
                    self.session.redo()
                case 2:
                    kind, items = rng.choice(
                        (
                            ("room", project.rooms),
                            ("segment", project.segments),
                            ("zone", project.zones),
                            ("level", project.levels),
                            ("terminal", project.terminals),
                        )
                    )
                    if items:
                        self.session.select(
                            kind, *(i.id for i in rng.sample(items, min(len(items), rng.randrange(1, 3))))
                        )
                case 3:
                    self.session.set_show(
                        scope=rng.choice(("room", "level", "system", "building")),
                        hour=rng.choice((None, (3, 7))),
                        units=rng.choice(("SI", "IP")),
                        what=rng.choice(
                            (
                                WhatIf(),
                                WhatIf(dampers_open=True),
                                WhatIf(filter="final", leaking=True),
                                WhatIf(speed=0.7, air_c=10.0),
                            )
                        ),
                    )
                case 5:
                    self.window.view("Balance").drawer.choose(rng.randrange(7))
                    building = self.window.view("Building")
                    building._colour(rng.choice([k for k, _ in building.strip._choices]))
                    building.drawer.head._choose(rng.randrange(2))
                    if rng.random() < 0.3:
                        building.lift()
                case 4:
                    self.session.set_show(level_id=rng.choice([x.id for x in project.levels]))
            self.session.set_show(link=rng.choice(LINKS[:7]))
            for _ in range(rng.randrange(1, 6)):
                self.app.processEvents()
        self.wait()
        self.assertFalse(self.window.grab().isNull())
        self.assertEqual(tests.faults, [])

    def test_hurrying_through_all_views(self):
        self.hurry(2, 40)

    def test_back_to_the_beginning(self):
        first = self.session.project
        self.hurry(9, 15)
        while self.session.undo_label:
            self.session.undo()
        self.wait()
        self.assertIs(self.session.project, first)
        self.assertEqual(len(self.session.results.findings), len(station_results().findings))
