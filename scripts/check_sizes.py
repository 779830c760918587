#!/usr/bin/env python3
"""Checks that every header says first what it is for, and that no source is longer than 500 lines and no function longer
than 80. Lists of a step's answers (`fields`) and what says in the comment before it why it is long ("Long because ...")
are left out. Relies on the sources being formatted: what is opened at some indentation is closed at the same."""
import pathlib
import re
import sys

MOST_LINES_OF_FILE = 500
MOST_LINES_OF_FUNCTION = 80
NO_FUNCTION = re.compile(r"^\s*((namespace|class|struct|enum|union|extern|using|if|else|for|while|switch|do|case|"
                         r"default|return|try)\b|\}|\])")


def long_functions(lines):
    """(name, first line, length) of each function that is too long; nested ones belong to what they stand in."""
    first = None  # where the head of what may be a function starts
    at = 0
    while at < len(lines):
        line = lines[at]
        if not line.strip() or line.lstrip().startswith(("//", "#")):
            first = None
        elif first is None:
            first = at
        opens = line.endswith("{")
        head = "\n".join(lines[first:at + 1]) if first is not None else line
        if opens and first is not None and "(" in head and not NO_FUNCTION.match(lines[first]):
            indent = len(lines[first]) - len(lines[first].lstrip())
            end = at + 1
            while end < len(lines) and not re.match(rf"^ {{{indent}}}\}}", lines[end]):
                end += 1
            length = end - first + 1
            if length > MOST_LINES_OF_FUNCTION:
                yield head, first, length
            at = end + 1
            first = None
            continue
        if opens or line.rstrip().endswith((";", "}", ":")):
            first = None
        at += 1


def main():
    root = pathlib.Path(sys.argv[1] if len(sys.argv) > 1 else "src")
    problems = []
    for path in sorted([*root.rglob("*.cpp"), *root.rglob("*.h")]):
        lines = path.read_text().split("\n")
        if path.suffix == ".h" and not lines[0].startswith("//"):
            problems.append(f"{path}: says nothing of what it is for")
        if len(lines) > MOST_LINES_OF_FILE + 1:
            problems.append(f"{path}: {len(lines) - 1} lines, {MOST_LINES_OF_FILE} are the most")
        for head, first, length in long_functions(lines):
            comment = []
            above = first - 1
            while above >= 0 and lines[above].lstrip().startswith("//"):
                comment.insert(0, lines[above])
                above -= 1
            if re.search(r"\bfields\(Self& self", head) or "Long because" in " ".join(comment):
                continue
            name = re.sub(r"\s+", " ", head)[:80]
            problems.append(f"{path}:{first + 1}: {length} lines, {MOST_LINES_OF_FUNCTION} are the most: {name}")
    print("\n".join(problems) if problems else "sizes: all within limits")
    return 1 if problems else 0


if __name__ == "__main__":
    sys.exit(main())
