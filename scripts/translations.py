"""Compile the translations of the interface: python scripts/translations.py.

Edit garnetfin_XX.ts by hand or with any editor for Qt's files.
"""

import subprocess
import sys
from pathlib import Path

FOLDER = Path(__file__).parents[1] / "garnetfin" / "ui" / "assets" / "translations"


def main() -> None:
    for source in sorted(FOLDER.glob("*.ts")):
        subprocess.run(
            [
                str(Path(sys.executable).with_name("pyside6-lrelease")),
                "-silent",
                str(source),
                "-qm",
                str(source.with_suffix(".qm")),
            ],
            check=True,
        )
        print(source.with_suffix(".qm"))


if __name__ == "__main__":
    main()
