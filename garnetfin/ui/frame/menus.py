"""The menus of the window: what each says, its keys, and what it does."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMenu, QMenuBar

from garnetfin.project.edits.fabric import ClearUnused
from garnetfin.project.edits.papers import SetSheet
from garnetfin.ui.language import tr
from garnetfin.ui.state import LINKS
from garnetfin.ui.theme import theme


def action(w, menu: QMenu, name: str, words: str, on, keys: str = "", checkable: bool = False) -> QAction:
    """An entry of a menu, known to the window by name; `on` is called without arguments."""
    made = QAction(tr(words), w)
    if keys:
        made.setShortcut(QKeySequence(keys))
        made.setToolTip(f"{tr(words)} ({keys})")
    made.setCheckable(checkable)
    made.triggered.connect(lambda checked=False: on())
    menu.addAction(made)
    w.addAction(made)
    w.actions_[name] = made
    return made


def make_menus(w, bar: QMenuBar) -> None:
    """All menus of the window; each action has its name in `actions_`."""
    project = bar.addMenu(tr("Project"))
    action(w, project, "new", "New", w.new, "Ctrl+N")
    action(w, project, "open", "Open …", w.open_dialog, "Ctrl+O")
    action(w, project, "example", "Open the example", w.open_example)
    w.recent_menu = project.addMenu(tr("Open recent"))
    project.addSeparator()
    action(w, project, "save", "Save", w.save, "Ctrl+S")
    action(w, project, "save as", "Save as …", w.save_as, "Ctrl+Shift+S")
    project.addSeparator()
    action(w, project, "write rooms", "Export rooms as CSV …", lambda: w.write("rooms"))
    action(w, project, "write faces", "Export faces as CSV …", lambda: w.write("faces"))
    action(w, project, "write lifted", "Export the exploded view as PDF …", lambda: w.write("lifted"))
    project.addSeparator()
    action(w, project, "quit", "Quit", w.close, "Ctrl+Q")
    edit = bar.addMenu(tr("Edit"))
    action(w, edit, "undo", "Undo", w.session.undo, "Ctrl+Z")
    action(w, edit, "redo", "Redo", w.session.redo, "Ctrl+Shift+Z")
    action(w, edit, "copy plan", "Copy the plan or page", w.copy_plan, "Ctrl+Shift+C")
    action(w, edit, "clear unused", "Remove unused", lambda: w.do(ClearUnused()))
    edit.addSeparator()
    action(w, edit, "all rooms", "Select all rooms of the level", w.select_all, "Ctrl+A")
    action(w, edit, "none", "Select nothing", lambda: w.session.select(), "Ctrl+Shift+A")
    action(w, edit, "settings", "Settings …", w.show_settings, "Ctrl+,")
    action(w, edit, "remove", "Remove selected ducts", lambda: w.view("Ducts").remove_selected())
    _make_building_menus(w, bar)
    _make_duct_menu(w, bar)
    view = bar.addMenu(tr("View"))
    for i, name in enumerate(LINKS, 1):
        action(w, view, f"link {name}", name, lambda n=name: w.session.set_show(link=n), f"Alt+{i}")
    view.addSeparator()
    action(w, view, "level up", "Level above", lambda: w.step_level(1), "Ctrl+PgUp")
    action(w, view, "level down", "Level below", lambda: w.step_level(-1), "Ctrl+PgDown")
    action(w, view, "findings", "Findings", w.show_findings, "F7")
    action(w, view, "next finding", "Next finding", lambda: w.step_finding(1), "F8")
    action(w, view, "finding before", "Previous finding", lambda: w.step_finding(-1), "Shift+F8")
    action(w, view, "build-ups", "Build-ups", lambda: w.building().show_build_ups(), "Ctrl+B")
    action(w, view, "fit", "Show the whole plan", w.fit, "Ctrl+0")
    view.addSeparator()
    action(w, view, "units", "SI or IP units", w.toggle_units, "Ctrl+U")
    action(w, view, "dark", "Dark", lambda: w.set_dark(not theme.dark), "Ctrl+Shift+D", checkable=True)
    action(w, view, "larger", "Larger", lambda: w.set_scale(1), "Ctrl++")
    action(w, view, "smaller", "Smaller", lambda: w.set_scale(-1), "Ctrl+-")
    _make_hand_over_menus(w, bar)
    help_menu = bar.addMenu(tr("Help"))
    action(
        w, help_menu, "find", "Find or do …", lambda: w.finder.setFocus(Qt.FocusReason.ShortcutFocusReason), "Ctrl+K"
    )
    action(w, help_menu, "why", "Why this figure?", w.side.ask_here, "W")
    action(w, help_menu, "tutorial", "Ten minutes with the demo building", w.show_tutorial)
    action(w, help_menu, "keys", "Keys", w.show_keys, "F1")
    action(w, help_menu, "about", "About Garnetfin", w.say_about)
    w.recent_menu.aboutToShow.connect(w.fill_recent)


def _make_duct_menu(w, bar: QMenuBar) -> None:
    """The tools of Ducts by name; letters work on its plan."""

    def on(name: str, *arguments: object):
        def act() -> None:
            w.session.set_show(link="Ducts")
            w.refresh()
            getattr(w.view("Ducts"), name)(*arguments)

        return act

    ducts = bar.addMenu(tr("Ducts"))
    for name, words in (
        ("draw", "Draw a duct (D)"),
        ("join", "Join two open ends (J)"),
        ("split", "Split a duct (X)"),
        ("merge", "Merge a short piece (M)"),
        ("part", "Put a part into a duct (I)"),
        ("zone", "Draw a ceiling zone (C)"),
        ("beam", "Draw an obstacle (B)"),
    ):
        action(w, ducts, f"duct {name}", words, on("use_tool", name))
    ducts.addSeparator()
    action(w, ducts, "propose", "Propose routes (P)", on("propose"))


def _make_hand_over_menus(w, bar: QMenuBar) -> None:
    """Marks, the office standards, and what is handed over."""
    w.marks_menu = bar.addMenu(tr("Snapshots"))
    action(w, w.marks_menu, "keep mark", "Keep a snapshot …", w.keep_mark, "Ctrl+Shift+K")
    action(w, w.marks_menu, "options", "Options side by side", w.show_options, "Ctrl+Shift+O")
    action(w, w.marks_menu, "study", "Study over ranges", lambda: w.show_options("study"), "Ctrl+Shift+Y")
    w.marks_menu.aboutToShow.connect(w.fill_marks)
    book = bar.addMenu(tr("Office standards"))
    action(w, book, "write book", "Save the office standards …", w.write_book)
    action(w, book, "take book", "Apply office standards …", w.take_book)
    book.addSeparator()
    action(w, book, "keep fabric", "Keep build-ups, glass and fabric sets in it", w.keep_fabric)
    action(w, book, "bring fabric", "Bring its build-ups, glass and fabric sets here", w.bring_fabric)

    def on(name: str, *arguments: object):
        def act() -> None:
            if w.session.opened:
                w.session.set_show(link="Documents")
                w.refresh()
                getattr(w.view("Documents"), name)(*arguments)

        return act

    papers = bar.addMenu(tr("Documents"))
    for kind, words, keys in (
        ("pdf", "Export PDF …", "Ctrl+P"),
        ("xlsx", "Export workbook (XLSX) …", ""),
        ("csv", "Export tables as CSV …", ""),
        ("dxf", "Export plans as DXF …", ""),
        ("svg", "Export plans as SVG …", ""),
        ("ifc", "Export building and ducts as IFC4 …", ""),
        ("gbxml", "Export the building with loads as gbXML …", ""),
    ):
        action(w, papers, f"write {kind}", words, on("write", kind), keys)
    papers.addSeparator()
    action(w, papers, "print", "Print …", on("print_pages"), "Ctrl+Shift+P")
    action(w, papers, "issue", "Issue the set …", on("ask_issue"))
    papers.addSeparator()
    action(w, papers, "logo", "The office’s logo …", on("choose_logo"))
    action(w, papers, "no logo", "Without a logo", lambda: w.do(SetSheet("logo", b"")))
    action(w, papers, "lines", "Lines below the office’s name …", on("ask_lines"))


def _make_building_menus(w, bar: QMenuBar) -> None:
    """What is taken in, and what is done with rooms; all of it shows in Building."""

    def on(name: str, *arguments: object):
        return lambda: getattr(w.building(), name)(*arguments)

    insert = bar.addMenu(tr("Insert"))
    action(w, insert, "list", "Room list …", on("start_list"), "Ctrl+L")
    action(w, insert, "rooms of drawing", "All rooms of the drawing below", on("rooms_of_drawing"))
    action(w, insert, "building", "Building from gbXML or IFC …", lambda: w.insert_dialog("building"), "Ctrl+I")
    action(
        w,
        insert,
        "underlay",
        "Drawing, picture or PDF page below the plan …",
        lambda: w.insert_dialog("underlay"),
        "Ctrl+Shift+I",
    )
    action(w, insert, "weather", "Weather file …", lambda: w.insert_dialog("weather"))
    insert.addSeparator()
    action(w, insert, "level above", "Level on top", on("add_level", False))
    action(w, insert, "level below", "Level below the lowest", on("add_level", True))
    action(w, insert, "zone", "Zone of the selected rooms", on("add_zone"), "Ctrl+G")
    action(w, insert, "system", "Air system, serving the selected rooms", on("add_system"))
    action(w, insert, "fabric set", "Fabric set of what the building mostly has", on("add_fabric_set"))
    action(w, insert, "block", "Surrounding building, shaft or void", on("use_tool", "block"))
    action(w, insert, "window gap", "Window in the widest gap of the room", on("add_window"))
    rooms = bar.addMenu(tr("Rooms"))
    action(w, rooms, "move", "Move by …", on("ask_move"), "Ctrl+M")
    action(w, rooms, "size", "Width and depth …", on("ask_size"))
    action(w, rooms, "copy row", "Copy in a row …", on("ask_copy"), "Ctrl+D")
    action(w, rooms, "copy to level", "Copy to another level …", on("ask_copy_rooms_to_level"))
    action(w, rooms, "copy level", "Copy all rooms of the level …", on("ask_copy_level"))
    action(w, rooms, "mirror x", "Mirror left and right", on("mirror", "x"))
    action(w, rooms, "mirror y", "Mirror front and back", on("mirror", "y"))
    rooms.addSeparator()
    action(w, rooms, "first design", "First design: terminals, ducts, fan", w.first_pass, "Ctrl+Shift+F")
    rooms.addSeparator()
    action(w, rooms, "merge", "Merge", on("merge"), "Ctrl+J")
    action(w, rooms, "split", "Split by a line", on("use_tool", "split"))
    action(w, rooms, "number", "Number in sequence …", on("ask_number"))
    rooms.addSeparator()
    action(w, rooms, "copy openings", "Copy openings of the first selected room to the others", on("copy_openings"))
    action(w, rooms, "row", "Row of the selected opening …", on("ask_row"))
    action(w, rooms, "north", "Turn north …", on("ask_north"))
