#!/usr/bin/env bash
# Runs clang-tidy over the sources, two at a time. A file is checked again only when it, a header of ours or the rules
# have changed: what passed is noted under build/tidy.
set -euo pipefail
cd "$(dirname "$0")/.."
mkdir -p build/tidy
rules=$(cat .clang-tidy scripts/check_tidy.sh $(find src -name '*.h' | sort) | sha1sum | cut -c1-16)
check() {
  mark=build/tidy/$(cat "$1" <(echo "$2") | sha1sum | cut -c1-16)
  [ -e "$mark" ] && exit 0
  clang-tidy --quiet -p build/tidy-commands "$1" 2>/dev/null | grep -a . >&2 ; [ "${PIPESTATUS[0]}" -eq 0 ] && touch "$mark"
}
export -f check
# clang cannot read gcc's precompiled headers, so it gets the commands without them.
mkdir -p build/tidy-commands
sed -E 's/-Winvalid-pch +-include +[^ ]+cmake_pch\.hxx//g' build/compile_commands.json > build/tidy-commands/compile_commands.json
find src -name '*.cpp' | sort | xargs -P 2 -I{} bash -c 'check "$@"' _ {} "$rules"
