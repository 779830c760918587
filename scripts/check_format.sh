#!/usr/bin/env bash
# Checks that all sources are formatted as .clang-format says.
set -euo pipefail
cd "$(dirname "$0")/.."
find src tests bench fuzz -name '*.h' -o -name '*.cpp' | sort | xargs clang-format --dry-run --Werror
