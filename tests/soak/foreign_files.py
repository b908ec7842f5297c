"""Foreign files with damage of all kinds: an answer within its ranges or a refusal in one sentence, whatever a library
makes of it.
"""

import random
import tempfile
from functools import lru_cache
from pathlib import Path

from garnetfin.core.errors import FileError
from garnetfin.exchange.gbxml_write import write_gbxml
from garnetfin.exchange.reading import read
from garnetfin.project.store import encode
from tests.example import one_room
from tests.exchange.samples import tower, write_dxf, write_ifc
from tests.exchange.test_reading import Damage

SAMPLES = (".xml", ".ifc", ".dxf", ".csv", ".xlsx", ".pdf", ".png", ".gfin")


@lru_cache
def sample(suffix: str) -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"sample{suffix}"
        match suffix:
            case ".xml":
                return write_gbxml(tower(2, 2, 1))
            case ".ifc":
                write_ifc(tower(1, 2, 1), path)
            case ".dxf":
                write_dxf(path)
            case ".csv":
                return "Number;Name;Area m²;Level\n1;Büro;20,5;G\n2;Meeting;31;G\n3;Store;12;U\n".encode()
            case ".xlsx":
                from openpyxl import Workbook

                book = Workbook()
                for row in (("Number", "Name", "Area"), (1, "Office", 20.5), (2, "Meeting", 31)):
                    book.active.append(row)
                book.save(path)
            case ".pdf":
                from reportlab.pdfgen.canvas import Canvas

                page = Canvas(str(path))
                page.drawString(100, 100, "plan")
                page.line(100, 100, 300, 300)
                page.save()
            case ".png":
                from PIL import Image

                Image.new("RGB", (40, 30), "white").save(path)
            case ".gfin":
                return encode(one_room())
        return path.read_bytes()


def drawn(rng: random.Random) -> dict:
    return {"suffix": rng.choice(SAMPLES), "seeds": [rng.randrange(2**32) for _ in range(rng.choice((1, 2, 4)))]}


def play(case: dict) -> str:
    data, damage = sample(case["suffix"]), Damage()
    for seed in case["seeds"]:
        data = damage.damaged(data, random.Random(seed))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"odd{case['suffix']}"
        path.write_bytes(data)
        try:
            read(path, "project" if case["suffix"] == ".gfin" else "", longest_s=60.0)
        except FileError as error:
            said = str(error)
            if not 10 < len(said) < 700 or "\n" in said:
                raise AssertionError(f"the refusal is no sentence: {said[:200]}") from None
            # a native library that falls over ends its own process, and that is said
            if "was not read within" in said:
                raise AssertionError(said) from None
            return ""
    return "read"
