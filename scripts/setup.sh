#!/usr/bin/env bash
# Prepares .venv and the system libraries that Qt needs. Installs them when it may, else prints the one line to run.
set -eu
cd "$(dirname "$0")/.."
LIBRARIES="libegl1 libgl1 libglib2.0-0 libdbus-1-3 libfontconfig1 libxkbcommon0 libxkbcommon-x11-0 libxcb-cursor0 \
libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-xinerama0"

install() {
    if [ "$(id -u)" = 0 ]; then
        apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$@" >/dev/null
    elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
        sudo apt-get update -qq && sudo DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$@" >/dev/null
    else
        echo "Some system packages are missing. Run this line, then the same command again:" >&2
        echo "  sudo apt-get install -y $*" >&2
        return 1
    fi
}

PYTHON=""
for name in python3.11 python3.12 python3.13 python3; do
    if command -v "$name" >/dev/null && "$name" -c 'import sys; sys.exit(not (3, 11) <= sys.version_info[:2] < (3, 14))'; then
        PYTHON=$name
        break
    fi
done
[ -n "$PYTHON" ] || { echo "Python 3.11, 3.12 or 3.13 is needed: sudo apt-get install -y python3" >&2; exit 1; }

if [ ! -x .venv/bin/pip ]; then
    rm -rf .venv
    "$PYTHON" -m venv .venv 2>/dev/null || { rm -rf .venv; install python3-venv; "$PYTHON" -m venv .venv; }
fi
echo "Installing the locked packages ..."
.venv/bin/pip install -q --disable-pip-version-check --require-hashes -r requirements.lock
.venv/bin/pip install -q --disable-pip-version-check --no-deps -e .

works() {
    QT_QPA_PLATFORM=$1 .venv/bin/python -c \
        'from PySide6.QtWidgets import QApplication; from PySide6 import QtSvg; QApplication([])' >/dev/null 2>&1
}
if ! works offscreen; then
    install $LIBRARIES
    works offscreen || { echo "Qt does not start; see: .venv/bin/python -c 'import PySide6.QtWidgets'" >&2; exit 1; }
fi
# On a screen the platform plug-in loads more; without one there is nothing to try it on.
if [ -n "${DISPLAY:-}" ] && ! works xcb; then
    install $LIBRARIES || true
fi
