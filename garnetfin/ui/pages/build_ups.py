"""The build-up editor: the list, the section drawn to scale, the layers, and a library searched while one types."""

from PySide6.QtCore import QStringListModel, Qt, Signal
from PySide6.QtWidgets import QCompleter, QHBoxLayout, QLineEdit, QSplitter, QVBoxLayout, QWidget

from garnetfin.core.tables import materials
from garnetfin.engine.layout.sections import look
from garnetfin.project.edits.fabric import AddBuildUp, AddLayer, ClearUnused, MoveLayer, RemoveLayer
from garnetfin.project.lookup import find
from garnetfin.ui.charts.section import SectionChart
from garnetfin.ui.language import tr
from garnetfin.ui.state import State
from garnetfin.ui.theme import theme
from garnetfin.ui.view_models.fabric import answer_words, build_up_table, layer_table, section_vm
from garnetfin.ui.widgets.controls import LinkText, Words
from garnetfin.ui.widgets.table import Table

GAP, OPEN_GAP = "Air gap, closed", "Air gap, open to outdoors"


class BuildUpsPage(QWidget):
    """Emits commands; what is chosen here belongs to the page alone."""

    intent = Signal(object)
    refused = Signal(str)
    own_asked = Signal()  # a material of the office's own is to be described

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.chosen_id, self.layer = "", 0
        self._state: State | None = None
        self.list, self.layers, self.section = Table(), Table(), SectionChart()
        self.list.picked.connect(lambda kind, ids: self.choose(ids[0]) if ids else None)
        self.layers.picked.connect(lambda kind, ids: self._choose_layer(int(ids[0])) if ids else None)
        for table in (self.list, self.layers):
            table.intent.connect(self.intent)
            table.refused.connect(self.refused)
        self.section.chosen.connect(self._choose_layer)
        self.section.moved.connect(lambda a, b: self._do(MoveLayer(self.chosen_id, a, b), b))
        self.words, self.swing = Words("", px=11.5), Words("", px=11.5)
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Add a layer: type part of a material …"))
        self.search.setAccessibleName("Add a layer by material")
        self.search.setFrame(False)
        self.search.setFixedHeight(24)
        self.search.setFont(theme.font(12))
        self._names = QStringListModel(self)
        completer = QCompleter(self._names, self)
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        completer.activated.connect(self._add_named)
        self.search.setCompleter(completer)
        self.search.returnPressed.connect(lambda: self._add_named(self.search.text()))
        links = []
        for text, on in (
            ("Copy as new", self._copy),
            ("Remove layer", self._remove),
            ("Own material …", self.own_asked.emit),
            ("Remove unused", lambda: self.intent.emit(ClearUnused())),
        ):
            link = LinkText(text, px=12)
            link.clicked.connect(on)
            links.append(link)
        self.copy_link, self.remove_link, self.own_link, self.clear_link = links
        left, middle, right = QWidget(), QWidget(), QWidget()
        for part, widgets in (
            (left, (self.list, self._row(self.copy_link, self.clear_link))),
            (middle, (self.section, self.words, self.swing)),
            (right, (self.layers, self.search, self._row(self.remove_link, self.own_link))),
        ):
            column = QVBoxLayout(part)
            column.setContentsMargins(6, 2, 6, 4)
            column.setSpacing(2)
            for i, widget in enumerate(widgets):
                column.addWidget(widget, 1 if i == 0 else 0)
        split = QSplitter()
        split.setChildrenCollapsible(False)
        split.setHandleWidth(1)
        for part in (left, middle, right):
            split.addWidget(part)
        split.setSizes([262, 372, 350])
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(split)

    @staticmethod
    def _row(*links: LinkText) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(8, 0, 0, 0)
        line.setSpacing(14)
        for link in links:
            line.addWidget(link)
        line.addStretch(1)
        return row

    def render_state(self, state: State) -> None:
        self._state = state
        if not state.known or not state.project.build_ups:
            return
        build_up = find(state.project.build_ups, self.chosen_id) or state.project.build_ups[0]
        self.chosen_id = build_up.id
        self.layer = max(0, min(self.layer, len(build_up.layers) - 1))
        looked = look(state.results, build_up)
        self.list.render_vm(build_up_table(state), (self.chosen_id,), state.show.units)
        self.layers.render_vm(layer_table(state, build_up), (str(self.layer),), state.show.units)
        self.section.render_vm(section_vm(state, build_up, looked, self.layer))
        steady, swing = answer_words(state, looked)
        self.words.set_words(steady)
        self.swing.set_words(swing)
        names = [
            GAP,
            OPEN_GAP,
            *(m.name for m in state.project.book.materials),
            *(_label(m) for m in materials().values()),
        ]
        if names != self._names.stringList():
            self._names.setStringList(names)

    def choose(self, build_up_id: str) -> None:
        self.chosen_id, self.layer = build_up_id, 0
        if self._state is not None:
            self.render_state(self._state)

    def _choose_layer(self, index: int) -> None:
        self.layer = index
        if self._state is not None:
            self.render_state(self._state)

    def _do(self, command, layer: int) -> None:
        self.layer = layer
        self.intent.emit(command)

    def _add_named(self, text: str) -> None:
        """The material typed or picked goes in behind the chosen layer."""
        wanted = text.strip()
        if not wanted or self._state is None:
            return
        own = {m.name: m.id for m in self._state.project.book.materials}
        known = {**{_label(m): m.id for m in materials().values()}, **own, GAP: "", OPEN_GAP: ""}
        exact = known.get(wanted)
        if exact is None:
            near = [name for name in known if wanted.lower() in name.lower()]
            if len(near) != 1:
                self.refused.emit(
                    f"“{wanted}” fits {len(near)} materials. Pick one of the list"
                    if near
                    else f"“{wanted}” is no material of the library. Add it with “Own material”"
                )
                return
            wanted = near[0]
            exact = known[wanted]
        thickness = 0.05 if wanted in (GAP, OPEN_GAP) else 0.1
        self._do(AddLayer(self.chosen_id, self.layer + 1, exact, thickness, wanted == OPEN_GAP), self.layer + 1)
        self.search.clear()

    def _remove(self) -> None:
        self._do(RemoveLayer(self.chosen_id, self.layer), max(0, self.layer - 1))

    def _copy(self) -> None:
        self.intent.emit(AddBuildUp(self.chosen_id))


def _label(material) -> str:
    """Materials of one name are told apart by density."""
    return f"{material.name}, {material.density_kg_m3:g} kg/m³"
