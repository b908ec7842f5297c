"""A fault of the program stays where it is: the stage or row it struck is missing with a sentence, everything else is
computed.
"""

import logging
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from garnetfin.core.errors import Cancelled, GarnetfinError
from garnetfin.core.texts import shortened
from garnetfin.engine.results import Finding, Lack, Missing

log = logging.getLogger(__name__)
FAULT = "a fault of the program"
_UNDO = "Undo the last edit or change what it reads; the other figures stand. Please report it with the project"


class Struck(NamedTuple):
    """What could not be computed, where it belongs, and why."""

    link: str
    kind: str
    object_id: str
    what: str
    why: str


def missing(what: str, error: Exception) -> Missing:
    """A figure outside what its method is valid for is said as it is; anything else is a fault of the program, told to
    the log as well.
    """
    if isinstance(error, GarnetfinError):
        return Missing("not computed", str(error), Lack.NOT_COMPUTED)
    log.error("%s could not be computed", what, exc_info=error)
    return Missing(FAULT, f"{what} could not be computed ({_words(error)}). {_UNDO}", Lack.FAULT)


def _words(error: Exception) -> str:
    return f"{type(error).__name__}: {shortened(str(error))}" if str(error) else type(error).__name__


def each(
    compute: Callable[[Sequence[Any]], Sequence[Any]], items: Sequence[Any], named: Callable[[Any], str]
) -> list[Any]:
    """Rows computed as one batch; where that fails, in halves, so that only the rows that cannot be are missing."""
    try:
        return list(compute(items))
    except Cancelled:
        raise
    except Exception as error:  # whatever it is, it must not take the other rows along
        if len(items) == 1:
            return [missing(named(items[0]), error)]
    half = len(items) // 2
    return [*each(compute, items[:half], named), *each(compute, items[half:], named)]


class Faults:
    """What was struck in one run."""

    def __init__(self) -> None:
        self.struck: list[Struck] = []

    def stage(
        self,
        at: tuple[str, str, str, str],
        call: Callable[..., Any],
        *arguments: Any,
        otherwise: Callable[[Missing], Any] | None = None,
    ) -> Any:
        """The stage's result, or Missing, or what `otherwise` makes of that.

        `at`: link, kind and id of what it is about, and its words.
        """
        try:
            return call(*arguments)
        except Cancelled:
            raise
        except Exception as error:  # the last resort of a stage
            found = missing(at[3], error)
            if found.code == Lack.FAULT:
                self.struck.append(Struck(*at, _words(error)))
            return found if otherwise is None else otherwise(found)

    def findings(self, rooms: dict[str, Any], names: dict[str, str]) -> tuple[Finding, ...]:
        """One for each stage and each room that was struck."""
        rows = [
            Struck("Loads", "room", i, f"Loads of room {names.get(i, i)}", r.remedy.partition("(")[2].partition(")")[0])
            for i, r in rooms.items()
            if isinstance(r, Missing) and r.code == Lack.FAULT
        ]
        return tuple(
            Finding(
                "fault",
                s.link,
                s.kind,
                s.object_id,
                f"{s.what} could not be computed",
                f"A fault of the program: {s.why}. {_UNDO}.",
                "bad",
            )
            for s in dict.fromkeys((*self.struck, *rows))
        )
