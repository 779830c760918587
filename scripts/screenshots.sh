#!/usr/bin/env bash
# Makes docs/screenshots from the demo documents, under Xvfb.
set -euo pipefail
cd "$(dirname "$0")/.."
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
cp demo/azimuth-table/document.json "$folder"
cp demo/counterweight/document.json "$folder/counterweight.json"
cp demo/sun-screen/document.json "$folder/sun-screen.json"
cp demo/spectrograph-housing/document.json "$folder/spectrograph-housing.json"
cp demo/observing-deck/document.json "$folder/observing-deck.json"
cp demo/finder-clamp/document.json "$folder/finder-clamp.json"
cp demo/dome/document.json "$folder/dome.json"
cp demo/rain-hood/document.json "$folder/rain-hood.json"
document=document.json
shoot() {
  name=$1
  shift
  for theme in paper slate; do
    [ "$theme" = slate ] && set -- "$@" --slate
    xvfb-run -a -s "-screen 0 1280x800x24" build/bin/kervo "$folder/$document" --picture "docs/screenshots/$name-$theme.png" "$@"
  done
}
export LIBGL_ALWAYS_SOFTWARE=1
export XDG_DATA_HOME=$folder # nothing that was worked on lately
xvfb-run -a -s "-screen 0 1280x800x24" build/bin/kervo --picture docs/screenshots/start-paper.png
shoot model
shoot cut --card 70
shoot sketch --card 60 --verb square
shoot trim --card 60 --verb square --verb trim --at 20,105
shoot scale --card 100 --verb square
shoot dependencies --verb dependencies
document=counterweight.json
shoot rounds --card 70
document=sun-screen.json
shoot sun-screen --card 30
document=spectrograph-housing.json
shoot holes --card 880
document=observing-deck.json
shoot opening --card 50
document=dome.json
shoot surfaces --card 250
document=rain-hood.json
shoot free-form --card 10
document=finder-clamp.json
shoot clamp --card 140
shoot cutaway --verb next_view --verb next_view
python3 - "$folder/finder-clamp.json" <<'END' # the same with bodies shown in other ways
import json, sys
document = json.load(open(sys.argv[1]))
look = document["appearance"]
look["10"]["showing"] = "see_through"
look["140:10/130"]["showing"] = "edges"
look["190:10"]["showing"] = "aside"
document["current_layer"] = "Bought parts"
json.dump(document, open(sys.argv[1], "w"))
END
shoot contents
rm -f docs/screenshots/{dependencies,sun-screen,trim,scale,rounds,holes,opening,contents,surfaces,clamp,cutaway,free-form}-slate.png
