"""Findings for others as BCF: what stands in the file, and that it points at parts of the IFC file beside it."""

import io
import tempfile
import unittest
import zipfile
from datetime import UTC, datetime
from functools import lru_cache
from pathlib import Path

import ifcopenshell
import numpy as np
from lxml import etree
from numpy.testing import assert_allclose

from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.tree import Project
from garnetfin.report.document import Order
from garnetfin.report.handover import ifc
from garnetfin.report.to_bcf import COORDINATION, to_bcf
from tests.example import station, station_results

NOW = datetime(2026, 3, 1, 8, 30, tzinfo=UTC)


@lru_cache(maxsize=1)
def archive() -> zipfile.ZipFile:
    return zipfile.ZipFile(io.BytesIO(to_bcf(Order(station_results()), "own.ifc", NOW)))


def read(name: str):
    return etree.fromstring(archive().read(name))


def topics() -> list[tuple[str, etree._Element]]:
    return [(n.split("/")[0], read(n)) for n in archive().namelist() if n.endswith("markup.bcf")]


class Bcf(unittest.TestCase):
    def test_the_archive_says_its_version_and_what_words_it_uses(self):
        self.assertEqual(read("bcf.version").get("VersionId"), "3.0")
        words = read("extensions.xml")
        for _, markup in topics():
            topic = markup.find("Topic")
            self.assertIn(topic.get("TopicType"), [x.text for x in words.iter("TopicType")])
            self.assertIn(topic.get("TopicStatus"), [x.text for x in words.iter("TopicStatus")])
            self.assertIn(topic.findtext("Priority"), [x.text for x in words.iter("Priority")])

    def test_each_finding_between_trades_is_a_topic_with_its_reason_and_mend(self):
        wanted = [f for f in station_results().findings if f.code in COORDINATION]
        self.assertEqual(len(wanted), 3)
        found = {(m.findtext("Topic/Title"), m.findtext("Topic/Description")): m for _, m in topics()}
        self.assertEqual(set(found), {(str(f.title), str(f.reason)) for f in wanted})
        for finding in wanted:
            markup = found[finding.title, finding.reason]
            self.assertEqual(markup.findtext("Topic/CreationDate"), "2026-03-01T08:30:00Z")
            self.assertEqual(markup.findtext("Header/Files/File/Filename"), "own.ifc")
            self.assertIn(finding.mends[0].label, markup.findtext("Topic/Comments/Comment/Comment"))
            self.assertEqual(
                markup.find("Topic/Comments/Comment/Viewpoint").get("Guid"),
                markup.find("Topic/Viewpoints/ViewPoint").get("Guid"),
            )
        self.assertEqual({m.find("Topic").get("TopicType") for m in found.values()}, {"Clash", "Issue"})

    def test_components_are_parts_of_the_ifc_file_and_the_eye_looks_at_them(self):
        model = ifcopenshell.file.from_string(ifc(Order(station_results())).decode())
        points = {p.id: np.array((p.x_m, p.y_m, p.z_m)) for p in station().duct_points}
        segments = {s.id: s for s in station().segments}
        for topic_id, _ in topics():
            view = read(f"{topic_id}/viewpoint.bcfv")
            (component,) = view.iter("Component")
            part = model.by_guid(component.get("IfcGuid"))
            self.assertEqual(part.is_a(), "IfcDuctSegment")
            segment = segments[part.Tag]
            middle = (points[segment.a] + points[segment.b]) / 2
            eye, ahead, up = (
                np.array([float(view.findtext(f"PerspectiveCamera/{name}/{axis}")) for axis in "XYZ"])
                for name in ("CameraViewPoint", "CameraDirection", "CameraUpVector")
            )
            # six decimals are written
            assert_allclose((np.linalg.norm(ahead), np.linalg.norm(up), ahead @ up), (1, 1, 0), atol=3e-6)
            assert_allclose(eye + ahead * np.linalg.norm(middle - eye), middle, atol=2e-5)
            self.assertGreater(up[2], 0)

    def test_a_kept_library_reads_every_topic(self):
        from bcf.v3.bcfxml import BcfXml

        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.bcf"
            path.write_bytes(to_bcf(Order(station_results()), "own.ifc", NOW))
            with BcfXml.load(path) as found:
                titles = sorted(t.topic.title for t in found.topics.values())
                views = [v for t in found.topics.values() for v in t.viewpoints.values()]
        self.assertEqual(titles, sorted(str(f.title) for f in station_results().findings if f.code in COORDINATION))
        self.assertEqual(len(views), 3)
        self.assertTrue(all(v.visualization_info.perspective_camera is not None for v in views))

    def test_one_order_gives_the_same_bytes_and_an_empty_project_no_topic(self):
        order = Order(station_results())
        self.assertEqual(to_bcf(order, "own.ifc", NOW), to_bcf(order, "own.ifc", NOW))
        empty = zipfile.ZipFile(io.BytesIO(to_bcf(Order(run(Project(), Memo())), "x.ifc", NOW)))
        self.assertEqual(sorted(empty.namelist()), ["bcf.version", "extensions.xml"])

    def test_figures_are_in_the_units_of_the_reader(self):
        spoken = zipfile.ZipFile(io.BytesIO(to_bcf(Order(station_results(), "IP"), "own.ifc", NOW)))
        titles = [etree.fromstring(spoken.read(n)).findtext("Topic/Title") for n in spoken.namelist() if "markup" in n]
        self.assertTrue(any(" in" in t and "mm" not in t for t in titles), titles)


if __name__ == "__main__":
    unittest.main()
