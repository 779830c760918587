// A reader process that knows one format more.
#include "io/reader/reader.h"
#include "own_format.h"

int main(int argc, char** argv) {
    kervo::io::add_format(kervo::io::balls_format());
    return kervo::io::run_reader(argc, argv);
}
