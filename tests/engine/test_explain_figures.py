"""Why? of figures that sum, measure or are given: what is derived is what the card shows, and parts make up their
whole.
"""

import unittest
from collections import Counter

from msgspec import structs

from garnetfin import display
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.edits.duct_runs import RemoveDucts
from garnetfin.project.edits.duct_values import SetDuctValue
from garnetfin.project.edits.outlines import RemoveRooms
from garnetfin.project.edits.rooms import SetServed
from garnetfin.project.new import new_project
from garnetfin.project.values import Pinned
from garnetfin.ui.state import Selection, Show, State
from garnetfin.ui.view_models import air_tables, balance, building, duct_tables, fabric, state_list, tables, terminals
from garnetfin.ui.view_models import card as vms
from garnetfin.ui.view_models.cards import card
from tests.example import by_number, one_room, station, station_results

AHU = "ahu-north"
TERMINAL = station().terminals[0].id
UNHEATED = next(r.id for r in station().rooms if not r.system_id)
WINDOW = next((w.id, w.openings[0].id) for w in station().walls if w.openings and w.openings[0].glazing_id)


def state(link: str, kind: str = "", *ids: str) -> State:
    return State(
        station(),
        station_results(),
        Selection(kind, ids),
        Show(link=link, system_id=AHU, level_id="G"),
        False,
        flows=station_results().real[AHU],
    )


class Sums(unittest.TestCase):
    def test_parts_make_up_their_whole(self):
        rooms = tuple(r.id for r in station().rooms if r.system_id)
        for address in (
            ("floor",),
            ("floor", "G"),
            ("glass",),
            ("glass", 180.0),
            ("peaks", rooms),
            ("system figure", AHU, "peaks"),
            ("system figure", AHU, "length"),
            ("system figure", AHU, "mass"),
            ("system figure", AHU, "flow"),
            ("system figure", AHU, "run"),
            ("system figure", AHU, "way"),
        ):
            why = explain(station_results(), address)
            self.assertIsNotNone(why, address)
            self.assertAlmostEqual(
                sum(p.figure for p in why.parts), why.figure, delta=1e-6 * max(1.0, abs(why.figure)), msg=address
            )
            for part in why.parts:
                if part.address:
                    self.assertIsNotNone(explain(station_results(), part.address), part.address)

    def test_what_is_left_at_the_end_of_a_duct_is_the_start_less_the_way(self):
        ducts = station_results().ducts[AHU]
        for segment_id in list(ducts.segments)[:12]:
            why = explain(station_results(), ("left", segment_id))
            self.assertAlmostEqual(
                ducts.runs.fan_pa - sum(ducts.segments[i].loss_pa for i in ducts.path(segment_id)), why.figure, places=6
            )

    def test_an_opening_is_width_by_height(self):
        why = explain(station_results(), ("opening", *WINDOW, "area"))
        a, b, c = (t.figure for t in why.equation if not isinstance(t, str))
        self.assertAlmostEqual(a * (b - c), why.figure)

    def test_the_fan_at_its_point_agrees_with_itself(self):
        def of(what: str) -> float:
            return explain(station_results(), ("fan figure", AHU, what)).figure

        d = station_results().fans[AHU].point
        self.assertAlmostEqual(of("specific") * of("flow"), d.electric_w, places=6)
        self.assertLess(of("static"), d.pressure_pa)
        self.assertLessEqual(d.flow_m3s * d.pressure_pa / of("efficiency"), of("shaft") * (1 + 1e-9))

    def test_what_is_gone_has_no_derivation(self):
        for address in (
            ("floor", "X"),
            ("opening", "no", "no", "area"),
            ("left", "no"),
            ("fan figure", "no", "flow"),
            ("terminal figure", "no", "nc"),
            ("given", "poem", ("x",), "y", "z", "length"),
            ("given", "opening", ("no", "no"), "width_m", "Width", "length"),
        ):
            found = explain(station_results(), address)
            self.assertTrue(found is None or found.figure == 0.0, address)


def stands_in(why, text: str) -> bool:
    """The figure itself, one of its parts or one of the numbers in its equation is what is shown."""
    made_of = [
        (why.quantity, why.figure),
        *((p.quantity, p.figure) for p in why.parts),
        *((t.quantity, t.figure) for t in why.equation if not isinstance(t, str)),
    ]
    shown = {
        display.figure(q, v, "SI", d).strip("\u2212")
        for own, v in made_of
        for q in (own, "power", "fine_pressure", "pressure", "duct_size", "room_flow")
        for d in (None, 0, 1, 2, 3)
    }
    shown |= {
        display.number(v * f, d).strip("\u2212")
        for _, v in made_of
        for f in (1, 100, 0.001, 1000)
        for d in (0, 1, 2, 3)
    }
    shown |= {f"{v:.1e}".replace("-", "\u2212").strip("\u2212") for _, v in made_of}
    shown = {x.replace(display.THIN, "") for x in shown}
    return any(
        word.replace(display.THIN, "").strip("\u2212+±<,") in shown for word in text.replace("–", " ").split(" ")
    )


class Cards(unittest.TestCase):
    SEEN = (
        ("Climate",),
        ("Building",),
        ("Building", "opening", "/".join(WINDOW)),
        ("Building", "level", "G"),
        ("Building", "room", "r001"),
        ("Building", "room", UNHEATED),
        ("Loads", "room", "r001"),
        ("Loads", "room", "r001", "r002"),
        ("Loads",),
        ("Air",),
        *(("Air", "part", p.id) for p in station().air_systems[0].parts),
        ("Air", "terminal", TERMINAL),
        ("Air", "room", "r001"),
        ("Air", "state row", station().state_list[0].id),
        ("Ducts",),
        ("Ducts", "segment", "s1"),
        ("Ducts", "segment", "s1", "s2"),
        ("Ducts", "terminal", TERMINAL),
        ("Ducts", "ceiling zone", station().ceiling_zones[0].id),
        ("Ducts", "obstacle", station().obstacles[0].id),
        ("Building", "zone", station().zones[0].id),
        ("Balance",),
        ("Fan",),
    )

    def figures(self):
        """(where, label, text without its unit, address) of all that a card derives."""
        for seen in self.SEEN:
            vm = card(
                state(*seen),
                block=(station_results().blocks[AHU], "AHU North") if seen == ("Loads",) else None,
                point=station_results().trains[AHU].cooling,
            )
            for h in vm.headlines:
                yield seen, h.label, h.figure, h.why
            for s in vm.sections:
                if isinstance(s, vms.Lines):
                    yield from ((seen, r.label, r.value, r.why) for r in s.rows)
                elif isinstance(s, (vms.PartBars, vms.StackBar)):
                    yield from ((seen, r.label, r.text, r.why) for r in s.rows)
                elif isinstance(s, vms.CauseBars):
                    for r in s.rows:
                        yield from (
                            (seen, r.label, text, why)
                            for text, why in ((r.left_text, r.why_left), (r.right_text, r.why_right))
                        )
                elif isinstance(s, vms.DayLine):
                    yield from (
                        (seen, f"{h} h", display.figure("plain", v, "SI", 0), why)
                        for h, (v, why) in enumerate(zip(s.values, s.whys))
                    )
                elif isinstance(s, vms.Inputs):
                    yield from (
                        (seen, r.label, r.text, r.edit.address(r.label, r.quantity)) for r in s.rows if r.quantity
                    )

    def test_every_address_leads_to_the_figure_that_is_shown(self):
        counted, wrong = 0, []
        for seen, label, text, address in self.figures():
            if not address or not any(c.isdigit() for c in text):
                continue
            why = explain(station_results(), address)
            if address[0] == "given" and why is None:
                continue  # by rule, and the rule gives no figure of its own
            self.assertIsNotNone(why, (seen, label, address))
            if address[0] in ("part", "coil", "air state", "need", "glass", "floor") or label.startswith(
                ("Class", "Cooling", "Heating from")
            ):
                continue  # shown beside a whole that is derived
            if not stands_in(why, text):
                wrong.append((seen, label, text, address, why.figure))
            counted += 1
        self.assertEqual(wrong, [])
        self.assertGreater(counted, 500)

    def test_most_figures_of_the_cards_have_a_derivation(self):
        with_, without = 0, []
        for seen, label, text, address in self.figures():
            if any(c.isdigit() for c in text):
                found = bool(address) and explain(station_results(), address) is not None
                with_ += found
                without += [] if found else [(seen, label)]
        self.assertGreater(with_ / (with_ + len(without)), 0.98, without)


class Tables(unittest.TestCase):
    def tables(self):
        st, results = state("Ducts"), station_results()
        found, fan, point = results.ducts[AHU], results.fans[AHU], results.trains[AHU].cooling
        yield from (
            ("rooms", tables.room_table(st)),
            ("loads", tables.load_table(st)),
            ("loads by level", tables.load_table(st, group="level")),
            ("flows", tables.flow_table(st)),
            ("segments", tables.segment_table(st, found)),
            ("runs", tables.run_table(st, found)),
            ("fans", tables.fan_table(st, fan)),
            ("states", air_tables.state_rows(st, point)),
            ("air balance", air_tables.balance_table(st, results.air[AHU])),
            ("coil", air_tables.coil_table(st, point)),
            ("proof", air_tables.proof_table(st, point)),
            ("plant", air_tables.plant_table(st)),
            ("terminals", balance.terminal_table(st, found, 0.1)),
            ("rooms really", balance.room_table(st)),
            ("noise", balance.noise_table(st, found, results.noise[AHU])),
            ("bill", duct_tables.take_off_table(st, found)),
            ("fittings", duct_tables.fitting_table(st, found)),
            ("schedule", terminals.schedule(st)),
            ("faces", building.face_table(st)),
            ("build-ups", fabric.build_up_table(st)),
            ("state list", state_list.list_table(st, state_list.answered(st, point))),
        )

    def test_figures_of_tables_lead_to_what_they_show(self):
        counted, bare, wrong = 0, [], []
        for name, vm in self.tables():
            for row in vm.rows:
                for column, cell in zip(vm.columns, row.cells):
                    if (
                        column.left
                        or not any(c.isdigit() for c in cell.text)
                        or column.name in ("Size", "Governing hour")
                    ):
                        continue
                    address = cell.why or (
                        cell.edit.address(column.name, cell.quantity) if cell.edit and cell.quantity else ()
                    )
                    why = explain(station_results(), address) if address else None
                    counted += 1
                    if why is not None and cell.text.startswith("within "):
                        bound = float(cell.text.split()[1].replace("\u202f", ""))
                        self.assertLessEqual(abs(why.figure), bound * 1.001, (name, row.id))
                    elif why is None:
                        bare.append((name, row.id, column.name, cell.text))
                    elif address[0] not in (
                        "air state",
                        "coil",
                        "part",
                        "room",
                        "cause",
                        "block",
                        "air balance",
                    ) and not stands_in(why, cell.text):
                        wrong.append((name, row.id, column.name, cell.text, address, why.figure))
        self.assertEqual(wrong, [])
        self.assertGreater(counted, 2500)
        self.assertLess(len(bare) / counted, 0.02, bare)  # sums of a bill by thickness and by kind of terminal


class Given(unittest.TestCase):
    def test_a_given_figure_says_whether_it_is_typed_pinned_or_by_rule(self):
        def of(results, *address):
            return explain(results, ("given", *address))

        results = station_results()
        typed = of(results, "ceiling", (by_number(station(), "0.01").id,), "ceiling_m", "Ceiling height", "length")
        self.assertEqual((typed.figure, typed.origin), (by_number(station(), "0.01").ceiling_m, "typed"))
        by_rule = of(results, "duct value", ("s1",), "velocity_m_s", "Velocity, greatest", "velocity")
        self.assertEqual((by_rule.figure, by_rule.origin), (results.ducts[AHU].segments["s1"].velocity_limit, "rule"))
        pinned = run(SetDuctValue(("s1",), "velocity_m_s", Pinned(value=4.0)).apply(station()), Memo())
        why = of(pinned, "duct value", ("s1",), "velocity_m_s", "Velocity, greatest", "velocity")
        self.assertEqual((why.figure, why.origin), (4.0, "pinned"))
        self.assertIn(
            "office standards",
            of(
                results, "use figure", (by_number(station(), "0.01").use_id,), "lights_w_m2", "Lights", "power_density"
            ).source,
        )


class Gone(unittest.TestCase):
    """Figures asked for after what they were about went: no derivation, and no fault."""

    def addresses(self) -> set[tuple]:
        """What cards and tables of the example lead to, down to the last parts: up to eight of each kind."""
        todo = [a for *_, a in Cards().figures() if a]
        todo += [
            cell.why or (cell.edit.address(column.name, cell.quantity) if cell.edit and cell.quantity else ())
            for _, vm in Tables().tables()
            for row in vm.rows
            for column, cell in zip(vm.columns, row.cells)
        ]
        seen: set[tuple] = set()
        kinds: Counter[str] = Counter()
        while todo:
            address = todo.pop()
            if not address or address in seen or kinds[address[0]] == 8:
                continue
            seen.add(address)
            kinds[address[0]] += 1
            why = explain(station_results(), address)
            if why is not None:
                todo += [p.address for p in why.parts]
                todo += [t.address for t in why.equation if not isinstance(t, str)]
        return seen

    def test_every_address_in_projects_that_lost_something(self):
        asked, whole = self.addresses(), station()
        self.assertGreater(len({kind for kind, *_ in asked}), 80)
        lost = {
            "another project": one_room(),
            "a new one": new_project(),
            "every second room": RemoveRooms(tuple(r.id for r in whole.rooms[::2])).apply(whole),
            "all ducts": RemoveDucts(tuple(s.id for s in whole.segments)).apply(whole),
            "no room served": SetServed(tuple(r.id for r in whole.rooms), "").apply(whole),
            "no part of the unit": structs.replace(
                whole, air_systems=tuple(structs.replace(s, parts=()) for s in whole.air_systems)
            ),
        }
        for name, project in lost.items():
            results = run(project, Memo())
            with self.subTest(lost=name):
                there = sum(explain(results, address) is not None for address in asked)
                self.assertLess(there, len(asked))
                self.assertGreater(there, 45)  # what the place and the book give is there still
