"""The main window: menu, chain, the view in hand, card, status line. It connects parts and computes nothing."""

from importlib import import_module
from pathlib import Path
from typing import Any

from PySide6.QtCore import QPoint, QSettings, QSize, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QPainter
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QMenuBar,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from garnetfin.project.edits.whole import SetName
from garnetfin.project.inline import inline_part
from garnetfin.project.lookup import find
from garnetfin.ui import theme as looks
from garnetfin.ui.frame.ask import Ask
from garnetfin.ui.frame.chain import ChainBand
from garnetfin.ui.frame.files import Files
from garnetfin.ui.frame.finder import Entry, Finder
from garnetfin.ui.frame.menus import make_menus
from garnetfin.ui.frame.side_panel import SidePanel, why_under
from garnetfin.ui.frame.status import Banner, StatusLine
from garnetfin.ui.language import tr
from garnetfin.ui.pages.books import Books
from garnetfin.ui.pages.marks_page import Marks
from garnetfin.ui.pages.start import StartPage
from garnetfin.ui.session import Session
from garnetfin.ui.settings import Stored
from garnetfin.ui.state import LINKS, State
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models import cards
from garnetfin.ui.view_models.chain import chain
from garnetfin.ui.widgets.bare import Menu, menu_sheet
from garnetfin.ui.widgets.card import Card
from garnetfin.ui.widgets.controls import LinkText, Words
from garnetfin.ui.widgets.title_field import TitleField

# Where each view lives; a view is imported when it is first asked for, so that the window is there sooner.
VIEWS = {name: (f"garnetfin.ui.views.{name.lower()}", f"{name}View") for name in LINKS}
REMOVABLE = ("segment", "terminal", "inline", "obstacle", "ceiling zone")
SCALES = (0.8, 0.9, 1.0, 1.1, 1.25, 1.5, 1.75, 2.0)


class _Top(QWidget):
    """28 high: sign, menu bar, name of the project, the mark that is compared with, find or do."""

    def __init__(self, bar: QMenuBar, name: tuple[QWidget, QWidget], flag: LinkText, finder: Finder) -> None:
        super().__init__()
        self.setFixedHeight(28)
        row = QHBoxLayout(self)
        row.setContentsMargins(34, 0, 9, 0)
        row.addWidget(bar)
        row.addSpacing(14)
        row.addWidget(name[0])
        row.addWidget(name[1], 1)
        row.addWidget(flag)
        row.addSpacing(10)
        row.addWidget(finder)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.fillRect(self.rect(), theme.colour("paper"))
        p.drawPixmap(QPoint(11, 6), looks.pixmap("garnetfin", theme.colour("garnet"), 16, self.devicePixelRatioF()))


class MainWindow(Files, Marks, Books, QMainWindow):
    def __init__(self, session: Session, settings: QSettings | None = None) -> None:
        super().__init__()
        self.session = session
        self.settings = Stored(settings)
        self.setWindowTitle("Garnetfin")
        self.setMinimumSize(QSize(1024, 640))
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.chain, self.card, self.status, self.banner = ChainBand(), Card(), StatusLine(), Banner()
        self.side = SidePanel(self.card, session)
        self.side.shown.connect(self._show_reason)
        self.side.said.connect(self.status.hint.set_words)
        self.start_page = StartPage()
        self._views: dict[str, Any] = {}  # by link, each with what its own cards ask of it
        self._stack = QStackedWidget()
        self.title, self._unsaved = TitleField(), Words("", px=12.5)
        self._unsaved.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.flag = LinkText("", px=12)
        self.flag.setVisible(False)
        self.flag.clicked.connect(self.marks_at_flag)
        self.ask = Ask()
        self.finder = Finder(self._entries)
        bar = QMenuBar()
        bar.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self.actions_: dict[str, QAction] = {}
        self._bar = bar
        make_menus(self, bar)
        bar.setStyleSheet(menu_sheet())
        self._lay_out(bar)
        self._refresh = QTimer(self, singleShot=True, interval=0)
        self._refresh.timeout.connect(self.refresh)
        self._connect()
        self._without_edits = False
        self._over: Any = None  # a page in the place of the views
        self.first_pass_page: Any = None  # pages are made when they are first asked for
        self.help_page: Any = None
        self.findings_page: Any = None
        self.settings_page: Any = None
        self._shown: tuple | None = None
        self._show_start(True)
        self.chain.setFocus()

    # -- building ------------------------------------------------------------------------------------------------
    def _lay_out(self, bar: QMenuBar) -> None:
        self._work = QWidget()
        row = QHBoxLayout(self._work)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._stack, 1)
        row.addWidget(self.side)
        self._middle, start = QStackedWidget(), QWidget()
        self._start_row = QHBoxLayout(start)
        self._start_row.setContentsMargins(0, 0, 0, 0)
        self._start_row.setSpacing(0)
        self._start_row.addWidget(self.start_page, 1)
        self._middle.addWidget(start)
        self._middle.addWidget(self._work)
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for part in (_Top(bar, (self.title, self._unsaved), self.flag, self.finder), self.chain, self.banner, self.ask):
            column.addWidget(part)
        column.addWidget(self._middle, 1)
        column.addWidget(self.status)
        self.setCentralWidget(whole)

    def building(self) -> Any:
        """The Building view, brought to the front."""
        if not self.session.opened:
            self._start_new()
        self.session.set_show(link="Building")
        self.refresh()
        return self.view("Building")

    def _connect(self) -> None:
        session = self.session
        session.changed.connect(self._refresh.start)  # a slot of a part of the window, so that it ends with it
        session.refused.connect(self._refused)
        session.said.connect(self.status.hint.set_words)
        self.chain.chosen.connect(self._choose_link)
        self.chain.system_asked.connect(self._system_menu)
        self.card.intent.connect(self.do)
        self.title.named.connect(lambda name: self.do(SetName(name)))
        self.card.picked.connect(self._go_to)
        self.status.level_chosen.connect(lambda level: session.set_show(level_id=level))
        self.status.units_toggled.connect(self.toggle_units)
        self.status.findings_asked.connect(lambda _: self.show_findings())
        self.start_page.example.connect(self.open_example)
        self.start_page.browse.connect(self.open_dialog)
        self.start_page.new.connect(self.new)
        self.start_page.room_list.connect(lambda: self.building().start_list())
        self.start_page.drawing.connect(lambda: self.insert_dialog("underlay"))
        self.start_page.building.connect(lambda: self.insert_dialog("building"))
        self.start_page.chosen.connect(lambda path: self.open(Path(path)))
        self.start_page.tutorial.connect(self.show_tutorial)
        theme.changed.connect(self._themed)

    def view(self, name: str) -> Any:
        """Views are made when first asked for, so that the window is there at once."""
        if name not in self._views:
            module, view = VIEWS[name]
            made = getattr(import_module(module), view)(self.session)
            made.intent.connect(self.do)
            made.refused.connect(self._refused)
            made.hint.connect(self.status.hint.set_words)
            if name == "Building":
                made.reading.connect(self._reading)
                made.file_asked.connect(self.insert_dialog)
            if name == "Climate":
                made.reading.connect(lambda words: self._reading(words, "Climate"))
                made.told.connect(lambda words: self.banner.say(words, "good"))
                made.file_asked.connect(self.insert_dialog)
            if name == "Documents":
                made.pages_made.connect(lambda pages: self._refresh.start())
            self._views[name] = made
            self._stack.addWidget(made)
        return self._views[name]

    # -- rendering -----------------------------------------------------------------------------------------------
    def refresh(self) -> None:
        """One pass for all that changed since the last one."""
        state = self.session.state
        self._show_start(not self.session.opened)
        if not self.session.opened:
            return
        show = state.show
        view = self.view(show.link)
        if self._stack.currentWidget() is not view:
            before: Any = self._stack.currentWidget()
            if before is not None:
                before.leave()
            self._stack.setCurrentWidget(view)
            self._shown = None
            self.status.hint.set_words(view.HINT)
        self.side.give_way(state.selection)
        # While the engine works, view and card keep their last figures, and fields what was just typed into them.
        shown = (state.found, state.selection, show)
        if not state.stale or self._shown != shown or not state.known:
            view.render_state(state)
            # Results of the edit before the last one must not put a field back that is being stepped through.
            if not (state.stale and self.card.in_hand and self._shown is not None and self._shown[1:] == shown[1:]):
                self.card.render_vm(self._card_vm(state), show.units)
            if self.side.asking and not state.stale:
                self.side.render_why()
            if self.findings_page is not None and self.side.currentWidget() is self.findings_page:
                self._render_findings()
        self._shown = shown
        papers = self._views.get("Documents")
        self.chain.render_vm(chain(state, papers.pages if papers else 0))
        results = state.found
        self.title.set_name(state.project.name)
        self._unsaved.set_words("*" if self.session.unsaved else "")
        self.setWindowTitle(f"{state.project.name} · Garnetfin")
        saved = (
            "not saved"
            if self.session.unsaved
            else (f"saved {self.session.saved_at:%H:%M}" if self.session.saved_at else "not saved yet")
        )
        self.status.render_line(
            tuple((x.id, x.name) for x in state.project.levels),
            show.level_id,
            show.units,
            results.seconds if results else None,
            state.stale,
            saved,
            len(results.findings) if results else 0,
            any(f.severity == "bad" for f in results.findings) if results else False,
        )
        for name, words, label in (
            ("undo", "Undo", self.session.undo_label),
            ("redo", "Redo", self.session.redo_label),
        ):
            self.actions_[name].setEnabled(bool(label))
            self.actions_[name].setText(f"{words} {label}".strip())
        self.flag.setText(f"against: {state.against_name[:40]} ⌄" if state.against_name else "")
        self.flag.setVisible(bool(state.against_name))
        self.flag.updateGeometry()
        self.actions_["remove"].setEnabled(state.selection.kind in REMOVABLE)

    def _card_vm(self, state: State):
        routes = (
            self._views["Ducts"].routes
            if state.show.link == "Ducts" and "Ducts" in self._views and self._views["Ducts"].proposing
            else None
        )
        if routes is not None and state.known:
            from garnetfin.ui.view_models.routes import (
                routes_card,  # with the engine of routes, which only proposals need
            )

            return routes_card(state, routes.found, routes.now)
        papers, climate, loads, building, air = (
            self._views.get(n) for n in ("Documents", "Climate", "Loads", "Building", "Air")
        )
        return cards.card(
            state,
            month=climate.month if climate else 6,
            block=loads.block(state) if loads and state.show.link == "Loads" else None,
            pages=papers.pages if papers else 0,
            made=papers.made if papers else "",
            moved=papers.changes(state) if papers and state.show.link == "Documents" and state.known else None,
            files=papers.files if papers else (),
            contents=frozenset(self.session.contents),
            layers=building.underlay_layers(state) if building and state.selection.kind == "underlay" else (),
            year=climate.hours(state) if climate and state.show.link == "Climate" else None,
            point=air.point(state) if air and state.show.link == "Air" and state.known else None,
        )

    def _choose_link(self, name: str) -> None:
        if self.session.opened:
            self.close_over()
            self.session.set_show(link=name)

    def close_over(self) -> None:
        """The views again."""
        if self._over is not None:
            self._over = None
            self.refresh()

    def _show_start(self, start: bool) -> None:
        self._middle.setCurrentWidget(self.start_page.parentWidget() if start else self._over or self._work)
        if self._over is not None and not start:
            self._over.render()
        self.chain.setVisible(not start)
        self.title.setVisible(not start)
        self.status.setVisible(not start)
        if start:
            self.start_page.set_recent(self._recent_paths())

    # -- the first pass ------------------------------------------------------------------------------------------
    def first_pass(self) -> None:
        """Start it, or show what the last one made."""
        if not self.session.opened:
            return
        if self.first_pass_page is None:
            from garnetfin.ui.pages.first_pass import FirstPassPage  # with the engine of routes, which only it needs

            self.first_pass_page = FirstPassPage()
            self.first_pass_page.closed.connect(self.side.close_why)
            self.first_pass_page.intent.connect(self._take_first_pass)
        self.side.show_page(self.first_pass_page)
        self.first_pass_page.start(self.session.project, self.session.show.system_id)

    def _take_first_pass(self, made: tuple) -> None:
        project, command = made
        if project is not self.session.project:
            self._refused("The project was edited while the first design went on: start it again")
            return
        self.do(command)
        system = next(iter(self.session.project.air_systems), None)
        if system is not None and not self.session.show.system_id:
            self.session.set_show(system_id=system.id)

    # -- why -----------------------------------------------------------------------------------------------------
    def ask_why(self, address: tuple) -> None:
        """Show the derivation of a figure in the place of the card."""
        self.side.ask(address)

    def contextMenuEvent(self, event) -> None:
        self.menu_at(self.childAt(event.pos()), event.globalPos()).popup(event.globalPos())

    def menu_at(self, widget: QWidget | None, at: QPoint) -> Menu:
        """What may be done with what lies there: the derivation of a figure, a chart for other programs."""
        from garnetfin.ui.charts.writing import chart_under
        from garnetfin.ui.view_models.chart_figures import figures_of

        menu, address, chart = Menu(self), why_under(widget, at), chart_under(widget)
        if address:
            menu.addAction(tr("Why?"), lambda: self.ask_why(address))
        if chart is not None:
            menu.addAction(tr("Copy as picture"), lambda: self.copy_chart(chart))
            menu.addAction(tr("Export picture (PNG) …"), lambda: self.write_chart(chart, "png"))
            menu.addAction(tr("Export drawing (SVG) …"), lambda: self.write_chart(chart, "svg"))
            if figures_of(chart.vm) is not None:
                menu.addAction(tr("Export figures (CSV) …"), lambda: self.write_chart(chart, "csv"))
        return menu

    def _show_reason(self, kind: str, ids: tuple) -> None:
        """What a derivation rests on, brought to the front."""
        self.side.close_why()
        if kind in ("place", "book"):
            self.session.set_show(link="Climate" if kind == "place" else "Loads")
            self.session.select()
        else:
            self._go_to(kind, ids)

    # -- editing -------------------------------------------------------------------------------------------------
    def do(self, command) -> None:
        reason = self.session.do(command)
        if reason:
            focused = QApplication.focusWidget()
            field = focused.parent() if focused is not None else None
            if hasattr(field, "refuse"):
                field.refuse(reason)

    def _refused(self, reason: str) -> None:
        self.banner.say(reason, "watch")

    def _go_to(self, kind: str, ids: tuple) -> None:
        """Select and bring into view: rooms and openings in Building or Loads, ducts in Ducts or Balance."""
        project, link = self.session.project, self.session.show.link
        if kind == "room":
            room = find(project.rooms, ids[0])
            if room is not None:
                self.session.set_show(level_id=room.level_id)
            if link not in ("Building", "Loads", "Air"):
                self.session.set_show(link="Building")
        elif kind in ("level", "zone", "underlay", "face", "facade", "block", "fabric set", "build-up"):
            self.session.set_show(link="Building")
            if kind == "level":
                self.session.set_show(level_id=ids[0])
            if kind == "facade":  # the building's card lists facades
                self.session.select()
                return
        elif kind == "opening":
            wall = find(project.walls, ids[0].partition("/")[0])
            self.session.set_show(link="Building", level_id=wall.level_id if wall else self.session.show.level_id)
        elif kind in ("segment", "terminal", "inline"):
            if link not in ("Ducts", "Balance") or kind == "segment":
                self.session.set_show(link="Ducts")
            self._show_duct(kind, ids[0])
        elif kind == "part":  # named with its air system
            system_id, _, part_id = ids[0].rpartition("/")
            self.session.set_show(link="Air", **({"system_id": system_id} if system_id else {}))
            ids = (part_id,)
        elif kind == "system":
            self.session.set_show(link="Fan" if link != "Air" else "Air")
            self.session.select()
            return
        self.session.select(kind, *ids)

    def _show_duct(self, kind: str, part_id: str) -> None:
        project = self.session.project
        if kind == "terminal":
            terminal = find(project.terminals, part_id)
            point = find(project.duct_points, terminal.point_id) if terminal else None
        else:
            standing = inline_part(project, part_id) if kind == "inline" else None
            segment = standing[0] if standing is not None else find(project.segments, part_id)
            point = find(project.duct_points, segment.a) if segment else None
            if segment is not None and self.session.show.link == "Ducts":
                self.session.set_show(air=segment.air, system_id=segment.system_id)
        if point is not None:
            self.session.set_show(level_id=point.level_id)
            if "Ducts" in self._views:
                self._views["Ducts"].plan.centre_on(point.x_m, point.y_m)

    def select_all(self) -> None:
        show = self.session.show
        rooms = [r.id for r in self.session.project.rooms if r.level_id == show.level_id]
        self.session.select("room", *rooms)

    # -- showing -------------------------------------------------------------------------------------------------
    def set_dark(self, dark: bool) -> None:
        theme.set_dark(dark)
        looks.apply(QApplication.instance())
        self.settings.set("dark", dark)

    def set_scale(self, step: int) -> None:
        """Type and all measures together; Qt takes the factor when it starts."""
        now = self.settings.get("scale")
        at = min(range(len(SCALES)), key=lambda i: abs(SCALES[i] - now)) + step
        scale = SCALES[max(0, min(len(SCALES) - 1, at))]
        self.settings.set("scale", scale)
        self.banner.say(f"Size {scale:.0%} from the next start on.", "good")

    def _themed(self) -> None:
        self.actions_["dark"].setChecked(theme.dark)
        self._bar.setStyleSheet(menu_sheet())
        for widget in self.findChildren(QWidget):
            widget.update()
        self._refresh.start()

    def toggle_units(self) -> None:
        self.session.set_show(units="IP" if self.session.show.units == "SI" else "SI")

    def step_level(self, step: int) -> None:
        ids = [x.id for x in self.session.project.levels]
        if self.session.show.level_id in ids:
            at = ids.index(self.session.show.level_id) + step
            self.session.set_show(level_id=ids[max(0, min(len(ids) - 1, at))])

    def fit(self) -> None:
        plan = getattr(self._stack.currentWidget(), "plan", None)
        if plan is not None:
            plan.fit()

    def _system_menu(self, at) -> None:
        menu = Menu(self)
        for system in self.session.project.air_systems:
            menu.addAction(system.name, lambda s=system.id: self.session.set_show(system_id=s))
        if not self.session.project.air_systems:
            menu.addAction("No air system in this project").setEnabled(False)
        menu.popup(self.chain.mapToGlobal(at.toPoint()))

    def show_findings(self) -> None:
        """All findings in the place of the card; asked again they go."""
        if not self.session.opened:
            return
        if self.findings_page is None:
            from garnetfin.ui.pages.findings_page import FindingsPage

            self.findings_page = FindingsPage()
            self.findings_page.picked.connect(self._from_page)
            self.findings_page.intent.connect(self.do)
            self.findings_page.filtered.connect(self._render_findings)
            self.findings_page.closed.connect(self.side.close_why)
        elif self.side.currentWidget() is self.findings_page:
            self.side.close_why()
            return
        self.side.show_page(self.findings_page)
        self._render_findings()

    def _from_page(self, kind: str, ids: tuple) -> None:
        """Go to what a page at the side tells of; the page stays."""
        self.side.choosing = True
        self._go_to(kind, ids)
        self._refresh.start()

    def step_finding(self, by: int) -> None:
        """Show the next finding, or the one before, where it is."""
        if not self.session.opened:
            return
        if self.findings_page is None or self.side.currentWidget() is not self.findings_page:
            self.show_findings()
        if self.findings_page.step(by) is None:
            self.status.hint.set_words("No findings")

    def _render_findings(self) -> None:
        from garnetfin.ui.view_models.findings import findings_list

        self.findings_page.render_vm(
            findings_list(self.session.state, *self.findings_page.asked), self.session.show.units
        )

    def _help(self):
        if self.help_page is None:
            from garnetfin.ui.pages.help_pages import HelpPage

            self.help_page = HelpPage()
            self.help_page.closed.connect(self.side.close_why)
        self.side.show_page(self.help_page)
        return self.help_page

    def show_tutorial(self) -> None:
        """Beside the work, so that it can be followed; on the first page it opens the example."""
        if not self.session.opened:
            self.open_example()
        self._help().show_tutorial()

    def show_keys(self) -> None:
        """Every key, in the place of the card; on the first page in the banner."""
        if self.session.opened:
            self._help().show_keys(self.actions_)
        else:
            self.banner.say(
                "Ctrl+K find or do · Ctrl+O open · Ctrl+N new · Ctrl+L room list · with a project open, F1 lists "
                "every key",
                "good",
            )

    def show_settings(self) -> None:
        """In the place of the card; before a project is open, beside the first page."""
        if self.settings_page is None:
            from garnetfin.ui.pages.settings_page import SettingsPage

            self.settings_page = SettingsPage(self.settings)
            self.settings_page.closed.connect(self._close_settings)
            self.settings_page.changed.connect(
                lambda key, value: self.set_dark(value == "true") if key == "dark" else None
            )
        self.settings_page.render()
        if self.session.opened:
            self.side.show_page(self.settings_page)
        else:
            self._start_row.addWidget(self.settings_page)
            self.settings_page.show()

    def _close_settings(self) -> None:
        if self.session.opened:
            self.side.close_why()
        else:
            self.settings_page.hide()

    def copy_chart(self, chart: Any) -> None:
        """A chart as a picture for other programs."""
        from garnetfin.ui.charts.writing import picture

        QApplication.clipboard().setImage(picture(chart))
        self.status.hint.set_words("Copied as a picture")

    def copy_plan(self) -> None:
        """The plan of the level as a drawing and a picture, the page in sight of Papers, or the chart in front: for
        documents of other programs.
        """
        view = self._stack.currentWidget()
        if not self.session.opened or view is None:
            return
        from garnetfin.ui.frame.writing import copied

        made = copied(self.session.state, view)
        QApplication.clipboard().setMimeData(made)
        self.status.hint.set_words("Copied: " + (", ".join(made.formats())))

    def say_about(self) -> None:
        from garnetfin import __version__

        self.banner.say(f"Garnetfin {__version__}. Apache 2.0; font under the SIL Open Font License.", "good")

    def _entries(self) -> list[Entry]:
        """What find or do knows: commands, rooms, ducts, terminals, findings."""
        project, results = self.session.project, self.session.results
        found = [
            Entry("do", a.text(), a.shortcut().toString(), a.trigger) for a in self.actions_.values() if a.isEnabled()
        ]
        levels = {x.id: x.name for x in project.levels}
        found += [
            Entry("room", f"{r.number} {r.name}", levels.get(r.level_id, ""), lambda i=r.id: self._go_to("room", (i,)))
            for r in project.rooms
        ]
        found += [
            Entry("terminal", f"{t.label} terminal", "", lambda i=t.id: self._go_to("terminal", (i,)))
            for t in project.terminals
        ]
        found += [
            Entry("duct", f"Segment {s.id}", s.role or "duct", lambda i=s.id: self._go_to("segment", (i,)))
            for s in project.segments
        ]
        found += [
            Entry("finding", f.title, f.link, lambda f=f: self._go_to(f.kind, (f.object_id,)))
            for f in (f.in_units(self.session.show.units) for f in (results.findings if results else ()))
        ]
        return found

    # -- leaving -------------------------------------------------------------------------------------------------
    def closeEvent(self, event: QCloseEvent) -> None:
        """Unsaved edits are asked about in the banner, however often it is closed; only its answer goes without
        them.
        """
        if self.session.unsaved and not self._without_edits:
            self.banner.say(
                "There are unsaved edits.",
                "watch",
                ("Save and close", lambda: self.save() and self.close()),
                ("Close without them", self.close_without_edits),
            )
            event.ignore()
            return
        self.close_work()
        self.keep_show()
        self.session.close(confirmed=True)
        event.accept()

    def close_work(self) -> None:
        """Stop what works in the background; safe to call twice."""
        papers, building = self._views.get("Documents"), self._views.get("Building")
        if papers is not None:
            papers.close_maker()
        for name in ("Loads", "Air", "Ducts", "Balance", "Fan"):
            if name in self._views:
                self._views[name].close_work()
        for view in (building, self._views.get("Climate")):
            if view is not None:
                view.reader.close()
        if building is not None:
            building.close_finder()
        if self.opener is not None:
            self.opener.close()
        for page in (self.first_pass_page, self.book_page, self.options_page):
            if page is not None:
                page.close_work()

    def close_without_edits(self) -> None:
        """Asked for in so many words."""
        self._without_edits = True
        self.close()
