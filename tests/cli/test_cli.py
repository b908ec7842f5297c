"""The program from the command line, in a process of its own: output, exit codes, one sentence for bad files."""

import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import fastjsonschema
from numpy.testing import assert_allclose

from garnetfin.cli.results_json import UNITS, as_json
from garnetfin.cli.results_schema import results_schema
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.store import load, save
from garnetfin.project.tree import Project
from tests.example import by_number, one_room, station, station_results
from tests.exchange.test_gbxml import Ordinary


def call(*arguments: str) -> subprocess.CompletedProcess:
    environment = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    return subprocess.run(
        [sys.executable, "-m", "garnetfin", *arguments], capture_output=True, text=True, env=environment, check=False
    )


class Commands(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.file = self.folder / "one.gfin"
        save(one_room(), self.file)

    def test_export_and_import_again(self):
        paths = {k: self.folder / f"out.{k}" for k in ("xml", "rooms", "faces")}
        done = call(
            "export",
            str(self.file),
            "--gbxml",
            str(paths["xml"]),
            "--rooms",
            str(paths["rooms"]),
            "--faces",
            str(paths["faces"]),
        )
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(paths["rooms"].read_text("utf-8-sig").count("\n"), 2)
        self.assertEqual(paths["faces"].read_text("utf-8-sig").count("\n"), 5)
        back = self.folder / "back.gfin"
        done = call("import", str(paths["xml"]), "--out", str(back))
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("found     1 rooms on 1 levels", done.stdout)
        self.assertEqual(load(back).rooms[0].number, "1")
        listed = self.folder / "list.csv"
        listed.write_text("No;Area\n2;20\n1;10\n")
        done = call("import", str(listed), "--into", str(back), "--out", str(back))
        self.assertIn("1 of them are there already", done.stdout)
        self.assertEqual([r.number for r in load(back).rooms], ["1", "2"])
        nothing = self.folder / "nothing.csv"
        nothing.write_text("No;Name\n1;Office\n")
        feet = self.folder / "feet.csv"
        feet.write_text("No;Name;Area\n1;WC;70\n2;Toilet;65\n3;Store;120\n")
        for file, words in ((nothing, "No column of areas"), (feet, "Say --areas m2 or --areas ft2")):
            done = call("import", str(file), "--out", str(self.folder / "none.gfin"))
            self.assertEqual((done.returncode, (self.folder / "none.gfin").exists()), (2, False))
            self.assertIn(words, done.stderr)
        house = self.folder / "house.xml"
        house.write_bytes(Ordinary().house(name="Type 7b"))
        done = call("import", str(house), "--out", str(self.folder / "none.gfin"))
        self.assertEqual(done.returncode, 2)
        self.assertIn('--conductivity "Type 7b=0.04"', done.stderr)
        done = call("import", str(house), "--conductivity", "Type 7b=0.04", "--out", str(self.folder / "house.gfin"))
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("conductivity of Type 7b: 0.04 W/mK", done.stdout)
        done = call("import", str(feet), "--areas", "ft2", "--out", str(self.folder / "feet.gfin"))
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertAlmostEqual(load(self.folder / "feet.gfin").rooms[0].area_m2.value, 70 * 0.3048**2)
        for arguments, words in (
            (("export", str(self.file)), "Nothing to write"),
            (("import", str(self.file), "--out", "x"), "not a file this program"),
        ):
            done = call(*arguments)
            self.assertEqual(done.returncode, 2)
            self.assertIn(words, done.stderr)

    def test_compute_and_report(self):
        done = call("compute", str(self.file), "--json", str(self.folder / "deep" / "out.json"))
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        found = json.loads((self.folder / "deep" / "out.json").read_text())
        assert_allclose(found["rooms"][0]["cooling_peak_w"], run(one_room(), Memo()).room("r1").peak_w, rtol=1e-9)
        done = call("report", str(self.file), "--pdf", str(self.folder / "out.pdf"), "--units", "IP")
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual((self.folder / "out.pdf").read_bytes()[:5], b"%PDF-")

    def test_bad_files_end_with_2_and_one_sentence(self):
        broken = self.folder / "broken.gfin"
        broken.write_bytes(self.file.read_bytes()[:200])
        for path in (broken, self.folder / "none.gfin", self.folder):
            done = call("compute", str(path), "--json", str(self.folder / "x.json"))
            self.assertEqual(done.returncode, 2, done)
            self.assertNotIn("Traceback", done.stderr)
            self.assertEqual(done.stderr.count("\n"), 1, done.stderr)
        self.assertFalse((self.folder / "x.json").exists())
        self.assertEqual(len(broken.read_bytes()), 200)

    def test_a_target_that_cannot_be_written(self):
        done = call("compute", str(self.file), "--json", "/proc/nothing/out.json")
        self.assertEqual(done.returncode, 2)
        self.assertIn("could not be written", done.stderr)

    def test_wrong_units_and_commands(self):
        self.assertEqual(call("report", str(self.file), "--pdf", "x.pdf", "--units", "cgs").returncode, 2)
        self.assertEqual(call("fly").returncode, 2)

    def test_help_schema_and_version(self):
        self.assertIn("compute", call("--help").stdout)
        self.assertEqual(json.loads(call("schema").stdout)["title"], "Garnetfin project")
        self.assertRegex(call("version").stdout, r"^\d+\.\d+\.\d+$")

    def test_without_a_display_the_window_says_what_else_there_is(self):
        done = call()
        self.assertEqual(done.returncode, 1)
        self.assertIn("compute FILE", done.stderr)


class ResultsJson(unittest.TestCase):
    def test_everything_is_there_and_agrees(self):
        results = station_results()
        found = json.loads(json.dumps(as_json(results), allow_nan=False))
        self.assertEqual(len(found["rooms"]), 28)
        room = found["rooms"][0]
        assert_allclose(
            sum(room["by_cause_w"][c][7][14] for c in found["arrays"]["causes"]), room["sensible_w"][7][14], atol=0.01
        )
        system = found["air_systems"][0]
        self.assertEqual(len(system["ducts"]["segments"]), 73)
        self.assertEqual(system["ducts"]["index_run"]["terminal"], results.ducts["ahu-north"].index.label)
        moved = system["air"]["flow_m3s"] + system["ducts"]["leak_m3s"]
        assert_allclose(system["fan"]["operating_point"]["flow_m3s"], moved, rtol=1e-6)

    def test_states_coils_and_outdoor_air_of_rooms_leave_too(self):
        results = station_results()
        found = json.loads(json.dumps(as_json(results), allow_nan=False))
        system, proof = found["air_systems"][0]["air"], results.trains["ahu-north"]
        summer = system["train"]["summer"]
        assert_allclose(summer["cooling_w"], proof.cooling.cooling_w)
        assert_allclose(sum(c["total_w"] for c in summer["coils"]), proof.cooling.cooling_w)
        self.assertEqual([s["behind"] for s in summer["states"]], list(proof.solved.nodes))
        self.assertLess(summer["closes_within_w"], 1.0)
        rooms = {r["room"]: r for r in system["rooms"]}
        arrives = results.air["ahu-north"].arrives_m3s[by_number(station(), "0.09").id]
        self.assertEqual(rooms["0.09"]["outdoor_arrives_m3s"], arrives)
        self.assertEqual(len(system["train"]["winter"]["rooms"]), len(rooms))
        assert_allclose(found["plant"]["cooling_w"], results.plant.cooling_w)

    def test_key_endings_have_their_units(self):
        room = as_json(station_results())["rooms"][0]
        for key, value in room.items():
            if isinstance(value, float):
                self.assertTrue(any(key.endswith(e) for e in UNITS), key)

    def test_every_key_is_in_the_published_schema(self):
        check = fastjsonschema.compile(results_schema())
        projects = (station_results(), run(Project(), Memo()), run(one_room(), Memo()))
        found = [json.loads(json.dumps(as_json(r), allow_nan=False)) for r in projects]
        for one in found:
            check(one)
        # it tells a key too many, one too few and a figure that is none
        for spoil in (
            lambda r: r["rooms"][0].update(more=1),
            lambda r: r["air_systems"][0]["air"].pop("flow_m3s"),
            lambda r: r["rooms"][0].update(heating_w="much"),
        ):
            bad = json.loads(json.dumps(found[0]))
            spoil(bad)
            self.assertRaises(fastjsonschema.JsonSchemaException, check, bad)

    def test_the_schema_is_published_by_the_command_line(self):
        printed = json.loads(call("schema", "results").stdout)
        self.assertEqual(printed, results_schema())
        self.assertEqual(
            printed["properties"]["rooms"]["items"]["anyOf"][0]["properties"]["volume_m3"]["description"], "m3"
        )
        refused = call("schema", "weather")
        self.assertEqual(refused.returncode, 2)
        self.assertIn("project and results have", refused.stderr)

    def test_gaps_are_written_as_such(self):
        found = json.loads(json.dumps(as_json(run(Project(), Memo())), allow_nan=False))
        self.assertEqual(found["climate"]["missing"], "no place")
