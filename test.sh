#!/usr/bin/env bash
# Installs what is missing, builds, and runs all tests; those of the window run under Xvfb. Ends with CTest's summary.
#
#   ./test.sh [CTEST OPTIONS]
set -euo pipefail
cd "$(dirname "$0")"
scripts/install.sh
scripts/build.sh
export QT_QPA_PLATFORM=xcb LIBGL_ALWAYS_SOFTWARE=1
exec xvfb-run -a -s "-screen 0 1280x800x24" ctest --test-dir build --output-on-failure -j 2 "$@"
