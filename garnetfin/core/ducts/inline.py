"""Parts that stand in the run of a duct: dampers, attenuators, heaters, filters, crosses, connectors, doors.

What one loses follows one of four laws; by rule the smallest of its kind that is not smaller than the duct is taken,
with transitions on either side where it is not of the duct's size. Source: conservation of energy (Bernoulli);
catalogue figures in air of 1.2 kg/m3.
"""

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from garnetfin.core import noise
from garnetfin.core.ducts.fittings.dampers import k_at, open_k
from garnetfin.core.ducts.fittings.transitions import transition
from garnetfin.core.ducts.sizes import Section
from garnetfin.core.equipment.catalogue import InlineModel, loss_points
from garnetfin.core.errors import InputError

AIR_KG_M3, AIR_PA_S = 1.2, 1.81e-5  # of catalogue figures
LEAST_EXPONENT, MOST_EXPONENT = 1.0, 2.2
# of what is typed as a loss at a flow
USUAL_EXPONENT = {"filter": 1.2, "heater": 1.8}
# greater side of the duct up to [m], smallest door by its width and height [m]; own rule after EN 12097
DOORS = ((0.2, 0.18, 0.08), (0.315, 0.3, 0.2), (0.5, 0.4, 0.3), (math.inf, 0.6, 0.5))
FIT_M = 1e-4


class Loss(NamedTuple):
    """What a part loses at a flow [Pa], how that grows with it [-], and whether its curve ends below the flow."""

    pressure_pa: float
    exponent: float
    beyond: bool = False


class InlineChoice(NamedTuple):
    """The model that serves, None where none does; why each of the others was not taken, by model."""

    model: InlineModel | None
    refused: dict[str, str]


def k_loss(k: float, area_m2: float, flow_m3s: float, density_kg_m3: float) -> Loss:
    """Loss by a coefficient on the velocity in an area. Raises InputError for an area of 0."""
    if not area_m2 > 0:
        raise InputError(f"A part needs a free area above 0, got {area_m2:g}", where="part in a duct")
    return Loss(k * density_kg_m3 / 2 * (flow_m3s / area_m2) ** 2, 2.0)


def power_loss(rated_pa: float, rated_m3s: float, exponent: float, flow_m3s: float, air: tuple[float, float]) -> Loss:
    """Loss [Pa] from one point, (q/q1)^n, in air of another density [kg/m3] and viscosity [Pa s].

    The part of it that goes with the flow alone grows with the viscosity, that with its square with the density.
    Raises InputError where the point or the exponent is none.
    """
    if not (rated_m3s > 0 and rated_pa >= 0 and LEAST_EXPONENT <= exponent <= MOST_EXPONENT):
        raise InputError(
            f"A loss needs a flow above 0 and an exponent of {LEAST_EXPONENT:g} to {MOST_EXPONENT:g}",
            where="part in a duct",
        )
    return Loss(rated_pa * (flow_m3s / rated_m3s) ** exponent * _thinner(exponent, air), exponent)


def _thinner(exponent: float, air: tuple[float, float]) -> float:
    """Loss in air of a density [kg/m3] and viscosity [Pa s] over that of the catalogue [-]."""
    density, viscosity = air
    return float((density / AIR_KG_M3) ** (exponent - 1) * (viscosity / AIR_PA_S) ** (2 - exponent))


def curve_loss(points: tuple[tuple[float, float], ...], flow_m3s: float, air: tuple[float, float]) -> Loss:
    """Loss [Pa] along points (m3/s, Pa), monotone cubic in logarithms; beyond the ends by the exponent there.

    Raises InputError for fewer than two points.
    """
    if len(points) < 2:
        raise InputError("A curve needs two points", where="part in a duct")
    if flow_m3s <= 0:
        return Loss(0.0, 2.0)
    log_flow, log_loss, curve, slopes = _curve(points)
    x = math.log(flow_m3s)
    if x <= log_flow[0] or x >= log_flow[-1]:
        end = 0 if x <= log_flow[0] else -1
        exponent = float(np.clip(slopes(log_flow[end]), LEAST_EXPONENT, MOST_EXPONENT))
        pressure = math.exp(log_loss[end] + exponent * (x - log_flow[end]))
    else:
        exponent = float(np.clip(slopes(x), LEAST_EXPONENT, MOST_EXPONENT))
        pressure = math.exp(float(curve(x)))
    return Loss(pressure * _thinner(exponent, air), exponent, flow_m3s > points[-1][0] * (1 + 1e-9))


@lru_cache(maxsize=256)
def _curve(points: tuple[tuple[float, float], ...]) -> tuple[NDArray[Any], NDArray[Any], Any, Any]:
    """(ln flow, ln loss, the curve through them, its slope)."""
    from scipy.interpolate import PchipInterpolator

    x, y = np.log(np.array(points)).T
    curve = PchipInterpolator(x, y)
    return x, y, curve, curve.derivative()


def model_loss(model: InlineModel, flow_m3s: float, air: tuple[float, float], angle_deg: float = 0.0) -> Loss:
    """What a model loses at a flow in air of a density [kg/m3] and viscosity [Pa s]; a blade at its angle [deg]."""
    if flow_m3s <= 0 or model.length_m <= 0:
        return Loss(0.0, 2.0)
    if model.law == "power":
        return power_loss(model.rated_pa, model.rated_m3s, model.exponent, flow_m3s, air)
    if model.law == "curve":
        return curve_loss(loss_points(model.points, model.model), flow_m3s, air)
    k = model.k_free
    if model.law == "setting":
        own = section_of(model)
        k = k_at(own, angle_deg) if angle_deg > 0 else open_k(own)
    return k_loss(k, model.free_m2, flow_m3s, air[0])


def section_of(model: InlineModel) -> Section:
    """Section of its connections."""
    return Section("round" if model.shape == "round" else "rectangular", model.width_m, model.height_m)


def adapters(duct: Section, part: Section, flow_m3s: float, density_kg_m3: float) -> float:
    """Loss [Pa] of the transitions on either side of a part of another size than its duct."""
    if _alike(duct, part):
        return 0.0
    velocity_pa = density_kg_m3 / 2 * (flow_m3s / min(duct.area_m2, part.area_m2)) ** 2
    there, back = transition(duct, part), transition(part, duct)
    return velocity_pa * sum(k for _, k in (x for x in (there, back) if x is not None))


def _alike(duct: Section, part: Section) -> bool:
    return (
        duct.shape == part.shape
        and abs(duct.width_m - part.width_m) < FIT_M
        and abs(duct.height_m - part.height_m) < FIT_M
    )


class Shelf:
    """Models of a catalogue by kind, the smallest first: what serves a duct is found by looking at all at once."""

    def __init__(self, models: Sequence[InlineModel]) -> None:
        self.by_name = {m.model: m for m in models}
        self._kinds: dict[str, tuple[list[InlineModel], NDArray[Any]]] = {}
        for kind in dict.fromkeys(m.kind for m in models):
            rows = sorted(
                (m for m in models if m.kind == kind),
                key=lambda m: (m.face_m2, m.length_m, m.fire_min, m.smoke, m.model),
            )
            figures = [(m.width_m, m.height_m, m.face_m2, m.most_m_s or math.inf, m.fire_min, m.smoke) for m in rows]
            self._kinds[kind] = rows, np.array(figures).T

    def of_kind(self, kind: str) -> tuple[InlineModel, ...]:
        """Its models, the smallest first."""
        return tuple(self._kinds[kind][0]) if kind in self._kinds else ()

    def choose(
        self, kind: str, duct: Section, flow_m3s: float, fire_min: float = 0.0, smoke: bool = False
    ) -> InlineChoice:
        """The smallest model of a kind that is not smaller than the duct [m] on either side and keeps its velocity at
        a flow [m3/s], its minutes and its smoke release; of one size the shortest. Doors go by the duct's greater side.
        """
        if kind not in self._kinds:
            return InlineChoice(None, {})
        rows, _ = self._kinds[kind]
        reasons = self._reasons(kind, duct, flow_m3s, fire_min, smoke)
        at = next((i for i, why in enumerate(reasons) if not why), None)
        tried = reasons if at is None else reasons[:at]
        return InlineChoice(None if at is None else rows[at], {m.model: why for m, why in zip(rows, tried)})

    def _reasons(self, kind: str, duct: Section, flow_m3s: float, fire_min: float, smoke: bool) -> list[str]:
        """Why each model does not serve: shape, size, velocity, minutes or smoke; "" where it does."""
        rows, (width, height, face, most, minutes, closes) = self._kinds[kind]
        wanted = duct
        if kind == "access door":
            side = max(duct.width_m, duct.height_m)
            wanted = Section("rectangular", *next(row[1:] for row in DOORS if side <= row[0] + FIT_M))
        shape = "round" if wanted.shape == "round" else "rectangular"
        other = np.array([m.shape not in ("any", shape) for m in rows])
        small = (width < wanted.width_m - FIT_M) | (height < wanted.height_m - FIT_M)
        fast = flow_m3s / face > most * (1 + 1e-9)
        tests = (("shape", other), ("size", small), ("velocity", fast), ("minutes", minutes < fire_min))
        found = np.full(len(rows), "", dtype=object)
        for why, fails in ((("smoke", (closes == 0) & smoke)), *reversed(tests)):
            found[fails] = why
        answer: list[str] = found.tolist()
        return answer


def judged(m: InlineModel, duct: Section, flow_m3s: float, fire_min: float = 0.0, smoke: bool = False) -> str:
    """What a model that was fixed by hand breaks: shape, size, velocity, minutes or smoke; "" where it serves."""
    return Shelf((m,)).choose(m.kind, duct, flow_m3s, fire_min, smoke).refused.get(m.model, "")


def flow_sound(model: InlineModel, flow_m3s: float) -> NDArray[np.float64]:
    """Sound power that flow makes in a part (8,) [dB]: its total, split over the bands as that of straight ducts at
    the velocity in its free area. Source: VDI 2081.
    """
    if model.sound_at_m_s <= 0 or flow_m3s <= 0:
        return np.full(8, noise.LEAST_DB)
    total = model.sound_db + model.sound_slope * math.log10(flow_m3s / model.face_m2 / model.sound_at_m_s)
    free = model.free_m2 if 0 < model.free_m2 < model.face_m2 else model.face_m2
    bands: NDArray[np.float64] = noise.shaped(total, noise.duct_split(flow_m3s / free))
    return bands


class Stretch(NamedTuple):
    """Where the middle of a part may stand along a duct [m]."""

    low_m: float
    high_m: float


def free_places(
    ends_m: tuple[float, float], others: Sequence[tuple[float, float]], length_m: float, wants_m: tuple[float, float]
) -> tuple[Stretch, ...]:
    """Stretches [m] where the middle of a part of a length may stand with the straight it wants on its near and its far
    side, between the faces of fittings at the ends of a duct and of other parts in it (each from, to).
    """
    faces = sorted((max(a, ends_m[0]), min(b, ends_m[1])) for a, b in others)
    gaps, at = [], ends_m[0]
    for a, b in faces:
        gaps.append((at, a))
        at = max(at, b)
    gaps.append((at, ends_m[1]))
    near, far = wants_m
    half = length_m / 2
    found = (Stretch(a + near + half, b - far - half) for a, b in gaps)
    return tuple(s for s in found if s.low_m <= s.high_m + FIT_M)


def nearest_place(stretches: Sequence[Stretch], at_m: float) -> float | None:
    """The place [m] nearest to where a part stands, None where it may stand nowhere."""
    places = [min(max(at_m, s.low_m), max(s.high_m, s.low_m)) for s in stretches]
    return min(places, key=lambda x: (abs(x - at_m), x), default=None)
