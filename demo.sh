#!/usr/bin/env bash
# Installs what is missing, builds, and starts Kervo with the demo document. Without a display it starts under Xvfb,
# saves a picture of the window and says where.
#
#   ./demo.sh [DOCUMENT] [--slate]
set -euo pipefail
cd "$(dirname "$0")"
scripts/install.sh
scripts/build.sh kervo kervo-cli kervo-reader
mkdir -p out
document=out/azimuth-table/document.json
if [ $# -gt 0 ] && [ "${1#-}" = "$1" ]; then
  document=$1
  shift
elif [ ! -e "$document" ]; then
  mkdir -p out/azimuth-table # a copy, so that trying things leaves the demo as it is
  cp demo/azimuth-table/document.json "$document"
fi
if [ -n "${DISPLAY:-}${WAYLAND_DISPLAY:-}" ]; then
  exec build/bin/kervo "$document" "$@"
fi
picture=$PWD/out/kervo.png
xvfb-run -a -s "-screen 0 1280x800x24" build/bin/kervo "$document" --picture "$picture" "$@"
echo "No display here: a picture of the window is in $picture"
