// One reader for libFuzzer; which one is said when it is compiled.
#include "readers.h"

#include <cstddef>
#include <cstdint>
#include <cstdio>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const auto& reader = kervo::fuzz::readers().at(KERVO_FUZZ_READER);
    if (const auto complaint = reader({reinterpret_cast<const char*>(data), size}); !complaint.empty()) {
        std::fprintf(stderr, "%s\n", complaint.c_str());
        std::abort();
    }
    return 0;
}
