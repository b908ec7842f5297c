#!/usr/bin/env bash
# Opens the example in the window; without a display writes report, results and a picture of every view into out/.
set -eu
cd "$(dirname "$0")/.."
if [ -n "${DISPLAY:-}" ] || [ -n "${WAYLAND_DISPLAY:-}" ]; then
    exec .venv/bin/garnetfin demo
fi
echo "No display: writing the example into out/"
QT_QPA_PLATFORM=offscreen exec .venv/bin/garnetfin demo --headless out
