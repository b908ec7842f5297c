"""Early estimates side by side: densities of the project's uses at its place and at every place that ships."""

from collections.abc import Callable
from dataclasses import dataclass

from msgspec import structs

from garnetfin.core.loads.estimate import densities
from garnetfin.core.tables import places
from garnetfin.engine.memo import Memo
from garnetfin.engine.resolve import use_figures
from garnetfin.engine.results import Climate, Missing, Results
from garnetfin.engine.stages.climate import climate
from garnetfin.engine.stages.loads import USUAL_FLOOR_M2, estimate_inputs
from garnetfin.project.edits.site import SetPlace


@dataclass(frozen=True, slots=True)
class DensityTable:
    """places: names; rows: (use id, name, ((cooling, heating) [W/m2] for each place))."""

    places: tuple[str, ...]
    rows: tuple[tuple[str, str, tuple[tuple[float, float], ...]], ...]


def density_table(results: Results, progress: Callable[[float], None] = lambda share: None) -> DensityTable | Missing:
    """Cooling and heating densities of the uses that the project has, with its office standards.

    `progress` may raise to stop.
    """
    project = results.project
    if not isinstance(results.climate, Climate):
        return Missing("no place", "Give a place first")
    memo, uses = Memo(), sorted({r.use_id for r in project.rooms})
    climates = [(project.site.name, results.climate)]
    for k, place in enumerate(places().values()):
        progress(0.3 * k / len(places()))
        if place.id != project.site.place_id:
            free = structs.replace(project, site=None)
            found = climate(SetPlace(place.id).apply(free).site, memo)
            if isinstance(found, Climate):
                climates.append((place.name.partition(",")[0], found))
    rows = []
    for k, use_id in enumerate(uses):
        progress(0.3 + 0.7 * k / len(uses))
        figures = use_figures(project.book, use_id)
        row = []
        for _, at in climates:
            gains, shell, weather = estimate_inputs(project, at, figures)
            row.append(
                densities(USUAL_FLOOR_M2, shell, gains, weather, figures.cooling_c.figure, figures.heating_c.figure)
            )
        rows.append((use_id, figures.use.name, tuple(row)))
    return DensityTable(tuple(name for name, _ in climates), tuple(rows))
