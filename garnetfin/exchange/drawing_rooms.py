"""All rooms of a drawing at once: closed lines and enclosed spaces that hold a text give number, name and outline."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import hypot
from typing import Any

from garnetfin.core.errors import Cancelled, InputError
from garnetfin.core.outlines import area_of, enclosed, inside, tidy, to_centres
from garnetfin.project.draft import Draft, Note
from garnetfin.project.new import usual_build_ups
from garnetfin.project.spaces import Level, Room
from garnetfin.project.uses import use_of
from garnetfin.project.values import Imported

Line = tuple[float, float, float, float]
Outline = tuple[tuple[float, float], ...]
LEAST_M2, MOST_M2 = 1.0, 5_000.0
TOGETHER_M = 3.0  # texts of one room lie no further apart
MOST_PLACES = 600
ALIKE = 0.9  # shared area from which two outlines are one
USUAL_CEILING_M = 2.8
# 1.01, EG-12, R 204a, 0.E.05: a word with a figure in it
NUMBER = re.compile(r"[A-Za-z]{0,4}[ .\-]?\d{1,4}(?:[.\-/][A-Za-z]?\d{1,4}){0,3}[A-Za-z]?")
DECIMAL = re.compile(r"\d{1,2}\.\d{2}")
MOST_DECIMAL = 60.0  # storeys
AREA = re.compile(r"(?:A\s*[=:]\s*)?([\d.,]{1,10})\s*(?:m2|m²|qm|sqm)\b", re.IGNORECASE)
# heights, scales and the like, which are no names
NO_NAME = re.compile(
    r"(?:ok|uk|ff|ffl|rh|lh|h|u|f|br|bh)\W{0,3}[\d.,±+\- ]+|scale.*|m\W?1:\d+|mst.*|maßstab.*|nord|north", re.IGNORECASE
)


@dataclass(frozen=True, slots=True)
class Said:
    """A text on the plan [m]."""

    x: float
    y: float
    words: str


@dataclass(frozen=True, slots=True)
class Found:
    """A room of the drawing: the area that the drawing says it has, None without one."""

    outline: Outline
    number: str
    name: str
    said_m2: float | None = None


@dataclass(frozen=True, slots=True)
class _Label:
    at: tuple[float, float]
    number: str
    name: str
    said_m2: float | None


def rooms_in(
    lines: Sequence[Line],
    texts: Sequence[Said],
    progress: Callable[[float, str], None] = lambda *_: None,
    stopped: Callable[[], bool] = lambda: False,
) -> tuple[tuple[Found, ...], tuple[Note, ...]]:
    """(rooms, what was left out). Lines [m] are those of the layers shown.

    Raises InputError where no text speaks of a room, Cancelled when stopped.
    """
    labels = _labels(texts)
    if not labels:
        raise InputError(
            "No text of the drawing speaks of a room", remedy="Show the layer with room numbers or names, or fill rooms"
        )
    closed = _closed(lines)
    found: list[Found] = []
    notes: list[Note] = []
    open_ = shared = 0
    for k, label in enumerate(labels[:MOST_PLACES]):
        if stopped():
            raise Cancelled
        progress(k / len(labels), label.number or label.name)
        outline = _outline(lines, closed, label)
        if outline is None:
            open_ += 1
            notes.append(Note(kind="left out", text=f"{label.number} {label.name}: no space is enclosed there".strip()))
            continue
        if any(inside(f.outline, label.at) for f in found):
            shared += 1
            notes.append(
                Note(kind="left out", text=f"{label.number} {label.name}: another text has that space".strip())
            )
            continue
        found.append(Found(outline, label.number, label.name, label.said_m2))
    if len(labels) > MOST_PLACES:
        notes.insert(0, Note(kind="left out", text=f"{len(labels) - MOST_PLACES} texts beyond the first {MOST_PLACES}"))
    notes.insert(0, Note(kind="found", text=f"{len(found)} of {len(labels)} texts lie in a space of their own"))
    return tuple(found), tuple(notes)


def draft_of(source: str, level: Level, found: Sequence[Found], notes: Sequence[Note], taken: frozenset[str]) -> Draft:
    """Rooms of a drawing on one level; walls and floors follow from the outlines.

    taken  numbers that are in the project: rooms of that number are left to it
    """
    rooms, told, seen = [], list(notes), set(taken)
    for k, f in enumerate(found):
        number = f.number or f"{level.id}-{k + 1}"
        if number in seen:
            told.append(Note(kind="left out", text=f"{number} {f.name}: the number is there already"))
            continue
        seen.add(number)
        use_id, word = use_of(f.name)
        if word:
            told.append(Note(kind="assumed", text=word, where=number))
        drawn = area_of(f.outline)
        values: dict[str, Any] = {}
        if f.said_m2 is not None and abs(f.said_m2 / drawn - 1) > 0.005:
            told.append(
                Note(
                    kind="found", text=f"{number}: the drawing says {f.said_m2:.1f} m², its outline has {drawn:.1f} m²"
                )
            )
            if abs(f.said_m2 / drawn - 1) < 0.25:  # net inside the walls, as a figure of the drawing's own
                values["area_m2"] = Imported(value=f.said_m2, source=source)
        rooms.append(
            Room(
                id=number,
                number=number[:40],
                name=(f.name or "Room")[:80],
                level_id=level.id,
                outline=f.outline,
                use_id=use_id,
                ceiling_m=min(USUAL_CEILING_M, level.storey_m - 0.1),
                system_id="served",
                **values,
            )
        )
    return Draft(
        source=source,
        name=source,
        levels=(level,),
        rooms=tuple(rooms),
        build_ups=usual_build_ups(),
        derive=True,
        notes=tuple(told[:400]),
    )


class _Sorted:
    """Texts by what they can be: (text, number, name behind it), names, (text, area [m2])."""

    def __init__(self, texts: Sequence[Said]) -> None:
        self.numbers: list[tuple[Said, str, str]] = []
        self.names: list[Said] = []
        self.areas: list[tuple[Said, float]] = []
        decimals = [t.words.strip() for t in texts if DECIMAL.fullmatch(t.words.strip())]
        # 1.01 is a number where such figures do not come twice; 20.50 again and again is an area without its unit
        self._as_numbers = len(decimals) > 0 and len(set(decimals)) >= 0.9 * len(decimals)
        for t in texts:
            self._put(t, t.words.strip())

    def _put(self, t: Said, words: str) -> None:
        area = AREA.fullmatch(words)
        first, _, rest = words.partition(" ")
        if area:
            if _is_number(area.group(1)):
                self.areas.append((t, float(area.group(1).replace(",", "."))))
        elif DECIMAL.fullmatch(words):
            if self._as_numbers and float(words) < MOST_DECIMAL:
                self.numbers.append((t, words, ""))
        elif NUMBER.fullmatch(words) and not re.fullmatch(r"\d{1,2}|\d+[.,]\d+", words):
            self.numbers.append((t, words, ""))
        elif (NUMBER.fullmatch(first) or DECIMAL.fullmatch(first)) and re.search(r"[A-Za-zÀ-ÿ]{2}", rest):
            self.numbers.append((t, first, AREA.sub("", rest).strip(" ,;")))
        elif re.search(r"[A-Za-zÀ-ÿ]{2}", words) and not NO_NAME.fullmatch(words) and len(words) <= 60:
            self.names.append(t)

    def area_at(self, t: Said) -> float | None:
        """The area that is written beside a text."""
        near = _nearest(t, [a for a, _ in self.areas])
        return next((v for a, v in self.areas if a is near), None) if near is not None else None


def _labels(texts: Sequence[Said]) -> list[_Label]:
    """Texts that belong together as number, name and area of a room: the number with what lies nearest to it."""
    of = _Sorted(texts)
    made, used = [], set()
    for t, number, behind in of.numbers:
        name = behind
        if not name:
            near = _nearest(t, [n for n in of.names if id(n) not in used])
            if near is not None:
                used.add(id(near))
                name = near.words.strip()
        made.append(_Label((t.x, t.y), number, name, of.area_at(t)))
    # a name without a number near it is a room where it sounds like one
    for n in of.names:
        if id(n) in used:
            continue
        _, guessed = use_of(n.words)
        if not of.numbers or (not guessed and _nearest(n, [t for t, _, _ in of.numbers]) is None):
            made.append(_Label((n.x, n.y), "", n.words.strip(), of.area_at(n)))
    return made


def _is_number(text: str) -> bool:
    try:
        return float(text.replace(",", ".")) > 0
    except ValueError:
        return False


def _nearest(to: Said, among: Sequence[Said]) -> Said | None:
    best = min(among, key=lambda s: hypot(s.x - to.x, s.y - to.y), default=None)
    return best if best is not None and hypot(best.x - to.x, best.y - to.y) <= TOGETHER_M else None


def _closed(lines: Sequence[Line]) -> list[Outline]:
    """Outlines that are drawn as one closed line each: chains of lines that follow one another and end where they
    began.
    """
    found: list[Outline] = []
    chain: list[tuple[float, float]] = []
    for x0, y0, x1, y1 in lines:
        if chain and hypot(chain[-1][0] - x0, chain[-1][1] - y0) < 1e-4:
            chain.append((x1, y1))
        else:
            chain = [(x0, y0), (x1, y1)]
        if len(chain) > 3 and hypot(chain[0][0] - chain[-1][0], chain[0][1] - chain[-1][1]) < 1e-4:
            outline = tidy(chain[:-1])
            if len(outline) >= 3 and LEAST_M2 <= area_of(outline) <= MOST_M2:
                found.append(outline)
            chain = []
    return sorted(found, key=area_of)


def _outline(lines: Sequence[Line], closed: Sequence[Outline], label: _Label) -> Outline | None:
    """The space around a text, up to the middle of its walls: what lines enclose, else a closed line around it."""
    around = next((o for o in closed if inside(o, label.at)), None)
    try:
        space = enclosed(lines, label.at)
    except InputError:
        return around
    if not LEAST_M2 <= area_of(space) <= MOST_M2:
        return around
    # a frame around the text itself, or a piece of furniture, is no room
    if around is not None and area_of(space) < 0.5 * area_of(around):
        space = around
    try:
        return to_centres(space, lines)
    except InputError:
        return space
