"""What is handed over: what the papers hold and who signs them, their issues, findings that were accepted, the office's
sheet.
"""

import re

from garnetfin.core.errors import InputError
from garnetfin.project.values import Node, within

# Papers of the set in their order: id and name.
PAPERS = (
    ("cover", "Cover and contents"),
    ("basis", "Basis of design"),
    ("summary", "Loads of the building"),
    ("rooms", "Room load sheets"),
    ("air", "Air of the rooms"),
    ("outdoor", "Outdoor air"),
    ("coils", "States and coil check"),
    ("terminals", "Schedule of terminals"),
    ("equipment", "Schedules of equipment"),
    ("plans", "Duct plans"),
    ("ducts", "Ducts and index run"),
    ("quantities", "Bill of quantities"),
    ("balance", "Balancing sheet"),
    ("fan", "Fan sheet"),
    ("noise", "Noise in rooms"),
    ("findings", "Findings and accepted issues"),
    ("changes", "Changes"),
    ("derivations", "Derivations"),
)
PAPER_NAMES = dict(PAPERS)
SCALES = (20, 25, 50, 100, 200, 250, 500, 1000)
# ISO 216 [mm]
PAPER_SIZES = {"A4": (210.0, 297.0), "A3": (297.0, 420.0), "A2": (420.0, 594.0), "A1": (594.0, 841.0)}
LARGEST_LOGO = 512 * 1024
MOST_WORDS = 400
MOST_ISSUES = 200
DATE = re.compile(r"\d{4}-\d{2}-\d{2}")


def short(text: str, what: str, where: str, most: int = MOST_WORDS) -> None:
    """Refuse what would not fit its place on a sheet."""
    if len(text) > most or any(ord(c) < 32 for c in text):
        raise InputError(f"{what} must be one line of at most {most} characters", where=where)


class Issue(Node, frozen=True):
    """The set as it was handed over once: its number, the day as 2026-11-23, and what for."""

    number: int
    date: str
    note: str = ""

    def __post_init__(self) -> None:
        within(self.number, 1, 10_000, "The number of an issue", "papers")
        short(self.note, "The note of an issue", "papers")
        if not DATE.fullmatch(self.date):
            raise InputError(f"“{self.date}” is no day", where="papers", remedy="Write it as 2026-11-23")


class Papers(Node, frozen=True):
    """Contents and signatures of the document set. What is left out is named, so that a new paper is printed."""

    left_out: tuple[str, ...] = ("derivations",)
    job: str = ""
    client: str = ""
    made_by: str = ""
    checked_by: str = ""
    scale: int = 0  # of plans, 1:n; 0 = the largest that fits the sheet
    issues: tuple[Issue, ...] = ()

    def __post_init__(self) -> None:
        for name in ("job", "client", "made_by", "checked_by"):
            short(getattr(self, name), name.replace("_", " ").capitalize(), "papers", 120)
        unknown = next((p for p in self.left_out if p not in PAPER_NAMES), None)
        if unknown is not None:
            raise InputError(
                f"There is no document “{unknown}”", where="papers", remedy="Take one of: " + ", ".join(PAPER_NAMES)
            )
        if self.scale and self.scale not in SCALES:
            raise InputError(
                f"Plans are not drawn 1:{self.scale}", where="papers", remedy="Take 1:" + ", 1:".join(map(str, SCALES))
            )
        if len(self.issues) > MOST_ISSUES or [i.number for i in self.issues] != list(range(1, len(self.issues) + 1)):
            raise InputError(f"Issues are counted from 1 without a gap, at most {MOST_ISSUES}", where="papers")

    @property
    def next_number(self) -> int:
        """Of the issue that is in work."""
        return len(self.issues) + 1


class Accepted(Node, frozen=True):
    """A finding the engineer answers for: it stays computed, is printed as a deviation with its reason, and no longer
    counts as open.
    """

    id: str
    code: str
    kind: str
    object_id: str
    reason: str
    date: str = ""

    def __post_init__(self) -> None:
        short(self.reason, "The reason of an accepted issue", "papers")
        if not self.reason.strip():
            raise InputError("An accepted issue needs a reason", where="papers", remedy="Say why it is accepted")


class Sheet(Node, frozen=True):
    """The office's own sheet: name, lines below it, logo (PNG or JPEG), sizes of pages and plans."""

    company: str = ""
    lines: tuple[str, ...] = ()
    logo: bytes = b""
    plans: str = "A3"

    def __post_init__(self) -> None:
        short(self.company, "The company’s name", "sheet", 120)
        if len(self.lines) > 6:
            raise InputError("At most six lines stand below the company’s name", where="sheet")
        for line in self.lines:
            short(line, "A line below the company’s name", "sheet", 120)
        if len(self.logo) > LARGEST_LOGO:
            raise InputError(f"A logo has at most {LARGEST_LOGO // 1024} kB", where="sheet", remedy="Save it smaller")
        if self.logo and not (self.logo.startswith(b"\x89PNG\r\n") or self.logo.startswith(b"\xff\xd8\xff")):
            raise InputError("A logo is a PNG or a JPEG", where="sheet")
        if self.plans not in PAPER_SIZES:
            raise InputError(
                f"Plans are not printed on {self.plans}", where="sheet", remedy="Take one of: " + ", ".join(PAPER_SIZES)
            )
