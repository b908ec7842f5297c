"""Room lists: columns found by their headings, right rows kept, wrong rows with their reason."""

import io
import tempfile
import unittest
from pathlib import Path

from numpy.testing import assert_allclose

from garnetfin.core.errors import FileError, InputError
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.exchange.room_list import guess_columns, to_draft, understand
from garnetfin.exchange.tables import read_table, rows_of_text
from garnetfin.project.draft import check_draft
from garnetfin.project.edits.imports import TakeDraft
from garnetfin.project.edits.outlines import AddRoom, MoveRooms, SetOutline
from garnetfin.project.lookup import walls_of
from garnetfin.project.new import new_project
from garnetfin.project.tree import check_links
from tests.project.test_shape import box

LIST = """No.;Room;Level;Use;Area [m²];Ceiling height;Wall S;Glass S;Wall W;People
1.01;Office east;First;Cellular office;20,5;2,9;5,0;4,2;4,1;2
1.02;Store;First;;12;;;;;
1.02;Again;First;;12;;;;;
;;;;5;;;;;
1.03;Bad;First;Office;abc;3;;;;
1.04;Hall;Ground floor;corridor;60;3;12;80;;
0.05;Hall;Ground floor;corridor;60;3;12;8;;"""


def taken(text: str, project=None):
    project = project or new_project()
    draft = check_draft(to_draft(understand(rows_of_text(text), "list"), project, "L0"))
    made = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(project)
    check_links(made)
    return made


class Understanding(unittest.TestCase):
    def test_headings_in_several_wordings(self):
        self.assertEqual(
            guess_columns(
                [
                    "Room No",
                    "Designation",
                    "Floor area (m2)",
                    "Clear height",
                    "Usage",
                    "External wall north",
                    "Glazing area SW",
                    "colour",
                ]
            ),
            {"number": 0, "name": 1, "area": 2, "height": 3, "use": 4, "wall n": 5, "glass sw": 6},
        )

    def test_loads_copied_from_our_own_table_are_no_set_points(self):
        self.assertEqual(
            guess_columns(["No.", "Room", "Area m²", "Cooling W", "Heating W"]), {"number": 0, "name": 1, "area": 2}
        )

    def test_right_rows_are_kept_and_wrong_rows_say_why(self):
        found = understand(rows_of_text(LIST), "list.csv")
        self.assertEqual([r.room.number for r in found.good], ["1.01", "1.02", "0.05"])
        reasons = {r.line: r.reason for r in found.rows if r.room is None}
        self.assertRegex(reasons[4], "1.02 is there already")
        self.assertRegex(reasons[5], "neither number nor name")
        self.assertRegex(reasons[6], "Area “abc”")
        self.assertRegex(reasons[7], "80.0 m² is larger than its wall of 36.0")

    def test_another_mapping_is_followed(self):
        rows = rows_of_text("a,b,c\n1,20,30")
        found = understand(rows, "x", mapping={"number": 0, "area": 2})
        self.assertEqual(found.good[0].room.area_m2.value, 30)

    def test_units_of_headings_and_cells_and_ip(self):
        found = understand(rows_of_text("No;Area [ft²];Height\n1;100;10 ft\n2;9,3 m²;3"), "x")
        assert_allclose([r.room.area_m2.value for r in found.good], [9.290304, 9.3])
        assert_allclose(found.good[0].room.ceiling_m, 3.048)
        ip = understand(rows_of_text("No;Area\n1;100"), "x", "IP")
        assert_allclose(ip.good[0].room.area_m2.value, 9.290304)

    def test_numbers_in_use_are_refused(self):
        found = understand(rows_of_text("No;Area\n1;10\n2;10"), "x", taken=frozenset({"1"}))
        self.assertEqual([r.room is None for r in found.rows], [True, False])
        self.assertRaisesRegex(InputError, "list is empty", understand, [], "x")


class Rooms(unittest.TestCase):
    def test_a_list_gives_loads_from_its_walls_and_glass(self):
        project = taken(LIST)
        self.assertEqual([x.name for x in project.levels], ["Ground", "Upper"])
        results = run(project, Memo())
        first = results.room(project.rooms[0].id)
        outside = {
            (round(f.azimuth_deg), f.kind): f.area_m2 for f in first.faces if f.to == "outdoors" and f.kind != "roof"
        }
        # South: 5.0 m x 2.9 m less 4.2 m2 of glass; west: 4.1 m x 2.9 m.
        assert_allclose(
            (outside[180, "wall"], outside[180, "window"], outside[270, "wall"]), (14.5 - 4.2, 4.2, 11.89), rtol=1e-9
        )
        self.assertEqual(first.figures.area_m2.origin, "imported")
        self.assertTrue(all(results.room(r.id).heating_w > 0 for r in project.rooms))
        self.assertEqual(project.rooms[0].people.value, 2)

    def test_listed_rooms_border_on_nothing_until_they_are_drawn(self):
        project = taken("No;Area;Wall S\n1;20;5\n2;20;5")
        self.assertTrue(all(r.sketched for r in project.rooms))
        drawn = AddRoom("L0", box(30, 30, 34, 35)).apply(project)
        self.assertEqual({w.room_b for w in walls_of(drawn.walls, "n1")}, {"", "inside"})
        moved = MoveRooms(("n1",), 3.0, 0.0).apply(drawn)
        before, after = walls_of(drawn.walls, "n1"), walls_of(moved.walls, "n1")
        assert_allclose([w.length_m for w in after], [w.length_m for w in before])
        placed = SetOutline("n1", box(34, 30, 38, 35)).apply(moved)
        self.assertFalse(placed.rooms[0].sketched)
        self.assertTrue(any({w.room_a, w.room_b} == {"n1", "n3"} for w in placed.walls))

    def test_new_level_words_make_levels_above(self):
        project = taken("No;Area;Level\n1;20;Penthouse\n2;20;Ground")
        self.assertEqual([x.name for x in project.levels], ["Ground", "Upper", "Penthouse"][-len(project.levels) :])
        roofs = {s.room_below for s in project.slabs if s.kind == "roof"}
        self.assertEqual(roofs, {next(r.id for r in project.rooms if r.number == "1")})


class Tables(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def test_separators_quotes_and_encodings(self):
        for text in ('No,Room\n1,"a, b"', "No;Room\n1;a, b", "No\tRoom\n1\ta, b"):
            self.assertEqual(rows_of_text(text), [["No", "Room"], ["1", "a, b"]])
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            path = self.folder / "a.csv"
            path.write_bytes("No;Raum\n1;Küche".encode(encoding))
            self.assertEqual(read_table(path)[1], ["1", "Küche"], encoding)

    def test_a_workbook(self):
        import openpyxl

        book = openpyxl.Workbook()
        for row in (("No", "Area"), ("1.01", 20.5), ("1.02", None)):
            book.active.append(row)
        path = self.folder / "a.xlsx"
        book.save(path)
        self.assertEqual(read_table(path), [["No", "Area"], ["1.01", "20.5"], ["1.02"]])

    def test_what_is_no_table_is_refused(self):
        import zipfile

        buffer = io.BytesIO()
        with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("xl/workbook.xml", b"0" * (220 * 2**20))
        for data, words in (
            (buffer.getvalue(), "unpacks to more than"),
            (b"PK\x03\x04broken", "broken or not an XLSX"),
            (b"%PDF-1.4", "not a CSV"),
            (b"\n\n", "holds no rows"),
        ):
            path = self.folder / "a.xlsx"
            path.write_bytes(data)
            self.assertRaisesRegex(FileError, words, read_table, path)


if __name__ == "__main__":
    unittest.main()
