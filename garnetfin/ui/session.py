"""The session: the project with its history, what is selected, what is shown. Every edit goes through do()."""

from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import Any

from msgspec import structs
from PySide6.QtCore import QObject, Signal

from garnetfin.core.errors import ChangedError, FileError, GarnetfinError
from garnetfin.engine.flows.flow_results import Flows, WhatIf
from garnetfin.engine.flows.real_flows import ask
from garnetfin.engine.memo import Memo
from garnetfin.engine.results import First, Missing, Results
from garnetfin.engine.run import Token, run
from garnetfin.engine.studies.changes import changes
from garnetfin.project.edits import Command
from garnetfin.project.edits.book import SetAssumption, SetBookChoice, TakeBook
from garnetfin.project.edits.ceilings import AddCeilingZone, AddObstacle
from garnetfin.project.edits.inline import PutInline
from garnetfin.project.edits.marks import AddMark
from garnetfin.project.edits.outlines import AddRoom, FillRoom
from garnetfin.project.edits.systems import SetSystemChoice
from garnetfin.project.history import History
from garnetfin.project.inline import inline_places
from garnetfin.project.journal import Found, digest, digest_of
from garnetfin.project.lookup import find
from garnetfin.project.store import Mark, content_id, encode, load_contents, named_contents, write_encoded
from garnetfin.project.tree import Project
from garnetfin.ui.bridge import Newest
from garnetfin.ui.crash_recovery import CrashRecovery
from garnetfin.ui.opening import FileRead, read_file
from garnetfin.ui.state import EARLY, Selection, Show, State

# Edits that draw something, and what it is called once it is selected.
DRAWING = (AddRoom, FillRoom, AddObstacle, AddCeilingZone, AddMark)
DRAWN = {"rooms": "room", "obstacles": "obstacle", "ceiling_zones": "ceiling zone", "plan_marks": "block"}
# Edits that change a rule: all that is by rule follows, and how much of it moved is said.
RULES = (SetAssumption, SetBookChoice, TakeBook, SetSystemChoice)
MOST_CONTENTS = 400 * 2**20  # together with the largest project below what its file may hold


def drawn_parts(command: Command, before: Project, after: Project) -> Selection:
    """What an edit drew anew, to be selected; nothing for edits that draw nothing."""
    if isinstance(command, PutInline):
        then_in = inline_places(before.segments)
        return Selection("inline", tuple(i for i in inline_places(after.segments) if i not in then_in))
    for name, kind in DRAWN.items() if isinstance(command, DRAWING) else ():
        then, now = getattr(before, name), getattr(after, name)
        new = tuple(p.id for p in now if find(then, p.id) is None) if now is not then else ()
        if new:
            return Selection(kind, new)
    return Selection()


class Session(QObject):
    """One open project. `changed` follows every change of project, results, selection or show."""

    changed = Signal()
    started = Signal()  # another project is in hand
    results_ready = Signal(object)
    refused = Signal(str)  # an edit that could not be: one sentence
    said = Signal(str)  # news for the status line
    _first = Signal(object)  # from the engine's thread

    def __init__(self, parent: QObject | None = None, journals: Path | None = None) -> None:
        """`journals`: the user's folder for what cannot lie beside a file; None keeps nothing against a crash."""
        super().__init__(parent)
        self.keeping = CrashRecovery(journals, self)
        self.keeping.fault.connect(self.refused)
        self.keeping.gone.connect(self.keep_anew)
        self._memo = Memo()
        self._drawn = Selection()  # what an edit drew, until it is computed
        self._early: Results | None = None  # with loads of the project in hand, and air of the one before
        self._first.connect(self._on_first)
        self._engine = Newest(self._compute, "engine", self)
        self._engine.ready.connect(self._on_results)
        self._engine.failed.connect(lambda what: self.refused.emit(f"Computing stopped. {what}"))
        self._flows_memo = Memo()
        self._solver = Newest(self._solve, "real flows", self)
        self._solver.ready.connect(self._on_flows)
        self._flows: tuple[tuple, Flows | Missing] | None = None  # what was asked, and the answer
        self._history = History(Project())
        self._saved: Project | None = None
        self.path: Path | None = None
        self.saved_at: datetime | None = None
        self.results: Results | None = None
        self.selection = Selection()
        self.show = Show()
        self.opened = False
        self.marks: dict[str, Mark] = {}  # kept states of the project by name, saved with it
        self._saved_marks: tuple[Mark, ...] | None = ()
        self._digest = ""  # of the file when it was read or written last
        self._saved_at = -1  # the entry of the history that the file holds
        self._filed: frozenset[str] = frozenset()  # contents that it holds
        self.against = ""  # name of the mark that is compared with
        self._against: Results | None = None
        self._rules_before: Results | None = None  # results before a rule was changed, until what moved is said
        # what underlays show; kept while the session lasts, so that undo finds it
        self.contents: dict[str, bytes] = {}

    # -- the project ---------------------------------------------------------------------------------------------
    @property
    def project(self) -> Project:
        return self._history.project

    @property
    def unsaved(self) -> bool:
        return self.opened and (self._saved is not self.project or tuple(self.marks.values()) != self._saved_marks)

    @property
    def state(self) -> State:
        """What is rendered: results with the very project they belong to, so that no view ever mixes two states.

        While an edit is being computed that is the one before it, marked as stale. Where loads are looked at they are
        shown as soon as they are known.
        """
        if self.results is None:
            return State(self.project, None, self.selection, self.show, True)
        if self._early is not None and self.show.link in EARLY:
            return State(
                self.project,
                self._early,
                self.selection,
                self.show,
                True,
                self._against,
                self.against,
                self._real(),
                fresh=EARLY,
            )
        return State(
            self.results.project,
            self.results,
            self.selection,
            self.show,
            self.results.project is not self.project,
            self._against,
            self.against,
            self._real(),
        )

    def open(self, path: Path, taken_up: Found | None = None, read: FileRead | None = None) -> None:
        """Open a file; `taken_up`: with the edits of a journal that it does not hold; `read`: what it held, if that is
        known.

        Raises FileError; the project in hand then stays as it is.

        A file that another window holds is opened as a copy without a file of its own.
        """
        read = read or read_file(path)
        project, marks, contents, filed = (
            read.opened.project,
            read.opened.marks,
            read.contents,
            frozenset(read.contents),
        )
        self._digest = read.digest
        if taken_up is None:
            self.start(project, None if self.keeping.held(path) else path, contents, marks, filed)
            return
        # The journal knows every mark there was; one that it forgot is forgotten.
        self._go_on(taken_up, path, {**contents, **taken_up.contents}, taken_up.marks, filed)

    def take_up(self, found: Found) -> None:
        """A project as its journal holds it, without a file of its own."""
        held = (
            load_contents(Path(found.of), found.project, *(m.project for m in found.marks.values())) if found.of else {}
        )
        self._go_on(found, None, {**held, **found.contents}, found.marks)
        self.keeping.forget(found)

    def _go_on(
        self,
        found: Found,
        path: Path | None,
        contents: dict[str, bytes],
        marks: dict[str, Mark],
        filed: frozenset[str] = frozenset(),
    ) -> None:
        saved_at = found.saved_at if path is not None else -1
        self._begin(
            History(found.project, found.entries, found.at), path, contents, tuple(marks.values()), saved_at, filed
        )
        self._saved = found.entries[saved_at].project if saved_at >= 0 else None
        if found.marked:
            self._saved_marks = None  # the file has others
        self.changed.emit()

    def start(
        self,
        project: Project,
        path: Path | None,
        contents: dict[str, bytes] | None = None,
        marks: tuple[Mark, ...] = (),
        filed: frozenset[str] = frozenset(),
    ) -> None:
        self._begin(History(project), path, contents or {}, marks, 0 if path else -1, filed)

    def _begin(
        self,
        history: History,
        path: Path | None,
        contents: dict[str, bytes],
        marks: tuple[Mark, ...],
        saved_at: int,
        filed: frozenset[str],
    ) -> None:
        project = history.project
        if self.opened:
            self._memo, self._flows_memo = Memo(), Memo()  # nothing of the project before is of use to this one
        self._filed = filed if path is not None else frozenset()
        self.contents, self._history, self._saved_at = contents, history, saved_at
        self._saved, self.path, self.opened = project, path, True
        self.saved_at = datetime.fromtimestamp(path.stat().st_mtime) if path and path.exists() else None
        self.results, self._early, self.selection, self._flows = None, None, Selection(), None
        self.marks, self.against, self._against, self._rules_before = {m.name: m for m in marks}, "", None, None
        self._saved_marks = tuple(self.marks.values())
        self.show = replace(
            self.show,
            system_id=project.air_systems[0].id if project.air_systems else "",
            level_id=project.levels[0].id if project.levels else "",
            hour=None,
            what=WhatIf(),
        )
        self.keep_anew()
        self.started.emit()
        self._submit()

    def keep_anew(self) -> None:
        """A journal of all that is in hand."""
        self.keeping.begin(
            self._history,
            self.path,
            self._saved_at,
            {k: v for k, v in self.contents.items() if k not in self._filed},
            self.marks,
        )

    def save(self, path: Path | None = None, replace_changed: bool = False) -> None:
        """Raises FileError; the file on disk then stays as it was.

        ChangedError: somebody else wrote it since it was read.
        """
        target = path or self.path
        if target is None:
            raise GarnetfinError("The project has no file yet", remedy="Choose “Save as”")
        same = self.path is not None and target.absolute() == self.path.absolute()
        if same and self._digest and not replace_changed and digest(target) not in ("", self._digest):
            raise ChangedError(
                f"{target.name} was changed by another program since it was opened", where=str(target.parent)
            )
        if not same and (who := self.keeping.held(target)):
            raise FileError(f"{target.name} is open in {who}", where=str(target.parent), remedy="Choose another name")
        data = encode(self.project, self.contents, tuple(self.marks.values()))
        self.keeping.saving(target, digest_of(data), self._history)
        write_encoded(target, data)
        self.path, self._saved, self.saved_at, self._saved_marks = (
            target,
            self.project,
            datetime.now(),
            tuple(self.marks.values()),
        )
        self._digest, self._saved_at = digest_of(data), self._history.at
        # What no part of the project names any more is in no file: an undo may want it back after a crash.
        before, self._filed = self._filed, named_contents(self.project, self.marks.values()) & self.contents.keys()
        if same and self.keeping.journal is not None:
            for name in before - self._filed:
                self.keeping.content(name, self.contents[name])
            self.keeping.saved(target, self._history)
        else:
            self.keep_anew()
        self.changed.emit()

    def do(self, command: Command, gesture: int = 0) -> str:
        """Apply an edit. "" when it was done or changes nothing, else the sentence that says why not."""
        try:
            edited = command.apply(self.project)
        except GarnetfinError as error:
            self.refused.emit(str(error))
            return str(error)
        before = self.project
        if self._history.push(command.label, edited, gesture):
            self.keeping.edit(self._history, before)
            self._drawn = drawn_parts(command, before, edited)
            if isinstance(command, RULES) and self._rules_before is None:
                self._rules_before = self.results
            self._submit()
        return ""

    def keep(self, data: bytes) -> str:
        """Contents of an underlay put beside the project; the id it names them by.

        Raises GarnetfinError at too much of them.
        """
        name = content_id(data)
        if sum(map(len, self.contents.values())) + len(data) > MOST_CONTENTS:
            raise GarnetfinError(
                f"The drawings of this project are larger than {MOST_CONTENTS // 2**20} MB together",
                remedy="Remove one, save and open the project again",
            )
        self.contents[name] = data
        self.keeping.content(name, data)
        return name

    # -- marks ---------------------------------------------------------------------------------------------------
    def keep_mark(self, name: str) -> None:
        """Keep the project as it stands under a name; a name used before is kept anew."""
        self.marks.pop(name, None)
        self.marks[name] = Mark(name=name, kept=f"{datetime.now():%Y-%m-%dT%H:%M:%S}", project=self.project)
        self.keeping.mark(self.marks[name])
        self.said.emit(f"Kept as “{name}”")
        self.changed.emit()

    def drop_mark(self, name: str) -> None:
        """Forget a mark; the project stays."""
        if self.marks.pop(name, None) is not None:
            self.keeping.unmark(name)
            if self.against == name:
                self.compare("")
            self.changed.emit()

    def rename_mark(self, old: str, new: str) -> None:
        """Raises GarnetfinError for a name that is taken or empty."""
        if not new.strip() or (new != old and new in self.marks):
            why = f"There is a snapshot “{new}” already" if new.strip() else "A snapshot needs a name"
            raise GarnetfinError(why)
        self.marks = {
            (new if n == old else n): (structs.replace(m, name=new) if n == old else m) for n, m in self.marks.items()
        }
        self.keeping.unmark(old)
        self.keeping.mark(self.marks[new])
        self.against = new if self.against == old else self.against
        self.changed.emit()

    def compare(self, name: str) -> None:
        """Show changes against a mark; "" for none. The mark is computed by the engine like any project."""
        self.against = name if name in self.marks else ""
        self._against = None
        if self.against:
            self._submit()
        self.changed.emit()

    def undo(self) -> None:
        label = self._history.undo_label
        if self._history.undo():
            self.keeping.move(self._history)
            self.said.emit(f"Undone: {label}")
            self._submit()

    def redo(self) -> None:
        label = self._history.redo_label
        if self._history.redo():
            self.keeping.move(self._history)
            self.said.emit(f"Done again: {label}")
            self._submit()

    @property
    def undo_label(self) -> str:
        return self._history.undo_label

    @property
    def redo_label(self) -> str:
        return self._history.redo_label

    # -- selection and show --------------------------------------------------------------------------------------
    def select(self, kind: str = "", *ids: str) -> None:
        wanted = Selection(kind, tuple(ids)) if ids else Selection()
        if wanted != self.selection:
            self.selection = wanted
            self.changed.emit()

    def set_show(self, **changes: Any) -> None:
        wanted = replace(self.show, **changes)
        if wanted != self.show:
            self.show = wanted
            self._ask_flows()
            self.changed.emit()

    # -- the engine ----------------------------------------------------------------------------------------------
    @property
    def settled(self) -> bool:
        """True when the results shown belong to the project in hand and nothing is under way."""
        return (
            self._engine.idle
            and self._solver.idle
            and self.results is not None
            and self.results.project is self.project
        )

    def close(self, confirmed: bool = False) -> None:
        """`confirmed`: somebody closed the project and nothing unsaved is wanted any more; else its journal stays for
        the next opening.
        """
        self.keeping.close(remove=confirmed)
        self._solver.close()
        self._engine.close()

    # -- what rooms really get -----------------------------------------------------------------------------------
    def _asked(self) -> tuple:
        return (self.results, self.show.system_id, self.show.what)

    def _ask_flows(self) -> None:
        """Under a what-if the network is solved beside the engine; as designed its results hold the answer."""
        if self.results is not None and self.show.what.any and (self._flows is None or self._flows[0] != self._asked()):
            self._solver.submit(self._asked())

    def _solve(self, asked: tuple, stopped) -> tuple:
        self._flows_memo.turn()
        return asked, ask(*asked, self._flows_memo)

    def _on_flows(self, answer: tuple) -> None:
        self._flows = answer
        if answer[0] == self._asked():
            self.changed.emit()

    def _real(self) -> Flows | Missing | None:
        """The last answer stays until the next is there; one for another system does not."""
        if not self.show.what.any:
            return self.results.real.get(self.show.system_id)
        return self._flows[1] if self._flows is not None and self._flows[0][1] == self.show.system_id else None

    def _submit(self) -> None:
        levels = self.project.levels
        if levels and all(x.id != self.show.level_id for x in levels):
            self.show = replace(self.show, level_id=levels[0].id)
        wanted = self.marks[self.against].project if self.against and self._against is None else None
        self._early = None
        self._engine.submit((self.project, wanted, self.against, self._memo))
        self.changed.emit()

    def _compute(
        self, job: tuple[Project, Project | None, str, Memo], stopped
    ) -> tuple[Results, Results | None, str, Memo]:
        project, mark, name, memo = job
        other = run(mark, memo, Token(stopped)) if mark is not None else None
        return run(project, memo, Token(stopped), first=self._first.emit), other, name, memo

    def _on_first(self, found: First) -> None:
        if found.project is self.project and self.results is not None and self.results.project is not self.project:
            self._early = found.upon(self.results)
            if self._early is not None and self.show.link in EARLY:
                self.changed.emit()

    def _on_results(self, found: tuple[Results, Results | None, str, Memo]) -> None:
        results, other, name, memo = found
        if memo is not self._memo:
            return  # of a project that is no longer in hand
        if other is not None and name == self.against:
            self._against = other
        self.results, self._early = results, None
        if self._rules_before is not None and results.project is self.project:
            self.said.emit(changes(self._rules_before, results).words)
            self._rules_before = None
        if self._drawn.kind and results.project is self.project:
            self.selection, self._drawn = self._drawn, Selection()  # known by now, so that its card can be shown
        self._ask_flows()
        self.results_ready.emit(results)
        self.changed.emit()
