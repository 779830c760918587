// What a file that belongs to a document may be called.
#pragma once

#include <compare>
#include <optional>
#include <string>

namespace kervo::model {

/// A plain file name: it leads nowhere else, is not hidden, and fits every file system. It cannot hold anything else,
/// so that nothing that reads or writes files by it need ask.
class AssetName {
public:
    static constexpr size_t longest = 120; ///< bytes

    /// Nothing for a text that is empty, too long, begins with a dot, or holds a slash, a backslash, a control
    /// character or bytes that are none (UTF-8).
    static std::optional<AssetName> from(const std::string& text);
    /// The same text where it is one, else what is like it and is one.
    static AssetName like(const std::string& text);

    [[nodiscard]] const std::string& text() const { return text_; }
    friend auto operator<=>(const AssetName&, const AssetName&) = default; // NOLINT(modernize-use-nullptr): no pointer
    friend bool operator==(const AssetName&, const AssetName&) = default;
    friend std::strong_ordering operator<=>(const AssetName& name, const std::string& text) {
        return name.text_ <=> text;
    }
    friend bool operator==(const AssetName& name, const std::string& text) { return name.text_ == text; }

private:
    explicit AssetName(std::string text) : text_(std::move(text)) {}
    std::string text_;
};

} // namespace kervo::model
