"""Settings of the program, not of a project: in the place of the card; each takes effect at once, or says when."""

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtGui import QPalette
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QVBoxLayout, QWidget

from garnetfin.ui.language import LANGUAGES, tr
from garnetfin.ui.settings import Stored
from garnetfin.ui.theme import theme
from garnetfin.ui.widgets.controls import LinkText
from garnetfin.ui.widgets.side_page import SidePage

MARGIN = 18
YES = (("true", "yes"), ("false", "no"))
# The setting, its words, choices, and when it takes effect.
ROWS = (
    ("dark", "Look", (("false", "light"), ("true", "dark")), "at once"),
    ("units", "Units of a new window", (("SI", "SI"), ("IP", "IP")), "from the next start on"),
    (
        "scale",
        "Size",
        tuple((f"{s:g}", f"{s:.0%}") for s in (0.8, 0.9, 1.0, 1.1, 1.25, 1.5, 1.75, 2.0)),
        "from the next start on",
    ),
    ("language", "Language", (("", "as the desktop has it"), *LANGUAGES.items()), "from the next start on"),
    ("open_last", "Open the last project at the start", YES, "from the next start on"),
    ("keep_journal", "Keep edits against a crash", YES, "from the next start on"),
)


class SettingsPage(SidePage):
    closed = Signal()
    changed = Signal(str, str)  # key and value

    def __init__(self, settings: Stored, parent: QWidget | None = None) -> None:
        inside = QWidget()
        super().__init__("Settings", inside, parent)
        self._settings = settings
        column = QVBoxLayout(inside)
        column.setContentsMargins(MARGIN, 12, MARGIN - 8, 12)
        column.setSpacing(8)
        title = self._label("Settings", 17, "ink", 600)
        self.close_link = LinkText("Back to the card")
        self.close_link.clicked.connect(self.closed)
        column.addWidget(title)
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        self.boxes: dict[str, QComboBox] = {}
        for i, (key, words, choices, when) in enumerate(ROWS):
            box = QComboBox()
            box.setAccessibleName(words)
            for value, label in choices:
                box.addItem(tr(label), value)
            box.activated.connect(self._taker(key, box))
            self.boxes[key] = box
            grid.addWidget(self._label(words, 12, "ink"), 3 * i, 0)
            grid.addWidget(box, 3 * i + 1, 0)
            grid.addWidget(self._label(when, 10.5, "faint"), 3 * i + 2, 0)
        column.addLayout(grid)
        column.addWidget(self.close_link)
        column.addStretch(1)
        self.render()

    def _label(self, words: str, px: float, tone: str, weight: int = 400) -> QLabel:
        label = QLabel(tr(words))
        label.setFont(theme.font(px, weight))
        # follows the look
        label.setForegroundRole(
            QPalette.ColorRole.PlaceholderText if tone == "faint" else QPalette.ColorRole.WindowText
        )
        return label

    def _taker(self, key: str, box: QComboBox) -> Callable[[int], None]:
        def take(index: int) -> None:
            value = box.itemData(index)
            self._settings.set(key, value)
            self.changed.emit(key, value)

        return take

    def render(self) -> None:
        for key, *_ in ROWS:
            stored = self._settings.get(key)
            text = (
                ("true" if stored else "false")
                if isinstance(stored, bool)
                else f"{stored:g}"
                if isinstance(stored, float)
                else stored
            )
            self.boxes[key].setCurrentIndex(max(0, self.boxes[key].findData(text)))
