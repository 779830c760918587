#include "base/nearest_word.h"

#include "base/text.h"

#include <algorithm>

namespace kervo {

namespace {

// The optimal string alignment distance: as Levenshtein's, and two neighbours swapped count once.
size_t changes_between(const std::string& a, const std::string& b) {
    std::vector<std::vector<size_t>> table(a.size() + 1, std::vector<size_t>(b.size() + 1));
    for (size_t i = 0; i <= a.size(); ++i) {
        for (size_t j = 0; j <= b.size(); ++j) {
            if (i == 0 || j == 0) {
                table[i][j] = i + j;
                continue;
            }
            const size_t changed = table[i - 1][j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1);
            table[i][j] = std::min({table[i - 1][j] + 1, table[i][j - 1] + 1, changed});
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1]) {
                table[i][j] = std::min(table[i][j], table[i - 2][j - 2] + 1);
            }
        }
    }
    return table[a.size()][b.size()];
}

} // namespace

std::string nearest_word(const std::string& word, const std::vector<std::string>& known) {
    constexpr size_t longest = 64;
    std::string nearest;
    if (word.size() > longest) {
        return nearest;
    }
    size_t least = std::max<size_t>(1, word.size() / 3) + 1;
    for (const std::string& each : known) {
        const size_t changes = each.size() > longest ? least : changes_between(lower_case(word), lower_case(each));
        if (changes < least) {
            least = changes;
            nearest = each;
        }
    }
    return nearest;
}

std::string did_you_mean(const std::string& word, const std::vector<std::string>& known) {
    const std::string near = nearest_word(word, known);
    return near.empty() ? "" : "; did you mean \u201c" + near + "\u201d?";
}

} // namespace kervo
