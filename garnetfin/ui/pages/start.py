"""The first page: open the example, open a project, recent files."""

from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from garnetfin.engine.results import there
from garnetfin.ui import theme as looks
from garnetfin.ui.theme import theme
from garnetfin.ui.widgets.controls import LinkText, TextButton, Words


class StartPage(QWidget):
    example = Signal()
    new = Signal()
    browse = Signal()
    room_list = Signal()
    drawing = Signal()
    building = Signal()
    chosen = Signal(str)
    tutorial = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        outer = QHBoxLayout(self)
        outer.addStretch(1)
        column = QVBoxLayout()
        outer.addLayout(column)
        outer.addStretch(1)
        column.addStretch(2)
        column.addSpacing(70)
        column.addWidget(Words("Garnetfin", px=26, tone="ink", weight=600))
        column.addWidget(
            Words("From a window pane to a fan’s shaft: loads, air flows, ducts and fan in one chain.", px=13)
        )
        column.addSpacing(18)
        self.open_example = TextButton("Open the example", filled=True)
        self.open_example.clicked.connect(self.example)
        self.open_file = TextButton("Open a project …")
        self.open_file.setFixedHeight(26)
        self.open_file.clicked.connect(self.browse)
        self.start_new = TextButton("Draw a building")
        self.start_new.setFixedHeight(26)
        self.start_new.clicked.connect(self.new)
        row = QHBoxLayout()
        row.addWidget(self.open_example)
        row.addSpacing(8)
        row.addWidget(self.start_new)
        row.addSpacing(8)
        row.addWidget(self.open_file)
        row.addStretch(1)
        column.addLayout(row)
        column.addSpacing(12)
        more = QHBoxLayout()
        self.starts = {}
        for words, signal in (
            ("Start from a room list", self.room_list),
            ("Start from a drawing …", self.drawing),
            ("Start from gbXML or IFC …", self.building),
            ("Ten minutes with the example", self.tutorial),
        ):
            link = LinkText(words)
            link.clicked.connect(signal)
            self.starts[words] = link
            more.addWidget(link)
            more.addSpacing(12)
        more.addStretch(1)
        column.addLayout(more)
        column.addSpacing(22)
        self._recent_title = Words("Recent", px=12.5, tone="ink", weight=600)
        column.addWidget(self._recent_title)
        self._recent = QVBoxLayout()
        column.addLayout(self._recent)
        column.addStretch(3)

    def set_recent(self, paths: list[Path]) -> None:
        while self._recent.count():
            there(self._recent.takeAt(0)).widget().deleteLater()
        self._recent_title.setVisible(bool(paths))
        for path in paths:
            link = LinkText(f"{path.stem}   {path.parent}")
            link.clicked.connect(lambda _=False, p=path: self.chosen.emit(str(p)))
            self._recent.addWidget(link, 0, Qt.AlignmentFlag.AlignLeft)

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.fillRect(self.rect(), theme.colour("paper"))
        sign = looks.pixmap("garnetfin", theme.colour("garnet"), 64, self.devicePixelRatioF())
        p.drawPixmap(self.open_example.x(), self.open_example.y() - 150, sign)
