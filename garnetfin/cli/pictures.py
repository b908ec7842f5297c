"""Pictures of every view, taken from the real window without a screen."""

import time
from collections.abc import Iterator
from pathlib import Path

from garnetfin.project.disk import write_whole

# (file name, link, what is selected: kind and label or number, level)
SCENES = (
    ("climate", "Climate", "", "", ""),
    ("building", "Building", "room", "0.01", "G"),
    ("build-ups", "Building", "", "", "G"),
    ("lifted", "Building", "room", "0.03", "G"),
    ("loads", "Loads", "", "", "G"),
    ("why", "Loads", "room", "0.03", "G"),
    ("air", "Air", "part", "recovery", "G"),
    ("air-plan", "Air", "room", "1.09", "U"),
    ("casing", "Air", "", "", "G"),
    ("ducts", "Ducts", "segment", "B1", "G"),
    ("balance", "Balance", "terminal", "1.05", "U"),
    ("fan", "Fan", "", "", "G"),
    ("papers", "Documents", "", "", "G"),
    ("options", "Documents", "", "", "G"),
)


def take(folder: Path, project=None, dark: bool = False, only: tuple[str, ...] = ()) -> Iterator[Path]:
    """Write one PNG per view of a project (None: the example) and give each path as it is done."""
    from PySide6.QtWidgets import QApplication

    from garnetfin.ui.app import make_app
    from garnetfin.ui.example import example_contents, example_project
    from garnetfin.ui.frame.window import MainWindow
    from garnetfin.ui.session import Session

    app: QApplication = make_app()
    window = MainWindow(Session())
    window.set_dark(dark)
    window.show()
    shown = project or example_project()
    window.session.start(shown, None, example_contents(shown) if project is None else None)
    folder.mkdir(parents=True, exist_ok=True)

    def settle(done) -> None:
        until = time.monotonic() + 60
        while not done() and time.monotonic() < until:
            app.processEvents()
            time.sleep(0.005)
        for _ in range(6):
            app.processEvents()
            time.sleep(0.01)

    settle(lambda: window.session.settled)
    for name, link, kind, wanted, level in SCENES:
        if only and name not in only:
            continue
        window.session.set_show(
            link=link,
            hour=None,
            **({"level_id": level} if level and any(x.id == level for x in window.session.project.levels) else {}),
        )
        window.session.select(*_chosen(window.session, kind, wanted))
        view = window.view(link)
        settle(lambda: getattr(view, "settled", True))
        if name == "lifted":
            view.lift()
        elif name == "climate":
            view.show_part("days")
        elif name == "build-ups":
            view.show_build_ups()
        elif name.startswith("air"):
            view.show_main("plan" if name == "air-plan" else "train")
            view.equipment.show_schedule("boxes")
            view.drawer.choose(view.TABS.index("Equipment" if name == "air-plan" else "What governs"))
        elif name == "casing":
            view.show_main("casing")
            view.equipment.show_schedule("units")
            view.drawer.choose(view.TABS.index("Equipment"))
        elif name == "building":
            view.drawer.choose(0)
        elif name == "options":
            _options(window, settle)
        elif name == "why":
            window.ask_why(("room", window.session.selection.ids[0], "cooling"))
        settle(lambda: True)
        if name == "ducts" and view.colour_by != "air":
            settle(lambda: True)
        path = folder / f"{name}{'-dark' if dark else ''}.png"
        write_whole(path, picture(window))
        if name == "lifted":
            view.lift()
        if name == "why":
            window.side.close_why()
        yield path
    window.session._saved = window.session.project
    window.close()


def picture(widget) -> bytes:
    """What a widget shows, as PNG."""
    from PySide6.QtCore import QBuffer, QIODevice

    made = QBuffer()
    made.open(QIODevice.OpenModeFlag.WriteOnly)
    widget.grab().save(made, "PNG")
    return bytes(made.data())


def _options(window, settle) -> None:
    """What stands beside a mark with other glass, and a study of both."""
    from garnetfin.engine.studies.study import varied

    session, page = window.session, None
    before = session.project
    session.keep_mark("as drawn")
    session.start(varied(before, ("glass g",), (0.3,)), None, session.contents, tuple(session.marks.values()))
    settle(lambda: session.settled)
    window.show_options()
    page = window.options_page
    settle(lambda: page.settled)


def _chosen(session, kind: str, wanted: str) -> tuple[str, ...]:
    project = session.project
    if kind == "room":
        found = [r.id for r in project.rooms if r.number == wanted] or [r.id for r in project.rooms][:1]
    elif kind == "terminal":
        found = [t.id for t in project.terminals if t.label == wanted] or [t.id for t in project.terminals][:1]
    elif kind == "part":
        system = next((s for s in project.air_systems if s.id == session.show.system_id), None)
        found = [p.id for p in system.parts if p.id == wanted] if system else []
    elif kind == "segment":
        ducts = session.results.ducts.get(session.show.system_id)
        known = getattr(ducts, "segments", {})
        found = [s for s, r in known.items() if wanted in r.obstacle] or list(known)[:1]
    else:
        found = []
    return (kind, found[0]) if found else ()
