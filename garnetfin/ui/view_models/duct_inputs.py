"""Inputs of ducts: shape and held sides, what they are made of, fittings before them."""

from math import isfinite

from garnetfin import display
from garnetfin.core.units import System
from garnetfin.engine.results import SegmentResult
from garnetfin.project.ducts import MATERIALS, PLACES, TIGHTNESS, FittingChoice, Segment, fitting_choices
from garnetfin.project.values import Rule
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import InputVM

HEATS = (("computed", "by insulation and where they run"), ("typed", "the U-value typed at the unit"))
AROUND = (
    ("", "as drawn"),
    ("room", "a room"),
    ("void", "a ceiling void"),
    ("shaft", "a shaft"),
    ("plant", "the plant room"),
    ("outdoors", "outdoors"),
)
LEAKAGES = (("computed", "by class and pressure"), ("typed", "the share typed at the unit"))
FRICTION_FROM = (
    ("rate", "the rate below"),
    ("first velocity", "velocity of the first trunk"),
    ("pressure", "pressure over length"),
)


SHAPES = (("round", "round"), ("rectangular", "rectangular"), ("oval", "flat oval"))


SIDES = (("centre", "none, on its axis"), ("top", "top"), ("bottom", "bottom"), ("left", "left"), ("right", "right"))


ROLES = (("", "by what hangs on it"), ("trunk", "trunk"), ("branch", "branch"), ("last", "runout"))


def _same(values: list) -> str:
    return values[0] if len(set(values)) == 1 else "several"


def listed(segments: list[Segment], name: str, label: str, choices: tuple[tuple[str, str], ...]) -> InputVM:
    chosen, ids = _same([getattr(s, name) for s in segments]), tuple(s.id for s in segments)
    return InputVM(
        edits.duct_shape(ids) if name == "shape" else edits.duct_choice(ids, name),
        label,
        "several" if chosen == "several" else "",
        "",
        choices=choices,
        chosen=chosen,
    )


def held(
    segments: list[Segment], name: str, label: str, quantity: str, units: System, ruled: list[float] | None, tip: str
) -> InputVM:
    """A value by rule or pinned on all of them; `ruled` is what stands where the rule decides, None for nothing."""
    own = [getattr(s, name) for s in segments]
    free = all(isinstance(v, Rule) for v in own)
    shown = [v.value if not isinstance(v, Rule) else r for v, r in zip(own, ruled or [None] * len(own))]
    one = len({None if v is None else round(v, 9) for v in shown}) == 1
    text = "several" if not one else "" if shown[0] is None else display.figure(quantity, shown[0], units)
    return InputVM(
        edits.duct_value(tuple(s.id for s in segments), name),
        label,
        text,
        display.unit(quantity, units),
        "rule" if free else "pinned" if one else "several",
        quantity,
        tip=tip,
    )


def shape_inputs(segments: list[Segment], results: list[SegmentResult], units: System) -> list[InputVM]:
    """Shape, role, held sides, own limits."""
    round_ = all(s.shape == "round" for s in segments)
    rows = [
        listed(segments, "shape", "Shape", SHAPES),
        listed(segments, "role", "Role", ROLES),
        *((listed(segments, "around", "Runs through", AROUND),) if all(s.air == "supply" for s in segments) else ()),
        held(
            segments,
            "width_m",
            "Diameter held" if round_ else "Width held",
            "duct_size",
            units,
            None,
            "empty: by the method",
        ),
    ]
    if not round_:
        rows += [
            held(segments, "height_m", "Height held", "duct_size", units, None, "empty: by the method"),
            listed(segments, "side", "Flat side", SIDES),
        ]
    return [
        *rows,
        held(
            segments,
            "velocity_m_s",
            "Velocity, greatest",
            "velocity",
            units,
            [r.velocity_limit for r in results],
            "by rule: by its role",
        ),
        held(
            segments,
            "friction_pa_m",
            "Friction, greatest",
            "friction",
            units,
            [r.friction_limit if isfinite(r.friction_limit) else None for r in results],
            "by rule: as the system",
        ),
    ]


def make_inputs(segments: list[Segment], results: list[SegmentResult], units: System) -> list[InputVM]:
    """Material, lining, insulation, class and sheet."""
    classes = (("", f"by rule: {_same([r.tightness for r in results])}"), *((c, f"class {c}") for c in TIGHTNESS))
    return [
        listed(
            segments,
            "material",
            "Material",
            (("", f"by rule: {_same([r.make.material for r in results])}"), *((m, m) for m in MATERIALS)),
        ),
        held(
            segments,
            "lining_m",
            "Lining inside",
            "duct_size",
            units,
            [r.make.lining_m for r in results],
            "sizes are the clear inside",
        ),
        held(
            segments,
            "insulation_m",
            "Insulation",
            "duct_size",
            units,
            [r.make.insulation_m for r in results],
            "outside; it takes height",
        ),
        listed(segments, "tightness", "Class", classes),
        held(
            segments,
            "thickness_m",
            "Sheet",
            "sheet",
            units,
            [r.thickness_m for r in results],
            "by rule: by size and pressure",
        ),
    ]


def fitting_inputs(segments: list[Segment], results: list[SegmentResult], units: System) -> list[InputVM]:
    """What may be chosen for the fittings that stand before them: kind, coefficient, equivalent length."""
    rows, ids = [], tuple(s.id for s in segments)
    for place in PLACES:
        there = [(s, f) for s, r in zip(segments, results) for f in r.fittings if f.place == place]
        if not there:
            continue
        own = [next((c for c in s.fittings if c.place == place), FittingChoice(place=place)) for s, _ in there]
        known = fitting_choices(place, there[0][0].shape, there[0][0].air)
        names = dict(known)
        ruled = _same([f.name for _, f in there])
        rows.append(
            InputVM(
                edits.fitting(ids, place),
                place.capitalize(),
                "",
                "",
                choices=(("", f"by rule: {names.get(ruled, ruled)}"[:44]), *known),
                chosen=_same([c.fitting for c in own]),
            )
        )
        for name, label, quantity, shown in (
            ("k", "    its k", "plain", [f.k for _, f in there]),
            ("equivalent_m", "    or as a length", "length", [None] * len(there)),
        ):
            values = [getattr(c, name) for c in own]
            figures = [v.value if not isinstance(v, Rule) else x for v, x in zip(values, shown)]
            one = len({None if v is None else round(v, 6) for v in figures}) == 1
            rows.append(
                InputVM(
                    edits.fitting_figure(ids, place, name),
                    label,
                    "several" if not one else "" if figures[0] is None else display.figure(quantity, figures[0], units),
                    display.unit(quantity, units),
                    "rule" if all(isinstance(v, Rule) for v in values) else "pinned",
                    quantity,
                    tip="by rule: from the catalogue" if name == "k" else "a length of this duct that loses as much",
                )
            )
    return rows
