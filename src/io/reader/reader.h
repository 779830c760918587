// What the reader process does: reads one file from a stranger and tells what it found as plain bodies or outlines. It
// runs as a child of Kervo, under limits of time and memory, with nothing open but the four files of base/helper.h and
// nothing that it could open, so that a crash, an endless loop or worse costs nothing but that process.
#pragma once

namespace kervo::io {

/// The whole of `main`, once all formats are there. Its one argument is what is wanted:
///
///     bodies:FORMAT     the bodies of the file
///     outlines:FORMAT   its outlines
///     inset             makes what the kernel may never end with (geom/alter/inset.h)
///
/// Returns 0: list and bodies are there. 1: the list holds a finding. Anything else: it broke.
int run_reader(int argc, char** argv);

} // namespace kervo::io
