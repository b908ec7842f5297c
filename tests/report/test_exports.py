"""Files of a hand-over, each opened again by a reader that had no part in writing it."""

import importlib.util
import io
import itertools
import re
import tempfile
import unittest
import zipfile
from dataclasses import replace
from functools import lru_cache
from pathlib import Path

import ifcopenshell
from lxml import etree
from openpyxl import load_workbook
from pypdfium2 import PdfDocument
from PySide6.QtCore import QByteArray
from PySide6.QtGui import QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.exchange.ids_write import ASKED
from garnetfin.exchange.ifc_types import PARTS
from garnetfin.exchange.reading import read
from garnetfin.project.edits.whole import SetName
from garnetfin.project.tree import Project
from garnetfin.report.blocks import Col, Heading, Number, Start, TableBlock
from garnetfin.report.document import Order, document
from garnetfin.report.handover import FORMATS, files, gbxml, ifc, plan_scale, write_files
from garnetfin.report.to_csv import harmless, tables_csv
from garnetfin.report.to_dxf import layer_name
from garnetfin.report.to_xlsx import number_format, to_xlsx
from garnetfin.ui.app import make_app
from tests.example import one_room, station, station_results

SHEET = {"m": "http://schemas.openxmlformats.org/spreadsheetml/2006/main"}


@lru_cache(maxsize=1)
def handed_over() -> dict[str, bytes]:
    return files(Order(station_results()), FORMATS)


def of(ending: str) -> bytes:
    return next(data for name, data in handed_over().items() if name.endswith(ending))


class Names(unittest.TestCase):
    def test_every_format_makes_its_files(self):
        names = [n for n in handed_over() if "/" not in n]
        self.assertEqual(
            sorted(Path(n).suffix for n in names),
            [".bcf", ".dxf", ".dxf", ".ids", ".ifc", ".pdf", ".svg", ".svg", ".xlsx", ".xml"],
        )
        self.assertTrue(all(n.startswith("tern-point-field-station") for n in names))

    def test_files_are_whole_or_not_there(self):
        with tempfile.TemporaryDirectory() as folder:
            paths = write_files({"a.txt": b"1", "b/c.txt": b"2"}, Path(folder))
            self.assertEqual([p.read_bytes() for p in paths], [b"1", b"2"])
            single = write_files({"a.txt": b"3"}, Path(folder) / "other.txt")
            self.assertEqual(single[0].read_bytes(), b"3")
            self.assertEqual(sorted(p.name for p in Path(folder).iterdir()), ["a.txt", "b", "other.txt"])


class Workbook(unittest.TestCase):
    """Read as what it is, a ZIP of XML."""

    @classmethod
    def setUpClass(cls):
        cls.archive = zipfile.ZipFile(io.BytesIO(of(".xlsx")))
        book = etree.fromstring(cls.archive.read("xl/workbook.xml"))
        cls.names = [s.get("name") for s in book.find("m:sheets", SHEET)]

    def rows(self, name: str) -> list[dict[str, tuple[str, str]]]:
        """Cells by column: (kind, text)."""
        sheet = etree.fromstring(self.archive.read(f"xl/worksheets/sheet{self.names.index(name) + 1}.xml"))
        found = []
        for row in sheet.find("m:sheetData", SHEET):
            cells = {}
            for c in row:
                formula, value = c.find("m:f", SHEET), c.find("m:v", SHEET)
                kind = "formula" if formula is not None else c.get("t", "n")
                text = (
                    "".join(t.text or "" for t in c.iter("{{{}}}t".format(SHEET["m"])))
                    if kind == "inlineStr"
                    else value.text
                    if value is not None
                    else ""
                )
                cells[re.sub(r"\d", "", c.get("r"))] = (kind, formula.text if formula is not None else text)
            found.append(cells)
        return found

    def test_one_sheet_a_paper(self):
        self.assertEqual(
            self.names[:4], ["Cover and contents", "Basis of design", "Loads of the building", "Room load sheets"]
        )
        self.assertIn("Balancing sheet", self.names)

    def test_loads_are_numbers_with_all_their_digits_and_their_sum_a_formula(self):
        rows = self.rows("Loads of the building")
        head = next(i for i, r in enumerate(rows) if r.get("A", ("", ""))[1] == "No.")
        for line, room in zip(rows[head + 1 :], station().rooms):
            self.assertEqual(line["A"][1], room.number)
            if room.system_id:
                self.assertEqual(line["D"][0], "n")
                self.assertAlmostEqual(float(line["D"][1]), station_results().room(room.id).peak_w, places=6)
        total = rows[head + 1 + len(station().rooms)]
        self.assertEqual(total["D"][0], "formula")
        self.assertRegex(total["D"][1], r"^SUM\(D\d+:D\d+\)$")
        first, last = map(int, re.findall(r"\d+", total["D"][1]))
        self.assertEqual(last - first + 1, len(station().rooms))

    def test_sums_carry_what_they_come_to_for_readers_that_do_not_compute(self):
        book = load_workbook(io.BytesIO(of(".xlsx")), data_only=True)
        sheet = book["Loads of the building"]
        heads = {c.value: c.column for row in sheet.iter_rows() for c in row if isinstance(c.value, str)}
        first = next(r for r in range(1, 60) if sheet.cell(r, 1).value == "No.") + 1
        last = first + len(station().rooms)
        total = sum(v for r in range(first, last) if isinstance(v := sheet.cell(r, 4).value, (int, float)))
        self.assertIn("No.", heads)
        # the printed figures are whole digits of the stored ones, which are added here
        self.assertAlmostEqual(sheet.cell(last, 4).value, total, delta=1e-6 * total)

    def test_sheets_keep_their_heads_and_print_across(self):
        book = load_workbook(io.BytesIO(of(".xlsx")))
        for sheet in book:
            self.assertEqual(sheet.page_setup.orientation, "landscape", sheet.title)
            self.assertTrue(sheet.print_area, sheet.title)
            self.assertTrue(sheet.freeze_panes, sheet.title)
        blocks = [Start("a", "One"), TableBlock((Col("Name", left=True),), (("x",), ("y",)))]
        sheet = load_workbook(io.BytesIO(to_xlsx(blocks, "x")))["One"]
        self.assertEqual((sheet.freeze_panes, sheet.print_title_rows), ("A4", "$3:$3"))

    def test_empty_cells_stay_empty(self):
        self.assertEqual([harmless(c) for c in ("", "=1", "-", "-5", "name")], ["", "'=1", "'-", "-5", "name"])
        for name, data in handed_over().items():
            if name.endswith(".csv"):
                self.assertNotIn(",',", data.decode("utf-8-sig"), name)

    def test_words_are_never_formulas(self):
        blocks = [
            Start("findings", "x"),
            TableBlock((Col("Name", left=True),), (("=1+1",), ("@x",), (Number("7.50", 7.5),))),
        ]
        archive = zipfile.ZipFile(io.BytesIO(to_xlsx(blocks, "x")))
        sheet = archive.read("xl/worksheets/sheet1.xml").decode()
        self.assertNotIn("<f>", sheet)
        self.assertIn("7.5", sheet)

    def test_formats_of_numbers_follow_the_print(self):
        self.assertEqual(number_format(Number("1\u202f234.5", 1234.5)), "#,##0.0")
        self.assertEqual(number_format(Number("12", 12.2)), "0")
        self.assertEqual(number_format(Number("27.9 kW", 27.91, "kW")), "0.0")


class Pages(unittest.TestCase):
    def test_no_id_of_a_room_is_printed_and_the_file_says_what_it_is(self):
        document = PdfDocument(of(".pdf"))
        ids = {r.id for r in station().rooms}
        for i in range(len(document)):
            words = set(re.findall(r"\w+", document[i].get_textpage().get_text_range()))
            self.assertEqual(words & ids, set(), f"page {i + 1}")
        told = document.get_metadata_dict()
        self.assertEqual(told["Title"], "Tern Point Field Station")
        self.assertIn("issue", told["Subject"])
        self.assertTrue(told["Author"])
        document.close()


class Tables(unittest.TestCase):
    def test_every_table_is_a_file_named_by_its_place(self):
        found = tables_csv(document(Order(station_results())))
        names = set(found)
        self.assertEqual(len(names), sum(isinstance(b, TableBlock) for b in document(Order(station_results()))))
        self.assertIn("rooms-0.01-reading-room-causes.csv", names)
        lines = found["rooms-0.01-reading-room-causes.csv"].splitlines()
        self.assertEqual(lines[0], "Cause,Cooling [W],Heating [W]")
        self.assertAlmostEqual(float(lines[-1].split(",")[1]), station_results().room("r001").peak_w, places=4)

    def test_names_stay_apart(self):
        table = TableBlock((Col("A"),), (("1",),))
        found = tables_csv([Start("air", "Air"), Heading("X", 2), table, table, Heading("Y", 3), table])
        self.assertEqual(list(found), ["air-x.csv", "air-x-2.csv", "air-x-y.csv"])


class Drawings(unittest.TestCase):
    def test_svg_is_to_scale_and_has_a_group_a_layer(self):
        for name, data in handed_over().items():
            if name.endswith(".svg"):
                root = etree.fromstring(data)
                groups = [g.get("id") for g in root.findall("{*}g")]
                self.assertIn("AHU-North-supply-duct", groups)
                self.assertIn("building-walls", groups)
                width = float(root.get("width").removesuffix("mm"))
                xs = [
                    p[0] for r in station().rooms if r.level_id == ("G" if "ground" in name else "U") for p in r.outline
                ]
                self.assertAlmostEqual(width, (max(xs) - min(xs) + 1.0) * 10, places=2)  # 0.5 m around, at 1:100
                self.assertEqual(root.get("viewBox").split()[2], f"{width:.3f}")
        make_app()  # words need its fonts
        renderer = QSvgRenderer(QByteArray(of("ground.svg")))
        self.assertTrue(renderer.isValid())
        image = QImage(400, 200, QImage.Format.Format_RGB32)
        image.fill(0xFFFFFFFF)
        painter = QPainter(image)
        renderer.render(painter)
        painter.end()
        self.assertGreater(len({image.pixel(x, y) for x in range(0, 400, 5) for y in range(0, 200, 5)}), 4)

    def tags(self) -> list[tuple[int, str]]:
        """A DXF is pairs of lines, a code and a value; read so, without a library."""
        lines = of("ground.dxf").decode().split("\n")
        return [(int(a), b.strip()) for a, b in zip(lines[::2], lines[1::2]) if a.strip()]

    def test_dxf_has_layers_by_system_and_true_measures(self):
        tags = self.tags()
        layers = {b for (a, b), (c, _) in itertools.pairwise(tags) if a == 8}
        self.assertLessEqual(
            {"AHU North supply duct", "AHU North supply terminals", "AHU North supply index run", "building walls"},
            layers,
        )
        at = next(i for i, t in enumerate(tags) if t == (9, "$INSUNITS"))
        self.assertEqual(tags[at + 1], (70, "4"))  # millimetres
        xs = [float(b) for a, b in tags if a == 10]
        room = [p[0] * 1000 for r in station().rooms if r.level_id == "G" for p in r.outline]
        self.assertTrue(any(abs(x - max(room)) < 1.0 for x in xs) and any(abs(x - min(room)) < 1.0 for x in xs))

    def test_dxf_comes_back_as_an_underlay_without_complaint(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "ground.dxf"
            path.write_bytes(of("ground.dxf"))
            answer = read(path)
            self.assertIn("AHU North supply duct", {layer.name for layer in answer.lines.layers})
            import ezdxf

            self.assertFalse(ezdxf.readfile(path).audit().has_errors)

    def test_dxf_keeps_symbols_as_blocks_weights_by_layer_and_letters_that_show_every_sign(self):
        import ezdxf

        drawing = ezdxf.read(io.StringIO(of("ground.dxf").decode()))
        space = drawing.modelspace()
        ground = {p.id for p in station().duct_points if p.level_id == "G"}
        wanted = {
            (round(p.x_m * 1000, 3), round(p.y_m * 1000, 3))
            for t in station().terminals
            for p in station().duct_points
            if p.id == t.point_id and p.id in ground
        }
        put = {(round(i.dxf.insert.x, 3), round(i.dxf.insert.y, 3)) for i in space.query("INSERT")}
        self.assertEqual(put, wanted)
        block = drawing.blocks["terminal supply"]
        self.assertEqual((len(block), {e.dxf.layer for e in block}), (3, {"0"}))
        xs = [x for e in block for x, *_ in e.get_points()]
        self.assertAlmostEqual(min(xs), -max(xs))
        duct = drawing.layers.get("AHU North supply duct")
        self.assertEqual(duct.dxf.lineweight, 35)
        self.assertGreater(sum(not e.dxf.hasattr("lineweight") for e in space.query("LWPOLYLINE")), len(put))
        words = [t for t in space.query("TEXT") if "×" in t.dxf.text or "ø" in t.dxf.text]
        self.assertTrue(words)
        self.assertEqual({drawing.styles.get(t.dxf.style).dxf.font for t in words}, {"arial.ttf"})

    def test_names_of_layers_are_made_fit(self):
        self.assertEqual(layer_name("A/B: <x>"), "A B   x")
        self.assertEqual(layer_name(""), "drawing")

    def test_drawings_carry_words_at_the_scale_of_the_plans(self):
        self.assertEqual(plan_scale(Order(station_results())), 100)
        heights = [float(b) for (a, b) in self.tags() if a == 40]
        self.assertTrue(any(abs(h - 4.6 * 0.72 * 25.4 / 72 * 100) < 1 for h in heights))


class Models(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.text = of(".ifc").decode()
        cls.model = ifcopenshell.file.from_string(cls.text)

    def test_ifc_is_valid_against_its_schema(self):
        import ifcopenshell.validate

        log = ifcopenshell.validate.json_logger()
        ifcopenshell.validate.validate(self.model, log)
        self.assertEqual(log.statements, [])

    def test_every_duct_terminal_and_room_is_there(self):
        """Counted in the text of the file, a line an entity."""

        def count(kind: str) -> int:
            return len(re.findall(rf"^#\d+={kind}\(", self.text, re.M))

        found = station_results().ducts["ahu-north"]
        self.assertEqual(count("IFCDUCTSEGMENT"), len(found.segments))
        self.assertEqual(count("IFCAIRTERMINAL"), 34)
        self.assertEqual(count("IFCSPACE"), 28)
        self.assertEqual(count("IFCBUILDINGSTOREY"), 2)
        self.assertEqual(count("IFCFAN"), sum(p.kind.endswith("_fan") for p in station().air_systems[0].parts))
        self.assertGreater(count("IFCDUCTFITTING"), 20)
        self.assertEqual(count("IFCDISTRIBUTIONSYSTEM"), 1)

    def test_from_the_unit_every_terminal_is_reached_port_to_port(self):
        joined: dict[str, set[str]] = {}
        owner = {
            p.GlobalId: rel.RelatingObject.GlobalId
            for rel in self.model.by_type("IfcRelNests")
            for p in rel.RelatedObjects
        }
        for rel in self.model.by_type("IfcRelConnectsPorts"):
            a, b = owner[rel.RelatingPort.GlobalId], owner[rel.RelatedPort.GlobalId]
            joined.setdefault(a, set()).add(b)
            self.assertEqual((rel.RelatingPort.FlowDirection, rel.RelatedPort.FlowDirection), ("SOURCE", "SINK"))
        unit = self.model.by_type("IfcUnitaryEquipment")[0].GlobalId
        seen, waiting = {unit}, [unit]
        while waiting:
            for far in joined.get(waiting.pop(), ()):
                if far not in seen:
                    seen.add(far)
                    waiting.append(far)
        self.assertLessEqual({t.GlobalId for t in self.model.by_type("IfcAirTerminal")}, seen)
        self.assertLessEqual({t.GlobalId for t in self.model.by_type("IfcDuctSegment")}, seen)
        members = {o.GlobalId for rel in self.model.by_type("IfcRelAssignsToGroup") for o in rel.RelatedObjects}
        self.assertLessEqual({t.GlobalId for t in self.model.by_type("IfcDuctSegment")}, members)

    def test_every_port_is_joined_once_and_one_gives_what_the_other_takes(self):
        joined = [p for rel in self.model.by_type("IfcRelConnectsPorts") for p in (rel.RelatingPort, rel.RelatedPort)]
        self.assertEqual(len(joined), len({p.id() for p in joined}))
        self.assertEqual({p.id() for p in joined}, {p.id() for p in self.model.by_type("IfcDistributionPort")})

    def test_ducts_have_a_type_with_their_nominal_size_and_a_material(self):
        import ifcopenshell.util.element as element

        segments = station_results().ducts["ahu-north"].segments
        for duct in self.model.by_type("IfcDuctSegment"):
            common, section = element.get_psets(duct)["Pset_DuctSegmentTypeCommon"], segments[duct.Tag].section
            self.assertAlmostEqual(common["NominalDiameterOrWidth"], section.width_m)
            self.assertEqual(common.get("NominalHeight"), None if section.shape == "round" else section.height_m)
            self.assertEqual(element.get_material(duct).Name, segments[duct.Tag].make.material)
        for kind in ("IfcDuctFitting", "IfcAirTerminal", "IfcDamper", "IfcFan", "IfcCoil", "IfcUnitaryEquipment"):
            for part in self.model.by_type(kind):
                self.assertIsNotNone(element.get_type(part), f"{kind} {part.Name}")

    def test_terminals_and_fans_carry_their_flow_as_the_schema_measures_it(self):
        import ifcopenshell.util.element as element

        found = {t.terminal_id: t for t in station_results().ducts["ahu-north"].terminals}
        for terminal in self.model.by_type("IfcAirTerminal"):
            air = element.get_psets(terminal)["Pset_AirTerminalOccurrence"]
            self.assertAlmostEqual(air["AirFlowRate"], found[terminal.Tag].flow_m3s)
        fan = next(f for f in self.model.by_type("IfcFan") if "Pset_FanTypeCommon" in element.get_psets(f))
        duty, point = element.get_psets(fan)["Pset_FanTypeCommon"], station_results().fans["ahu-north"].point
        self.assertAlmostEqual(duty["NominalAirFlowRate"], point.flow_m3s)
        self.assertAlmostEqual(duty["NominalTotalPressure"], point.pressure_pa)
        kinds = {
            p.NominalValue.is_a()
            for s in self.model.by_type("IfcPropertySingleValue")
            for p in (s,)
            if s.Name in ("Flow", "AirFlowRate", "NominalAirFlowRate")
        }
        self.assertEqual(kinds, {"IfcVolumetricFlowRateMeasure"})

    def test_every_part_of_the_unit_is_in_it_and_in_the_system(self):
        system = station().air_systems[0]
        (unit,) = self.model.by_type("IfcUnitaryEquipment")
        inside = [p for rel in unit.IsDecomposedBy for p in rel.RelatedObjects]
        self.assertEqual([p.Tag.split("/")[-1] for p in inside], [p.id for p in system.parts if p.kind in PARTS])
        members = {o.id() for rel in self.model.by_type("IfcRelAssignsToGroup") for o in rel.RelatedObjects}
        self.assertLessEqual({unit.id(), *(p.id() for p in inside)}, members)

    def test_the_file_holds_what_the_specification_beside_it_asks_for(self):
        """Read and checked by a kept library, which validates the specification against the public schema first."""
        from ifctester import ids

        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.ids"
            path.write_bytes(of(".ids"))
            asked = ids.open(str(path), validate=True)
        asked.validate(self.model)
        for one in asked.specifications:
            self.assertTrue(one.applicable_entities, one.name)
            self.assertTrue(one.status, f"{one.name}: {[str(r) for r in one.requirements if not r.status]}")
        # it tells a file in which a duct lost its flow and a terminal its system
        bad = ifcopenshell.file.from_string(self.text)
        for held in bad.by_type("IfcPropertySet"):
            if held.Name == "Garnetfin_Duct":
                held.HasProperties = [p for p in held.HasProperties if p.Name != "Flow"]
        asked.validate(bad)
        self.assertEqual([s.name for s in asked.specifications if not s.status], [ASKED[3].name])

    def test_bodies_lie_where_the_ducts_are(self):
        """Made into triangles by the geometry kernel: the box of each straight duct is that of the drawn one less its
        fittings.
        """
        import ifcopenshell.geom
        import numpy as np

        settings = ifcopenshell.geom.settings()
        settings.set("use-world-coords", True)
        project, found = station(), station_results().ducts["ahu-north"]
        points = {p.id: np.array((p.x_m, p.y_m, p.z_m)) for p in project.duct_points}
        segments = {s.id: s for s in project.segments}
        checked = 0
        for duct in list(self.model.by_type("IfcDuctSegment"))[::6]:
            shape = ifcopenshell.geom.create_shape(settings, duct)
            verts = np.array(shape.geometry.verts).reshape(-1, 3)
            a, b = points[segments[duct.Tag].a], points[segments[duct.Tag].b]
            section = found.segments[duct.Tag].section
            low, high = np.minimum(a, b), np.maximum(a, b)
            reach = max(section.width_m, section.height_m) / 2 + 0.01
            self.assertTrue(
                (verts.min(axis=0) > low - reach).all() and (verts.max(axis=0) < high + reach).all(), duct.Tag
            )
            flat = np.abs(b - a)[2] < 1e-9
            if flat:  # its height stands upright: section and two sheets
                self.assertAlmostEqual(np.ptp(verts[:, 2]), section.height_m, delta=0.005)
            checked += 1
        self.assertGreater(checked, 8)

    def test_figures_are_in_property_sets(self):
        import ifcopenshell.util.element

        results = station_results()
        duct = next(d for d in self.model.by_type("IfcDuctSegment") if d.Tag == "s1")
        self.assertAlmostEqual(
            ifcopenshell.util.element.get_psets(duct)["Garnetfin_Duct"]["Flow"],
            results.ducts["ahu-north"].segments["s1"].flow_m3s,
        )
        room = next(s for s in self.model.by_type("IfcSpace") if s.Name == "0.01")
        self.assertAlmostEqual(
            ifcopenshell.util.element.get_psets(room)["Pset_SpaceThermalDesign"]["TotalSensibleHeatGain"],
            results.room("r001").peak_w,
        )

    def test_parts_keep_their_ids_from_file_to_file(self):
        import ifcopenshell

        renamed = replace(station_results(), project=SetName("Tern Point, phase 2").apply(station()))
        again = ifcopenshell.file.from_string(ifc(Order(renamed)).decode())
        self.assertEqual(again.by_type("IfcProject")[0].Name, "Tern Point, phase 2")
        self.assertEqual(
            {e.GlobalId for e in again.by_type("IfcRoot")}, {e.GlobalId for e in self.model.by_type("IfcRoot")}
        )
        self.assertEqual(len({e.GlobalId for e in self.model.by_type("IfcRoot")}), len(self.model.by_type("IfcRoot")))

    def test_the_building_of_the_file_comes_back(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "x.ifc"
            path.write_bytes(of(".ifc"))
            draft = read(path).draft
        self.assertEqual(sorted(r.number for r in draft.rooms), sorted(r.number for r in station().rooms))

    def test_a_project_without_ducts_is_a_building(self):
        import ifcopenshell
        import ifcopenshell.validate

        for project in (Project(name="Empty"), one_room(system_id="")):
            model = ifcopenshell.file.from_string(ifc(Order(run(project, Memo()))).decode())
            log = ifcopenshell.validate.json_logger()
            ifcopenshell.validate.validate(model, log)
            self.assertEqual([s for s in log.statements if "Decomposes" not in str(s)], [])
            self.assertEqual(len(model.by_type("IfcSpace")), len(project.rooms))

    def test_gbxml_carries_the_loads(self):
        root = etree.fromstring(gbxml(Order(station_results())))
        ns = {"g": "http://www.gbxml.org/schema"}
        results = root.findall("g:Results", ns)
        cooling = {
            r.find("g:ObjectId", ns).text: [float(v.text) for v in r.findall("g:Value", ns)]
            for r in results
            if r.get("resultsType") == "CoolingLoad"
        }
        self.assertEqual(len(cooling), sum(bool(r.system_id) for r in station().rooms))
        found = station_results().room("r001")
        self.assertEqual(len(cooling["room-r001"]), 24)
        self.assertAlmostEqual(max(cooling["room-r001"]), found.peak_w, places=3)
        spaces = {s.get("id") for s in root.iter("{http://www.gbxml.org/schema}Space")}
        self.assertLessEqual(set(cooling), spaces)

    def test_gbxml_with_loads_is_valid(self):
        # holds the public schema files
        folder = Path(next(iter(importlib.util.find_spec("xgbxml").submodule_search_locations)))
        schema = folder / "schemas" / "GreenBuildingXML_Ver6.01.xsd"
        etree.XMLSchema(etree.parse(str(schema))).assertValid(etree.fromstring(gbxml(Order(station_results()))))
