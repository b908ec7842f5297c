"""Parts in ducts as elements of the model: their class, their place in the chain of ports, the duct cut around them."""

import unittest

import ifcopenshell
import ifcopenshell.util.element as element

from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from garnetfin.project.edits.inline import PutInline
from garnetfin.report.handover import Order, files
from tests.example import station

DUCT = "s42"
PUT = (("fire damper", 0.2, "IfcDamper", "FIREDAMPER"), ("attenuator", 0.6, "IfcDuctSilencer", "RECTANGULAR"))


class InTheModel(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        project = station()
        for kind, at, *_ in PUT:
            project = PutInline((DUCT,), kind, at, 60 if kind == "fire damper" else 0).apply(project)
        cls.results = run(PutInline(("s12",), "measuring cross", 0.5).apply(project), Memo())
        made = files(Order(cls.results), ("ifc",))
        text = next(data for name, data in made.items() if name.endswith(".ifc"))
        cls.model = ifcopenshell.file.from_string(text.decode())

    def tagged(self, tag: str):
        return next(e for e in self.model.by_type("IfcElement") if e.Tag == tag)

    def test_each_part_is_of_its_class(self):
        for n, (kind, _, of, what) in enumerate(PUT, 1):
            made = self.tagged(f"{DUCT}/i{n}")
            self.assertTrue(made.is_a(of), kind)
            self.assertEqual(element.get_predefined_type(made), what)
        fire = element.get_psets(self.tagged(f"{DUCT}/i1"))
        self.assertEqual(fire["Pset_DamperTypeFireDamper"]["FireResistanceRating"], "EI 60")
        record = self.results.ducts["ahu-north"].segments[DUCT].inline[0]
        self.assertAlmostEqual(fire["Garnetfin_PartInDuct"]["PressureLoss"], record.pressure_pa)
        self.assertTrue(self.tagged("s12/i3").is_a("IfcSensor"))

    def test_ports_lead_from_piece_to_part_to_piece(self):
        ports = {
            p.id(): (rel.RelatingObject, p) for rel in self.model.by_type("IfcRelNests") for p in rel.RelatedObjects
        }
        after = {}
        joined = []
        for rel in self.model.by_type("IfcRelConnectsPorts"):
            joined += [rel.RelatingPort.id(), rel.RelatedPort.id()]
            after.setdefault(ports[rel.RelatingPort.id()][0].Tag, ports[rel.RelatedPort.id()][0].Tag)
        self.assertEqual(len(joined), len(set(joined)))
        self.assertEqual(set(joined), {p.id() for p in self.model.by_type("IfcDistributionPort")})
        chain = [f"{DUCT}/1"]
        while chain[-1] in after and len(chain) < 5:
            chain.append(after[chain[-1]])
        self.assertEqual(chain, [f"{DUCT}/1", f"{DUCT}/i1", f"{DUCT}/2", f"{DUCT}/i2", DUCT])

    def test_pieces_and_parts_are_as_long_as_the_duct_between_its_fittings(self):
        r = self.results.ducts["ahu-north"].segments[DUCT]
        pieces = [self.tagged(t) for t in (f"{DUCT}/1", f"{DUCT}/2", DUCT)]
        long = sum(element.get_psets(p, qtos_only=True)["Qto_DuctSegmentBaseQuantities"]["Length"] for p in pieces)
        parts = sum(p.length_m for p in r.inline)
        self.assertLess(long + parts, r.length_m + 1e-9)
        self.assertGreater(long + parts, r.length_m - 1.5 * max(r.section.width_m, 0.5) * 2)


if __name__ == "__main__":
    unittest.main()
