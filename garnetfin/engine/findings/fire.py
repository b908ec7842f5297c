"""Findings of fire: ducts that cross rated walls without a damper that resists as long, by level and what it lacks."""

from collections.abc import Iterator, Mapping

from garnetfin.engine.findings.naming import some
from garnetfin.engine.layout.fire_crossings import FireCrossing, fire_crossings
from garnetfin.engine.results import Finding, Mend, SegmentResult
from garnetfin.project.edits.inline import FirePlace, PutFireDampers
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project

LACKS = {
    "none": "without a fire damper",
    "minutes": "with a damper that resists for too short",
    "smoke": "with a damper that does not shut for smoke",
}


def fire_findings(project: Project, known: Mapping[str, SegmentResult]) -> Iterator[Finding]:
    """Crossings that are not met, one finding for all of a level that lack the same."""
    unmet: dict[tuple[str, str], list[FireCrossing]] = {}
    for c in fire_crossings(project, known):
        if c.lacks:
            unmet.setdefault((c.level_id, c.lacks), []).append(c)
    for (level_id, lacks), mine in unmet.items():
        level = find(project.levels, level_id)
        first, count = mine[0], len(mine)
        ducts = some(list(dict.fromkeys(c.segment_id for c in mine)))
        minutes = sorted({c.minutes for c in mine})
        rated = " and ".join(f"{m} min" for m in minutes)
        mends = [Mend("Put a damper here" if lacks == "none" else "Change this damper", PutFireDampers((_at(first),)))]
        if count > 1:
            what = "Put dampers at all" if lacks == "none" else "Change all"
            mends.append(Mend(f"{what} {count}", PutFireDampers(tuple(_at(c) for c in mine))))
        yield Finding(
            "fire-crossing",
            "Ducts",
            "segment",
            first.segment_id,
            f"Duct {first.segment_id} crosses a rated wall {LACKS[lacks]}"
            if count == 1
            else f"{count} crossings of rated walls on {level.name} {LACKS[lacks]}",
            f"Walls of {rated}: {ducts}. A damper of the same class belongs into the wall.",
            "bad",
            tuple(mends),
        )


def _at(c: FireCrossing) -> FirePlace:
    return FirePlace(c.segment_id, c.at, c.minutes, c.smoke, c.part_id)
