"""Cases of a study as a table file: CSV, or Parquet where pyarrow is there. Values in SI, units in the heads."""

import csv
import io
from collections.abc import Sequence

from garnetfin.core.errors import GarnetfinError
from garnetfin.core.units import QUANTITIES
from garnetfin.engine.studies.study import Axis, Case, parameter, readings
from garnetfin.project.tree import Project
from garnetfin.report.to_csv import harmless


def _columns(
    project: Project, axes: Sequence[Axis], cases: Sequence[Case]
) -> tuple[list[str], list[list[float | str | None]]]:
    known = [parameter(project, a.key) for a in axes]
    read = readings(project)
    heads = (
        [_head(p.name, p.quantity) for p in known]
        + [_head(r.name, r.quantity) for r in read]
        + ["Not computed because"]
    )
    columns: list[list] = [[c.values[k] for c in cases] for k in range(len(axes))]
    columns += [[c.readings.get(r.key) for c in cases] for r in read]
    columns.append([c.why for c in cases])
    return heads, columns


def _head(name: str, quantity: str) -> str:
    """Figures are stored in SI: the unit is the one behind the shown one, without its factor."""
    units = {
        "load": "W",
        "shaft_power": "W",
        "room_flow": "m3/s",
        "system_flow": "m3/s",
        "duct_size": "m",
        "fraction": "-",
        "count": "-",
        "plain": "-",
    }
    unit = units.get(quantity) or (QUANTITIES[quantity].si.symbol if quantity in QUANTITIES else "")
    return f"{name} [{unit}]"


def study_csv(project: Project, axes: Sequence[Axis], cases: Sequence[Case]) -> bytes:
    heads, columns = _columns(project, axes, cases)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(heads)
    writer.writerows(
        [
            ["" if v is None else harmless(v) if isinstance(v, str) else f"{v:.10g}" for v in row]
            for row in zip(*columns)
        ]
    )
    return out.getvalue().encode("utf-8-sig")


def study_parquet(project: Project, axes: Sequence[Axis], cases: Sequence[Case]) -> bytes:
    """Raises GarnetfinError where pyarrow is not installed."""
    try:
        import pyarrow
        import pyarrow.parquet
    except ImportError as error:
        raise GarnetfinError(
            "Parquet needs the package “pyarrow”", remedy="Install garnetfin[study], or write CSV"
        ) from error
    heads, columns = _columns(project, axes, cases)
    out = io.BytesIO()
    pyarrow.parquet.write_table(
        pyarrow.table(
            {
                h: pyarrow.array(c, type=pyarrow.string() if k == len(heads) - 1 else pyarrow.float64())
                for k, (h, c) in enumerate(zip(heads, columns))
            }
        ),
        out,
    )
    return out.getvalue()
