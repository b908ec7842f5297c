"""The process that reads one foreign file: garnetfin.exchange.worker KIND PATH OPTIONS, started by `reading`.

It has limits on memory and time of its own, so that a hostile file or a reader that goes astray ends here and
nowhere else. The
result goes to standard output as MessagePack, progress as lines "share words" to standard error.
"""

import json
import os
import resource
import sys
from collections.abc import Callable
from pathlib import Path

import msgspec

from garnetfin.core.errors import GarnetfinError
from garnetfin.exchange.results import Answer, Table
from garnetfin.processes import end_with_parent

MEMORY_BYTES = 4 * 2**30
LEAST_MEMORY_BYTES = 2**30  # for project files, whose limits keep them far below
CPU_SECONDS = 240


def tell(share: float, words: str) -> None:
    sys.stderr.write(f"{share:.3f} {words}\n")
    sys.stderr.flush()


def _table(path: Path, options: dict, say: Callable) -> Answer:
    from garnetfin.exchange.list_headings import find_headings
    from garnetfin.exchange.tables import read_sheets

    def frozen(rows: list[list[str]]) -> tuple[tuple[str, ...], ...]:
        return tuple(tuple(r) for r in rows)

    sheets = read_sheets(path)
    # the first sheet with headings of rooms, else the first with rows at all
    name = next((n for n, rows in sheets if find_headings(rows) is not None), sheets[0][0])
    rows = dict(sheets)[name]
    names = tuple(n for n, _ in sheets)
    return Answer(
        table=Table(frozen(rows), name, names, tuple(frozen(r) for _, r in sheets) if len(sheets) > 1 else ())
    )


def _gbxml(path: Path, options: dict, say: Callable) -> Answer:
    from garnetfin.exchange.gbxml_read import read_gbxml

    return Answer(draft=read_gbxml(path, say))


def _ifc(path: Path, options: dict, say: Callable) -> Answer:
    from garnetfin.exchange.ifc import read_ifc

    return Answer(draft=read_ifc(path, say))


def _dxf(path: Path, options: dict, say: Callable) -> Answer:
    from garnetfin.exchange.dxf import read_dxf

    return Answer(lines=read_dxf(path, say))


def _picture(path: Path, options: dict, say: Callable) -> Answer:
    from garnetfin.exchange.pictures import read_picture

    return Answer(picture=read_picture(path))


def _page(path: Path, options: dict, say: Callable) -> Answer:
    from garnetfin.exchange.pictures import read_page

    return Answer(picture=read_page(path, int(options.get("page", 0))))


def _weather(path: Path, options: dict, say: Callable) -> Answer:
    from garnetfin.exchange.weather_files import read_weather

    return Answer(weather=read_weather(path, options, say))


def _project(path: Path, options: dict, say: Callable) -> Answer:
    from garnetfin.project.store import load_all

    say(0.1, "reading")
    return Answer(project=load_all(path))


READERS = {
    "project": _project,
    "table": _table,
    "gbxml": _gbxml,
    "ifc": _ifc,
    "dxf": _dxf,
    "picture": _picture,
    "page": _page,
    "weather": _weather,
}


def answer(kind: str, path: Path, options: dict, say: Callable[[float, str], None] = tell) -> Answer:
    """What the reader made of a file; a refusal is an answer too."""
    try:
        return READERS[kind](path, options, say)
    except GarnetfinError as error:
        return Answer(refused=str(error))
    except MemoryError:
        return Answer(refused=f"{path.name} needs more memory than there is for it. A smaller part of it is accepted")
    except RecursionError:
        return Answer(refused=f"{path.name} is nested too deeply to be read")
    except OSError as error:
        return Answer(refused=f"{path.name} cannot be read: {error.strerror or error}")
    except Exception as error:  # foreign libraries raise anything on a damaged file; the engineer gets a sentence
        return Answer(refused=f"{path.name} is damaged or not what its name says ({type(error).__name__})")


def main() -> None:
    most = LEAST_MEMORY_BYTES if sys.argv[1] == "project" else MEMORY_BYTES
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    resource.setrlimit(resource.RLIMIT_CPU, (CPU_SECONDS, CPU_SECONDS + 5))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    end_with_parent()
    kind, path, options = sys.argv[1], Path(sys.argv[2]), json.loads(sys.argv[3])
    # Foreign libraries print to standard output; the result alone may go there.
    out = os.dup(1)
    os.dup2(2, 1)
    data = msgspec.msgpack.encode(answer(kind, path, options))
    with os.fdopen(out, "wb") as pipe:
        pipe.write(data)
    sys.stdout.flush()
    os._exit(0)  # native libraries may fall over while they are taken down; the answer is out


if __name__ == "__main__":
    main()
