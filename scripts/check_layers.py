#!/usr/bin/env python3
"""Checks that no layer includes one it must not, nor a room of a layer another one: every quoted include leads to a
layer at or above its own; and that the window speaks of no kernel."""
import pathlib
import re
import sys

# Each layer with those it may include, as in docs/architecture.md.
ALLOWED = {
    "base": {"base"},
    "geom": {"geom", "base"},
    "sketch": {"sketch", "geom", "base"},
    "model": {"model", "sketch", "geom", "base"},
    "io": {"io", "model", "sketch", "geom", "base"},
    "scene": {"scene", "model", "sketch", "geom", "base"},
    "app": {"app", "scene", "io", "model", "sketch", "base"},
    "cli": {"cli", "io", "model", "sketch", "geom", "base"},
}
# Rooms of a layer with those of the same layer that they may include; rooms that are not listed may include any.
ROOMS = {
    "app": {
        "look": set(),
        "session": {"look"},
        "verbs": {"view", "session", "look"},
        "view": {"verbs", "drawing", "session", "look"},
        "drawing": {"view", "look"},
        "cards": {"view", "drawing", "session", "look"},
        "contents": {"view", "verbs", "session", "look"},
    },
    "io": {
        "document": set(),
        "formats": {"document"},
        "reader": {"document", "formats"},
    },
}
# Libraries that only one layer may see.
ONLY_IN = {
    r"<Q[A-Z]\w*>": {"app"},
    r"<(BRep|BOP|Geom|TopExp|ShapeFix|ShapeUpgrade)\w*\.hxx>": {"geom", "io", "scene"},
    r"<(ceres|harfbuzz|fontconfig)/": {"sketch"},
    r"<CGAL/": {"geom"},
    r"<(pugixml\.hpp|dxflib/)": {"io"},
    r"<muParser": {"base"},
    r"<(zip\.h|valijson/)": {"io"},
    r"<CLI/": {"cli"},
}
# Kernel headers that a source outside of geom/kernel may include only together with one of ours: the one door to Boolean
# operations, and private copies for algorithms that write to what they are given.
ONLY_WITH = {
    r"<(BRepAlgoAPI_(?!Defeaturing)|BOPAlgo_)": {"geom/kernel/boolean.h", "geom/kernel/fuse.h"},
    r"<(BRepFilletAPI_|BRepOffsetAPI_DraftAngle|BRepAlgoAPI_Defeaturing|ShapeFix_Shape\b|ShapeUpgrade_)": {
        "geom/kernel/private_copy.h", "geom/alter/alteration.h"},
}
# Words that a layer must not use: types of the kernel, and the way to the shapes of bodies.
NOT_IN = {
    "app": re.compile(
        r"\b(TopoDS|TopExp|TopAbs|TopTools|BRep\w*|Geom\w*|gp|Bnd|Poly|AIS|V3d|Graphic3d|Standard)_\w+|->shape\b|\.shape\b"
    ),
}


def problems(source: pathlib.Path):
    for path in sorted(source.rglob("*")):
        if path.suffix not in {".h", ".cpp"}:
            continue
        layer = path.relative_to(source).parts[0]
        text = path.read_text()
        included = set(re.findall(r'#include "([^"]+)"', text))
        for number, line in enumerate(text.splitlines(), 1):
            word = NOT_IN[layer].search(line) if layer in NOT_IN else None
            if word:
                yield f"{path}:{number}: {layer} must not speak of {word.group(0)}"
            include = re.match(r'\s*#\s*include\s+(["<][^">]+[">])', line)
            if not include:
                continue
            target = include.group(1)
            if target[0] == '"' and target[1:].split("/")[0] not in ALLOWED[layer]:
                yield f"{path}:{number}: {layer} must not include {target}"
            room = path.relative_to(source).parts[1]
            own = re.match(rf'"{layer}/([a-z_]+)/', target)
            allowed = ROOMS.get(layer, {}).get(room)
            if own and allowed is not None and own.group(1) not in allowed | {room}:
                yield f"{path}:{number}: {layer}/{room} must not include {target}"
            for pattern, doors in ONLY_WITH.items():
                if re.match(pattern, target) and (layer, room) != ("geom", "kernel") and not doors & included:
                    yield f"{path}:{number}: {target} wants {' or '.join(sorted(doors))} beside it"
            for pattern, layers in ONLY_IN.items():
                if re.match(pattern, target) and layer not in layers:
                    yield f"{path}:{number}: {target} belongs to {', '.join(sorted(layers))}"


found = list(problems(pathlib.Path(sys.argv[1] if len(sys.argv) > 1 else "src")))
print("\n".join(found) or "every include keeps to its layer")
sys.exit(1 if found else 0)
