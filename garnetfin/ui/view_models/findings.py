"""Findings of what is chosen, as a section of its card; and all of them in a list, by cause."""

from collections import Counter
from dataclasses import dataclass

from garnetfin.engine.results import Finding, Results
from garnetfin.project.inline import level_of_part
from garnetfin.project.lookup import find
from garnetfin.project.tree import Project
from garnetfin.ui.state import LINKS, State
from garnetfin.ui.view_models.card import FindingsVM

SEVERITIES = ("bad", "watch")


@dataclass(frozen=True, slots=True)
class Cause:
    """Findings of one cause in one link, those that break a limit first."""

    title: str
    severity: str
    link: str
    findings: tuple[Finding, ...]


@dataclass(frozen=True, slots=True)
class FindingsListVM:
    """Causes sorted by worth; links and levels (key, words with a count) to choose from."""

    heading: str
    causes: tuple[Cause, ...]
    links: tuple[tuple[str, str], ...]
    levels: tuple[tuple[str, str], ...]

    @property
    def in_order(self) -> tuple[Finding, ...]:
        """Every finding as the list has them from top to bottom."""
        return tuple(f for cause in self.causes for f in cause.findings)


def findings_section(results: Results, kind: str, ids: tuple[str, ...], link: str = "") -> tuple[FindingsVM, ...]:
    own = tuple(f for f in results.findings if f.kind == kind and f.object_id in ids)
    own = own or tuple(f for f in results.findings if link and f.link == link)[:2]
    if not own:
        return ()
    return (FindingsVM("Finding" if len(own) == 1 else "Findings", f"{len(own)} of {len(results.findings)}", own[:3]),)


def findings_list(state: State, link: str = "", level_id: str = "") -> FindingsListVM:
    """All findings of a link and a level, "" for every one."""
    all_ = state.found.findings if state.found is not None else ()
    on = {id(f): level_of(state.project, f) for f in all_}
    by_link = Counter(f.link for f in all_)
    by_level = Counter(on.values())
    shown = [f for f in all_ if link in ("", f.link) and level_id in ("", on[id(f)])]
    groups: dict[tuple[str, str], list[Finding]] = {}
    for f in shown:
        groups.setdefault((f.link, f.code), []).append(f)
    causes = [_cause(found) for found in groups.values()]
    causes.sort(key=lambda c: (SEVERITIES.index(c.severity), LINKS.index(c.link) if c.link in LINKS else 99))
    return FindingsListVM(
        f"{len(shown)} of {len(all_)}" if len(shown) < len(all_) else f"{len(all_)}",
        tuple(causes),
        (("", f"All, {len(all_)}"), *((x, f"{x}, {by_link[x]}") for x in LINKS if by_link[x])),
        (("", "Every level"), *((x.id, f"{x.name}, {by_level[x.id]}") for x in state.project.levels if by_level[x.id])),
    )


def _cause(found: list[Finding]) -> Cause:
    found.sort(key=lambda f: SEVERITIES.index(f.severity))
    first, more = found[0], len(found) - 1
    title = first.title + (f" · and {more} more" if more else "")
    return Cause(title, first.severity, first.link, tuple(found))


def level_of(project: Project, finding: Finding) -> str:
    """Id of the level on which the part of a finding lies; "" for what lies on none."""
    part_id = finding.object_id.partition("/")[0]
    match finding.kind:
        case "room":
            part = find(project.rooms, part_id)
        case "opening" | "wall":
            part = find(project.walls, part_id)
        case "obstacle":
            part = find(project.obstacles, part_id)
        case "ceiling zone":
            part = find(project.ceiling_zones, part_id)
        case "segment":
            segment = find(project.segments, part_id)
            part = find(project.duct_points, segment.a) if segment is not None else None
        case "inline":
            return level_of_part(project, part_id)
        case "terminal":
            terminal = find(project.terminals, part_id)
            part = find(project.duct_points, terminal.point_id) if terminal is not None else None
        case _:
            part = None
    return str(part.level_id) if part is not None else ""
