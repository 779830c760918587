#!/usr/bin/env bash
# Makes the small pictures of the demonstrations that stand on the start sheet, in both themes, from the documents.
set -euo pipefail
cd "$(dirname "$0")/.."
for folder in demo/*/; do
  for theme in paper slate; do
    option=$([ "$theme" = slate ] && echo --slate || true)
    XDG_DATA_HOME="$(mktemp -d)" QT_QPA_PLATFORM=xcb LIBGL_ALWAYS_SOFTWARE=1 xvfb-run -a -s "-screen 0 1280x800x24" \
      build/bin/kervo "$folder/document.json" $option --model "$folder/$theme.png" > /dev/null 2>&1
  done
done
