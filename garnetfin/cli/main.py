"""The command line: a window, or results and papers of a project file without one.

Exit codes: 0 done, 1 no display for a window, 2 a file or an argument that cannot be used.
"""

import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

if TYPE_CHECKING:
    from garnetfin.exchange.results import Table
    from garnetfin.project.draft import Draft
    from garnetfin.project.tree import Project


def main() -> None:
    """Entry point. A bare call or a bare file goes straight to the window, before anything heavy is imported."""
    arguments = sys.argv[1:]
    if not arguments:
        sys.exit(_window(None))
    if len(arguments) == 1 and arguments[0].endswith(".gfin"):
        sys.exit(_window(Path(arguments[0])))
    _app()()


def _window(path: Path | None, example: bool = False) -> int:
    from garnetfin.ui.app import has_display, run_window

    if not has_display():
        named = next((f"{k}={v[:60]}" for k in ("WAYLAND_DISPLAY", "DISPLAY") if (v := os.environ.get(k))), "")
        print(f"The display {named} does not answer. " if named else "", end="", file=sys.stderr)
        print(
            "No display to open a window on. Without one: garnetfin compute FILE --json OUT, "
            "garnetfin report FILE --pdf OUT, garnetfin demo --headless FOLDER",
            file=sys.stderr,
        )
        return 1
    return run_window(path, example)


def _load(path: Path):
    """The project, or exit code 2 with one clear sentence."""
    from garnetfin.core.errors import GarnetfinError
    from garnetfin.project.store import load

    try:
        return load(path)
    except GarnetfinError as error:
        _refuse(str(error))


AREA_UNITS = {"m2": "m²", "ft2": "ft²"}


def _refuse(sentence: str) -> NoReturn:
    print(f"garnetfin: {sentence}", file=sys.stderr)
    sys.exit(2)


def _run(project):
    """Results, with the stage in hand on the error stream when somebody watches."""
    from garnetfin.engine.memo import Memo
    from garnetfin.engine.run import run

    def progress(stage: str) -> None:
        if sys.stderr.isatty():
            print(f"\r{stage:<12}", end="", file=sys.stderr, flush=True)

    results = run(project, Memo(), progress=progress)
    if sys.stderr.isatty():
        print("\r" + " " * 12 + "\r", end="", file=sys.stderr)
    return results


def _write(path: Path, data: bytes) -> None:
    from garnetfin.core.errors import GarnetfinError
    from garnetfin.project.disk import write_whole

    try:
        if path.parent != Path():
            path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, data, "")
    except OSError as error:
        _refuse(f"{path} could not be written: {error.strerror or error}")
    except GarnetfinError as error:
        _refuse(str(error))


def _json(results) -> bytes:
    from garnetfin.cli.results_json import as_json

    return json.dumps(as_json(results), ensure_ascii=False, allow_nan=False, indent=1).encode()


def _pdf(results, units: str) -> bytes:
    from garnetfin.report.document import Order
    from garnetfin.report.handover import pdf

    return pdf(Order(results, units)).data


def summary(results) -> str:
    """The chain in a few lines."""
    from garnetfin import display
    from garnetfin.engine.results import Missing

    lines = [results.project.name]

    def say(link: str, value, text) -> None:
        lines.append(
            f"  {link:<9}" + (f"{value.reason}. {value.remedy}" if isinstance(value, Missing) else text(value))
        )

    say(
        "Loads",
        results.blocks[""],
        lambda b: (
            f"cooling {display.with_unit('load', b.peak_w, 'SI', 1)} at "
            f"{display.hour(*b.peak)}, heating {display.with_unit('load', b.heating_w, 'SI', 1)}"
        ),
    )
    for system in results.project.air_systems:
        say(
            "Air",
            results.air[system.id],
            lambda a: (
                f"{display.with_unit('system_flow', a.flow_m3s, 'SI')} supply, {a.outdoor_m3s / a.flow_m3s:.0%} outdoor"
                if a.flow_m3s
                else "no flow"
            ),
        )
        say(
            "Ducts",
            results.ducts[system.id],
            lambda d: (
                f"{display.with_unit('length', d.length_m, 'SI', 0)}, "
                f"{display.with_unit('mass', d.mass_kg, 'SI')}, index run {d.index.label} "
                f"{display.with_unit('pressure', d.runs.fan_pa, 'SI')}"
            ),
        )
        fan = results.fans[system.id]
        say(
            "Fan",
            fan if isinstance(fan, Missing) else fan.chosen,
            lambda c: (
                f"{c.fan_id} at {c.speed_rpm:.0f} rpm, "
                f"{display.with_unit('pressure', fan.point.pressure_pa, 'SI')}, "
                f"{display.with_unit('shaft_power', fan.point.electric_w, 'SI')}"
            ),
        )
    lines.append(f"  Findings {len(results.findings)}")
    return "\n".join(lines)


def _listed(table: "Table", name: str, project: "Project", areas: str) -> "Draft":
    """The draft of a list; what is doubtful or holds no rooms is refused."""
    from garnetfin.exchange.room_list import to_draft, understand

    if areas not in ("", *AREA_UNITS):
        _refuse(f"--areas is {' or '.join(AREA_UNITS)}")
    present = frozenset(r.number for r in project.rooms)
    found = understand(table.rows, name, present=present, area_unit=AREA_UNITS.get(areas, ""))
    if found.feet is not None:
        metres, feet = found.feet
        _refuse(
            f"The areas of {name} have no unit and are large for what the rooms are: {metres:.0f} m², or {feet:.0f} m² "
            "if they are square feet. Say --areas m2 or --areas ft2"
        )
    if found.refused():
        _refuse(f"{name}: {found.refused()}")
    if len(table.sheets) > 1:
        print(f"  found     sheet “{table.sheet}” of {len(table.sheets)}")
    return to_draft(found, project, project.levels[0].id)


def _asked(draft: "Draft", given: tuple[str, ...]) -> "Draft":
    """The draft with what it asks about answered by name, else by the library; what nothing tells is refused."""
    from garnetfin.project.draft import answered

    figures: dict[str, float] = {}
    for one in given:
        name, _, value = one.rpartition("=")
        try:
            figures[name.strip().lower()] = float(value.replace(",", "."))
        except ValueError:
            _refuse(f"“{one}” is not NAME=W/mK")
    answers = {}
    for asked in draft.asked:
        k = figures.get(asked.name.lower(), figures.get(asked.key.lower(), asked.suggestion))
        if k is not None:
            answers[asked.key] = k
    left = [a.name for a in draft.asked if a.key not in answers]
    if left:
        _refuse(
            f"{draft.source} has no conductivity for {', '.join(left[:6])}{' …' if len(left) > 6 else ''}: give it, "
            f'e.g. --conductivity "{left[0]}=0.04"'
        )
    return answered(draft, answers)


def _import(
    source: Path,
    out: Path,
    into: Path | None,
    areas: str = "",
    conductivity: tuple[str, ...] = (),
    others: bool = False,
) -> None:
    from garnetfin.core.errors import GarnetfinError
    from garnetfin.exchange.reading import read
    from garnetfin.project.draft import groups_of
    from garnetfin.project.edits.imports import TakeDraft, differences, homeless
    from garnetfin.project.new import new_project
    from garnetfin.project.store import encode, load_contents

    project = _load(into) if into is not None else new_project()
    contents = load_contents(into, project) if into is not None else {}
    try:
        answer = read(source)
        if answer.table is not None:
            draft = _listed(answer.table, source.name, project, areas)
        elif answer.draft is not None:
            draft = _asked(answer.draft, conductivity)
        else:
            _refuse(f"{source.name} is no building and no list. It can lie below the plan in the window")
        groups = groups_of(draft) if others else {}
        if not draft.rooms and not groups:
            _refuse(f"{source.name} holds no rooms")
        changes = differences(project, draft)
        command = TakeDraft(draft, tuple(r.id for r in draft.rooms), groups=tuple(groups))
        made = command.apply(project)
    except GarnetfinError as error:
        _refuse(str(error))
    for note in draft.notes:
        print(f"  {note.kind:<9} {note.text}" + (f" ({note.where})" if note.where else ""))
    for change in changes:
        if change.lines:
            print(f"  {change.kind:<9} {change.number} {change.name}: {'; '.join(change.lines)}")
    if left := homeless(project, made, command):
        print(f"  left out  {left} windows and doors found no wall to stand in")
    _write(out, encode(made, contents))
    print(f"written {out}: {len(made.rooms)} rooms")


def _papers(file: Path, out: Path, formats: str, only: str, against: str, units: str) -> None:
    from msgspec import structs

    from garnetfin.core.errors import GarnetfinError
    from garnetfin.project.papers import PAPER_NAMES
    from garnetfin.project.store import load_marks
    from garnetfin.report.document import Order
    from garnetfin.report.handover import FORMATS, files, write_files

    def listed(text: str, known: dict[str, str], what: str) -> tuple[str, ...]:
        found = tuple(x.strip() for x in text.split(",") if x.strip())
        wrong = next((x for x in found if x not in known), None)
        if wrong is not None:
            _refuse(f"“{wrong}” is no {what}. Accepted are: {', '.join(known)}")
        return found

    if units not in ("SI", "IP"):
        _refuse(f"“{units}” is not a unit system. SI and IP are accepted")
    kinds, wanted = listed(formats, FORMATS, "format") or ("pdf",), listed(only, PAPER_NAMES, "paper")
    project = _load(file)
    before = None
    if against:
        marks = {m.name: m.project for m in load_marks(file)}
        if against in marks:
            before = _run(marks[against])
        elif Path(against).exists():
            before = _run(_load(Path(against)))
        else:
            _refuse(
                f"“{against}” is neither a snapshot of {file.name} ({', '.join(marks) or 'it has none'}) nor a file"
            )
    if wanted:
        left_out = tuple(i for i in PAPER_NAMES if i not in wanted)
        project = structs.replace(project, papers=structs.replace(project.papers, left_out=left_out))
    order = Order(_run(project), units, before, against if before is not None else "")
    try:
        for path in write_files(
            files(order, kinds, lambda words: print(f"  {words}", file=sys.stderr) if sys.stderr.isatty() else None),
            _folder(out),
        ):
            print(f"written {path}")
    except OSError as error:
        _refuse(f"{out} could not be written: {error.strerror or error}")
    except GarnetfinError as error:
        _refuse(str(error))


def _folder(path: Path) -> Path:
    try:
        path.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        _refuse(f"{path} could not be made: {error.strerror or error}")
    return path


def _app():
    import typer

    app = typer.Typer(
        add_completion=False,
        no_args_is_help=False,
        pretty_exceptions_enable=False,
        rich_markup_mode=None,  # plain help, at once
        help="Garnetfin: room loads, air flows, ducts and fan as one live chain. "
        "Without a command it opens the window; “garnetfin FILE.gfin” opens a project in it.",
    )

    @app.command()
    def demo(
        headless: Path = typer.Option(None, help="No window: write report, results and a picture of every view here."),
    ):
        """Open the example, Tern Point Field Station; or, without a display, write all of it into a folder."""
        if headless is None:
            raise typer.Exit(_window(None, example=True))
        from garnetfin.ui.example import example_project

        project = example_project()
        results = _run(project)
        _write(headless / "results.json", _json(results))
        _write(headless / "report.pdf", _pdf(results, "SI"))
        print(summary(results))
        from garnetfin.cli.pictures import take

        for made in (headless / "results.json", headless / "report.pdf", *take(headless, project)):
            print(f"written {made}")

    @app.command()
    def compute(
        file: Path = typer.Argument(..., help="A project (.gfin)."),
        json_out: Path = typer.Option(..., "--json", help="Where the results go."),
    ):
        """Write all results: every room hour by hour with causes, flows, segments, index run, operating point."""
        results = _run(_load(file))
        _write(json_out, _json(results))
        print(summary(results))
        print(f"written {json_out}")

    @app.command()
    def report(
        file: Path = typer.Argument(..., help="A project (.gfin)."),
        pdf: Path = typer.Option(..., "--pdf", help="Where the report goes."),
        units: str = typer.Option("SI", help="SI or IP."),
    ):
        """Write the report as PDF."""
        if units not in ("SI", "IP"):
            _refuse(f"“{units}” is not a unit system. SI and IP are accepted")
        results = _run(_load(file))
        _write(pdf, _pdf(results, units))
        print(f"written {pdf}")

    @app.command("papers", hidden=True)  # as it was called before
    @app.command("documents")
    def documents(
        file: Path = typer.Argument(..., help="A project (.gfin)."),
        out: Path = typer.Option(..., help="The folder the files go into."),
        formats: str = typer.Option("pdf", help="Of pdf, xlsx, csv, dxf, svg, ifc, gbxml, with commas between."),
        only: str = typer.Option(
            "", help="Documents to print, with commas between; without it those the project prints."
        ),
        against: str = typer.Option(
            "", help="A snapshot of the project, or another project file, that changes count against."
        ),
        units: str = typer.Option("SI", help="SI or IP."),
    ):
        """Write the document set, its plans and the model."""
        _papers(file, out, formats, only, against, units)

    @app.command()
    def study(
        file: Path = typer.Argument(..., help="A project (.gfin)."),
        vary: list[str] = typer.Option(
            [],
            help="KEY=LOW:HIGH:STEPS or KEY=A,B,C; up to four times. Figures with or without a unit, as in “18 degC”.",
        ),
        out: Path = typer.Option(None, help="The table, .csv or .parquet."),
        processes: int = typer.Option(0, help="Processes on this machine; 0 for as many as it has cores."),
        dask: str = typer.Option(
            "",
            help="Address of a Dask scheduler instead, such as tcp://host:8786. It gets the whole project and may "
            "run code here: only a scheduler of your own.",
        ),
        known: bool = typer.Option(False, "--list", help="Print what this project lets vary."),
    ):
        """Vary figures of a project over ranges and read the chain’s figures off every combination."""
        from garnetfin.cli.study import study as make

        make(_load(file), vary, out, processes, dask, known, _refuse, _write)

    @app.command()
    def export(
        file: Path = typer.Argument(..., help="A project (.gfin)."),
        gbxml: Path = typer.Option(None, help="Where the building goes as gbXML."),
        ifc: Path = typer.Option(None, help="Where building and air systems go as IFC4."),
        rooms: Path = typer.Option(None, help="Where the rooms go as CSV."),
        faces: Path = typer.Option(None, help="Where walls, roofs and floors go as CSV."),
    ):
        """Write the building for other programs."""
        if not (gbxml or ifc or rooms or faces):
            _refuse("Nothing to write. Give --gbxml, --ifc, --rooms or --faces")
        from garnetfin.report import handover
        from garnetfin.report.to_csv import faces_csv, rooms_csv

        results = _run(_load(file))
        order = handover.Order(results)
        for path, made in (
            (gbxml, lambda: handover.gbxml(order)),
            (ifc, lambda: handover.ifc(order)),
            (rooms, lambda: rooms_csv(results).encode("utf-8-sig")),
            (faces, lambda: faces_csv(results).encode("utf-8-sig")),
        ):
            if path is not None:
                _write(path, made())
                print(f"written {path}")

    @app.command("import")
    def import_(
        source: Path = typer.Argument(..., help="gbXML, IFC, or a room list as CSV or XLSX."),
        out: Path = typer.Option(..., help="The project (.gfin) that is written."),
        into: Path = typer.Option(None, help="A project to take the rooms into; a new one without it."),
        areas: str = typer.Option("", help="Unit of areas that have none in a list: m2 or ft2."),
        conductivity: list[str] = typer.Option((), help="Of a material that has none in the file, NAME=W/mK."),
        others: bool = typer.Option(False, "--others", help="Take ducts, pipes and beams of others as obstacles."),
    ):
        """Take a building or a room list into a project; prints what was found, missing, assumed, left out and
        changed.
        """
        _import(source, out, into, areas, tuple(conductivity), others)

    @app.command()
    def schema(
        what: str = typer.Argument("project", help="project: a project file; results: what `compute --json` writes."),
        out: Path = typer.Option(None, help="A file; without it the schema is printed."),
    ):
        """The JSON Schema of a project file, or of the results with the unit of every figure."""
        from garnetfin.cli.results_schema import results_schema
        from garnetfin.project.store import schema_text

        if what not in ("project", "results"):
            _refuse(f"“{what}” has no schema; project and results have")
        text = schema_text() if what == "project" else json.dumps(results_schema(), ensure_ascii=False, indent=1)
        text = text.rstrip() + "\n"
        if out is None:
            print(text, end="")
        else:
            _write(out, text.encode())
            print(f"written {out}")

    @app.command()
    def desktop(remove: bool = typer.Option(False, help="Take it out of the menus again.")):
        """Put Garnetfin into the desktop’s menus: entry, icon, and what opens .gfin files."""
        from garnetfin.cli import desktop as entry
        from garnetfin.core.errors import GarnetfinError

        try:
            for path in (entry.remove if remove else entry.install)(entry.share_folder()):
                print(f"{'removed' if remove else 'written'} {path}")
        except OSError as error:
            _refuse(f"{error.filename or entry.share_folder()} could not be written: {error.strerror or error}")
        except GarnetfinError as error:
            _refuse(str(error))

    @app.command()
    def version():
        """Print the version."""
        from garnetfin import __version__

        print(__version__)

    return app


if __name__ == "__main__":
    main()
