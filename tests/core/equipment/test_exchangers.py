"""Effectiveness of exchangers against published figures, limits and a grid of cells."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.equipment.exchangers import correction, counter, counter_ntu, crossed


def by_cells(ntu: float, c: float, cells: int) -> float:
    """One row: every strand of air is cooled by water that is mixed along the tube (the air does not mix)."""
    t_water, out = 0.0, []
    for _ in range(cells):
        # each strand crosses one tube of even temperature; water there warms by what its strand gives
        leaving = t_water + (1 - t_water) * np.exp(-ntu)
        t_water += (1 - leaving) * c / cells
        out.append(leaving)
    return 1 - float(np.mean(out))


class Effectiveness(unittest.TestCase):
    def test_published(self):
        assert_allclose(crossed(1.5, 0.6, 3), 0.665916, rtol=2e-6)
        assert_allclose(correction(1.5, 0.6, 3), 0.977146, rtol=2e-6)

    def test_one_row_is_air_crossing_a_tube(self):
        """The march of cells is of first order: 4,000 of them are within 1e-4."""
        for ntu, c in ((0.5, 0.3), (1.5, 0.8), (3.0, 2.0)):
            assert_allclose(crossed(ntu, c, 1), by_cells(ntu, c, 4000), rtol=2e-4)

    def test_many_rows_come_to_counterflow(self):
        for c in (0.0, 0.4, 1.0, 1.7):
            assert_allclose(crossed(2.0, c, 400), counter(2.0, c), rtol=3e-3)
            assert_allclose(crossed(2.0, c, 0), counter(2.0, c), rtol=1e-12)

    def test_limits_join_smoothly(self):
        for rows in (0, 1, 4):
            assert_allclose(crossed(1.3, 1 + 1e-6, rows), crossed(1.3, 1.0, rows), rtol=1e-5)
            assert_allclose(crossed(1.3, 1e-7, rows), 1 - np.exp(-1.3), rtol=1e-5)

    def test_counterflow_goes_both_ways(self):
        ntu, c = np.meshgrid([0.1, 1.0, 4.0], [0.0, 0.5, 1.0, 1.4])
        assert_allclose(counter_ntu(counter(ntu, c), c), ntu, rtol=1e-9)

    def test_more_rows_never_do_less(self):
        by_rows = [crossed(2.5, 0.7, n) for n in range(1, 11)]
        self.assertTrue((np.diff(by_rows) > 0).all())
        self.assertTrue((correction(2.5, 0.7, np.arange(1, 11)) < 1).all())
