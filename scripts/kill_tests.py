#!/usr/bin/env python3
"""Kills the real window while it works, and looks whether anything that it had accepted is gone.

  scripts/kill_tests.py [--random N] [--aimed N] [--seed N]

Starts Kervo's window under Xvfb with a document, by tests/kill_hand; kills it at random moments, or before one of its
system calls that touch files; opens the document again, and goes on from there. Needs a finished build.
"""
import argparse
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import threading

HERE = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))
HAND = os.path.join(HERE, "build/bin/kill_hand")


def run(words, kill_after=None, once_open=False):
    """What the hand told, line by line, until it was killed or ended; and how it ended. `kill_after`: seconds, from its
    start or from when the document is open."""
    process = subprocess.Popen([HAND, *words], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    hung = threading.Timer(120, process.kill)
    hung.start()
    killer = threading.Timer(kill_after, process.kill) if kill_after is not None else None
    if killer and not once_open:
        killer.start()
    told = []
    for line in process.stdout:
        told.append(line.strip())
        if killer and once_open and line.startswith("o"):
            killer.start()
            once_open = False
    process.wait()
    hung_up = hung.finished.is_set()
    hung.cancel()
    if killer:
        killer.cancel()
    return told, "hung" if hung_up else process.returncode


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--random", type=int, default=300)
    parser.add_argument("--aimed", type=int, default=100)
    parser.add_argument("--seed", type=int, default=1)
    wanted = parser.parse_args()
    if "DISPLAY" not in os.environ:
        os.execvp("xvfb-run", ["xvfb-run", "-a", "-s", "-screen 0 1280x800x24", sys.executable, *sys.argv])
    os.environ.update(QT_QPA_PLATFORM="xcb", LIBGL_ALWAYS_SOFTWARE="1")
    chance = random.Random(wanted.seed)
    lost = killed_early = 0
    accepted_in_all = 0
    with tempfile.TemporaryDirectory() as folder:
        for kind, count in (("random", wanted.random), ("aimed", wanted.aimed)):
            document = os.path.join(folder, f"{kind}.json")
            shutil.copy(os.path.join(HERE, "demo/azimuth-table/document.json"), document)
            os.chmod(document, 0o600)
            for number in range(count):
                if kind == "random":
                    once_open = chance.random() < 0.8
                    told, end = run(["work", document], chance.uniform(0, 2 if once_open else 1), once_open)
                else:
                    told, end = run(["work", document, str(1 + number * 3 + chance.randrange(3))])
                numbers = {what: [int(line[2:]) for line in told if line.startswith(what)] for what in "oats"}
                accepted = max(numbers["o"] + numbers["a"], default=0)
                tried = max(numbers["o"] + numbers["t"], default=0)
                killed_early += not numbers["a"]
                accepted_in_all += len(numbers["a"])
                found = [int(line[2:]) for line in run(["look", document])[0] if line.startswith("f")]
                good = end == -signal.SIGKILL and found and found[0] >= accepted
                if numbers["o"]:
                    good = good and found[0] <= tried
                lost += not good
                if not good:
                    print(f"{kind} {number}: ended {end}, accepted {accepted}, tried {tried}, found {found}")
                if not (number + 1) % 50:
                    print(f"{kind}: {number + 1} kills, {accepted_in_all} changes accepted, {lost} lost", flush=True)
    print(f"{wanted.random} kills at random, {wanted.aimed} aimed; {accepted_in_all} changes accepted, "
          f"{killed_early} kills before any; {lost} lost")
    return 1 if lost else 0


if __name__ == "__main__":
    sys.exit(main())
