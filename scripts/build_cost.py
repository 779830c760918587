#!/usr/bin/env python3
"""Prints what the last build of each object took: the ten heaviest, and all together, in seconds. What came out of
ccache counts as what it took to fetch it.

  scripts/build_cost.py [BUILD_FOLDER]
"""
import sys

folder = sys.argv[1] if len(sys.argv) > 1 else "build"
took = {}
with open(f"{folder}/.ninja_log", encoding="utf-8") as log:
    for line in log:
        words = line.rstrip("\n").split("\t")
        if len(words) >= 4 and words[3].endswith((".o", ".gch")):
            took[words[3]] = (int(words[1]) - int(words[0])) / 1000
for made, seconds in sorted(took.items(), key=lambda item: -item[1])[:10]:
    print(f"{seconds:7.1f}  {made}")
print(f"{sum(took.values()):7.1f}  all {len(took)} objects")
