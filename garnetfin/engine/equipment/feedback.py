"""What chosen coils give back to their air system: bypass factor and air drop in place of the usual figures by rule.

What is typed at a part stays. Figures move until they agree, at most four times.
"""

from collections.abc import Mapping

from msgspec import structs

from garnetfin.engine.equipment.records import CoilRecord
from garnetfin.project.parts import KINDS, Part, PartFigure
from garnetfin.project.systems import AirSystem
from garnetfin.project.values import Derived, Rule, Value

MOST_ROUNDS = 4
SETTLED_BYPASS, SETTLED_PA = 0.002, 1.0
BYPASS_DIGITS, PA_DIGITS = 5, 2
MOST_BYPASS = 0.9


def with_coils(system: AirSystem, coils: Mapping[str, CoilRecord]) -> AirSystem:
    """The system with the figures of its coils where they are by rule."""
    by_part = {c.part_id: c for c in coils.values() if c.chosen is not None and not c.chosen.why}
    return structs.replace(system, parts=tuple(_part(p, by_part[p.id]) if p.id in by_part else p for p in system.parts))


def _part(part: Part, coil: CoilRecord) -> Part:
    assert coil.chosen is not None
    source = f"of its coil, {coil.chosen.built.name}"
    figures = part.figures
    wet = "bypass" in KINDS[part.kind].figures and coil.bypass == coil.bypass
    if wet and isinstance(part.given("bypass"), Rule):
        value = Derived(value=round(min(max(coil.bypass, 0.0), MOST_BYPASS), BYPASS_DIGITS), source=source)
        figures = (*(f for f in figures if f.name != "bypass"), PartFigure(name="bypass", value=value))
    pressure = part.pressure_pa
    if isinstance(pressure, Rule):
        pressure = Derived(value=round(coil.chosen.air_pa, PA_DIGITS), source=source)
    return structs.replace(part, figures=figures, pressure_pa=pressure)


def agree(one: AirSystem, other: AirSystem) -> bool:
    """Whether bypass factors and drops of two versions of a system are as good as equal."""
    return all(
        _near(a.pressure_pa, b.pressure_pa, SETTLED_PA) and _near(a.given("bypass"), b.given("bypass"), SETTLED_BYPASS)
        for a, b in zip(one.parts, other.parts)
    )


def _near(one: Value, other: Value, within: float) -> bool:
    """Whether two figures both come from a coil and are close, or neither does."""
    if isinstance(one, Derived) and isinstance(other, Derived):
        return abs(one.value - other.value) <= within
    return isinstance(one, Derived) == isinstance(other, Derived)
