#!/usr/bin/env bash
# Prepares .venv and the system libraries of the window. All that is missing is found first and installed at once where that is allowed;
# else one line says what to run. Presumed: a Debian 12 or newer (or a like system) with git, make and python3.
set -eu
cd "$(dirname "$0")/.."

# Package and the library it brings; the window's are wanted even where no display is there yet.
LIBRARIES="libegl1=libEGL.so.1 libgl1=libGL.so.1 libglib2.0-0=libglib-2.0.so.0 libdbus-1-3=libdbus-1.so.3 libfontconfig1=libfontconfig.so.1
libxkbcommon0=libxkbcommon.so.0 libxkbcommon-x11-0=libxkbcommon-x11.so.0 libxcb-cursor0=libxcb-cursor.so.0 libxcb-icccm4=libxcb-icccm.so.4
libxcb-image0=libxcb-image.so.0 libxcb-keysyms1=libxcb-keysyms.so.1 libxcb-randr0=libxcb-randr.so.0 libxcb-render-util0=libxcb-render-util.so.0
libxcb-shape0=libxcb-shape.so.0 libxcb-xinerama0=libxcb-xinerama.so.0"

find_python() {
    for name in python3.11 python3.12 python3.13 python3; do
        if command -v "$name" >/dev/null && "$name" -c 'import sys; sys.exit(not (3, 11) <= sys.version_info[:2] < (3, 14))' 2>/dev/null; then
            echo "$name"
            return
        fi
    done
}

missing_packages() {
    python=$(find_python)
    [ -n "$python" ] || echo python3 python3-venv
    [ -z "$python" ] || "$python" -c 'import ensurepip, venv' 2>/dev/null || echo python3-venv
    for tool in /sbin/ldconfig /usr/sbin/ldconfig ldconfig; do
        if known=$("$tool" -p 2>/dev/null); then
            for pair in $LIBRARIES; do
                case "$known" in *"${pair#*=} "*) ;; *) echo "${pair%=*}" ;; esac
            done
            return
        fi
    done
}

install() {
    if [ "$(id -u)" = 0 ]; then as=""; elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then as="sudo"; else return 1; fi
    command -v apt-get >/dev/null || return 1
    echo "Installing system packages: $*"
    $as apt-get update -qq >/dev/null 2>&1 || true
    $as env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$@" >/dev/null 2>&1
}

# 1. What the system lacks, all of it, before anything else.
packages=$(missing_packages | tr '\n' ' ')
if [ -n "${packages// /}" ]; then
    # shellcheck disable=SC2086
    install $packages || true
    packages=$(missing_packages | tr '\n' ' ')
    if [ -n "${packages// /}" ]; then
        echo "Some system packages are missing. Run this line once, then the same command again:" >&2
        echo "  sudo apt-get update && sudo apt-get install -y $packages" >&2
        exit 1
    fi
fi
PYTHON=$(find_python)

# 2. The locked packages, each checked against its hash.
[ -x .venv/bin/pip ] || { rm -rf .venv; "$PYTHON" -m venv .venv; }
LOG=.venv/setup.log
count=$(grep -c '^[a-zA-Z0-9].*==' requirements.lock)
show() {                                # one line that moves on a screen, a line now and then elsewhere
    n=0
    while IFS= read -r line; do
        printf '%s\n' "$line" >>"$LOG"
        case "$line" in
            Collecting*|"Requirement already"*)
                n=$((n + 1))
                if [ -t 1 ]; then printf '\rPackages: %d of %d  ' "$n" "$count"; elif [ $((n % 25)) = 0 ]; then echo "Packages: $n of $count"; fi ;;
            Installing*) if [ -t 1 ]; then printf '\rPackages: unpacking ...      '; else echo "Packages: unpacking"; fi ;;
        esac
    done
    if [ -t 1 ]; then printf '\r%30s\r' ''; fi
}
: >"$LOG"
echo "Fetching $count locked packages into .venv (some minutes at the first time)"
if ! { .venv/bin/pip install --disable-pip-version-check --no-input --progress-bar off --require-hashes -r requirements.lock 2>&1 && touch .venv/.fetched; } | show || [ ! -e .venv/.fetched ]; then
    echo "The packages could not be installed. The end of $LOG:" >&2
    tail -n 12 "$LOG" >&2
    exit 1
fi
rm -f .venv/.fetched
.venv/bin/pip install -q --disable-pip-version-check --no-input --no-deps --no-build-isolation -e . >>"$LOG" 2>&1 || \
    .venv/bin/pip install -q --disable-pip-version-check --no-input --no-deps -e . >>"$LOG" 2>&1 || { tail -n 12 "$LOG" >&2; exit 1; }

# 3. The toolkit starts.
if ! said=$(QT_QPA_PLATFORM=offscreen .venv/bin/python -c 'from PySide6.QtWidgets import QApplication; from PySide6 import QtSvg; QApplication([])' 2>&1); then
    echo "Qt does not start: $said" >&2
    exit 1
fi
echo "Ready. “make demo” opens the example, “make test” runs all tests, “.venv/bin/garnetfin” opens the window."
