#!/usr/bin/env python3
"""Runs clang-tidy over the sources. Most of its time goes into headers, so sources of one library are checked together,
as one file that includes them; where that does not pass, each by itself, which tells what is wrong. A source is checked
again only when it, a header of ours or the rules have changed: what passed is noted under build/tidy.

    scripts/check_tidy.py [SOURCE...]        without sources: all of src
"""
import concurrent.futures
import hashlib
import json
import os
import pathlib
import re
import shlex
import subprocess
import sys

ROOT = pathlib.Path(__file__).resolve().parent.parent
NOTES = ROOT / "build" / "tidy"
MOST = 10  # sources together
AT_ONCE = 2
# What a source defines for itself: two that define the same are not checked together.
OWN_NAME = re.compile(
    r"^(?:using (\w+) =|(?:struct|class|enum class|enum|constexpr [\w:<>, ]+?|const [\w:<>, ]+?)\s+(\w+)\b"
    r"|(?:template <[^>]*> )?\w[\w:<>,&*~ ]*?[ &*](\w+)\()",
    re.MULTILINE,
)


def flags_of(entry):
    """The compiler's options without those of gcc's precompiled headers, which clang cannot read."""
    words = shlex.split(entry["command"])
    words = words[next(i for i, word in enumerate(words) if word.endswith("++")) + 1 :]
    kept = []
    skip = 0
    for i, word in enumerate(words):
        if skip:
            skip -= 1
        elif word in ("-c", "-o", "-MT", "-MF"):
            skip = 1
        elif word == "-include" and words[i + 1].endswith("cmake_pch.hxx"):
            skip = 1
        elif word not in ("-MD", "-Winvalid-pch"):
            kept.append(word)
    return tuple(kept)


def rules():
    parts = [ROOT / ".clang-tidy", pathlib.Path(__file__), *sorted((ROOT / "src").rglob("*.h"))]
    return hashlib.sha1(b"".join(part.read_bytes() for part in parts)).hexdigest()


def tidy(source, flags):
    """The exit code, and what is said."""
    command = ["clang-tidy", "--quiet", r"--header-filter=src/.*\.(h|cpp)$", str(source), "--", *flags]
    done = subprocess.run(command, cwd=ROOT / "build", capture_output=True, text=True, errors="replace")
    return done.returncode, done.stdout


def batches_of(sources):
    """Lists of sources that define nothing twice."""
    batches = []
    for source in sources:
        names = {name for found in OWN_NAME.findall(source.read_text()) for name in found if name}
        for members, taken in batches:
            if len(members) < MOST and not names & taken:
                members.append(source)
                taken |= names
                break
        else:
            batches.append(([source], names))
    return [members for members, _ in batches]


def check(number, sources, flags, note):
    """How many did not pass, and whether they had to be checked each by itself."""
    if len(sources) > 1:
        together = NOTES / f"together_{number}.cpp"
        together.write_text("".join(f'#include "{source}"\n' for source in sources))
        if tidy(together, flags)[0] == 0:
            for source in sources:
                note(source).touch()
            return 0, False
    wrong = 0
    for source in sources:
        code, said = tidy(source, flags)
        if code == 0:
            note(source).touch()
        else:
            print(said)
            wrong += 1
    return wrong, len(sources) > 1


def main():
    NOTES.mkdir(parents=True, exist_ok=True)
    of_rules = rules()

    def note(source):
        return NOTES / hashlib.sha1(source.read_bytes() + of_rules.encode()).hexdigest()

    commands = {pathlib.Path(each["file"]): each for each in json.loads((ROOT / "build/compile_commands.json").read_text())}
    asked = [pathlib.Path(each).resolve() for each in sys.argv[1:]] or sorted((ROOT / "src").rglob("*.cpp"))
    by_flags = {}
    for source in asked:
        if source in commands and not note(source).exists():
            by_flags.setdefault(flags_of(commands[source]), []).append(source)
    work = [(batch, flags) for flags, sources in by_flags.items() for batch in batches_of(sources)]
    work.sort(key=lambda each: -len(each[0]))
    with concurrent.futures.ThreadPoolExecutor(AT_ONCE) as pool:
        jobs = [pool.submit(check, i, batch, flags, note) for i, (batch, flags) in enumerate(work)]
        results = [job.result() for job in jobs]
    wrong = sum(result[0] for result in results)
    apart = sum(result[1] for result in results)
    print(f"{len(asked)} sources, {len(work)} checks, {apart} of them again source by source: {wrong} did not pass")
    return 1 if wrong else 0


sys.exit(main())
