"""Drawings and pictures as underlays; rooms filled from lines."""

import io
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

import numpy as np
from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import FileError, InputError
from garnetfin.core.outlines import area_of, enclosed
from garnetfin.exchange.drawing_rooms import Said, draft_of, rooms_in
from garnetfin.exchange.dxf import read_dxf
from garnetfin.exchange.pictures import ORIENTATION, read_page, read_picture
from garnetfin.project.draft import check_draft
from garnetfin.project.edits.imports import TakeDraft
from garnetfin.project.edits.outlines import FillRoom
from garnetfin.project.edits.underlays import AddUnderlay, RemoveUnderlay, ScaleUnderlay, SetUnderlay
from garnetfin.project.lookup import find
from garnetfin.project.new import new_project
from garnetfin.project.tree import check_links
from garnetfin.project.underlays import Underlay
from tests.example import station
from tests.exchange.samples import write_dxf

DEMO = Path(__file__).parents[2] / "demo"


def metres(drawing) -> list:
    k = drawing.unit_m or 1.0
    return [tuple(v * k for v in x.lines[i : i + 4]) for x in drawing.layers if x.on for i in range(0, len(x.lines), 4)]


def plane_middle(room) -> tuple[float, float]:
    """The mean of a room's corners."""
    return tuple(sum(p[k] for p in room.outline) / len(room.outline) for k in (0, 1))


class Folder(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))


class Dxf(Folder):
    def test_units_layers_blocks_and_curves(self):
        for unit, metre in ((4, 0.001), (6, 1.0), (2, 0.3048), (0, 0.0)):
            drawing = read_dxf(write_dxf(self.folder / f"{unit}.dxf", unit))
            self.assertAlmostEqual(drawing.unit_m, metre)
            self.assertEqual(
                [(x.name, x.on) for x in drawing.layers], [("FURNITURE", True), ("GRID", False), ("WALLS", True)]
            )
        drawing = read_dxf(self.folder / "6.dxf")
        assert_allclose(drawing.bounds, (0, 0, 8.2, 8.3), atol=1e-6)
        circle = next(x for x in drawing.layers if x.name == "GRID").lines
        # A circle of 0.3 m as chords: each corner lies on it.
        for x, y in zip(circle[::4], circle[1::4]):
            assert_allclose(((x - 2) ** 2 + (y - 8) ** 2) ** 0.5, 0.3, atol=1e-4)

    def test_lines_without_a_place_are_left_out_and_said(self):
        path = write_dxf(self.folder / "a.dxf", 6, door=False)
        text = path.read_text().replace("4.0\n", "nan\n", 1)
        path.write_text(text)
        drawing = read_dxf(path)
        self.assertTrue(all(abs(v) < 1e9 for x in drawing.layers for v in x.lines))

    def test_a_drawing_too_large_to_hold_is_read_line_by_line_and_trimmed(self):
        from unittest import mock

        from garnetfin.exchange import dxf

        path = write_dxf(self.folder / "a.dxf", 6, rooms=30)
        with mock.patch.object(dxf, "LARGE_BYTES", 1000), mock.patch.object(dxf, "MOST_LINES", 50):
            drawing = read_dxf(path)
        self.assertEqual(drawing.unit_m, 1.0)
        self.assertTrue(50 <= drawing.count < 60)
        self.assertEqual(
            drawing.notes, ("a large drawing: what lies in blocks is left out", "trimmed to the first 50 lines")
        )

    def test_what_is_no_drawing_is_refused(self):
        for name, data in (("a.dxf", b"hello world"), ("b.dxf", b"  0\nSECTION\n  2\nHEADER\n" + b"x" * 50)):
            path = self.folder / name
            path.write_bytes(data)
            self.assertRaisesRegex(FileError, "not a DXF|damaged|holds no lines", read_dxf, path)

    def test_a_block_that_holds_itself_ends(self):
        import ezdxf

        doc = ezdxf.new("R2010")
        block = doc.blocks.new("A")
        block.add_line((0, 0), (1, 0))
        block.add_blockref("A", (1, 1))
        doc.modelspace().add_blockref("A", (0, 0))
        path = self.folder / "loop.dxf"
        doc.saveas(path)
        try:
            self.assertLess(read_dxf(path).count, 100)
        except FileError as error:
            self.assertIn("damaged", str(error))


class Ordinary(Folder):
    """What drawings of offices hold beside lines."""

    def drawing(self, make):
        import ezdxf

        doc = ezdxf.new("R2010", setup=True)
        make(doc, doc.modelspace())
        path = self.folder / "a.dxf"
        doc.saveas(path)
        return read_dxf(path)

    def test_a_closed_line_with_a_bulge_is_a_circle_of_few_lines(self):
        found = self.drawing(lambda _, m: m.add_lwpolyline([(1e5, 0, 1), (1e5 + 10, 0, 1)], format="xyb", close=True))
        self.assertLess(found.count, 80)
        rows = np.array(found.layers[0].lines).reshape(-1, 4)
        radius = np.hypot(rows[:, 0] - 1e5 - 5, rows[:, 1])
        assert_allclose(radius, 5.0, atol=5e-3)  # arcs as cubic curves
        middle = np.hypot((rows[:, 0] + rows[:, 2]) / 2 - 1e5 - 5, (rows[:, 1] + rows[:, 3]) / 2)
        self.assertLess(np.abs(middle - 5.0).max(), 0.1)  # a hundredth of its size

    def test_blocks_in_blocks_are_counted_and_bounded(self):
        def bomb(doc, space):
            block = doc.blocks.new("B0")
            block.add_line((0, 0), (1, 0))
            for i in range(1, 7):
                block = doc.blocks.new(f"B{i}")
                for k in range(30):
                    block.add_blockref(f"B{i - 1}", (k, 0))
            space.add_blockref("B6", (0, 0))

        with patch("garnetfin.exchange.dxf.MOST_INSERTS", 500):
            found = self.drawing(bomb)
        self.assertLess(found.count, 500)
        self.assertIn("blocks read up to 500 times", found.notes)

    def test_a_field_of_blocks_is_drawn_as_often_as_it_says(self):
        def field(doc, space):
            doc.blocks.new("C").add_line((0, 0), (1, 0))
            space.add_blockref(
                "C", (0, 0), dxfattribs={"row_count": 3, "column_count": 4, "row_spacing": 2, "column_spacing": 2}
            )

        self.assertEqual(self.drawing(field).count, 12)

    def test_texts_hatches_and_dimensions_come_along_and_the_rest_is_counted(self):
        def plan(doc, space):
            space.add_line((0, 0), (1, 0))
            space.add_text("1.01 Office", height=0.2).set_placement((3, 3))
            space.add_mtext("Hall\\Pupper", dxfattribs={"insert": (5, 6), "char_height": 0.3, "layer": "TEXT"})
            space.add_hatch().paths.add_polyline_path([(0, 0), (4, 0), (4, 4)], is_closed=True)
            space.add_linear_dim(base=(3, 2), p1=(0, 0), p2=(3, 0)).render()
            space.add_ray((0, 0), (1, 1))
            block = doc.blocks.new("tag")
            block.add_attdef("NR", (0, 0))
            space.add_blockref("tag", (8, 8)).add_auto_attribs({"NR": "2.07"})
            doc.add_xref_def("other.dxf", "survey")
            space.add_blockref("survey", (0, 0))

        found = self.drawing(plan)
        said = {t.words: t for t in found.texts}
        self.assertEqual((said["1.01 Office"].x, said["1.01 Office"].y), (3.0, 3.0))
        self.assertEqual((said["Hall upper"].layer, said["Hall upper"].height), ("TEXT", 0.3))
        self.assertIn("2.07", said)
        self.assertTrue(any(t.words.startswith("3") for t in found.texts))  # of the dimension
        self.assertGreater(found.count, 1 + 3 + 3)
        self.assertIn("1 references to other drawings left out: survey", found.notes)
        self.assertTrue(any("1 ray" in n for n in found.notes), found.notes)

    def test_a_binary_drawing(self):
        import ezdxf

        doc = ezdxf.new("R2000")
        doc.modelspace().add_line((0, 0), (3, 4))
        path = self.folder / "b.dxf"
        doc.saveas(path, fmt="bin")
        self.assertEqual(read_dxf(path).count, 1)


class AllRooms(Folder):
    """Every room of the example's ground floor from its drawing, with texts where an architect puts them."""

    def texts(self, apart: bool = True) -> list[Said]:
        made = []
        for room in station().rooms:
            if room.level_id == "G":
                x, y = (8.0, 6.8) if room.number == "0.08" else plane_middle(room)
                if apart:
                    made += [Said(x, y + 0.2, room.number), Said(x, y - 0.2, room.name)]
                    made += [Said(x, y - 0.6, f"{area_of(room.outline):.1f} m²"), Said(x, y - 0.9, "OKF +0.15")]
                else:
                    made.append(Said(x, y, f"{room.number} {room.name}"))
        return [*made, Said(100.0, 100.0, "Scale 1:100"), Said(100.0, 99.0, "North")]

    def test_numbers_names_and_outlines(self):
        lines = metres(read_dxf(DEMO / "ground-floor.dxf"))
        rooms = {r.number: r for r in station().rooms if r.level_id == "G"}
        for apart in (True, False):
            found, _notes = rooms_in(lines, self.texts(apart))
            self.assertEqual({f.number: f.name for f in found}, {n: r.name for n, r in rooms.items()})
            for f in found:  # within what fill gives room by room
                assert_allclose(area_of(f.outline), area_of(rooms[f.number].outline), rtol=0.07, err_msg=f.number)
            self.assertEqual([f.said_m2 is not None for f in found], [apart] * len(found))

    def test_they_are_taken_as_one_draft_and_share_their_walls(self):
        lines = metres(read_dxf(DEMO / "ground-floor.dxf"))
        found, notes = rooms_in(lines, self.texts())
        project = new_project()
        draft = check_draft(draft_of("plan.dxf", project.levels[0], found, notes, frozenset({"0.05"})))
        self.assertEqual(len(draft.rooms), len(found) - 1)
        self.assertTrue(any("0.05 Station office: the number is there already" in n.text for n in draft.notes))
        made = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(project)
        check_links(made)
        self.assertGreater(sum(not w.outside for w in made.walls), 12)

    def test_what_is_open_or_not_named_is_told(self):
        square = [(0, 0, 4, 0), (4, 0, 4, 3), (4, 3, 0, 3), (0, 3, 0, 0)]
        found, notes = rooms_in(square, [Said(1, 1, "Office"), Said(3, 2, "Printer room"), Said(30, 2, "Terrace")])
        self.assertEqual([f.name for f in found], ["Office"])
        said = " | ".join(n.text for n in notes)
        self.assertIn("Printer room: another text has that space", said)
        self.assertIn("Terrace: no space is enclosed there", said)
        self.assertRaisesRegex(InputError, "No text of the drawing", rooms_in, square, [Said(1, 1, "2.50")][:0])


class Fill(Folder):
    def test_the_space_between_the_walls_with_its_door_closed(self):
        lines = metres(read_dxf(write_dxf(self.folder / "a.dxf")))
        outline = enclosed(lines, (3.0, 3.0))
        assert_allclose(area_of(outline), 20.0, rtol=1e-9)  # 4 x 5 m inside the walls
        project = FillRoom("L0", (3.0, 3.0), tuple(lines)).apply(new_project())
        project = FillRoom("L0", (6.0, 3.0), tuple(lines)).apply(project)
        shared = [w for w in project.walls if not w.outside]
        self.assertEqual(len(shared), 1)
        # The wall between the two spaces is drawn 0.2 m thick: both rooms reach to its middle, at x 4.1 m.
        assert_allclose((shared[0].length_m, shared[0].start[0], shared[0].end[0]), (5.0, 4.1, 4.1), rtol=1e-9)
        assert_allclose([area_of(r.outline) for r in project.rooms], [4.1 * 5, 4.1 * 5], rtol=1e-9)

    def test_every_room_of_the_examples_ground_floor_is_found_in_its_drawing(self):
        lines, project = metres(read_dxf(DEMO / "ground-floor.dxf")), new_project()
        for room in station().rooms:
            if room.level_id != "G":
                continue
            # the middle of the corridor's corners lies in the WC
            at = (8.0, 6.8) if room.number == "0.08" else plane_middle(room)
            project = FillRoom("L0", at, tuple(lines)).apply(project)
            # 3.5 %: where nothing is drawn beyond a gate its wall has no thickness. The corridor's niche of 1.8 m is
            # closed like a door, which takes 6 % of it.
            assert_allclose(
                area_of(project.rooms[-1].outline),
                area_of(room.outline),
                rtol=0.07 if room.number == "0.08" else 0.035,
                err_msg=room.number,
            )
        self.assertGreater(sum(not w.outside for w in project.walls), 12)  # neighbours share their walls

    def test_a_closed_space_is_exact(self):
        square = [(0, 0, 4, 0), (4, 0, 4, 3), (4, 3, 0, 3), (0, 3, 0, 0)]
        self.assertEqual(set(enclosed(square, (1, 1))), {(0, 0), (4, 0), (4, 3), (0, 3)})

    def test_an_open_place_is_refused(self):
        self.assertRaisesRegex(InputError, "do not enclose", enclosed, [(0, 0, 4, 0), (4, 0, 4, 3)], (1, 1))
        self.assertRaisesRegex(InputError, "no lines", enclosed, [(500, 0, 504, 0)], (1, 1))


class Pictures(Folder):
    def picture(self, size=(300, 200), mode="RGB", name="a.png"):
        from PIL import Image

        path = self.folder / name
        Image.new(mode, size, 128 if mode in ("L", "P") else (200, 100, 50, 120)[: len(mode)]).save(path)
        return path

    def test_png_and_jpeg_of_any_mode(self):
        for mode, name in (("RGB", "a.png"), ("RGBA", "b.png"), ("L", "c.png"), ("P", "d.png"), ("RGB", "e.jpg")):
            found = read_picture(self.picture(mode=mode, name=name))
            self.assertEqual((found.width, found.height, found.png[:4]), (300, 200, b"\x89PNG"))

    def test_a_picture_stands_as_its_own_mark_says(self):
        from PIL import Image

        image = Image.new("RGB", (300, 200), "white")
        image.paste("black", (0, 0, 100, 100))  # the upper left corner as the camera held it
        mark = Image.Exif()
        mark[ORIENTATION] = 6  # to be turned by a quarter clockwise
        path = self.folder / "turned.jpg"
        image.save(path, exif=mark, quality=95)
        found = read_picture(path)
        self.assertEqual((found.width, found.height), (200, 300))
        self.assertIn("turned", found.notes[0])
        with Image.open(io.BytesIO(found.png)) as upright:
            self.assertLess(upright.convert("L").getpixel((150, 50)), 30)
            self.assertGreater(upright.convert("L").getpixel((50, 250)), 225)

    def test_large_pictures_are_shrunk_and_say_so(self):
        found = read_picture(self.picture((6000, 300), "L"))
        self.assertEqual(found.width, 4096)
        self.assertIn("6000 x 300", found.notes[0])

    def test_pictures_that_lie_or_are_cut_off_are_refused(self):
        path = self.picture()
        data = bytearray(path.read_bytes())
        data[16:24] = (60_000).to_bytes(4, "big") * 2  # the header promises 3.6 gigapixels
        path.write_bytes(data)
        self.assertRaisesRegex(FileError, "million pixels|damaged|cut off", read_picture, path)
        whole = self.picture(name="w.png").read_bytes()
        path.write_bytes(whole[: len(whole) // 2])
        self.assertRaisesRegex(FileError, "cut off", read_picture, path)
        path.write_bytes(b"GIF89a" + b"\x00" * 50)
        self.assertRaisesRegex(FileError, "no picture", read_picture, path)

    def test_a_pdf_page_at_a_scale_of_one_to_a_hundred(self):
        from reportlab.pdfgen import canvas

        path = self.folder / "a.pdf"
        page = canvas.Canvas(str(path), pagesize=(595, 842))
        page.line(10, 10, 500, 500)
        page.showPage()
        page.save()
        found = read_page(path, 0)
        assert_allclose(found.height * found.pixel_m, 842 / 72 * 0.0254 * 100, rtol=1e-3)  # 29.7 m
        self.assertRaisesRegex(FileError, "has 1 pages, not 2", read_page, path, 1)
        path.write_bytes(b"%PDF-1.4 nothing")
        self.assertRaisesRegex(FileError, "damaged or locked", read_page, path, 0)
        path.write_bytes(b"nothing")
        self.assertRaisesRegex(FileError, "not a PDF", read_page, path, 0)


class Placing(unittest.TestCase):
    def project(self):
        return AddUnderlay(
            Underlay(id="", name="plan.dxf", level_id="L0", kind="lines", content="c", scale=1.0, x_m=2.0)
        ).apply(new_project())

    def test_two_points_scale_about_the_first_and_level_the_line(self):
        after = ScaleUnderlay("u1", (4.0, 0.0), (6.0, 2.0), 8**0.5 * 3, level=True).apply(self.project())
        under = after.underlays[0]
        assert_allclose((under.scale, under.turn_deg), (3.0, -45.0))

        def place(u, p):
            from math import cos, radians, sin

            c, s = cos(radians(u.turn_deg)), sin(radians(u.turn_deg))
            return u.x_m + u.scale * (p[0] * c - p[1] * s), u.y_m + u.scale * (p[0] * s + p[1] * c)

        # The drawing's point (2, 0) lay at (4, 0) and stays; (4, 2) lay at (6, 2) and now lies 3 x 2.83 m along the x
        # axis.
        assert_allclose(place(under, (2.0, 0.0)), (4.0, 0.0), atol=1e-5)
        assert_allclose(place(under, (4.0, 2.0)), (4.0 + 8**0.5 * 3, 0.0), atol=1e-5)

    def test_layers_hide_and_the_underlay_goes(self):
        project = SetUnderlay("u1", "hidden_layers", ("GRID",)).apply(self.project())
        self.assertEqual(find(project.underlays, "u1").hidden_layers, ("GRID",))
        self.assertEqual(RemoveUnderlay("u1").apply(project).underlays, ())
        self.assertRaisesRegex(
            InputError, "Two different points", ScaleUnderlay("u1", (0, 0), (0, 0), 1.0).apply, project
        )
        self.assertRaisesRegex(InputError, "no field", SetUnderlay("u1", "content", "x").apply, project)
        self.assertRaisesRegex(InputError, "Scale must lie", structs.replace, project.underlays[0], scale=0.0)


if __name__ == "__main__":
    unittest.main()
