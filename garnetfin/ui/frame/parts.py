"""What the parts of the window share: names that MainWindow fills, for the classes it is put together from."""

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu, QStackedWidget

from garnetfin.ui.frame.ask import Ask
from garnetfin.ui.frame.side_panel import SidePanel
from garnetfin.ui.frame.status import Banner, StatusLine
from garnetfin.ui.session import Session
from garnetfin.ui.settings import Stored
from garnetfin.ui.widgets.controls import LinkText

if TYPE_CHECKING:
    from PySide6.QtWidgets import QMainWindow as _Base
else:
    _Base = object  # the window itself is the only widget


class WindowPart(_Base):
    """A part of MainWindow: all of this is there once the window is made."""

    session: Session
    settings: Stored
    banner: Banner
    status: StatusLine
    side: SidePanel
    ask: Ask
    flag: LinkText
    actions_: dict[str, QAction]
    recent_menu: QMenu
    marks_menu: QMenu

    _middle: QStackedWidget

    if TYPE_CHECKING:

        def building(self) -> Any:
            """The Building view, brought to the front."""

        def view(self, name: str) -> Any:
            """A view by its name in the chain."""

        def refresh(self) -> None:
            """Show what the session holds."""

        def do(self, command: Any) -> None:
            """Take an edit."""

        def close_over(self) -> None:
            """Put away what lies over the views."""

        def take_book(self, path: Path | None = None) -> None:
            """Take office standards from a file."""

        def _refused(self, reason: str) -> None: ...
