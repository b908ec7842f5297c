"""Printing by the system's own print service and its standard commands (`lp`, `lpstat`)."""

import re
import shutil
import subprocess
import tempfile
from dataclasses import dataclass

from garnetfin.core.errors import GarnetfinError, InputError

LIST_S, PRINT_S = 5, 60  # after which a silence is an answer
MOST_COPIES = 99
SIDES = (
    ("one-sided", "one side"),
    ("two-sided-long-edge", "both sides, bound at the long edge"),
    ("two-sided-short-edge", "both sides, bound at the short edge"),
)


@dataclass(frozen=True, slots=True)
class PrintJob:
    """Which printer ("": the usual one), which pages ("": all), how many copies, one side or both."""

    printer: str = ""
    pages: str = ""
    copies: int = 1
    sides: str = SIDES[0][0]


def ready() -> bool:
    """Whether this machine has a print service."""
    return shutil.which("lp") is not None


def printers() -> tuple[str, ...]:
    """Printers by name, the usual one first; empty where none is set up or the service does not answer."""
    found = re.findall(r"^(\S+)", _said("lpstat", "-e"), re.MULTILINE)
    usual = re.search(r": (\S+)\s*$", _said("lpstat", "-d"))
    first = [usual.group(1)] if usual and usual.group(1) in found else []
    return (*first, *(p for p in found if p not in first))


def _said(*command: str) -> str:
    if shutil.which(command[0]) is None:
        return ""
    try:
        done = subprocess.run(command, capture_output=True, text=True, timeout=LIST_S, check=False)
    except (OSError, subprocess.TimeoutExpired):
        return ""
    return done.stdout if done.returncode == 0 else ""


def chosen_pages(text: str, count: int) -> str:
    """Pages as typed ("1-4, 7"), checked against how many there are; "" for all of them. Raises InputError."""
    wanted = text.replace(" ", "").replace("–", "-")
    if wanted.lower() in ("", "all"):
        return ""
    for piece in wanted.split(","):
        found = re.fullmatch(r"(\d+)(?:-(\d+))?", piece)
        first, last = (int(found.group(1)), int(found.group(2) or found.group(1))) if found else (0, 0)
        if not 1 <= first <= last <= count:
            raise InputError(f"“{piece}” are no pages of 1 to {count}", remedy="Type them like 1-4, 7, or “all”")
    return wanted


def count_of(pages: str, count: int) -> int:
    """How many pages a choice comes to, of so many."""
    ends = ([int(x) for x in piece.split("-")] for piece in pages.split(",")) if pages else [[1, count]]
    return sum(e[-1] - e[0] + 1 for e in ends)


def send(pdf: bytes, title: str, job: PrintJob) -> None:
    """Hand a PDF to the printer. Raises GarnetfinError with what the service said."""
    command = ["lp", "-t", title, "-n", str(job.copies), "-o", f"sides={job.sides}"]
    command += ["-d", job.printer] if job.printer else []
    command += ["-P", job.pages] if job.pages else []
    program = shutil.which("lp")
    if program is None:
        raise GarnetfinError(
            "No printer is set up on this machine (no “lp”)", remedy="Export the PDF and print it elsewhere"
        )
    with tempfile.NamedTemporaryFile(suffix=".pdf") as out:
        out.write(pdf)
        out.flush()
        try:
            done = subprocess.run(
                [program, *command[1:], out.name], capture_output=True, text=True, timeout=PRINT_S, check=False
            )
        except (OSError, subprocess.TimeoutExpired) as error:
            raise GarnetfinError(str(error)) from None
    if done.returncode:
        raise GarnetfinError(done.stderr.strip() or done.stdout.strip() or "the printer refused")
