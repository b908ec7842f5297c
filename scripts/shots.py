"""One PNG per view of the example, at 1280 x 800. Run: python scripts/shots.py FOLDER [dark]"""

import os
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from garnetfin.cli.pictures import take  # noqa: E402

if __name__ == "__main__":
    for made in take(Path(sys.argv[1]), dark="dark" in sys.argv[2:], only=tuple(a for a in sys.argv[2:] if a != "dark")):
        print(made)
