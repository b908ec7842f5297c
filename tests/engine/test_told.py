"""Findings are told in the units of whoever reads them: no figure in a sentence is written in one system alone."""

import re
import unittest

from garnetfin import display
from garnetfin.core.ducts.sizes import Section
from garnetfin.display import Told, amount, in_units, section_amount, told
from garnetfin.engine.findings.air import drift
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import Finding, Mend
from garnetfin.engine.run import run
from garnetfin.project.edits.rooms import SetRoomValue
from garnetfin.project.edits.systems import SetSystemValue
from garnetfin.project.values import Pinned
from garnetfin.report.sheets.findings import findings as paper
from tests.example import station, station_results

SI_ALONE = re.compile(r"\d (Pa|L/s|m³/s|mm|°C|kW|m/s|m²|W|kg/s|kg/h)\b")


class Sentences(unittest.TestCase):
    def test_one_figure_in_both_systems(self):
        text = told(f"Terminal S3 takes {amount('pressure', 49.8)} at {amount('room_flow', 0.1)}.")
        self.assertEqual(text, "Terminal S3 takes 50 Pa at 100 L/s.")
        # 49.8 Pa are 0.20 in of water, 0.1 m3/s are 211.9 ft3/min
        self.assertEqual(in_units(text, "IP"), "Terminal S3 takes 0.20 in wg at 212 cfm.")
        self.assertIs(in_units(text, "SI"), text)

    def test_digits_are_those_of_si_alone_and_signs_are_true(self):
        text = told(f"{amount('temperature', -2.5)} and {amount('temperature_difference', 12.0, 0)}")
        self.assertEqual(text, "\u22122.5 °C and 12 K")
        self.assertEqual(in_units(text, "IP"), "27.5 °F and 21.6 °F")

    def test_sizes_of_ducts(self):
        box, pipe, oval = Section("rectangular", 0.4, 0.25), Section("round", 0.2, 0.2), Section("oval", 0.5, 0.2)
        for section in (box, pipe, oval):
            for units in ("SI", "IP"):
                self.assertEqual(in_units(told(section_amount(section)), units), display.size(section, units))

    def test_a_sentence_without_figures_stays_a_plain_text(self):
        self.assertNotIsInstance(told("Draw a run."), Told)
        self.assertEqual(in_units("Draw a run.", "IP"), "Draw a run.")

    def test_a_finding_with_its_mends(self):
        found = Finding(
            "x", "Air", "room", "r", f"{amount('power', 1000)} too much", "", mends=(Mend(amount("load", 3e3), None),)
        )
        other = found.in_units("IP")
        self.assertEqual((found.title, found.mends[0].label), ("1\u202f000 W too much", "3.00 kW"))
        self.assertEqual((other.title, other.mends[0].label), ("3\u202f412 Btu/h too much", "10.2 kBtu/h"))


class Everything(unittest.TestCase):
    def test_no_finding_of_the_example_speaks_si_to_others(self):
        rooms, system = tuple(r.id for r in station().rooms), station().air_systems[0].id
        hard = station()
        for command in (
            SetRoomValue(rooms[:6], "cooling_limit_w", Pinned(value=300.0)),
            SetRoomValue(rooms[6:9], "supply_m3s", Pinned(value=0.9)),
            SetSystemValue(system, "friction_pa_m", Pinned(value=6.0)),
        ):
            hard = command.apply(hard)
        seen = set()
        for results in (station_results(), run(hard, Memo())):
            for finding in results.findings:
                seen.add(finding.code)
                for units in ("SI", "IP"):
                    told_ = finding.in_units(units)
                    words = (told_.title, told_.reason, *(m.label for m in told_.mends))
                    for text in words:
                        self.assertNotIn(display.START, text)
                        if units == "IP":
                            self.assertNotRegex(text, SI_ALONE, finding.code)
                            self.assertNotRegex(text, r"\b\d{3,} × \d{3,}|ø\d{3,}\b", finding.code)  # sizes in mm
        self.assertGreater(len(seen), 8)

    def test_the_paper_of_findings_speaks_the_units_it_was_asked_for(self):
        rows = {units: str(paper(station_results(), units)) for units in ("SI", "IP")}
        self.assertRegex(rows["SI"], SI_ALONE)
        self.assertNotRegex(rows["IP"], SI_ALONE)


class Sense(unittest.TestCase):
    """No sentence hands out a figure that no room or air ever has."""

    def test_words_in_the_place_of_absurd_temperatures(self):
        self.assertEqual(told(drift(31.24)), "drifts to 31.2 °C")
        for absurd in (450.0, -273.0, 61.0):
            self.assertNotRegex(drift(absurd), r"\d")

    def test_rooms_that_nothing_holds(self):
        rooms, system = tuple(r.id for r in station().rooms), station().air_systems[0].id
        hot = station()
        for command in (
            SetRoomValue(rooms[:8], "equipment_w_m2", Pinned(value=4000.0)),
            SetRoomValue(rooms[:8], "supply_m3s", Pinned(value=0.02)),
            SetRoomValue(rooms[:4], "cooling_limit_w", Pinned(value=100.0)),
            SetSystemValue(system, "supply_c", Pinned(value=14.0)),
        ):
            hot = command.apply(hot)
        found = run(hot, Memo()).findings
        self.assertTrue(any("held by nothing" in f.title or "far less cooling" in f.title for f in found))
        for finding in found:
            for text in (finding.title, finding.reason, *(m.label for m in finding.mends)):
                for figure in re.findall(r"([\u2212-]?\d[\d\u202f.]*) °C", text):
                    value = float(figure.replace("\u202f", "").replace("\u2212", "-"))
                    self.assertTrue(-60 <= value <= 80, text)
                for figure in re.findall(r"([\d.\u202f]+) K (?:colder|warmer)", text):
                    self.assertLessEqual(float(figure.replace("\u202f", "")), 60.0, text)
