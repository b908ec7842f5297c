"""Undo without limit: a list of named projects that share all they have in common."""

from collections.abc import Sequence
from dataclasses import dataclass

from garnetfin.project.tree import Project


@dataclass(frozen=True, slots=True)
class Entry:
    label: str
    project: Project
    gesture: int = 0


class History:
    """The states a project went through; undo and redo move along them."""

    def __init__(self, project: Project, entries: Sequence[Entry] = (), at: int = 0) -> None:
        """A new one, or one that goes on where another ended."""
        self._entries = list(entries) or [Entry("", project)]
        self._at = at

    @property
    def entries(self) -> tuple[Entry, ...]:
        return tuple(self._entries)

    @property
    def entry(self) -> Entry:
        """The one in force."""
        return self._entries[self._at]

    @property
    def at(self) -> int:
        """Which entry is in force."""
        return self._at

    @property
    def project(self) -> Project:
        return self._entries[self._at].project

    @property
    def undo_label(self) -> str:
        return self._entries[self._at].label if self._at else ""

    @property
    def redo_label(self) -> str:
        return self._entries[self._at + 1].label if self._at + 1 < len(self._entries) else ""

    def push(self, label: str, project: Project, gesture: int = 0) -> bool:
        """Keep a new state; one equal by identity is no edit. Edits of one gesture (not 0) become one entry."""
        if project is self.project:
            return False
        del self._entries[self._at + 1 :]
        if gesture and self._at and self._entries[-1].gesture == gesture:
            self._entries[-1] = Entry(label, project, gesture)
        else:
            self._entries.append(Entry(label, project, gesture))
            self._at += 1
        return True

    def undo(self) -> bool:
        moved = self._at > 0
        self._at -= moved
        return moved

    def redo(self) -> bool:
        moved = self._at + 1 < len(self._entries)
        self._at += moved
        return moved
