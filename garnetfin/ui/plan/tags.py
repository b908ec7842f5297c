"""Tags beside what stands on the plan, on the first side that is free."""

from collections.abc import Sequence

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPainterPath

from garnetfin.ui.plan.layers import text, text_width
from garnetfin.ui.theme import theme

TAG_PX, TAG_H = 9.5, 11.0


def tag_width(words: str) -> float:
    return text_width(words, TAG_PX, 500)


def beside(box: QRectF, words: str) -> tuple[QRectF, ...]:
    """Places of a tag below, above, right and left of a body [px]."""
    wide = tag_width(words)
    x, y = box.center().x() - wide / 2, box.center().y() - TAG_H / 2
    return (
        QRectF(x, box.bottom() + 1, wide, TAG_H),
        QRectF(x, box.top() - TAG_H - 1, wide, TAG_H),
        QRectF(box.right() + 3, y, wide, TAG_H),
        QRectF(box.left() - wide - 3, y, wide, TAG_H),
    )


def write_tag(p: QPainter, words: str, places: Sequence[QRectF], taken: QPainterPath) -> None:
    """On the first place that is free of what is `taken`, which grows by it; nowhere where none is."""
    place = next((q for q in places if not taken.intersects(q)), None)
    if place is not None:
        text(p, place.center(), words, theme.colour("faint"), TAG_PX, 500, halo=theme.colour("sheet"))
        taken.addRect(place)
