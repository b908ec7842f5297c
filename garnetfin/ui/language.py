"""The language of the interface: English as written, others by Qt's translation files.

Texts go through `tr` where they are shown, so that view-models stay words in one language. Figures inside a text are
set aside for the lookup:
“26 rooms” is found as “%1 rooms”. Parts between middle dots are looked up one by one. A text without a translation
stays as it is.
"""

import re
from functools import lru_cache
from importlib.resources import as_file, files

from PySide6.QtCore import QCoreApplication, QLocale, QTranslator

LANGUAGES = {"en": "English", "de": "Deutsch"}
CONTEXT = "garnetfin"
FIGURE = re.compile(r"[-+\u2212]?\d[\d\u202f.,:]*")
BETWEEN = " · "
_installed: list[QTranslator] = []
unknown: set[str] = set()  # texts that were asked for and not found, for whoever translates


def choose(app: QCoreApplication, wanted: str = "") -> str:
    """Install a language by its code; "" takes the desktop's, English where it is not translated.

    The code that is in force.
    """
    code = wanted or QLocale.system().name().partition("_")[0]
    for old in _installed:
        app.removeTranslator(old)
    _installed.clear()
    _found.cache_clear()
    unknown.clear()
    if code not in LANGUAGES or code == "en":
        return "en"
    made = QTranslator(app)
    with as_file(files("garnetfin.ui").joinpath("assets", "translations", f"garnetfin_{code}.qm")) as path:
        if not made.load(str(path)):
            return "en"
    app.installTranslator(made)
    _installed.append(made)
    return code


def tr(text: str) -> str:
    """A text in the language in force."""
    return _found(text) if _installed and text else text


@lru_cache(maxsize=4096)
def _found(text: str) -> str:
    whole = _looked_up(text)
    if whole is not None:
        return whole
    if BETWEEN in text:
        return BETWEEN.join(_found(part) for part in text.split(BETWEEN))
    unknown.add(text)
    return text


def _looked_up(text: str) -> str | None:
    plain = text.strip()
    made = QCoreApplication.translate(CONTEXT, plain)
    if made != plain:
        return text.replace(plain, made)
    figures = FIGURE.findall(plain)
    if not figures or len(figures) > 9:
        return None
    counter = iter(range(1, len(figures) + 1))
    pattern = FIGURE.sub(lambda m: f"%{next(counter)}", plain)
    made = QCoreApplication.translate(CONTEXT, pattern)
    if made == pattern:
        return None
    for i, figure in enumerate(figures, 1):
        made = made.replace(f"%{i}", figure)
    return text.replace(plain, made)
