"""Settings of the program as it stores them: typed, each with what stands without it; a stored value that cannot be is
as if it were not there.
"""

import math
from pathlib import Path
from typing import Annotated, Any, Literal, get_type_hints

import msgspec
from PySide6.QtCore import QByteArray, QSettings

RECENT = 6
Text = Annotated[str, msgspec.Meta(max_length=4096)]


class Settings(msgspec.Struct, frozen=True, kw_only=True):
    """All of them with their usual values. A key in the store is the field's name with blanks for underlines."""

    dark: bool = False
    units: Literal["SI", "IP"] = "SI"
    scale: Annotated[float, msgspec.Meta(ge=0.5, le=3.0)] = 1.0
    language: Literal["", "en", "de"] = ""
    open_last: bool = False
    keep_journal: bool = True
    recent: tuple[Text, ...] = ()
    last_path: Text = ""
    last_show: tuple[Text, Text, Text, Text] = ("", "", "", "")  # link, air system, level, units


FIELDS = get_type_hints(Settings, include_extras=True)
USUAL = Settings()


class Stored:
    """The store of the desktop behind typed settings; without one (tests, pictures) every setting is the usual."""

    def __init__(self, store: QSettings | None) -> None:
        self.store = store

    def get(self, name: str) -> Any:
        """One setting, its usual value where what is stored is nothing that it may be."""
        usual = getattr(USUAL, name)
        raw = self.store.value(_key(name)) if self.store is not None else None
        if raw is None:
            return usual
        if isinstance(usual, tuple) and isinstance(raw, str):
            raw = [raw]  # the store keeps a list of one as its only item
        try:
            found = msgspec.convert(raw, FIELDS[name], strict=False)
        except (msgspec.ValidationError, TypeError, ValueError, OverflowError):
            return usual
        return usual if isinstance(found, float) and not math.isfinite(found) else found

    def set(self, name: str, value: object) -> None:
        if self.store is not None:
            self.store.setValue(_key(name), list(value) if isinstance(value, tuple) else value)

    def forget(self, *names: str) -> None:
        for name in names if self.store is not None else ():
            self.store.remove(_key(name))

    @property
    def geometry(self) -> QByteArray | None:
        """Where the window stood; Qt itself refuses one that is none."""
        found = self.store.value("window/geometry") if self.store is not None else None
        return found if isinstance(found, QByteArray) and found.size() < 4096 else None

    def keep_geometry(self, geometry: QByteArray) -> None:
        if self.store is not None:
            self.store.setValue("window/geometry", geometry)

    @property
    def recent(self) -> list[Path]:
        """Projects opened lately that are still there."""
        return [path for text in self.get("recent")[:RECENT] if (path := existing(text)) is not None]

    def remember(self, path: Path) -> None:
        first = path.resolve()
        self.set("recent", tuple(str(p) for p in (first, *(p for p in self.recent if p != first)))[:RECENT])


def _key(name: str) -> str:
    return name.replace("_", " ") if not name.startswith("last_") else name.replace("_", "/")


def existing(text: str) -> Path | None:
    """A stored path that leads to something; None for one that does not or cannot be a path."""
    try:
        return Path(text) if text and Path(text).exists() else None
    except (OSError, ValueError):
        return None
