// Every reader over a small corpus, and over what becomes of it when it is damaged. The same functions are what the
// fuzzer drives (fuzz/readers.h). KERVO_ROUNDS: how many damaged files for each reader.
#include "readers.h"

#include "io_fixture.h"

#include <cstdlib>
#include <random>

using namespace kervo::io::test;

namespace {

std::vector<std::string> corpus_of(const std::string& reader) {
    const bool outlines = reader == "svg" || reader == "dxf";
    std::vector<std::string> contents;
    std::vector<std::filesystem::path> paths;
    for (const auto& entry : std::filesystem::directory_iterator(
             std::string(KERVO_SOURCE) + (outlines ? "/tests/outlines" : "/fuzz/corpus/" + reader))) {
        if (!outlines || entry.path().extension() == "." + reader) {
            paths.push_back(entry.path());
        }
    }
    std::sort(paths.begin(), paths.end());
    for (const auto& path : paths) {
        contents.push_back(read_file(path.string()));
    }
    return contents;
}

// One of the ways in which files are damaged.
std::string damaged(std::string bytes, const std::string& other, std::mt19937& random) {
    const auto place = [&](const std::string& text) { return text.empty() ? 0 : random() % text.size(); };
    switch (random() % 6) {
    case 0: // cut off
        return bytes.substr(0, place(bytes));
    case 1: // a bit flipped
        if (!bytes.empty()) {
            bytes[place(bytes)] ^= static_cast<char>(1U << random() % 8);
        }
        return bytes;
    case 2: // a part gone
        return bytes.erase(place(bytes), random() % 40);
    case 3: // a part of another one
        return bytes.insert(place(bytes), other.substr(place(other), random() % 200));
    case 4: { // another number
        const size_t at = bytes.find_first_of("0123456789", place(bytes));
        static const char* const numbers[] = {"0", "-1", "1e308", "1e-308", "99999999999999999999", "nan", ".", "1,5"};
        return at == std::string::npos ? bytes : bytes.replace(at, 1, numbers[random() % 8]);
    }
    default: // a part twice
        const size_t at = place(bytes);
        return bytes.insert(at, bytes.substr(at, random() % 400));
    }
}

} // namespace

class Corpus : public ::testing::TestWithParam<std::string> {};

TEST_P(Corpus, IsReadWhateverBecomesOfIt) {
    const auto& read = kervo::fuzz::readers().at(GetParam());
    const auto corpus = corpus_of(GetParam());
    ASSERT_GE(corpus.size(), 2u);
    const bool slow = GetParam() == "step" || GetParam() == "brep"; // a process each
    const char* wanted = std::getenv("KERVO_ROUNDS");
    const int rounds = (wanted != nullptr ? std::atoi(wanted) : 3000) / (slow ? 250 : 1);
    std::mt19937 random(static_cast<unsigned>(rounds)); // another number of rounds, other rounds
    for (const std::string& bytes : corpus) {
        EXPECT_EQ(read(bytes), "") << bytes.substr(0, 200);
    }
    for (int round = 0; round < rounds; ++round) {
        std::string bytes = corpus[random() % corpus.size()];
        for (size_t i = 0; i < 1 + random() % 3; ++i) {
            bytes = damaged(bytes, corpus[random() % corpus.size()], random);
        }
        ASSERT_EQ(read(bytes), "") << "round " << round << "\n" << bytes.substr(0, 2000);
    }
}

INSTANTIATE_TEST_SUITE_P(Readers, Corpus,
                         ::testing::Values("document", "container", "journal", "svg", "dxf", "csv", "step", "brep"),
                         [](const auto& each) { return each.param; });
