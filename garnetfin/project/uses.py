"""Room uses by the words that lists and files have for them."""

from difflib import get_close_matches
from functools import lru_cache

from garnetfin.core.tables import room_uses

DEFAULT_USE = "office_single"
HINTS = {
    "office": "office_single",
    "wc": "toilet",
    "toilet": "toilet",
    "corridor": "corridor",
    "hall": "corridor",
    "stair": "corridor",
    "store": "storage",
    "storage": "storage",
    "lab": "laboratory",
    "kitchen": "kitchen",
    "canteen": "canteen",
    "meeting": "meeting",
    "seminar": "classroom",
    "class": "classroom",
    "server": "server",
    "workshop": "workshop",
    "library": "library",
    "reading": "library",
    "bed": "hotel_room",
    "bunk": "hotel_room",
    "changing": "locker",
    "locker": "locker",
    "shop": "retail",
}


def guess(name: str) -> str:
    """The use that a room's name sounds like, "" for one that says nothing."""
    words = name.lower()
    return next((use_id for word, use_id in HINTS.items() if word in words), "")


@lru_cache(maxsize=4096)
def use_of(typed: str) -> tuple[str, str]:
    """(use, "" or what was assumed) for words of a list."""
    words = typed.lower().strip()
    uses = room_uses()
    if not words:
        return DEFAULT_USE, f"no use given: {uses[DEFAULT_USE].name}"
    for use in uses.values():
        if words in (use.id, use.name.lower()):
            return use.id, ""
    if guess(words):
        return guess(words), f"use {uses[guess(words)].name}"
    close = get_close_matches(words, [u.name.lower() for u in uses.values()], 1, 0.75)
    use_id = next((u.id for u in uses.values() if close and u.name.lower() == close[0]), "office_single")
    return use_id, f"use {uses[use_id].name}"
