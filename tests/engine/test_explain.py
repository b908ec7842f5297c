"""Why: every derivation ends in what was typed, ruled or published, and its parts make the figure."""

import unittest

from numpy.testing import assert_allclose

from garnetfin.engine.explain.derivation import Term
from garnetfin.engine.explain.explain import explain
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import CAUSES
from garnetfin.engine.run import run
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import SetOperation
from garnetfin.project.values import Pinned
from garnetfin.ui.view_models.why import plain_text, why_vm
from tests.example import by_number as by_no
from tests.example import station, station_results


class Derivations(unittest.TestCase):
    def walk(self, results, address, seen: dict) -> None:
        if address in seen:
            return
        why = seen[address] = explain(results, address)
        self.assertIsNotNone(why, address)
        self.assertTrue(why.name and (why.equation or why.parts or why.source), address)
        for part in why.parts:
            if part.address:
                self.walk(results, part.address, seen)
        for piece in why.equation:
            if isinstance(piece, Term) and piece.address:
                self.walk(results, piece.address, seen)

    def test_from_a_room_everything_leads_down_to_a_source(self):
        results, seen = station_results(), {}
        for wanted in ("0.01", "0.07", "0.15"):
            room = by_no(results.project, wanted).id
            for what in ("cooling", "heating", "latent"):
                self.walk(results, ("room", room, what), seen)
        leaves = [
            w for w in seen.values() if not w.parts and not any(isinstance(p, Term) and p.address for p in w.equation)
        ]
        self.assertGreater(len(seen), 60)
        self.assertTrue(
            all(w.source or w.origin for w in leaves), [w.name for w in leaves if not (w.source or w.origin)]
        )

    def test_parts_sum_to_the_figure(self):
        results = station_results()
        for wanted in ("0.01", "0.06"):
            found = results.room(by_no(results.project, wanted).id)
            month, hour = found.peak
            why = explain(results, ("room", found.room_id, "cooling"))
            # shares below 0.05 W are left out
            assert_allclose(sum(p.figure for p in why.parts), why.figure, atol=0.5)
            for cause in (
                "solar through glass",
                "walls",
                "roofs",
                "floors",
                "conduction through glass",
                "unheated spaces",
            ):
                why = explain(results, ("cause", found.room_id, cause, month, hour))
                assert_allclose(sum(p.figure for p in why.parts), why.figure, atol=1e-6, err_msg=cause)
                assert_allclose(why.figure, found.by_cause_w[CAUSES.index(cause), month, hour])

    def test_shares_of_faces_hold_with_plant_by_the_hour_too(self):
        results = run(SetOperation("ahu-north", "mode", "use").apply(station()), Memo())
        found = results.room(by_no(results.project, "0.03").id)
        month, hour = found.peak
        for cause in ("solar through glass", "walls"):
            why = explain(results, ("cause", found.room_id, cause, month, hour))
            assert_allclose(sum(p.figure for p in why.parts), why.figure, rtol=1e-6)

    def test_equations_hold_with_their_numbers(self):
        results = station_results()
        room = by_no(results.project, "0.02").id
        why = explain(results, ("cause", room, "infiltration", 7, 14))
        rate, volume, out, inside = (t.figure for t in why.equation if isinstance(t, Term))
        heat = results.climate.dry_air_kg_m3 * 1006
        assert_allclose(why.figure, rate * volume / 3600 * heat * (out - inside), rtol=1e-9)
        why = explain(results, ("outdoor", 6, 14))
        self.assertAlmostEqual(why.figure, 31.8)

    def test_a_pinned_value_says_what_the_rule_would_give(self):
        room = by_no(station(), "0.02").id
        results = run(
            SetRoomValue((room,), "people", Pinned(value=7.0, note="told on the phone")).apply(station()), Memo()
        )
        why = explain(results, ("input", room, "people"))
        self.assertEqual((why.figure, why.origin, why.source), (7.0, "pinned", "told on the phone"))
        self.assertEqual(why.parts[0].name, "By rule")

    def test_what_is_gone_has_no_derivation(self):
        for address in (
            ("room", "nobody", "cooling"),
            ("cause", "nobody", "walls", 0, 0),
            ("nonsense",),
            ("input", "r001", "colour"),
        ):
            self.assertIsNone(explain(station_results(), address))

    def test_rooms_together_name_their_rooms(self):
        results = station_results()
        ids = tuple(r.id for r in results.project.rooms if r.system_id)
        why = explain(results, ("block", ids, "cooling"))
        assert_allclose(why.figure, results.blocks[""].peak_w)
        assert_allclose(sum(p.figure for p in why.parts), why.figure, rtol=1e-6)
        heating = explain(results, ("block", ids, "heating"))
        assert_allclose(heating.figure, results.blocks[""].heating_w)

    def test_shown_in_the_units_in_force(self):
        results = station_results()
        room = by_no(results.project, "0.02").id
        why = explain(results, ("cause", room, "infiltration", 7, 14))
        si, ip = why_vm(why, "SI"), why_vm(why, "IP")
        self.assertEqual((si.unit, ip.unit), ("W", "Btu/h"))
        self.assertIn("°F", ip.equation)
        self.assertIn("Infiltration of 0.02", plain_text(si))
        self.assertNotIn("<", plain_text(si))
        self.assertTrue(all(si.terms))
