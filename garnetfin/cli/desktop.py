"""Garnetfin in the desktop's menus: entry, icon and file types in the user's own folders (freedesktop.org's Desktop
Entry and Shared MIME-info).
"""

import os
import shutil
import subprocess
import sys
from importlib.resources import files
from pathlib import Path

from garnetfin.project.disk import write_whole

ICON_COLOUR = "#7E1F3B"


def places(share: Path) -> dict[Path, bytes]:
    """Every file that makes up the integration, below a folder such as ~/.local/share."""
    assets = files("garnetfin.ui").joinpath("assets")
    entry = assets.joinpath("desktop", "garnetfin.desktop").read_text("utf-8")
    entry = entry.replace("Exec=garnetfin %f", f"Exec={_quoted(command())} %f")
    icon = assets.joinpath("icons", "garnetfin.svg").read_text("utf-8").replace("currentColor", ICON_COLOUR)
    return {
        share / "applications" / "garnetfin.desktop": entry.encode(),
        share / "icons" / "hicolor" / "scalable" / "apps" / "garnetfin.svg": icon.encode(),
        share / "mime" / "packages" / "garnetfin.xml": assets.joinpath("desktop", "garnetfin-mime.xml").read_bytes(),
    }


def command() -> str:
    """What starts this very installation."""
    beside = Path(sys.executable).with_name("garnetfin")
    return str(beside) if beside.exists() else shutil.which("garnetfin") or "garnetfin"


def _quoted(path: str) -> str:
    """As the Exec key asks: in quotes, with its few signs escaped, a per cent sign doubled."""
    for sign in ("\\", '"', "`", "$"):
        path = path.replace(sign, f"\\{sign}")
    return f'"{path.replace("%", "%%")}"'


def share_folder() -> Path:
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def install(share: Path) -> list[Path]:
    """Write the files and tell the desktop. Raises OSError, FileError."""
    made = places(share)
    for path, data in made.items():
        path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, data, "")
    _tell(share)
    return list(made)


def remove(share: Path) -> list[Path]:
    """Take them away again; those that are not there are none of our business."""
    gone = [p for p in places(share) if p.exists()]
    for path in gone:
        path.unlink()
    _tell(share)
    return gone


def _tell(share: Path) -> None:
    """Databases of the desktop, where it has the commands for them."""
    for name, folder in (("update-mime-database", share / "mime"), ("update-desktop-database", share / "applications")):
        if shutil.which(name) and folder.is_dir():
            subprocess.run([name, str(folder)], capture_output=True, timeout=30, check=False)
