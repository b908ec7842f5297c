"""Help in the place of the card: the tutorial, and the keys as the menus and views have them."""

from importlib.resources import files

from PySide6.QtCore import Signal
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from garnetfin.ui.theme import theme
from garnetfin.ui.widgets.controls import LinkText
from garnetfin.ui.widgets.side_page import SidePage

MARGIN = 18
# Keys that belong to the hand and not to a menu.
BY_HAND = (
    ("W", "Why? of the figure under the pointer"),
    ("Tab, Shift+Tab", "Next, previous control"),
    ("Esc", "Put the tool away, close what lies over or at the side"),
    ("F", "Whole plan"),
    ("Wheel, Space and drag", "Zoom and move the plan"),
    ("Arrows, with Shift", "Move what is selected by 50 mm, by 0.5 m"),
    ("Del", "Remove what is selected"),
    ("R", "Draw a room"),
    ("D J X M", "Draw, join, split, merge ducts"),
    ("C B", "Ceiling zone, obstacle"),
    ("P", "Propose routes"),
    ("Ctrl+C, Ctrl+V", "Copy and paste in tables"),
)


def keys_of(actions: dict[str, QAction]) -> tuple[tuple[str, str], ...]:
    """(keys, what they do) of every command that has keys, then those of the hand."""
    found = tuple(
        (a.shortcut().toString(), a.text().replace(" …", ""))
        for a in actions.values()
        if not a.shortcut().isEmpty() and a.shortcut().toString() != "W"
    )
    return (*sorted(found, key=lambda k: (len(k[0]), k[0])), *BY_HAND)


class HelpPage(SidePage):
    """Words below each other; rendered from a little Markdown by Qt."""

    closed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        inside = QWidget()
        super().__init__("Help", inside, parent)
        column = QVBoxLayout(inside)
        column.setContentsMargins(MARGIN, 12, MARGIN - 8, 12)
        self.close_link = LinkText("Back to the card")
        self.close_link.clicked.connect(self.closed)
        self.text = QLabel()
        self.text.setWordWrap(True)
        self.text.setFont(theme.font(12))
        column.addWidget(self.close_link)
        column.addWidget(self.text)
        column.addStretch(1)

    def show_tutorial(self) -> None:
        self._show(files("garnetfin.ui").joinpath("assets", "help", "tutorial.md").read_text("utf-8"))

    def show_keys(self, actions: dict[str, QAction]) -> None:
        rows = "\n".join(
            f"<tr><td><b>{keys}</b>&nbsp;&nbsp;</td><td>{words}</td></tr>" for keys, words in keys_of(actions)
        )
        self.text.setText(f"<h3>Keys</h3><table cellspacing='3'>{rows}</table>")
        self._dye()

    def _show(self, markdown: str) -> None:
        from PySide6.QtCore import Qt

        self.text.setTextFormat(Qt.TextFormat.MarkdownText)
        self.text.setText(
            markdown.replace("\n# ", "\n### ").replace("\n## ", "\n&nbsp;\n\n#### ").replace("# Ten", "### Ten", 1)
        )
        self._dye()

    def _dye(self) -> None:
        self.verticalScrollBar().setValue(0)
