// kervo-cli: see `kervo-cli --help`.
#include "cli/cli.h"

int main(int argc, char** argv) {
    return kervo::cli::run(argc, argv);
}
