"""What a chart shows as a table: a row of names, rows of cells, in the units shown."""

from collections.abc import Iterable, Sequence
from typing import Any

from garnetfin.engine.results import NEEDS
from garnetfin.ui.view_models import chart_data as cd
from garnetfin.ui.view_models.options import PlotVM

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
Rows = list[Sequence[str | float]]


def _table(head: Sequence[str], rows: Iterable[Sequence[str | float]]) -> Rows:
    return [head, *rows]


def figures_of(vm: Any) -> Rows | None:
    """None for a drawing that has no figures of its own."""
    match vm:
        case cd.HourFieldVM():
            head = ["month", *(f"{h}–{h + 1} h [{vm.unit}]" for h in range(24))]
            return _table(head, ((name, *row) for name, row in zip(MONTHS, vm.values)))
        case cd.DayVM():
            lines = [*vm.causes, ("total", vm.total)]
            lines += [(n, v) for n, v in (("entering", vm.instant), (vm.against_name, vm.against)) if v]
            head = ["hour", *(f"{name} [{vm.unit}]" for name, _ in lines)]
            return _table(head, ((float(h), *(v[h] for _, v in lines)) for h in range(24)))
        case cd.MonthsVM():
            head = ["month", "hour", f"dry bulb [{vm.unit}]", f"wet bulb [{vm.unit}]", f"sun [{vm.sun_unit}]"]
            return _table(
                head,
                (
                    (m.name, float(h), m.dry[h], m.wet[h], m.sun[h] if h < len(m.sun) else "")
                    for m in vm.months
                    for h in range(len(m.dry))
                ),
            )
        case cd.YearFieldVM() | cd.DurationVM():
            head = ["hour of the year", f"{vm.heading} [{vm.unit}]"]
            return _table(head, ((float(i), float(v)) for i, v in enumerate(vm.values)))
        case cd.ProfileVM():
            return _table(("hour", vm.name), ((float(h), v) for h, v in enumerate(vm.hours)))
        case cd.NeedsVM():
            head = ["no.", "room", *(f"{n} [{vm.unit}]" for n in NEEDS), f"flow [{vm.unit}]", "governs"]
            return _table(head, ((r.number, r.name, *r.needs, r.flow, r.governs) for r in vm.rows))
        case cd.MoversVM():
            head = ["input", "low", f"load at low [{vm.unit}]", "high", f"load at high [{vm.unit}]"]
            return _table(head, ((r.name, r.low_text, r.low, r.high_text, r.high) for r in vm.rows))
        case cd.StairVM():
            head = ["terminal", f"way [{vm.length_unit}]", f"total pressure [{vm.unit}]"]
            return _table(head, ((path.label, x, pa) for path in vm.paths for x, pa in path.corners))
        case cd.FanChartVM():
            curves = [(f"{vm.name}, {vm.speed}", vm.curve), *vm.others, *vm.speeds, ("system curve", vm.system)]
            head = ["curve", f"flow [{vm.flow_unit}]", f"[{vm.pressure_unit}]"]
            return _table(head, ((name, q, pa) for name, points in curves for q, pa in points))
        case PlotVM():
            return _table(("line", vm.x_name, vm.y_name), ((x.name, a, b) for x in vm.lines for a, b in x.points))
    return None
