"""Processes of ours: they start apart from the folder one happens to be in, take nothing from it, and end when their
parent does.

A name such as `numpy.py` in the current folder would otherwise be imported, and so executed, in the place of the
package.
"""

import os
import signal
import sys
import threading
from pathlib import Path

ROOT = str(Path(__file__).resolve().parents[1])
# Packages are found as Python's own installation has them; the folder of ours comes last, for one that is not installed
# there.
_START = (
    "import sys; sys.path.append(sys.argv.pop(1)); from importlib import import_module; "
    "import_module(sys.argv.pop(1)).main()"
)


def isolated(module: str, *arguments: str) -> list[str]:
    """The command that runs a module's main() on its own: no current folder, no variables of Python's, no user site."""
    return [sys.executable, "-I", "-c", _START, ROOT, module, *arguments]


def leave_the_folder_out() -> None:
    """For `python -m garnetfin`: later imports and all processes started from here look past the current folder."""
    os.environ["PYTHONSAFEPATH"] = "1"
    if not sys.flags.safe_path and sys.path and sys.path[0] in ("", os.getcwd()):
        sys.path.pop(0)
        sys.path.append(ROOT)


def end_with_parent() -> None:
    """In a process whose standard input is a pipe of its parent: end as soon as that is closed, which it is when the
    parent is gone.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl+C in a terminal reaches all; the parent decides

    def wait() -> None:
        while os.read(0, 1024):
            pass
        os._exit(1)

    threading.Thread(target=wait, name="parent", daemon=True).start()


def end_with_pool() -> None:
    """In a process of a pool: as end_with_parent, by what `multiprocessing` knows of its parent."""
    from multiprocessing import parent_process
    from multiprocessing.connection import wait as wait_for

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    parent = parent_process()

    def wait() -> None:
        wait_for([parent.sentinel])
        os._exit(1)

    if parent is not None:
        threading.Thread(target=wait, name="parent", daemon=True).start()
