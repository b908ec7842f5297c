"""Papers: the list of the set with its pages and what moved in each, and the card beside it."""

from dataclasses import dataclass

from garnetfin import display
from garnetfin.engine.studies.change_list import ChangeList, Moved, change_list
from garnetfin.project.papers import PAPER_SIZES, PAPERS, SCALES
from garnetfin.ui.state import State
from garnetfin.ui.view_models import edits
from garnetfin.ui.view_models.card import CardVM, FindingsVM, Headline, Inputs, InputVM, Line, Lines

# Whose figures a paper prints, to say how many of them moved.
OF_ROOMS, OF_DUCTS, OF_SYSTEMS = (
    ("summary", "rooms", "air", "outdoor"),
    ("plans", "ducts", "quantities"),
    ("coils", "fan", "balance"),
)
NEEDS_MARK = "needs a snapshot"


@dataclass(frozen=True, slots=True)
class PaperRow:
    paper_id: str
    name: str
    pages: str
    printed: bool
    moved: str = ""


@dataclass(frozen=True, slots=True)
class PaperList:
    rows: tuple[PaperRow, ...]
    pages: int
    chosen: str


def changes_of(state: State) -> ChangeList | None:
    """What moved since the mark, None without one."""
    return (
        change_list(state.against, state.results, state.show.units)
        if state.against is not None and state.known
        else None
    )


def paper_list(state: State, starts: dict[str, int], pages: int, chosen: str, found: ChangeList | None) -> PaperList:
    """Rows in the order of the set; pages once they are made."""
    left_out = state.project.papers.left_out
    begins = [starts[i] for i, _ in PAPERS if i in starts]
    rows = []
    for paper_id, name in PAPERS:
        printed = paper_id not in left_out
        if paper_id == "changes" and state.against is None:
            rows.append(PaperRow(paper_id, name, NEEDS_MARK if printed else "left out", printed))
            continue
        text = "left out" if not printed else "…"
        if printed and paper_id in starts:
            first = starts[paper_id]
            last = min((b for b in begins if b > first), default=pages + 1) - 1
            text = f"page {first}" if last <= first else f"pages {first}–{last}"
        rows.append(PaperRow(paper_id, name, text, printed, _moved(paper_id, found) if printed else ""))
    return PaperList(tuple(rows), pages, chosen)


def _moved(paper_id: str, found: ChangeList | None) -> str:
    if found is None:
        return ""
    if paper_id in OF_ROOMS and found.rooms:
        return f"{len(found.rooms)} {'room' if len(found.rooms) == 1 else 'rooms'}"
    if paper_id in OF_DUCTS and found.ducts:
        return f"{len(found.ducts)} {'duct' if len(found.ducts) == 1 else 'ducts'}"
    if paper_id in OF_SYSTEMS and any(m.any for s in found.systems if s.system_id for _, m in s.figures):
        return "moved"
    return ""


def papers_card(state: State, pages: int, made: str, found: ChangeList | None, files: tuple[str, ...] = ()) -> CardVM:
    """The set as a whole: who signs, what moved, what is open, issues, files of the last hand-over."""
    project, results = state.project, state.results
    papers, sheet = project.papers, project.book.sheet
    bad = tuple(f for f in results.findings if f.severity == "bad")
    moved = len(found.rooms) + len(found.ducts) if found is not None else 0
    heads = (
        Headline("Pages", str(pages) if pages else display.DASH, "", made),
        Headline(
            "Changed",
            str(moved) if found is not None else display.DASH,
            "",
            "since the snapshot" if found is not None else "no snapshot",
        ),
        Headline(
            "Open",
            str(len(results.findings)),
            "",
            f"{len(bad)} break a limit" if bad else "no limit broken",
            "bad" if bad else "",
            ("findings",),
        ),
    )
    job = tuple(
        InputVM(edits.papers(field), label, getattr(papers, field), "", "plain")
        for field, label in (("job", "Job"), ("client", "Client"), ("made_by", "Made by"), ("checked_by", "Checked by"))
    )
    scale = InputVM(
        edits.papers("scale"),
        "Plans",
        "",
        "",
        "plain",
        choices=(("0", "largest that fits"), *((str(n), f"1:{n}") for n in SCALES)),
        chosen=str(papers.scale),
    )
    office = (
        InputVM(edits.sheet("company"), "Office", sheet.company, "", "plain"),
        InputVM(
            edits.sheet("plans"),
            "Plans on",
            "",
            "",
            "plain",
            choices=tuple((s, s) for s in PAPER_SIZES),
            chosen=sheet.plans,
        ),
    )
    said = tuple(
        InputVM(
            edits.deviation(a.code, a.kind, a.object_id),
            display.in_units(f.title, state.show.units),
            a.reason,
            "",
            "plain",
            tip="{0.title}. {0.reason} Cleared, it counts again.".format(f.in_units(state.show.units)),
        )
        for f, a in results.accepted
    )
    issues = (
        Line("in work", "now", lead=str(papers.next_number)),
        *(Line(i.note or "handed over", i.date, lead=str(i.number)) for i in reversed(papers.issues)),
    )
    return CardVM(
        "Documents",
        f"Issue {papers.next_number}",
        project.name,
        heads,
        (
            Inputs("This job", "", (*job, scale)),
            Inputs("The office’s sheet", "logo: menu Documents", office),
            *_what_changed(state, found),
            *((FindingsVM("Before you issue", f"{len(bad)} to look at", bad[:3]),) if bad else ()),
            *((Inputs("Accepted issues", "clear a reason to reopen", said),) if said else ()),
            Lines("Issues", "", issues[:8]),
            *((Lines("Files of the last hand-over", "", tuple(Line(f, "") for f in files[:10])),) if files else ()),
        ),
    )


def _what_changed(state: State, found: ChangeList | None) -> tuple[Lines, ...]:
    if found is None:
        return ()
    units, lines = state.show.units, []
    for change in found.rooms[:6]:
        moved = change.cooling if change.cooling.any else change.heating if change.heating.any else change.flow
        lines.append(
            Line(
                change.name,
                _step(moved, units),
                display.unit(moved.quantity, units),
                lead=change.number,
                target=("room", change.room_id),
            )
        )
    for system in found.systems:
        lines += [
            Line(label, _step(m, units), display.unit(m.quantity, units), strong=True)
            for label, m in system.figures
            if m.any and label in ("Supply air", "Fan, electric power")
        ]
    return (
        (Lines("What changed", f"{state.against_name} → now", tuple(lines)),)
        if lines
        else (Lines("What changed", f"{state.against_name} → now", (Line("nothing", ""),)),)
    )


def _step(m: Moved, units) -> str:
    before, now = ((display.figure(m.quantity, v, units) if v is not None else display.DASH) for v in (m.before, m.now))
    return f"{before} → {now}"
