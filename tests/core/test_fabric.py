"""Build-ups and floors on ground against closed forms and check values."""

import unittest

import numpy as np
from numpy.testing import assert_allclose

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.ground import slab_u_value, with_soil
from garnetfin.core.fabric.layers import DAILY, HARMONICS, Layer, admittances, fold, resistance

CONCRETE_20, CONCRETE_15 = Layer(0.20, 1.65, 2200, 1000), Layer(0.15, 1.65, 2200, 1000)
EPS = Layer(0.10, 0.035, 20, 1450)
DAY = 2 * np.pi / 86400


def characteristics(*layers: Layer) -> tuple[float, float, float, float, float]:
    """U, |Y11|, its lead [h], decrement, lag [h] with inside and outside film, as a user sees them."""
    inside = Layer(resistance_m2k_w=0.13)
    y_in, y_through = admittances((inside, *layers), 25.0)
    return (
        float(y_in[0].real),
        abs(y_in[1]),
        float(np.angle(y_in[1])) / DAY / 3600,
        abs(y_through[1]) / float(y_in[0].real),
        -float(np.angle(y_through[1])) / DAY / 3600 % 24,
    )


class Admittances(unittest.TestCase):
    def test_check_values(self):
        # Complex solution of 1 mm finite volumes, equal to the digits shown.
        for layers, wanted in (
            ((CONCRETE_20,), (3.43392, 5.5495, 1.010, 0.5369, 5.542)),
            ((CONCRETE_15, EPS), (0.32071, 6.0073, 1.073, 0.2585, 6.643)),
            ((EPS, CONCRETE_15), (0.32071, 0.3411, 0.794, 0.4980, 5.513)),
        ):
            assert_allclose(characteristics(*layers), wanted, rtol=2e-4, atol=6e-4)

    def test_endless_concrete_has_the_closed_form(self):
        y_in, y_through = admittances((Layer(30.0, 1.65, 2200, 1000),), 25.0)
        assert_allclose(abs(y_in[1]), np.sqrt(DAY * 1.65 * 2200 * 1000), rtol=1e-9)
        assert_allclose(np.angle(y_in[1]), np.pi / 4, rtol=1e-9)
        self.assertLess(abs(y_through[1]), 1e-9)

    def test_massless_layer_only_resists(self):
        y_in, y_through = admittances((Layer(resistance_m2k_w=0.5),), 25.0)
        assert_allclose(y_in, 1 / 0.54, rtol=1e-14)
        assert_allclose(y_through, 1 / 0.54, rtol=1e-14)

    def test_adiabatic_back_stores_but_never_loses(self):
        y_in, y_through = admittances((CONCRETE_15,), None)
        self.assertEqual(abs(y_in[0]), 0.0)
        self.assertEqual(abs(y_through).max(), 0.0)
        # Thin enough to follow the day: flux is i w C (1 + O(w tau)).
        thin, _ = admittances((Layer(0.001, 1.65, 2200, 1000),), None)
        assert_allclose(thin[1], 1j * DAY * 0.001 * 2200 * 1000, rtol=1e-4)

    def test_order_of_layers_changes_lag_but_not_u(self):
        one, other = characteristics(CONCRETE_15, EPS), characteristics(EPS, CONCRETE_15)
        assert_allclose(one[0], other[0], rtol=1e-12)
        self.assertGreater(abs(one[4] - other[4]), 1.0)

    def test_bad_layers_are_refused(self):
        self.assertRaisesRegex(InputError, "above 0", Layer, 0.1, 0.0, 10, 10)
        self.assertRaisesRegex(InputError, "film", admittances, (EPS,), 0.0)

    def test_u_value_is_the_steady_admittance(self):
        y_in, _ = admittances((Layer(resistance_m2k_w=0.13), CONCRETE_15, EPS), 25.0)
        assert_allclose(1 / (0.13 + CONCRETE_15.resistance + EPS.resistance + 1 / 25.0), y_in[0].real, rtol=1e-12)


class Folding(unittest.TestCase):
    def test_a_constant_passes_unchanged(self):
        assert_allclose(fold(np.full(HARMONICS, 3.0 + 0j)), np.full(DAILY, 3.0), rtol=1e-12)

    def test_held_inputs_match_a_fine_march(self):
        """Hour means of a first-order lag driven by steps: folded response against the exact recursion."""
        tau = 1800.0
        p = np.arange(HARMONICS)
        folded = fold(1 / (1 + 1j * DAY * p * tau))
        steps = np.zeros(24)
        steps[8:18] = 1.0
        own = np.fft.irfft(folded * np.fft.rfft(steps), 24)
        decay = np.exp(-3600 / tau)
        state, exact = 0.0, np.zeros(24)
        for _day in range(4):
            for h in range(24):
                exact[h] = steps[h] + (state - steps[h]) * tau / 3600 * (1 - decay)
                state = steps[h] + (state - steps[h]) * decay
        # The tail above harmonic 60 is taken as its real part only; for this quick lag that is worth 2e-3.
        assert_allclose(own, exact, atol=3e-3)


class Ground(unittest.TestCase):
    def test_check_values(self):
        # ISO 13370 with w 0.3: printed to four and five digits.
        assert_allclose(slab_u_value(100, 40, 0.0, 0.3), 0.7615, atol=5e-5)
        assert_allclose(slab_u_value(100, 40, 2.5, 0.3), 0.24984, atol=5e-6)

    def test_soil_completes_the_u_value(self):
        layers = (Layer(0.1, 0.034, 35, 1450), Layer(0.2, 2.3, 2300, 1000))
        u = slab_u_value(100, 40, resistance(layers))
        assert_allclose(1 / (0.17 + resistance(with_soil(layers, u))), u, rtol=1e-12)

    def test_floor_without_edge_is_refused(self):
        self.assertRaisesRegex(InputError, "perimeter", slab_u_value, 100, 0, 1.0)
