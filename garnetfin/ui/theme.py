"""Looks: colours from the token file, the bundled font, icons, the application's style sheet."""

import itertools
import tomllib
from functools import lru_cache
from importlib.resources import files

from PySide6.QtCore import QByteArray, QObject, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFont, QFontDatabase, QGuiApplication, QIcon, QPainter, QPalette, QPixmap
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QApplication, QToolTip

FAMILY = "Garnetfin Sans"
BASE_PX = 13.0


@lru_cache(maxsize=1)
def tokens() -> dict[str, dict]:
    return tomllib.loads(files("garnetfin.ui").joinpath("assets", "tokens.toml").read_text(encoding="utf-8"))


class Theme(QObject):
    """The look in force. One for the program; widgets ask it while painting and repaint on `changed`."""

    changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.dark = False
        self._colours: dict[str, QColor] = {}

    def set_dark(self, dark: bool) -> None:
        if dark != self.dark:
            self.dark = dark
            self._colours.clear()
            self.changed.emit()

    def colour(self, name: str) -> QColor:
        found = self._colours.get(name)
        if found is None:
            found = self._colours[name] = QColor(tokens()["dark" if self.dark else "light"][name])
        return found

    def use_fill(self, family: str) -> QColor:
        colour = QColor(tokens()["uses"][family])
        return mix(self.colour("sheet"), colour, 0.18) if self.dark else colour

    def cause(self, name: str) -> QColor:
        colour = QColor(tokens()["causes"][name])
        return colour.lighter(125) if self.dark else colour

    def font(self, px: float = BASE_PX, weight: int = 400, italic: bool = False) -> QFont:
        return QFont(_font(px, weight, italic))  # of its own: whoever strikes it out strikes out nothing else


@lru_cache(maxsize=256)
def _font(px: float, weight: int, italic: bool) -> QFont:
    font = QFont(FAMILY)
    font.setPixelSize(max(1, round(px)))
    if abs(px - round(px)) > 0.01:
        # Half pixels matter between rows and headings; points carry them.
        screen = QGuiApplication.primaryScreen()
        font.setPointSizeF(px * 72 / (screen.logicalDotsPerInchY() if screen else 96))
    font.setWeight(QFont.Weight(weight))
    font.setItalic(italic)
    font.setHintingPreference(QFont.HintingPreference.PreferVerticalHinting)
    return font


theme = Theme()


def mix(a: QColor, b: QColor, share: float) -> QColor:
    """`a` with a share of `b` in it."""
    return QColor.fromRgbF(*(x + (y - x) * share for x, y in zip(a.getRgbF()[:3], b.getRgbF()[:3])))


def _to_oklab(colour: QColor) -> tuple[float, float, float]:
    r, g, b = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in colour.getRgbF()[:3])
    long = (0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b) ** (1 / 3)
    medium = (0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b) ** (1 / 3)
    short = (0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b) ** (1 / 3)
    return (
        0.2104542553 * long + 0.7936177850 * medium - 0.0040720468 * short,
        1.9779984951 * long - 2.4285922050 * medium + 0.4505937099 * short,
        0.0259040371 * long + 0.7827717662 * medium - 0.8086757660 * short,
    )


def _from_oklab(lightness: float, a: float, b: float) -> QColor:
    long = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3
    medium = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3
    short = (lightness - 0.0894841775 * a - 1.2914855480 * b) ** 3
    linear = (
        4.0767416621 * long - 3.3077115913 * medium + 0.2309699292 * short,
        -1.2684380046 * long + 2.6097574011 * medium - 0.3413193965 * short,
        -0.0041960863 * long - 0.7034186147 * medium + 1.7076147010 * short,
    )
    return QColor.fromRgbF(
        *(min(1.0, max(0.0, 12.92 * c if c <= 0.0031308 else 1.055 * c ** (1 / 2.4) - 0.055)) for c in linear)
    )


@lru_cache(maxsize=4)
def colour_map(name: str) -> tuple[QColor, ...]:
    """256 colours of a map, stepped evenly in OKLab."""
    stops = [_to_oklab(QColor(c)) for c in tokens()["maps"][name]]
    steps = [sum((x - y) ** 2 for x, y in zip(a, b)) ** 0.5 for a, b in itertools.pairwise(stops)]
    if name == "diverging":
        steps = [1.0] * len(steps)
    total, made = sum(steps), []
    for i in range(256):
        along, k = i / 255 * total, 0
        while k < len(steps) - 1 and along > steps[k]:
            along -= steps[k]
            k += 1
        t = min(1.0, along / steps[k])
        made.append(_from_oklab(*(x + (y - x) * t for x, y in zip(stops[k], stops[k + 1]))))
    return tuple(made)


def map_colour(name: str, share: float) -> QColor:
    """Colour at a share 0..1 of a map."""
    return colour_map(name)[int(min(1.0, max(0.0, share)) * 255)]


def load_fonts() -> None:
    folder = files("garnetfin.ui").joinpath("assets", "fonts")
    for entry in folder.iterdir():
        if entry.name.endswith(".ttf"):
            QFontDatabase.addApplicationFontFromData(QByteArray(entry.read_bytes()))


@lru_cache(maxsize=128)
def _svg(name: str) -> bytes:
    return files("garnetfin.ui").joinpath("assets", "icons", f"{name}.svg").read_bytes()


@lru_cache(maxsize=512)
def _pixmap(name: str, rgb: str, size: int, ratio: float) -> QPixmap:
    renderer = QSvgRenderer(
        QByteArray(_svg(name).replace(b"currentColor", rgb.encode()).replace(b"#7E1F3B", rgb.encode()))
    )
    pixmap = QPixmap(int(size * ratio), int(size * ratio))
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter, QRectF(0, 0, size * ratio, size * ratio))
    painter.end()
    pixmap.setDevicePixelRatio(ratio)
    return pixmap


def pixmap(name: str, colour: QColor, size: int, ratio: float = 1.0) -> QPixmap:
    return _pixmap(name, colour.name(), size, ratio)


def icon(name: str, colour: QColor) -> QIcon:
    made = QIcon()
    for ratio in (1.0, 2.0):
        made.addPixmap(pixmap(name, colour, 18, ratio))
    return made


def apply(app: QApplication) -> None:
    """Palette and font of the theme in force. What differs from the toolkit's own look draws itself (frame/bare.py)."""
    if app.style().objectName() != "fusion":
        app.setStyle("Fusion")
    if app.font() != theme.font():
        app.setFont(theme.font())
    c = theme.colour
    palette = QPalette()
    for role, name in (
        (QPalette.ColorRole.Window, "paper"),
        (QPalette.ColorRole.Base, "sheet"),
        (QPalette.ColorRole.AlternateBase, "tint"),
        (QPalette.ColorRole.Button, "sheet"),
        (QPalette.ColorRole.WindowText, "ink"),
        (QPalette.ColorRole.Text, "ink"),
        (QPalette.ColorRole.ButtonText, "ink"),
        (QPalette.ColorRole.ToolTipText, "ink"),
        (QPalette.ColorRole.ToolTipBase, "sheet"),
        (QPalette.ColorRole.PlaceholderText, "faint"),
        (QPalette.ColorRole.Highlight, "garnet"),
        (QPalette.ColorRole.HighlightedText, "on_garnet"),
        (QPalette.ColorRole.Mid, "rule"),
        (QPalette.ColorRole.Dark, "rule"),
        (QPalette.ColorRole.Light, "sheet"),
        (QPalette.ColorRole.Midlight, "rule"),
        (QPalette.ColorRole.Link, "garnet"),
    ):
        palette.setColor(role, c(name))
    for role in (QPalette.ColorRole.WindowText, QPalette.ColorRole.Text, QPalette.ColorRole.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, c("faint"))
    app.setPalette(palette)
    tips = QPalette(palette)
    tips.setColor(QPalette.ColorRole.ToolTipBase, c("sheet"))
    QToolTip.setPalette(tips)
