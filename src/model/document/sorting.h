// How a file sorts the bodies in it; `sort_as_in_file` (groups_and_layers.h) sorts those of a document so.
#pragma once

#include <compare>
#include <string>
#include <vector>

namespace kervo::model {

/// How a file sorts a body that came from it.
struct Sorting {
    struct Holder {
        int number = 0; ///< tells those of one name apart
        std::string name;
        friend auto operator<=>(const Holder&, const Holder&) = default; // NOLINT(modernize-use-nullptr): no pointer
    };
    std::vector<Holder> groups; ///< that hold it, the outermost first
    std::string layer;
    bool hidden = false;
    [[nodiscard]] bool says_nothing() const { return groups.empty() && layer.empty() && !hidden; }
    friend bool operator==(const Sorting&, const Sorting&) = default;
};

} // namespace kervo::model
