// kervo-reader: the process that reads files of strangers.
#include "io/reader/reader.h"

int main(int argc, char** argv) {
    return kervo::io::run_reader(argc, argv);
}
