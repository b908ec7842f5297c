"""A parameter study from the command line."""

import sys
from collections.abc import Callable
from pathlib import Path

from garnetfin import display
from garnetfin.core.errors import GarnetfinError
from garnetfin.core.units import parse
from garnetfin.engine.studies.study import Axis, Case, combinations, parameter, parameters, readings, run_study, steps
from garnetfin.engine.studies.study_places import workers
from garnetfin.project.tree import Project
from garnetfin.report.study_files import study_csv, study_parquet


def axis(project: Project, text: str) -> Axis:
    """“KEY=LOW:HIGH:STEPS” or “KEY=A,B,C”. Raises GarnetfinError saying what is accepted."""
    key, between, values = text.partition("=")
    if not between:
        raise GarnetfinError(f"“{text}” varies nothing", remedy="Write KEY=LOW:HIGH:STEPS or KEY=A,B,C")
    quantity = parameter(project, key.strip()).quantity
    if ":" in values:
        parts = values.split(":")
        if len(parts) != 3 or not parts[2].strip().isdigit():
            raise GarnetfinError(f"“{values}” is no range", remedy="Write LOW:HIGH:STEPS, such as 0.2:0.6:5")
        return Axis(key.strip(), steps(parse(parts[0], quantity, "SI"), parse(parts[1], quantity, "SI"), int(parts[2])))
    return Axis(key.strip(), tuple(parse(v, quantity, "SI") for v in values.split(",")))


def study(
    project: Project,
    vary: list[str],
    out: Path | None,
    processes: int,
    dask: str,
    known: bool,
    refuse: Callable[[str], None],
    write: Callable[[Path, bytes], None],
) -> None:
    """Compute it, print its ends, write its table."""
    if known:
        for p in parameters(project):
            unit = display.unit(p.quantity, "SI")
            print(f"{p.key:<44} {p.name}{f' [{unit}]' if unit else ''}")
        return
    try:
        axes = [axis(project, text) for text in vary]
        count = len(combinations(axes))
        if out is not None and out.suffix not in (".csv", ".parquet"):
            refuse(f"{out.name} is no table this program writes. .csv and .parquet are accepted")
        with workers(dask, processes) as executor:
            cases = run_study(project, axes, executor, _progress)
        if sys.stderr.isatty():
            print("\r" + " " * 30 + "\r", end="", file=sys.stderr)
        for line in summary(project, cases):
            print(line)
        if out is not None:
            write(
                out,
                study_parquet(project, axes, cases) if out.suffix == ".parquet" else study_csv(project, axes, cases),
            )
            print(f"written {out}: {count} combinations")
    except GarnetfinError as error:
        refuse(str(error))


def _progress(done: int, of: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {of}", end="", file=sys.stderr, flush=True)


def summary(project: Project, cases: tuple[Case, ...]) -> list[str]:
    """The least and the greatest of every figure that moved."""
    lines = [
        f"{len(cases)} combinations"
        + (
            f", {failed} of them could not be computed: {next(c.why for c in cases if c.why)}"
            if (failed := sum(bool(c.why) for c in cases))
            else ""
        )
    ]
    for r in readings(project):
        values = [v for c in cases if (v := c.readings.get(r.key)) is not None]
        if values and max(values) > min(values):
            lines.append(
                f"  {r.name:<40} {display.with_unit(r.quantity, min(values), 'SI')} to "
                f"{display.with_unit(r.quantity, max(values), 'SI')}"
            )
    return lines
