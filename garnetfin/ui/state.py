"""What views render from: project, results, selection, and how things are shown. Free of Qt."""

from dataclasses import dataclass

from garnetfin.core.units import System
from garnetfin.engine.flows.flow_results import Flows, WhatIf
from garnetfin.engine.results import Block, Missing, Results
from garnetfin.engine.stages.blocks import block_of
from garnetfin.project.ducts import Air
from garnetfin.project.systems import AirSystem
from garnetfin.project.tree import Project

EARLY = ("Climate", "Building", "Loads")  # links whose figures are known before the air is
LINKS = ("Climate", "Building", "Loads", "Air", "Ducts", "Balance", "Fan", "Documents")


@dataclass(frozen=True, slots=True)
class Selection:
    """What is selected in the whole program: parts of one kind, by id."""

    kind: str = ""  # room, segment, terminal, opening (wall id/opening id)
    ids: tuple[str, ...] = ()

    def of(self, kind: str) -> tuple[str, ...]:
        return self.ids if self.kind == kind else ()


@dataclass(frozen=True, slots=True)
class Show:
    """How things are shown; none of it belongs to the project."""

    link: str = "Building"
    system_id: str = ""
    level_id: str = ""
    units: System = "SI"
    hour: tuple[int, int] | None = None  # month, hour; None = the governing one
    air: Air = "supply"  # Ducts: whose ducts are drawn and listed: supply, return, extract
    fan_way: str = "supply"  # Fan: the fan that is shown: supply, return, extract, exhaust
    what: WhatIf = WhatIf()  # Balance and Fan: how the system may stand
    scope: str = "system"  # Loads: room, zone, level, system, building


@dataclass(frozen=True, slots=True)
class State:
    """All that a view renders from."""

    project: Project
    found: Results | None  # None before anything was computed
    selection: Selection
    show: Show
    stale: bool
    against: Results | None = None  # of the mark that is compared with
    against_name: str = ""
    # what rooms really get under what is asked; None while it is computed for the first time
    flows: Flows | Missing | None = None
    fresh: tuple[str, ...] = ()  # while stale: links whose figures are those of the project all the same

    def against_block(self, room_ids: tuple[str, ...]) -> Block | None:
        """The same rooms together in the mark; None without one, or where it knows none of them."""
        return block_of(self.against, room_ids) if self.against else None

    @property
    def known(self) -> bool:
        """Whether anything was computed yet."""
        return self.found is not None

    @property
    def results(self) -> Results:
        """Of the project. Raises LookupError before anything was computed."""
        if self.found is None:
            raise LookupError("nothing was computed yet")
        return self.found

    @property
    def system(self) -> AirSystem | None:
        """The air system that is shown."""
        return next((s for s in self.project.air_systems if s.id == self.show.system_id), None)
