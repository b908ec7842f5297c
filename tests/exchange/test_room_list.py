"""Room lists: columns found by their headings, right rows kept, wrong rows with their reason."""

import io
import tempfile
import unittest
from pathlib import Path

from numpy.testing import assert_allclose

from garnetfin.core.errors import FileError, InputError
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.exchange.list_headings import decimal_comma, plain_figure
from garnetfin.exchange.room_list import guess_columns, to_draft, understand
from garnetfin.exchange.tables import read_sheets, rows_of_text
from garnetfin.project.draft import check_draft
from garnetfin.project.edits.imports import TakeDraft, differences
from garnetfin.project.edits.outlines import AddRoom, MoveRooms, SetOutline
from garnetfin.project.edits.rooms import SetRoomText, SetRoomValue
from garnetfin.project.lookup import find, walls_of
from garnetfin.project.new import new_project
from garnetfin.project.tree import check_links
from garnetfin.project.values import Pinned
from garnetfin.report.to_csv import rooms_csv
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

    def test_numbers_in_the_project_are_brought_up_to_date(self):
        found = understand(rows_of_text("No;Area\n1;10\n2;10"), "x", present=frozenset({"1"}))
        self.assertEqual(found.present, {"1"})
        self.assertRaisesRegex(InputError, "list is empty", understand, [], "x")


GERMAN = """Raumprogramm Neubau Schule;;;;;;;
Stand: 12.03.2026;;;;;;;
;;;;;;;
;;Flächen;;Temperaturen;;;
Raum-Nr.;Raumbezeichnung;NGF;Lichte Höhe;Raumtemperatur Winter;Personen;Bodenbelag;Fenster Süd
-;-;m²;m;°C;Pers.;-;m²
Erdgeschoss;;;;;;;
0.01;Büro;1.020,5;3,00;20;4;Linoleum;12,4
0.02;WC;8,25;2,75;22;;Fliesen;
Zwischensumme;;1.028,75;;;;;
1. Obergeschoss;;;;;;;
1.01;Besprechung;35,0;3,00;20;12;Teppich;6
Summe;;1.063,75;;;;;"""
FRENCH = """Programme des locaux\n\nN° local\tNom du local\tNiveau\tSurface utile (m²)\tHauteur sous plafond\tEffectif
A1\tSalle de réunion\tRdC\t42,30\t2,80\t16\nA2\tBureau\tR+1\t18,00\t2,80\t2\nTotal général\t\t\t60,30\t\t18"""
SPANISH = "Código;Estancia;Planta;Superficie;Altura libre\nP1;Sala;Planta baja;30,5;2,7\nP2;Despacho;Planta 1;12,0;2,7"
ITALIAN = "Codice,Locale,Piano,Superficie netta,Destinazione d'uso\nB1,Ufficio,Piano terra,20.5,Ufficio\nTOTALE,,,20.5,"


class Languages(unittest.TestCase):
    """Lists as they come: titles above, two rows of headings, a row of units, groups and sums between rooms."""

    def test_a_german_room_programme(self):
        found = understand(rows_of_text(GERMAN), "programme.csv")
        self.assertEqual(
            [(r.room.number, r.room.area_m2.value, r.level) for r in found.good],
            [("0.01", 1020.5, "Erdgeschoss"), ("0.02", 8.25, "Erdgeschoss"), ("1.01", 35.0, "1. Obergeschoss")],
        )
        self.assertEqual([r.kind for r in found.rows if r.room is None], ["group", "total", "group", "total"])
        first = found.good[0].room
        self.assertEqual((first.ceiling_m, first.heating_c.value, first.people.value), (3.0, 20.0, 4.0))
        self.assertEqual(found.good[0].sides, ((180.0, found.good[0].sides[0][1], 12.4),))
        self.assertEqual(found.unused, ("Bodenbelag",))
        self.assertTrue(found.comma)
        draft = to_draft(found, new_project(), "L0")
        self.assertEqual(len(draft.rooms), 3)
        by_level = {r.number: next(x.name for x in draft.levels if x.id == r.level_id) for r in draft.rooms}
        self.assertEqual(by_level, {"0.01": "Ground", "0.02": "Ground", "1.01": "Upper"})
        said = " ".join(n.text for n in draft.notes if n.kind == "left out")
        for words in ("Raumprogramm Neubau Schule", "Bodenbelag", "a row of sums"):
            self.assertIn(words, said)

    def test_french_spanish_and_italian(self):
        french = understand(rows_of_text(FRENCH), "x")
        self.assertEqual([(r.room.number, r.room.area_m2.value) for r in french.good], [("A1", 42.3), ("A2", 18.0)])
        self.assertEqual(french.good[0].room.people.value, 16)
        levels = to_draft(french, new_project(), "L0")
        self.assertEqual(
            [next(x.name for x in levels.levels if x.id == r.level_id) for r in levels.rooms], ["Ground", "Upper"]
        )
        spanish = understand(rows_of_text(SPANISH), "x")
        self.assertEqual(
            [(r.room.name, r.room.area_m2.value) for r in spanish.good], [("Sala", 30.5), ("Despacho", 12.0)]
        )
        italian = understand(rows_of_text(ITALIAN), "x")
        self.assertEqual([(r.room.number, r.room.area_m2.value) for r in italian.good], [("B1", 20.5)])
        self.assertEqual([r.kind for r in italian.rows if r.room is None], ["total"])

    def test_headings_over_two_rows_as_merged_cells_leave_them(self):
        rows = [
            ["Door list of floor 2", "", "", "", "", ""],
            ["No.", "Name", "Net area [m2]", "External wall", "", "Glass", ""],
            ["", "", "", "N", "S", "N", "S"],
            ["1", "Office", "20", "5.0", "", "2", ""],
        ]
        found = understand(rows, "x")
        self.assertEqual(found.good[0].sides, ((0.0, 5.0, 2.0),))
        self.assertEqual(found.above, ("Door list of floor 2",))

    def test_figures_with_thousands_and_points_of_either_kind(self):
        for cell, comma, wanted in (
            ("1.234,5", True, "1234.5"),
            ("1,234.5", False, "1234.5"),
            ("1'234.5", False, "1234.5"),
            ("1\u202f250,7 m²", True, "1250.7 m²"),
            ("20,5", False, "20.5"),
            ("12' 6\"", False, "12' 6\""),
        ):
            self.assertEqual(plain_figure(cell, comma), wanted)
        self.assertIs(decimal_comma(["12,5", "1.020,00"]), True)
        self.assertIs(decimal_comma(["12.5", "1,020.00"]), False)
        self.assertIsNone(decimal_comma(["12", "20"]))

    def test_a_sum_without_a_word_is_known_by_its_figure(self):
        found = understand(rows_of_text("No;Name;Area\n1;A;20\n2;B;30,5\n;;50,5"), "x")
        self.assertEqual([r.kind for r in found.rows], ["room", "room", "total"])

    def test_areas_that_can_only_be_feet_are_asked_about(self):
        rows = "No;Name;Area\n1;WC;70\n2;Toilet;65\n3;Office single;150\n4;Store;120\n5;Hall;5300"
        asked = understand(rows_of_text(rows), "x")
        self.assertEqual(asked.feet[0], 5705.0)
        assert_allclose(asked.feet[1], 530.01, rtol=1e-4)
        feet = understand(rows_of_text(rows), "x", area_unit="ft²")
        self.assertIsNone(feet.feet)
        assert_allclose(feet.good[0].room.area_m2.value, 70 * 0.3048**2)
        self.assertIsNone(understand(rows_of_text(rows), "x", area_unit="m²").feet)
        said = understand(rows_of_text(rows.replace("Area", "Area [m2]")), "x")
        self.assertIsNone(said.feet)
        usual = understand(rows_of_text("No;Name;Area\n1;WC;7\n2;Toilet;6\n3;Store;12"), "x")
        self.assertIsNone(usual.feet)

    def test_a_list_without_rooms_is_refused_with_its_reason(self):
        for text, reason in (
            ("No;Name\n1;A\n2;B", "No column of areas"),
            ("No;Name;Area\n1;A;big\n2;B;bigger", "None of 2 rows is a room"),
            ("some words\nand more", "No row of headings"),
        ):
            self.assertRegex(understand(rows_of_text(text), "x").refused(), reason)


class Updated(unittest.TestCase):
    LIST = "No;Name;Area;People;Ceiling height\n1;Lecture room;99;30;3.2\n7;New;12;;"

    def drawn(self):
        project = AddRoom("L0", box(0, 0, 6, 5)).apply(new_project())
        return SetRoomText(project.rooms[0].id, "number", "1").apply(project)

    def test_rooms_that_were_traced_get_figures_and_keep_their_outline(self):
        project = self.drawn()
        room = project.rooms[0]
        draft = check_draft(to_draft(understand(rows_of_text(self.LIST), "programme"), project, "L0"))
        self.assertEqual(draft.updates, ("1",))
        found = {d.number: d for d in differences(project, draft)}
        self.assertEqual({n: d.kind for n, d in found.items()}, {"1": "changed", "7": "new"})
        self.assertTrue(any("people" in line for line in found["1"].lines), found["1"].lines)
        made = TakeDraft(draft, ("1", "7")).apply(project)
        check_links(made)
        after = find(made.rooms, room.id)
        self.assertEqual((after.name, after.people.value, after.ceiling_m), ("Lecture room", 30.0, 3.2))
        self.assertEqual((after.outline, after.area_m2, after.sketched), (room.outline, room.area_m2, False))
        self.assertEqual(walls_of(made.walls, room.id), walls_of(project.walls, room.id))
        # taken again nothing changes
        again = to_draft(understand(rows_of_text(self.LIST), "programme"), made, "L0")
        self.assertEqual({d.kind for d in differences(made, again)}, {"same"})

    def test_what_is_pinned_stays(self):
        project = self.drawn()
        project = SetRoomValue((project.rooms[0].id,), "people", Pinned(value=5.0)).apply(project)
        draft = to_draft(understand(rows_of_text(self.LIST), "programme"), project, "L0")
        (first, _) = differences(project, draft)
        self.assertTrue(any("pinned at 5" in line for line in first.lines))
        made = TakeDraft(draft, ("1",)).apply(project)
        self.assertEqual(made.rooms[0].people.value, 5.0)


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

    def test_our_own_table_of_rooms_read_again_gives_the_same_building(self):
        first = run(taken(LIST.replace("Office east", "=Office east")), Memo())
        table = rooms_csv(first)
        self.assertIn("'=Office east", table)
        again = run(taken(table), Memo())
        rooms = {r.number: r for r in again.project.rooms}
        self.assertEqual(sorted(rooms), sorted(r.number for r in first.project.rooms))
        for room in first.project.rooms:
            other = rooms[room.number]
            self.assertEqual((other.name, other.use_id, other.level_id), (room.name, room.use_id, room.level_id))
            self.assertEqual(bool(other.system_id), bool(room.system_id))
            # six digits are written; the load of a design hour moves no more than they do
            for what in ("peak_w", "heating_w", "volume_m3"):
                pair = getattr(first.room(room.id), what), getattr(again.room(other.id), what)
                assert_allclose(pair[1], pair[0], rtol=1e-4, err_msg=f"{room.number} {what}")

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
            self.assertEqual(read_sheets(path)[0][1][1], ["1", "Küche"], encoding)

    def test_the_sheet_with_headings_is_taken_and_all_are_told(self):
        import openpyxl

        from garnetfin.exchange.reading import read

        book = openpyxl.Workbook()
        book.active.title = "Cover"
        book.active.append(("Room programme", "issue 3"))
        sheet = book.create_sheet("Rooms")
        sheet.merge_cells("C1:D1")
        for row in (("No", "Name", "Walls", None), (None, None, "N", "S"), ("1", "Office", 5.0, None)):
            sheet.append(row)
        path = self.folder / "b.xlsx"
        book.save(path)
        table = read(path).table
        self.assertEqual((table.sheet, table.sheets, len(table.others)), ("Rooms", ("Cover", "Rooms"), 2))
        self.assertEqual(read_sheets(path)[0][1], [["Room programme", "issue 3"]])

    def test_a_workbook(self):
        import openpyxl

        book = openpyxl.Workbook()
        for row in (("No", "Area"), ("1.01", 20.5), ("1.02", None)):
            book.active.append(row)
        path = self.folder / "a.xlsx"
        book.save(path)
        self.assertEqual(read_sheets(path)[0][1], [["No", "Area"], ["1.01", "20.5"], ["1.02"]])

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
            self.assertRaisesRegex(FileError, words, read_sheets, path)


if __name__ == "__main__":
    unittest.main()
