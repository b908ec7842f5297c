"""The files of a hand-over: the set as PDF, workbook and tables, plans as drawings, the model as IFC and gbXML, what is
to be settled with others as BCF, what the model holds as IDS.
"""

from collections.abc import Callable, Iterable
from dataclasses import replace
from datetime import date
from pathlib import Path

from garnetfin.project.disk import below, file_name, write_whole
from garnetfin.project.papers import PAPER_SIZES, SCALES
from garnetfin.report.blocks import Block
from garnetfin.report.document import Order, document
from garnetfin.report.sheets.cover import issue_words

FORMATS = {
    "pdf": "PDF",
    "xlsx": "XLSX",
    "csv": "CSV",
    "dxf": "DXF",
    "svg": "SVG",
    "ifc": "IFC",
    "gbxml": "gbXML",
    "bcf": "BCF",
    "ids": "IDS",
}


def stem(order: Order) -> str:
    """Begin of every file name: the project and, once issued, its number."""
    project = order.results.project
    name = file_name(project.name, "project")
    return f"{name}-{project.papers.issues[-1].number:02d}" if order.issued and project.papers.issues else name


def look(order: Order):
    """How pages look: the office's sheet, the foot line."""
    from garnetfin.report.to_pdf import Look

    project = order.results.project
    sheet = project.book.sheet
    return Look(
        project.name,
        f"{project.name} · issue {issue_words(order.results, order.issued)}",
        sheet.company,
        sheet.lines,
        sheet.logo,
        sheet.plans,
        project.papers.scale,
    )


def pdf(order: Order, blocks: list[Block] | None = None):
    """The set as a PDF with its page numbers."""
    from garnetfin.report.to_pdf import to_pdf

    if blocks is None:
        blocks = document(replace(order, watch=order.watch.part(0.0, 0.3)))
    return to_pdf(blocks, look(order), order.watch.part(0.3, 1.0))


def plan_scale(order: Order) -> int:
    """1:n at which drawing files carry their words: as the plans of the set are printed."""
    from garnetfin.report.plan_sheet import BLOCK_MM, fitting_scale
    from garnetfin.report.sheets.plans import level_plan

    project = order.results.project
    across, down = reversed(PAPER_SIZES[project.book.sheet.plans])
    drawn = [d for level in project.levels if (d := level_plan(order.results, level.id, order.units)) is not None]
    return max(
        (fitting_scale(d, across - 26, down - 33 - BLOCK_MM, SCALES, project.papers.scale) for d in drawn), default=100
    )


def files(
    order: Order, formats: Iterable[str], progress: Callable[[str], None] = lambda words: None
) -> dict[str, bytes]:
    """Contents of every file by name (tables in a folder of their own). Formats: keys of FORMATS."""
    name, made, blocks = stem(order), {}, None
    for kind in formats:
        progress(FORMATS[kind])
        order.watch(0.0, FORMATS[kind])
        if kind in ("pdf", "xlsx", "csv") and blocks is None:
            blocks = document(order)
        match kind:
            case "pdf":
                made[f"{name}.pdf"] = pdf(order, blocks).data
            case "xlsx":
                from garnetfin.report.to_xlsx import to_xlsx

                made[f"{name}.xlsx"] = to_xlsx(blocks, order.results.project.name)
            case "csv":
                from garnetfin.report.to_csv import tables_csv

                made |= {f"{name}-tables/{file}": text.encode("utf-8-sig") for file, text in tables_csv(blocks).items()}
            case "dxf" | "svg":
                made |= _plans(order, kind, name)
            case "ifc":
                made[f"{name}.ifc"] = ifc(order)
            case "gbxml":
                made[f"{name}.xml"] = gbxml(order)
            case "bcf":
                from garnetfin.report.to_bcf import to_bcf

                made[f"{name}.bcf"] = to_bcf(order, f"{name}.ifc")
            case "ids":
                from garnetfin.exchange.ids_write import write_ids

                made[f"{name}.ids"] = write_ids(order.results.project.name, "", f"{date.today():%Y-%m-%d}")
    return made


def _plans(order: Order, kind: str, name: str) -> dict[str, bytes]:
    from garnetfin.report.sheets.plans import level_plan
    from garnetfin.report.to_dxf import to_dxf
    from garnetfin.report.to_svg import to_svg

    scale, made = plan_scale(order), {}
    for i, level in enumerate(order.results.project.levels, 1):
        drawing = level_plan(order.results, level.id, order.units, pieces=kind == "dxf")
        if drawing is not None:
            file = f"{name}-{file_name(level.name, f'level-{i}')}.{kind}"
            if file in made:  # two levels of one name
                file = f"{name}-{file_name(level.name, 'level')}-{i}.{kind}"
            made[file] = (
                to_dxf(drawing, scale)
                if kind == "dxf"
                else to_svg(drawing, f"{order.results.project.name}, {level.name} level", scale)
            )
    return made


def gbxml(order: Order) -> bytes:
    """The building with what its rooms are counted with and their loads."""
    from garnetfin.exchange.gbxml_write import write_gbxml
    from garnetfin.report.model import room_loads
    from garnetfin.report.to_csv import counted

    return write_gbxml(order.results.project, counted(order.results), room_loads(order.results))


def ifc(order: Order) -> bytes:
    """The building with its air systems."""
    from garnetfin.exchange.ifc_write import write_model
    from garnetfin.report.model import model

    return write_model(order.results.project, model(order.results))


def write_files(made: dict[str, bytes], target: Path) -> list[Path]:
    """Write them into a folder, or the only one under the very name given; each file whole or not at all.

    Raises FileError, OSError.
    """
    single = len(made) == 1 and not target.is_dir()
    written = []
    for name, data in made.items():
        path = target if single else below(target, name)
        path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, data)
        written.append(path)
    return written
