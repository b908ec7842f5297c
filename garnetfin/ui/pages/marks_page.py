"""Marks of the window: keep, name, compare, go back to, forget."""

from datetime import datetime

from PySide6.QtWidgets import QMenu

from garnetfin.core.errors import GarnetfinError
from garnetfin.project.edits.whole import RestoreMark
from garnetfin.ui.frame.ask import Wanted
from garnetfin.ui.frame.parts import WindowPart
from garnetfin.ui.widgets.bare import Menu


class Marks(WindowPart):
    """What the window does with kept states of the project; part of MainWindow."""

    options_page = None

    def keep_mark(self) -> None:
        """Keep the project as it stands: a name is asked for, the time stands for one."""
        if self.session.opened:
            usual = f"Mark {len(self.session.marks) + 1}, {datetime.now():%H:%M}"
            self.ask.ask(
                "Keep a snapshot",
                (Wanted("name", "name", usual, width=260),),
                "Keep",
                lambda v: self.take_mark(v["name"] or usual),
                self.session.show.units,
            )

    def take_mark(self, name: str) -> str | None:
        """Keep it under this name and compare with it from now on; why not, if it cannot be."""
        if len(name) > 120:
            return "A name has at most 120 letters"
        self.session.keep_mark(name)
        self.session.compare(name)
        self.banner.say(
            f"Kept as “{name}”. Every link shows what changes against it; the flag above ends that.", "good"
        )
        return None

    def fill_marks(self) -> None:
        """The menu of marks: compare with one, go back to it, give it another name, forget it."""
        menu: QMenu = self.marks_menu
        menu.clear()
        self.add_mark_actions(menu)

    def add_mark_actions(self, menu: QMenu) -> None:
        for name in ("keep mark", "options", "study"):
            # the very action: a second one with its keys would make them mean nothing
            menu.addAction(self.actions_[name])
        menu.addSeparator()
        for name in ("", *self.session.marks):
            action = menu.addAction(
                f"Against {name}" if name else "Against nothing", lambda n=name: self.session.compare(n)
            )
            action.setCheckable(True)
            action.setChecked(name == self.session.against)
        if self.session.marks:
            menu.addSeparator()
            for words, on in (
                ("Go back to", self.restore_mark),
                ("Rename", self.rename_mark),
                ("Forget", self.session.drop_mark),
            ):
                under = menu.addMenu(words)
                for name in self.session.marks:
                    under.addAction(name, lambda n=name, on=on: on(n))

    def marks_at_flag(self) -> None:
        """The same menu, below the flag."""
        menu = Menu(self)
        self.add_mark_actions(menu)
        menu.popup(self.flag.mapToGlobal(self.flag.rect().bottomLeft()))

    def restore_mark(self, name: str) -> None:
        """The project as it stood; one step of undo leads back."""
        mark = self.session.marks.get(name)
        if mark is not None:
            self.do(RestoreMark(mark.project))
            self.banner.say(f"The project stands as in “{name}”. Undo leads back.", "good", ("Undo", self.session.undo))

    def show_options(self, part: str = "options") -> None:
        """Marks beside what stands, with the chain's figures; and studies over ranges."""
        if not self.session.opened:
            return
        if self.options_page is None:
            from garnetfin.ui.pages.options_page import OptionsPage  # with the engine of studies, which only it needs

            self.options_page = OptionsPage(self.session)
            self.options_page.closed.connect(self.close_over)
            self.options_page.refused.connect(self._refused)
            self.options_page.said.connect(self.status.hint.set_words)
            self.options_page.keep.clicked.connect(self.keep_mark)
            self._middle.addWidget(self.options_page)
        self._over = self.options_page
        self.options_page.show_part(part)
        self.refresh()

    def rename_mark(self, name: str) -> None:
        def take(values: dict) -> str | None:
            try:
                self.session.rename_mark(name, values["name"])
            except GarnetfinError as error:
                return str(error)
            return None

        self.ask.ask("Rename", (Wanted("name", "name", name, width=260),), "Rename", take, self.session.show.units)
