"""Build-ups looked at closely: section with temperature and dew point on the winter day, answer to a day, area in
use.
"""

from dataclasses import dataclass

from garnetfin.core.errors import InputError
from garnetfin.core.fabric.section import DayAnswer, Section, day_answer, section
from garnetfin.core.tables import materials, vapour_factors
from garnetfin.engine.results import Climate, Results
from garnetfin.engine.stages.faces import R_SI, core_layers, outer_film
from garnetfin.project.fabric import BuildUp, BuildUpLayer
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project

INSIDE_C, INSIDE_HUMIDITY = 20.0, 0.5
GAP_M = 0.03  # drawn for an air gap without a thickness


@dataclass(frozen=True, slots=True, eq=False)
class Looked:
    """What the editor shows of a build-up; `fault` says why it cannot be computed."""

    section: Section | None
    answer: DayAnswer | None
    thickness_m: tuple[float, ...]
    area_m2: float
    outside: bool
    fault: str = ""


def drawn_thickness(layer: BuildUpLayer) -> float:
    return layer.thickness_m or GAP_M


def used_area(project: Project, build_up_id: str) -> tuple[float, bool]:
    """(area that is made of it [m2], whether any of it looks outdoors)."""
    walls = [w for w in project.walls if w.build_up_id == build_up_id]
    slabs = [s for s in project.slabs if s.build_up_id == build_up_id]
    area = sum(w.length_m * w.height_m - sum(o.area_m2 for o in w.openings) for w in walls) + sum(
        s.area_m2 for s in slabs
    )
    return area, any(w.outside for w in walls) or any(s.kind in ("roof", "exposed") for s in slabs)


def look(results: Results, build_up: BuildUp) -> Looked:
    project = results.project
    area, outside = used_area(project, build_up.id)
    thickness = tuple(drawn_thickness(x) for x in build_up.layers)
    try:
        layers = core_layers(build_up, project.book)
    except InputError as error:
        return Looked(None, None, thickness, area, outside, str(error))
    film = outer_film(build_up) if outside or area == 0 else 1 / R_SI["wall"]
    climate = results.climate
    cold, damp = (
        (climate.figures.winter_c.figure, climate.figures.winter_humidity.figure)
        if isinstance(climate, Climate)
        else (-10.0, 0.8)
    )
    if not outside and area > 0:
        cold, damp = INSIDE_C, INSIDE_HUMIDITY
    found = section(
        layers,
        tuple(_factor(project, x) for x in build_up.layers[: len(layers)]),
        thickness[: len(layers)],
        R_SI["wall"],
        1 / film,
        INSIDE_C,
        INSIDE_HUMIDITY,
        cold,
        damp,
    )
    return Looked(found, day_answer(layers, R_SI["wall"], film), thickness, area, outside)


def _factor(project: Project, layer: BuildUpLayer) -> float:
    """Vapour resistance factor; own materials by their density, from wool to stone."""
    if layer.material in vapour_factors():
        return vapour_factors()[layer.material]
    own = find(project.book.materials, layer.material)
    density = own.density_kg_m3 if own else layer.density_kg_m3
    return 1.0 if density < 200 else 10.0 if density < 1000 else 50.0


def layer_name(project: Project, layer: BuildUpLayer) -> str:
    if layer.name:
        return layer.name
    if not layer.material:
        return "ventilated gap" if layer.ventilated else "air gap"
    found = find(project.book.materials, layer.material) or materials().get(layer.material)
    return found.name if found else layer.material
