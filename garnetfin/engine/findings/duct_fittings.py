"""Findings of what stands in ducts: fittings beyond what they are made for, flexible pieces too long, fittings with no
room between them.
"""

from collections.abc import Iterator, Sequence

from garnetfin.core.ducts.fittings.catalogue import range_of
from garnetfin.core.ducts.friction import FLEXIBLE
from garnetfin.core.tables import fitting_tables
from garnetfin.display import amount, section_amount
from garnetfin.engine.findings.naming import some
from garnetfin.engine.layout.duct_pieces import Pieces, StraightRun, pieces_of
from garnetfin.engine.resolve import assumption
from garnetfin.engine.results import DuctResult, Finding, FittingLoss, Mend
from garnetfin.project.ducts import PinnedSize
from garnetfin.project.edits import Commands
from garnetfin.project.edits.duct_runs import SetFlexible, SetSize
from garnetfin.project.edits.duct_shape import MergeDuct
from garnetfin.project.edits.duct_values import SetDuctChoice, SetFitting
from garnetfin.project.edits.systems import SetSystemChoice
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.project.values import Rule

SHORT_DUCT_M = 0.5  # that may as well belong to its neighbour
LARGER = 1.1  # of area; a change of shape may grow a little
HEAD_ON = "tee-conv-bullhead"


def beyond_range(ducts: DuctResult) -> Iterator[Finding]:
    """Junctions whose areas lie outside what their fittings are made for; they are read at the nearest figure."""
    beyond: list[tuple[str, FittingLoss, float]] = []
    for k, segment_id in enumerate(ducts.segment_ids):
        above = int(ducts.tree.parent[k])
        own = ducts.segments.get(segment_id)
        whole = ducts.segments.get(ducts.segment_ids[above]) if above >= 0 else None
        if own is None or whole is None:
            continue
        area = own.section.area_m2 / whole.section.area_m2
        for f in own.fittings:
            low, high = range_of(f.name)
            if f.reference == "common" and not low - 1e-9 <= area <= high + 1e-9:
                beyond.append((segment_id, f, area))
    if beyond:
        segment_id, f, area = beyond[0]
        low, high = range_of(f.name)
        head_on = f.name == HEAD_ON
        yield Finding(
            "fitting-range",
            "Ducts",
            "segment",
            segment_id,
            f"{len(beyond)} junctions lie outside what their fittings are made for"
            if len(beyond) > 1
            else "A junction lies outside what its fitting is made for",
            f"{fitting_tables()[f.name]['name']}: {area:.2f} of the whole's area, made for {low:.2f} to {high:.2f}; "
            "its nearest figure is taken.",
            "watch",
            (Mend("Join it at the side", SetFitting((segment_id,), "takeoff", "tee-conv-90")),) if head_on else (),
        )


def flexible_findings(project: Project, ducts: DuctResult) -> Iterator[Finding]:
    """Flexible ends and whole flexible ducts that are longer than the office wants, or not round, told together."""
    most_m = assumption(project.book, "flexible_most_m").figure
    drawn = [s for s in (find(project.segments, i) for i in ducts.segments) if s is not None]
    soft = [s for s in drawn if ducts.segments[s.id].make.material in FLEXIBLE]
    ends = [(s.flexible_m, s.id) for s in drawn if s.flexible_m > most_m + 1e-9]
    whole = [(r.length_m, s.id) for s in soft for r in (ducts.segments[s.id],) if r.length_m > most_m + 1e-9]
    if ends or whole:
        length, first = max((*ends, *whole))
        steps = tuple(SetFlexible(i, most_m) for _, i in ends)
        rigid = SetDuctChoice(tuple(i for _, i in whole), "material", "")
        yield Finding(
            "flexible-long",
            "Ducts",
            "segment",
            first,
            f"{len(ends) + len(whole)} flexible ducts are longer than they should be"
            if len(ends) + len(whole) > 1
            else f"The flexible duct at {first} is {amount('length', length)} long",
            f"Up to {amount('length', most_m)} are usual; longer pieces sag and lose more.",
            "watch",
            (
                *((Mend(f"Ends of {amount('length', most_m)}", Commands("Flexible duct", steps)),) if steps else ()),
                *((Mend("Rigid duct there", rigid),) if whole else ()),
            ),
        )
    flat = [s.id for s in soft if ducts.segments[s.id].section.shape != "round"]
    if flat:
        yield Finding(
            "flexible-round",
            "Ducts",
            "segment",
            flat[0],
            f"{some(flat)}: flexible duct is round alone",
            "A pinned size gives it sides that flexible duct does not have.",
            "bad",
            (Mend("Let the rule size it round", SetSize(tuple(flat), Rule())),),
        )


def fits(project: Project, ducts: DuctResult) -> Iterator[Finding]:
    """Pinned ducts larger than the one before; elbows that overlap."""
    tree, ids = ducts.tree, ducts.segment_ids
    for s in tree.order:
        p = int(tree.parent[s])
        if p < 0:
            continue
        mine, before = ducts.segments[ids[s]], ducts.segments[ids[p]]
        if (
            (mine.pinned or before.pinned)
            and mine.section.area_m2 > before.section.area_m2 * LARGER
            and mine.flow_m3s <= before.flow_m3s * 1.001
        ):
            which = mine if mine.pinned else before
            yield Finding(
                "larger-on",
                "Ducts",
                "segment",
                which.segment_id,
                f"{section_amount(mine.section)} follows {section_amount(before.section)}",
                "A duct is larger than the one that feeds it.",
                "watch",
                (Mend("Let the rule decide", SetSize((which.segment_id,), Rule())),),
            )
    yield from overlapping(project, ducts)
    yield from regain_ends(ducts)


def regain_ends(ducts: DuctResult) -> Iterator[Finding]:
    """Straight ways on which static regain goes no further: the limits size what lies behind, all in one finding."""
    ended = [r for r in ducts.regained if r.ends == "no size"]
    if not ended:
        return
    worst = min(ended, key=lambda r: r.left_pa)
    first = ducts.segment_ids[worst.segments[0]]
    lacks = (
        f"At the best size that keeps its limits {amount('fine_pressure', -worst.left_pa)} lack: "
        f"{amount('fine_pressure', worst.gained_pa)} are gained, {amount('fine_pressure', worst.lost_pa)} lost on it. "
        "Make the section before it larger, or this one shorter."
        if worst.left_pa < 0
        else "No size of the series keeps height, aspect and velocity there."
    )
    before = ducts.before(first)
    mends = [Mend("Let the limits size them all", SetSystemChoice(ducts.system_id, "sizing", "friction"))]
    if before is not None and not before.pinned:
        larger = next((c for c in before.ladder.series.sections if c.area_m2 > before.section.area_m2 * LARGER), None)
        if larger is not None:
            size = PinnedSize(shape=before.section.shape, width_m=larger.width_m, height_m=larger.height_m)
            mends.insert(
                0, Mend(f"{before.segment_id} as {section_amount(larger)}", SetSize((before.segment_id,), size))
            )
    yield Finding(
        "regain-ends",
        "Ducts",
        "segment",
        first,
        f"Static regain ends at {len(ended)} sections" if len(ended) > 1 else f"Static regain ends at {first}",
        lacks,
        "watch",
        tuple(mends),
    )


def overlapping(project: Project, ducts: DuctResult) -> Iterator[Finding]:
    """Straight runs that are shorter than what the fittings at their ends take: all of a network are one finding."""
    made = pieces_of(project, ducts)
    if not made.lacking_m:
        return
    runs = sorted((r for r in made.runs if r.segment_ids[0] in made.lacking_m), key=lambda r: -_lack(made, r))
    worst = runs[0]
    first = worst.segment_ids[0]
    more = f"{len(runs)} ducts are" if len(runs) > 1 else "A duct is"
    others = [r.segment_ids[0] for r in runs[1:]]
    yield Finding(
        "fittings-overlap",
        "Ducts",
        "segment",
        first,
        f"{more} shorter than the fittings at the ends",
        f"{first} is {amount('length', worst.axis_m)} long and its fittings take "
        f"{amount('length', worst.axis_m + _lack(made, worst))}, {amount('duct_size', _lack(made, worst))} more."
        + (f" The same holds for {some(others)}." if others else ""),
        "watch",
        tuple(_shorter(ducts, made, [r.segment_ids for r in runs])),
    )


def _lack(made: Pieces, run: StraightRun) -> float:
    return made.lacking_m[run.segment_ids[0]]


def _shorter(ducts: DuctResult, made: Pieces, runs: Sequence[tuple[str, ...]]) -> Iterator[Mend]:
    """Mitred bends take less, plates no length at all; a single short piece goes into its neighbour."""
    near = {i for ids in runs for i in ids}
    behind = {ducts.segment_ids[k]: ducts.segment_ids[p] for k, p in enumerate(ducts.tree.parent.tolist()) if p >= 0}
    bends = [
        p.segment_ids[0]
        for p in made.fittings
        if p.kind == "bend" and "mitred" not in p.name and "vaned" not in p.name
        if p.segment_ids[0] in near or behind.get(p.segment_ids[0]) in near
    ]
    shape = {i: ducts.segments[i].section.shape for i in bends}
    steps = [
        SetFitting(tuple(i for i in bends if (shape[i] == "round") == is_round), "elbow", fitting=name)
        for is_round, name in ((True, "elbow-round-mitred"), (False, "elbow-rect-vaned-single"))
        if any((shape[i] == "round") == is_round for i in bends)
    ]
    if steps:
        yield Mend("Mitred bends there", steps[0] if len(steps) == 1 else Commands("Mitred bends", tuple(steps)))
    damped = tuple(p.segment_ids[0] for p in made.fittings if p.kind == "damper" and p.segment_ids[0] in near)
    if damped:
        yield Mend("Orifice plates for dampers there", SetDuctChoice(damped, "damper", "orifice"))
    if len(runs) == 1 and len(runs[0]) == 1:
        only = runs[0][0]
        if sum(parent == only for parent in behind.values()) <= 1 and ducts.segments[only].length_m < SHORT_DUCT_M:
            yield Mend("Merge into its neighbour", MergeDuct(only))
