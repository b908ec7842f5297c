"""The drawer below the main part: tabs at the left, a note at the right, pulled up or away by its grip."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QSplitter, QSplitterHandle, QStackedWidget, QVBoxLayout, QWidget

from garnetfin.ui.focus import ringed
from garnetfin.ui.language import tr
from garnetfin.ui.theme import theme


class _Head(QWidget):
    chosen = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.tabs: list[str] = []
        self.now, self.note = 0, ""
        self.setFixedHeight(30)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(400, 30)

    def box_of(self, i: int) -> QRectF:
        x = 14.0
        for k, words in enumerate(self.tabs):
            width = QFontMetricsF(theme.font(12.5, 600)).horizontalAdvance(tr(words))
            if k == i:
                return QRectF(x, 0, width, 30)
            x += width + 24
        return QRectF()

    def paintEvent(self, event) -> None:
        p = QPainter(self)
        c = theme.colour
        p.fillRect(self.rect(), c("sheet"))
        p.setPen(QPen(c("rule"), 1))
        p.drawLine(QPointF(0, 0.5), QPointF(self.width(), 0.5))
        p.drawLine(QPointF(0, 29.5), QPointF(self.width(), 29.5))
        for i, words in enumerate(self.tabs):
            box, now = self.box_of(i), i == self.now
            p.setFont(theme.font(12.5, 600 if now else 400))
            p.setPen(c("ink" if now else "faint"))
            p.drawText(QPointF(box.left(), 20), tr(words))
            if now and len(self.tabs) > 1:
                p.fillRect(QRectF(box.left(), 25, box.width(), 2), c("garnet"))
        if ringed(self):
            p.setPen(QPen(c("garnet"), 1, Qt.PenStyle.DotLine))
            p.drawRect(self.box_of(self.now).adjusted(-4, 3, 4, -3))
        p.setFont(theme.font(11.5))
        p.setPen(c("faint"))
        taken = self.box_of(len(self.tabs) - 1).right() + 20 if self.tabs else 0
        note = QFontMetricsF(p.font()).elidedText(self.note, Qt.TextElideMode.ElideRight, self.width() - taken - 14)
        p.drawText(
            QRectF(taken, 0, self.width() - taken - 14, 30),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            note,
        )

    def _choose(self, i: int) -> None:
        if 0 <= i < len(self.tabs) and i != self.now:
            self.now = i
            self.update()
            self.chosen.emit(i)

    def mousePressEvent(self, event) -> None:
        for i in range(len(self.tabs)):
            if self.box_of(i).adjusted(-8, 0, 8, 0).contains(event.position()):
                self._choose(i)

    def keyPressEvent(self, event) -> None:
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(event.key())
        if step:
            self._choose((self.now + step) % len(self.tabs))
        else:
            super().keyPressEvent(event)


class Drawer(QWidget):
    """Pages behind tabs."""

    chosen = Signal(int)

    def __init__(self, pages: tuple[tuple[str, QWidget], ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.head = _Head()
        self.head.tabs = [name for name, _ in pages]
        self._stack = QStackedWidget()
        for _, page in pages:
            self._stack.addWidget(page)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.head)
        column.addWidget(self._stack, 1)
        self.head.chosen.connect(self._stack.setCurrentIndex)
        self.head.chosen.connect(self.chosen)

    def choose(self, index: int) -> None:
        """Bring a page to the front."""
        self.head._choose(index)

    @property
    def page(self) -> QWidget:
        return self._stack.currentWidget()

    def set_note(self, note: str) -> None:
        if note != self.head.note:
            self.head.note = note
            self.head.update()


def page_of(main: QWidget, *controls: QWidget) -> QWidget:
    """A page of the drawer with its own controls above."""
    page = QWidget()
    column = QVBoxLayout(page)
    column.setContentsMargins(0, 4, 0, 0)
    column.setSpacing(2)
    row = QHBoxLayout()
    row.setContentsMargins(14, 0, 14, 0)
    row.setSpacing(8)
    for control in controls:
        row.addWidget(control)
    row.addStretch(1)
    column.addLayout(row)
    column.addWidget(main, 1)
    return page


class _Grip(QSplitterHandle):
    def paintEvent(self, event) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), theme.colour("sheet"))
        p.setPen(QPen(theme.colour("rule"), 1))
        p.drawLine(0, 0, self.width(), 0)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(theme.colour("bar"))
        p.drawRoundedRect(QRectF(self.width() / 2 - 18, 2, 36, 3), 1.5, 1.5)

    def mouseDoubleClickEvent(self, event) -> None:
        sizes = self.splitter().sizes()
        whole = sum(sizes)
        self.splitter().setSizes([whole, 0] if sizes[1] else [whole - 220, 220])


class MainAndDrawer(QSplitter):
    """The view's main part above its drawer; the grip can be pulled, a double click puts the drawer away."""

    def __init__(self, main: QWidget, drawer: QWidget, drawer_height: int, parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Vertical, parent)
        self._drawer_height = drawer_height
        self.setHandleWidth(7)
        self.addWidget(main)
        self.addWidget(drawer)
        self.setStretchFactor(0, 1)
        self.setStretchFactor(1, 0)
        self.setCollapsible(0, False)
        self._laid = False

    def createHandle(self) -> QSplitterHandle:
        return _Grip(self.orientation(), self)

    def raise_to(self, height: int) -> None:
        """The drawer at least this high, where the window has the room."""
        main, drawer = self.sizes()
        if drawer < height:
            self.setSizes([main + drawer - height, height])

    def resizeEvent(self, event) -> None:
        super().resizeEvent(event)
        if not self._laid and self.height() > 200:
            self._laid = True
            self.setSizes([self.height() - self._drawer_height, self._drawer_height])
