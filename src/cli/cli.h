// The command line: documents without a window. Results go to standard output, messages to standard error.
#pragma once

namespace kervo::cli {

/// The whole of `main`, once all formats and kinds of steps are there. Returns 0: all is well; 1: a step or parameter
/// has an error; 2: the document cannot be read or a file not be written; 3: the command line makes no sense.
int run(int argc, const char* const* argv);

} // namespace kervo::cli
