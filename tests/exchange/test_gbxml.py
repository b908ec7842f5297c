"""gbXML out and in: valid against the public schema, and a round trip that keeps what counts."""

import importlib.util
import tempfile
import unittest
from pathlib import Path

from msgspec import structs
from numpy.testing import assert_allclose

from garnetfin.core.errors import FileError, InputError
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.exchange.gbxml_read import read_gbxml
from garnetfin.exchange.gbxml_write import NAMESPACE, write_gbxml
from garnetfin.project.draft import answered, check_draft
from garnetfin.project.edits.groups import SetNorth, SetRoomLevel
from garnetfin.project.edits.imports import TakeDraft, differences
from garnetfin.project.edits.marks import AddMark
from garnetfin.project.edits.outlines import MoveRooms, RemoveRooms
from garnetfin.project.edits.rooms import SetRoomText, SetRoomValue
from garnetfin.project.lookup import walls_of
from garnetfin.project.new import new_project
from garnetfin.project.spaces import NO_ROOM, SHAFT
from garnetfin.project.tree import check_links
from garnetfin.project.values import Imported, Pinned, Rule
from tests.example import station, station_results
from tests.exchange.samples import tower


def schema():
    from lxml import etree

    # holds the public schema files
    folder = Path(next(iter(importlib.util.find_spec("xgbxml").submodule_search_locations)))
    return etree.XMLSchema(etree.parse(str(folder / "schemas" / "GreenBuildingXML_Ver6.01.xsd")))


class Files(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def draft(self, data: bytes, name: str = "building.xml"):
        path = self.folder / name
        path.write_bytes(data)
        return check_draft(read_gbxml(path))

    def taken(self, data: bytes, into=None, name: str = "building.xml"):
        draft = self.draft(data, name)
        made = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(
            into or structs.replace(new_project(), site=station().site)
        )
        check_links(made)
        return made


class Written(Files):
    def test_it_is_valid_against_the_public_schema(self):
        from lxml import etree

        found = schema()
        for project in (station(), tower(2, 3), new_project()):
            self.assertTrue(found.validate(etree.fromstring(write_gbxml(project))), found.error_log)

    def test_surfaces_are_as_large_as_the_projects_walls_and_slabs(self):
        draft = self.draft(write_gbxml(station()))
        # 1e-6: coordinates are written with nine decimals
        assert_allclose(
            sum(w.length_m * w.height_m for w in draft.walls),
            sum(w.length_m * w.height_m for w in station().walls),
            rtol=1e-6,
        )
        for kind in ("roof", "ground", "between", "exposed"):
            mine, theirs = (sum(s.area_m2 for s in p.slabs if s.kind == kind) for p in (station(), draft))
            assert_allclose(theirs, mine, rtol=1e-6, err_msg=kind)


class RoundTrip(Files):
    def test_areas_u_values_openings_and_adjacency_stay(self):
        back = self.taken(write_gbxml(station()))
        before, after = station_results(), run(back, Memo())
        by_number = {r.number: r for r in back.rooms}
        self.assertEqual(set(by_number), {r.number for r in station().rooms})
        for room in station().rooms:
            mine, theirs = before.room(room.id), after.room(by_number[room.number].id)
            assert_allclose(theirs.figures.area_m2.figure, mine.figures.area_m2.figure, rtol=1e-3)
            for to in ("outdoors", "ground", "inside"):
                for what in (lambda f: f.area_m2, lambda f: f.area_m2 * f.u_w_m2k):
                    a, b = (sum(what(f) for f in r.faces if f.to == to) for r in (mine, theirs))
                    assert_allclose(b, a, rtol=1e-3, atol=1e-9, err_msg=f"{room.number} {to}")
            self.assertEqual(
                sorted((f.kind, round(f.area_m2, 4)) for f in theirs.faces if f.opening_id),
                sorted((f.kind, round(f.area_m2, 4)) for f in mine.faces if f.opening_id),
                room.number,
            )

    def test_the_same_rooms_are_neighbours(self):
        def pairs(project):
            number = {r.id: r.number for r in project.rooms}
            return {
                frozenset((number[w.room_a], number[w.room_b])) for w in project.walls if w.room_b not in NO_ROOM
            } | {frozenset((number[s.room_below], number[s.room_above])) for s in project.slabs if s.kind == "between"}

        self.assertEqual(pairs(self.taken(write_gbxml(station()))), pairs(station()))

    def test_the_loads_stay_within_a_percent(self):
        back = self.taken(write_gbxml(station()))
        before, after = station_results().blocks[""], run(back, Memo()).blocks[""]
        # Set-points pinned in the example are not part of a gbXML space, and reveals and overhangs have no place there.
        assert_allclose(after.peak_w, before.peak_w, rtol=0.08)

    def test_north_place_and_zones_go_along(self):
        turned = SetNorth(30.0).apply(station())
        back = self.taken(write_gbxml(turned))
        self.assertEqual({z.name for z in back.zones}, {z.name for z in station().zones})
        self.assertEqual((back.site.north_deg, back.site.latitude_deg), (30.0, station().site.latitude_deg))
        for room in back.rooms:
            original = next(r for r in turned.rooms if r.number == room.number)
            assert_allclose(
                *(
                    sorted(round(w.facing_deg % 360, 2) for w in walls_of(p.walls, r.id) if w.outside)
                    for p, r in ((back, room), (turned, original))
                )
            )
        # Reshaping derives bearings from the outline and the same north: they stay.
        moved = MoveRooms(tuple(r.id for r in back.rooms), 1.0, 0.0).apply(back)
        self.assertEqual({round(w.facing_deg) % 360 for w in moved.walls if w.outside}, {30, 120, 210, 300})


class Again(Files):
    def setUp(self):
        super().setUp()
        self.first = tower(1, 3)
        self.project = self.taken(write_gbxml(self.first))

    def changed(self, **change):
        room = structs.replace(self.first.rooms[0], **change)
        return self.draft(write_gbxml(structs.replace(self.first, rooms=(room, *self.first.rooms[1:]))))

    def test_an_unchanged_file_differs_nowhere(self):
        draft = self.draft(write_gbxml(self.first))
        self.assertEqual({d.kind for d in differences(self.project, draft)}, {"same"})
        again = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(self.project)
        self.assertEqual(len(again.rooms), len(self.project.rooms))
        self.assertEqual(sum(len(w.openings) for w in again.walls), sum(len(w.openings) for w in self.project.walls))

    def test_changes_are_listed_room_by_room_and_taken(self):
        draft = self.changed(name="Archive", ceiling_m=2.5)
        found = [d for d in differences(self.project, draft) if d.kind == "changed"]
        self.assertEqual(len(found), 1)
        self.assertEqual(found[0].lines, ("name Office 0 → Archive", "ceiling 3.00 → 2.50 m"))
        after = TakeDraft(draft, (found[0].key,)).apply(self.project)
        self.assertEqual((after.rooms[0].name, after.rooms[0].ceiling_m), ("Archive", 2.5))

    def test_what_was_pinned_or_edited_here_stays(self):
        mine = SetRoomValue((self.project.rooms[0].id,), "people", Pinned(value=9)).apply(self.project)
        mine = SetRoomText(mine.rooms[0].id, "name", "Tea kitchen").apply(mine)
        draft = self.changed(name="Archive", people=Imported(value=3.0))
        lines = next(d for d in differences(mine, draft) if d.room_id == mine.rooms[0].id).lines
        self.assertEqual(lines, ("name was edited here and stays", "people is pinned at 9 and stays; the file has 3"))
        after = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(mine)
        self.assertEqual((after.rooms[0].name, after.rooms[0].people), ("Tea kitchen", Pinned(value=9)))

    def test_a_figure_that_would_cross_what_is_pinned_stays_out_and_the_rest_comes(self):
        mine = SetRoomValue((self.project.rooms[0].id,), "heating_c", Pinned(value=24.0)).apply(self.project)
        draft = self.changed(name="Archive")
        cold = structs.replace(
            draft, rooms=(structs.replace(draft.rooms[0], cooling_c=Imported(value=22.0)), *draft.rooms[1:])
        )
        after = TakeDraft(cold, tuple(r.id for r in cold.rooms)).apply(mine).rooms[0]
        self.assertEqual(
            (after.name, after.heating_c, after.cooling_c), ("Archive", Pinned(value=24.0), mine.rooms[0].cooling_c)
        )

    def test_a_room_on_another_level_of_the_file_is_a_difference(self):
        first = tower(2, 1, 1)
        project = self.taken(write_gbxml(first), name="two.xml")
        moved = SetRoomLevel(("n2",), first.levels[0].id).apply(MoveRooms(("n2",), 10.0, 0.0).apply(first))
        draft = self.draft(write_gbxml(moved), "two.xml")
        found = next(d for d in differences(project, draft) if d.key == "room-n2")
        self.assertIn("level Level 1 → Level 0", found.lines)
        after = TakeDraft(draft, (found.key,)).apply(project)
        self.assertEqual(len({r.level_id for r in after.rooms}), 1)

    def test_windows_moved_here_stay_and_new_windows_of_the_file_come(self):
        from garnetfin.project.edits.openings import AddOpening
        from garnetfin.project.edits.rooms import SetOpening

        wall = next(w for w in self.first.walls if w.openings and w.room_a == "n1")
        bigger = self.draft(write_gbxml(SetOpening(wall.id, wall.openings[0].id, "width_m", 2.0).apply(self.first)))
        key = next(d.key for d in differences(self.project, bigger) if d.kind == "changed")
        taken = TakeDraft(bigger, (key,)).apply(self.project)
        self.assertIn(2.0, [round(o.width_m, 3) for w in taken.walls for o in w.openings])
        own = next(w for w in self.project.walls if w.openings and w.room_a == self.project.rooms[0].id)
        edited = AddOpening(own.id, "window", 0.4, 0.5).apply(self.project)
        self.assertIn(
            "walls or windows were edited here and stay",
            next(d for d in differences(edited, bigger) if d.key == key).lines,
        )
        kept = TakeDraft(bigger, (key,)).apply(edited)
        self.assertNotIn(2.0, [round(o.width_m, 3) for w in kept.walls for o in w.openings])

    def test_a_kept_room_that_left_the_file_stays_beside_its_neighbours(self):
        draft = self.draft(write_gbxml(RemoveRooms(("n6",)).apply(self.first)))
        kept = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(self.project)
        room = next(r for r in kept.rooms if r.number == "0.06")
        self.assertEqual(sum(w.room_b not in NO_ROOM for w in walls_of(kept.walls, room.id)), 2)
        lengths = [sum(w.length_m for w in p.walls if w.outside) for p in (kept, self.project)]
        assert_allclose(lengths[0], lengths[1])

    def test_rooms_that_left_the_file_are_named_and_go_only_when_asked(self):
        fewer = self.draft(write_gbxml(tower(1, 2)))
        gone = [d for d in differences(self.project, fewer) if d.kind == "gone"]
        self.assertEqual(len(gone), 2)
        kept = TakeDraft(fewer, tuple(r.id for r in fewer.rooms)).apply(self.project)
        self.assertEqual(len(kept.rooms), 6)
        left = TakeDraft(fewer, tuple(r.id for r in fewer.rooms), tuple(d.room_id for d in gone)).apply(self.project)
        self.assertEqual(len(left.rooms), 4)
        check_links(left)


class Foreign(Files):
    def test_feet_and_fahrenheit(self):
        data = write_gbxml(tower(1, 1, 1)).decode()
        feet = data.replace('lengthUnit="Meters"', 'lengthUnit="Feet"')
        draft = self.draft(feet.encode())
        xs = [p[0] for p in draft.rooms[0].outline]
        assert_allclose(max(xs) - min(xs), 4 * 0.3048, atol=1e-3)

    def test_a_space_without_a_floor_polygon_takes_it_from_its_surfaces(self):
        from lxml import etree

        root = etree.fromstring(write_gbxml(tower(1, 2, 1)))
        space = root.find(".//{*}Space")
        space.remove(space.find("{*}PlanarGeometry"))
        draft = self.draft(etree.tostring(root))
        self.assertEqual(len(draft.rooms), 2)
        self.assertEqual({len(r.outline) for r in draft.rooms}, {4})

    def test_without_surfaces_walls_follow_from_the_outlines(self):
        from lxml import etree

        root = etree.fromstring(write_gbxml(tower(1, 2, 1)))
        for surface in root.findall(".//{*}Surface"):
            surface.getparent().remove(surface)
        made = self.taken(etree.tostring(root))
        self.assertTrue(any(w.room_b not in NO_ROOM for w in made.walls))
        self.assertTrue(any(s.kind == "roof" for s in made.slabs))

    def refused(self, data: bytes, words: str):
        path = self.folder / "bad.xml"
        path.write_bytes(data)
        self.assertRaisesRegex(FileError, words, read_gbxml, path)

    def test_hostile_and_broken_files_are_refused_in_a_sentence(self):
        bomb = b'<?xml version="1.0"?><!DOCTYPE a [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><gbXML>&b;</gbXML>'
        self.refused(bomb, "document type with entities.*Remove the DOCTYPE")
        self.refused(b'<?xml version="1.0"?><!DOCTYPE a SYSTEM "file:///etc/passwd"><gbXML/>', "document type")
        self.refused(bomb.decode().encode("utf-16"), "document type|not well-formed")
        self.refused(b"<gbXML><Campus>", "not well-formed XML")
        self.refused(b"<html/>", "not gbXML")
        self.refused(b'<gbXML lengthUnit="Meters"><Campus/></gbXML>', "holds no spaces")
        self.refused(b"\x00\x01\x02", "not well-formed")
        self.refused(b"<a>" * 100_000, "not well-formed")

    def test_coordinates_that_are_no_figures_leave_their_part_out(self):
        data = write_gbxml(tower(1, 2, 1)).decode()
        first = data.index("<Coordinate>", data.index("<Surface"))
        end = data.index("</Coordinate>", first)
        draft = self.draft((data[:first] + "<Coordinate>NaN" + data[end:]).encode())
        self.assertTrue([n for n in draft.notes if n.kind == "left out"])
        space = data.index("<Coordinate>", data.index("<Space"))
        end = data.index("</Coordinate>", space)
        draft = self.draft((data[:space] + "<Coordinate>1e999" + data[end:]).encode())
        self.assertEqual(len(draft.rooms), 2)  # its floor still comes from the surfaces

    def test_a_space_that_is_a_shell_alone_gives_its_floor_and_height(self):
        from lxml import etree

        root = etree.fromstring(write_gbxml(tower(1, 1, 1)))
        for surface in root.findall(".//{*}Surface"):
            surface.getparent().remove(surface)
        space = root.find(".//{*}Space")
        for name in ("PlanarGeometry", "Volume"):
            space.remove(space.find(f"{{*}}{name}"))
        shell = etree.SubElement(
            etree.SubElement(space, f"{{{NAMESPACE}}}ShellGeometry"), f"{{{NAMESPACE}}}ClosedShell"
        )
        for z in (2.6, 0.0):
            loop = etree.SubElement(shell, f"{{{NAMESPACE}}}PolyLoop")
            for x, y in ((0, 0), (4, 0), (4, 5), (0, 5)):
                at = etree.SubElement(loop, f"{{{NAMESPACE}}}CartesianPoint")
                for value in (x, y, z):
                    etree.SubElement(at, f"{{{NAMESPACE}}}Coordinate").text = str(value)
        room = self.draft(etree.tostring(root)).rooms[0]
        self.assertEqual(set(room.outline), {(0, 0), (4, 0), (4, 5), (0, 5)})
        assert_allclose(room.ceiling_m, 2.6)

    def test_beside_a_space_that_cannot_be_used_it_is_not_outdoors(self):
        from lxml import etree

        root = etree.fromstring(write_gbxml(tower(1, 2, 1)))
        second = root.findall(".//{*}Space")[1]
        second.remove(second.find("{*}PlanarGeometry"))
        for surface in root.findall(".//{*}Surface"):
            refs = [x.get("spaceIdRef") for x in surface.findall("{*}AdjacentSpaceId")]
            if refs == [second.get("id")]:  # nothing is left that would give it a floor
                surface.getparent().remove(surface)
        draft = self.draft(etree.tostring(root))
        self.assertEqual(len(draft.rooms), 1)
        self.assertIn("a space without a usable outline", [n.text for n in draft.notes])
        self.assertEqual(sorted(w.room_b for w in draft.walls), ["", "", "", "inside"])

    def test_an_outline_that_crosses_itself_is_mended_and_said(self):
        from lxml import etree

        root = etree.fromstring(write_gbxml(tower(1, 1, 1)))
        loop = root.find(".//{*}Space//{*}PolyLoop")
        points = list(loop)
        loop.insert(1, points[2])
        draft = self.draft(etree.tostring(root))
        self.assertEqual(len(draft.rooms), 1)
        self.assertTrue([n for n in draft.notes if "crossed itself" in n.text])


HOUSE = """<gbXML xmlns="http://www.gbxml.org/schema" lengthUnit="Meters" areaUnit="SquareMeters"
 volumeUnit="CubicMeters" temperatureUnit="C"><Campus id="c">
<Location><Elevation>212</Elevation></Location><Building id="b">
<Space id="s1" zoneIdRef="z"><Name>1 Hall</Name><Area>{area}</Area><Volume>{volume}</Volume>
<PlanarGeometry><PolyLoop>{floor}</PolyLoop></PlanarGeometry></Space>{more}</Building>{surfaces}</Campus>
<Construction id="k"><Name>Wall</Name>{u}<LayerId layerIdRef="l"/></Construction>
<Layer id="l"><MaterialId materialIdRef="m1"/><MaterialId materialIdRef="m2"/></Layer>
<Material id="m1"><Name>Brick</Name><Thickness>0.24</Thickness><Conductivity unit="WPerMeterK">0.8</Conductivity>
<Density>1800</Density><SpecificHeat unit="JPerKgK">900</SpecificHeat></Material>
<Material id="m2"><Name>{name}</Name><Thickness>0.16</Thickness><Density>40</Density>
<SpecificHeat unit="JPerKgK">1030</SpecificHeat></Material>
<Zone id="z"><Name>Zone</Name><DesignHeatT unit="C">{heat}</DesignHeatT></Zone>
<WindowType id="w"><Name>Glass</Name><U-value unit="WPerSquareMeterK">{window}</U-value>
<SolarHeatGainCoeff>0.5</SolarHeatGainCoeff></WindowType></gbXML>"""


def loop(*points) -> str:
    return "".join(
        "<CartesianPoint>" + "".join(f"<Coordinate>{c}</Coordinate>" for c in p) + "</CartesianPoint>" for p in points
    )


FLOOR = loop((0, 0, 0), (6, 0, 0), (6, 5, 0), (0, 5, 0))
SOUTH = (
    '<Surface id="{id}" surfaceType="{kind}" constructionIdRef="k"><AdjacentSpaceId spaceIdRef="{space}"/>'
    "{geometry}{opening}</Surface>"
)
PLANE = "<PlanarGeometry><PolyLoop>" + loop((0, 0, 0), (6, 0, 0), (6, 0, 3), (0, 0, 3)) + "</PolyLoop></PlanarGeometry>"
WINDOW = (
    '<Opening id="o" openingType="FixedWindow" windowTypeIdRef="w"><PlanarGeometry><PolyLoop>'
    + loop((1, 0, 1), (3, 0, 1), (3, 0, 2), (1, 0, 2))
    + "</PolyLoop></PlanarGeometry></Opening>"
)


def surface(id="a", kind="ExteriorWall", space="s1", geometry=PLANE, opening="") -> str:
    return SOUTH.format(id=id, kind=kind, space=space, geometry=geometry, opening=opening)


class Ordinary(Files):
    """What ordinary files have and leave out: each figure told, asked about, or left out with its count."""

    def house(self, **changed) -> bytes:
        given = {
            **dict(area=30, volume=90, floor=FLOOR, more="", surfaces=surface(), u="", name="Mineral wool", heat=20),
            **dict(window=1.3),
            **changed,
        }
        return HOUSE.format(**given).encode()

    def resistance(self, draft) -> float:
        (wall,) = [b for b in draft.build_ups if b.id == "k"]
        return sum(
            x.thickness_m / x.conductivity_w_mk if x.conductivity_w_mk else x.resistance_m2k_w for x in wall.layers
        )

    def said(self, draft) -> str:
        return " | ".join(f"{n.text} ({n.where})" for n in draft.notes)

    def test_a_missing_conductivity_follows_from_the_u_value(self):
        draft = self.draft(self.house(u='<U-value unit="WPerSquareMeterK">0.2227</U-value>'))
        assert_allclose(1 / (self.resistance(draft) + 0.17), 0.2227, rtol=1e-6)
        self.assertEqual(draft.asked, ())
        self.assertIn("as U 0.22 asks for", self.said(draft))

    def test_it_is_asked_about_where_nothing_tells(self):
        draft = self.draft(self.house())
        (asked,) = draft.asked
        self.assertEqual((asked.name, asked.thickness_m, asked.places), ("Mineral wool", 0.16, (("k", 0),)))
        self.assertAlmostEqual(asked.suggestion, 0.04, delta=0.006)  # of the library, by the words of its name
        given = answered(draft, {"m2": 0.032})
        assert_allclose(self.resistance(given), 0.24 / 0.8 + 0.16 / 0.032)
        self.assertEqual(given.asked, ())
        self.assertRaises(InputError, answered, draft, {"m2": 0.0})
        strange = self.draft(self.house(name="Type 7b"))
        self.assertIsNone(strange.asked[0].suggestion)
        self.assertEqual(answered(strange, {}).asked, strange.asked)

    def test_what_the_inside_takes_up_of_the_sun_is_read(self):
        data = self.house().replace(
            b"<Name>Wall</Name>", b'<Name>Wall</Name><Absorptance type="IntSolar">0.4</Absorptance>'
        )
        (wall,) = [b for b in self.draft(data).build_ups if b.id == "k"]
        self.assertEqual(wall.inside_absorptance.value, 0.4)

    def test_surfaces_of_unknown_spaces_and_double_ids_are_counted(self):
        more = surface("b", space="gone") + surface("c", space="gone") + surface("a")
        draft = self.draft(self.house(surfaces=surface() + more))
        self.assertIn("2 surfaces border on spaces that are not in the file (b, c)", self.said(draft))
        self.assertIn("1 surfaces have an id that is there already (a)", self.said(draft))
        self.assertEqual(len(draft.walls), 1)
        twice = self.draft(self.house(more='<Space id="s1"><Name>Again</Name><Area>3</Area></Space>'))
        self.assertEqual([r.name for r in twice.rooms], ["Hall"])

    def test_declared_areas_are_told_against_those_drawn(self):
        self.assertNotIn("declares", self.said(self.draft(self.house())))
        draft = self.draft(self.house(area=36, volume=108))
        self.assertIn("declares 36.0 m², its outline has 30.0 m²", self.said(draft))
        feet = self.draft(self.house(area=322.9, volume=3400))
        self.assertIn("square feet under the name of square metres", self.said(feet))

    def test_a_steep_roof_stays_a_roof_and_a_rectangle_is_built(self):
        slope = loop((0, 0, 3), (6, 0, 3), (6, 2, 6.4), (0, 2, 6.4))  # 59.5 degrees
        roof = surface("r", "Roof", geometry=f"<PlanarGeometry><PolyLoop>{slope}</PolyLoop></PlanarGeometry>")
        draft = self.draft(self.house(surfaces=surface() + roof))
        (slab,) = draft.slabs
        self.assertEqual(slab.kind, "roof")
        assert_allclose((slab.area_m2, slab.tilt_deg), (12.0, 59.53), rtol=1e-3)
        box = (
            "<RectangularGeometry><Azimuth>180</Azimuth><CartesianPoint>"
            + "".join(f"<Coordinate>{c}</Coordinate>" for c in (0, 0, 0))
            + "</CartesianPoint><Tilt>90</Tilt><Height>3</Height><Width>6</Width></RectangularGeometry>"
        )
        plain = self.draft(self.house(surfaces=surface(geometry=box)))
        (wall,), (drawn,) = plain.walls, self.draft(self.house()).walls
        assert_allclose((wall.length_m, wall.height_m, wall.facing_deg), (6.0, 3.0, drawn.facing_deg), atol=1e-9)
        self.assertEqual({wall.start, wall.end}, {drawn.start, drawn.end})

    def test_set_points_outdoor_air_and_extract_of_a_room_survive_the_round_trip(self):
        project = tower(1, 2, 1)
        first = project.rooms[0]
        given = {"heating_c": 17.5, "cooling_c": 26.5, "outdoor_m3s": 0.0123, "extract_m3s": 0.02, "supply_m3s": 0.05}
        room = structs.replace(first, **{k: Pinned(value=v) for k, v in given.items()})
        project = structs.replace(project, rooms=(room, *project.rooms[1:]))
        draft = self.draft(write_gbxml(project))
        came = {r.number: r for r in draft.rooms}
        for field, value in given.items():
            self.assertEqual(getattr(came[room.number], field).value, value)
        self.assertEqual(came[project.rooms[1].number].heating_c, Rule())

    def test_shafts_and_walls_beside_them_survive_the_round_trip(self):
        project = tower(1, 2, 1, windows=False)
        level = project.levels[0].id
        x = max(p[0] for r in project.rooms for p in r.outline)
        y = max(p[1] for r in project.rooms for p in r.outline)
        made = AddMark("shaft", level, ((x, 0.0), (x + 1.0, 0.0), (x + 1.0, y), (x, y))).apply(project)
        beside = [w for w in made.walls if w.room_b == SHAFT]
        self.assertTrue(beside)
        came = self.taken(write_gbxml(made), new_project())
        (shaft,) = came.plan_marks
        self.assertEqual((shaft.kind, set(shaft.outline)), ("shaft", set(made.plan_marks[0].outline)))
        self.assertEqual(len(came.rooms), len(project.rooms))
        self.assertAlmostEqual(
            sum(w.length_m for w in came.walls if w.room_b == SHAFT), sum(w.length_m for w in beside), places=6
        )
        again = TakeDraft(d := self.draft(write_gbxml(made)), tuple(r.id for r in d.rooms)).apply(came)
        self.assertEqual(len(again.plan_marks), 1)

    def test_walls_against_earth_keep_their_depth(self):
        """A wall with 1.2 of its 3.4 m in the ground: the same loss after the round trip."""
        project = tower(1, 2, 1, windows=False)
        walls = tuple(structs.replace(w, buried_m=1.2) if w.outside else w for w in project.walls)
        project = structs.replace(project, walls=walls)
        draft = self.draft(write_gbxml(project))
        made = TakeDraft(draft, tuple(r.id for r in draft.rooms)).apply(new_project())
        deep = [w for w in made.walls if w.buried_m > 0]
        self.assertTrue(deep)
        for wall in deep:
            assert_allclose((wall.buried_m, wall.height_m), (1.2, 1.2), rtol=1e-6)
        site = structs.replace(made, site=project.site)
        before, after = (sum(r.heating_w for r in run(p, Memo()).rooms.values()) for p in (project, site))
        dry = structs.replace(project, walls=tuple(structs.replace(w, buried_m=0.0) for w in walls))
        unburied = sum(r.heating_w for r in run(dry, Memo()).rooms.values())
        assert_allclose(after, before, rtol=2e-3)
        self.assertGreater(unburied / before, 1.01)

    def test_height_above_the_sea_comes_along(self):
        made = self.taken(self.house())
        self.assertEqual(made.site.altitude_m, 212.0)

    def test_another_glass_and_set_point_are_listed_when_it_is_read_again(self):
        first = self.house(surfaces=surface(opening=WINDOW))
        made = self.taken(first)
        again = self.draft(self.house(surfaces=surface(opening=WINDOW), window=0.9, heat=22))
        (found,) = differences(made, again)
        self.assertIn("window U 1.30 → 0.90", found.lines)
        self.assertIn("zone Zone: heating 20 °C stays, the file has 22 °C", found.lines)
        same = self.draft(first)
        self.assertEqual([d.kind for d in differences(made, same)], ["same"])


if __name__ == "__main__":
    unittest.main()
