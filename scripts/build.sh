#!/usr/bin/env bash
# Configures and builds into build/. Arguments name targets; none: everything.
set -euo pipefail
cd "$(dirname "$0")/.."
cmake -S . -B build -G Ninja -DCMAKE_BUILD_TYPE=Release > build-configure.log 2>&1 || { cat build-configure.log; exit 1; }
mv build-configure.log build/configure.log
cmake --build build --target "${@:-all}"
