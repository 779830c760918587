#!/usr/bin/env python3
"""Checks how much a changed header of a kind of step rebuilds of Kervo itself. Needs a finished build.

  scripts/check_rebuilds.py BUILD_FOLDER
"""
import collections
import re
import subprocess
import sys

MOST = 5

users = collections.defaultdict(set)
made = None
for line in subprocess.check_output(["ninja", "-C", sys.argv[1], "-t", "deps"], text=True).split("\n"):
    if ": #deps" in line:
        made = line.split(":")[0]
    elif made and made.startswith("src/"):
        header = re.search(r"src/(model/steps/\w+/\w+\.h)$", line)
        if header:
            users[header.group(1)].add(made)
for header, objects in sorted(users.items()):
    if len(objects) > MOST:
        print(f"{header} rebuilds {len(objects)} objects: " + " ".join(sorted(objects)))
if not users:
    print("no kind's header is known to the build")
sys.exit(0 if users and all(len(objects) <= MOST for objects in users.values()) else 1)
