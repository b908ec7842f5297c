"""Why of ducts, balance and fans: every figure leads down, and its parts make it."""

import unittest

from numpy.testing import assert_allclose

from garnetfin.engine.explain.explain import explain
from garnetfin.engine.memo import Memo
from garnetfin.engine.run import run
from tests.engine.test_leaving_ducts import with_return
from tests.example import station_results

AHU = "ahu-north"


class Down(unittest.TestCase):
    def test_every_address_answers_and_leads_on(self):
        """All figures of terminals, ducts, rooms and fan, and everything they rest on, return ducts included."""
        results = run(with_return(), Memo())
        asked, seen = [], set()
        for ducts in results.networks(AHU):
            for t in ducts.terminals:
                asked += [(k, t.terminal_id) for k in ("run", "surplus", "terminal loss", "terminal flow", "gets")]
            for s, r in ducts.segments.items():
                asked += [("duct", s, k) for k in ("flow", "velocity", "friction", "size", "loss")]
                asked += [("damper", s)] if r.damper is not None else []
        asked += [("fan pressure", AHU), ("fan power", AHU), *(("room noise", i) for i in results.noise[AHU].rooms)]
        while asked:
            address = asked.pop()
            if address in seen:
                continue
            seen.add(address)
            found = explain(results, address)
            self.assertIsNotNone(found, address)
            self.assertTrue(found.name)
            asked += [
                p.address
                for p in (*found.parts, *(t for t in found.equation if not isinstance(t, str)))
                if p.address
                and p.address[0]
                not in (
                    "room",
                    "cause",
                    "face",
                    "input",
                    "air state",
                    "block",
                    "part",
                    "coil",
                    "book",
                    "outdoor",
                    "month",
                    "need",
                    "system outdoor",
                    "system",
                    "profile",
                )
            ]
        self.assertGreater(len(seen), 500)


class Sums(unittest.TestCase):
    def test_parts_make_the_figure(self):
        results = station_results()
        ducts = results.ducts[AHU]
        for t in ducts.terminals[:8]:
            found = explain(results, ("run", t.terminal_id))
            assert_allclose(sum(p.figure for p in found.parts), t.run_pa, rtol=1e-9)
            taken = explain(results, ("surplus", t.terminal_id))
            assert_allclose(sum(p.figure for p in taken.parts), t.surplus_pa, atol=0.01)
            loss = explain(results, ("duct", t.segment_id, "loss"))
            assert_allclose(sum(p.figure for p in loss.parts), loss.figure, rtol=1e-9)
        lifted = explain(results, ("fan pressure", AHU))
        assert_allclose(sum(p.figure for p in lifted.parts), lifted.figure, rtol=1e-9)
        assert_allclose(
            explain(results, ("gets", ducts.index.terminal_id)).figure,
            results.real[AHU].terminals[ducts.index.terminal_id],
        )

    def test_what_is_gone_has_no_answer(self):
        for address in (
            ("run", "none"),
            ("duct", "none", "loss"),
            ("damper", "s1"),
            ("fan power", "none"),
            ("room noise", "none"),
        ):
            self.assertIsNone(explain(station_results(), address), address)
