// A finding is how Kervo says that something is wrong: the cause, the place, and the mend. It is a value that travels
// with results; nothing in the core throws at its callers to report a modelling problem.
#pragma once

#include <array>
#include <map>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace kervo {

enum class Severity { note, warning, error };

/// A mend that only waits for consent: other answers of a step; or, where there are none, the step to look at.
struct Offer {
    std::string says;                           ///< what it does, on its button: "Make it 120 by 80 mm"
    std::map<std::string, std::string> answers; ///< by field key, formulas and choices; "": the finding's own field
    int step = 0;                               ///< whose answers they are; 0: the finding's own step
    bool sorts = false;                         ///< no answers: sorts the step's bodies as the file has them
    friend bool operator==(const Offer&, const Offer&) = default;
};

struct Finding {
    Severity severity = Severity::error;
    std::string code;                          ///< stable, machine readable: "formula.cycle"
    std::string cause;                         ///< one sentence a practitioner understands
    std::string mend;                          ///< what to do about it; may be empty for notes
    std::vector<std::array<double, 3>> places; ///< points in mm where it is, for the picture
    int step = 0;                              ///< id of the step it belongs to; 0 when it belongs to none
    std::string field;                         ///< key of the answer on the card it belongs to; may be empty
    std::vector<Offer> offers = {};            ///< any of which would do
    std::vector<std::string> trace = {};       ///< what the kernel said, for the log; nothing for users
    friend bool operator==(const Finding&, const Finding&) = default;
};

using Findings = std::vector<Finding>;

Finding error_finding(std::string code, std::string cause, std::string mend);
Finding warning_finding(std::string code, std::string cause, std::string mend);
Finding note_finding(std::string code, std::string cause, std::string mend);
bool has_error(const Findings& findings);
/// Something worse than a note.
bool has_warning(const Findings& findings);
std::string to_string(Severity severity);

/// Either a value or the finding that says why there is none.
template <class T> class Result {
public:
    Result(T value) : content_(std::move(value)) {}           // NOLINT(google-explicit-constructor)
    Result(Finding finding) : content_(std::move(finding)) {} // NOLINT(google-explicit-constructor)
    [[nodiscard]] bool ok() const { return content_.index() == 0; }
    explicit operator bool() const { return ok(); }
    [[nodiscard]] const T& value() const { return std::get<0>(content_); }
    [[nodiscard]] T& value() { return std::get<0>(content_); }
    [[nodiscard]] const Finding& finding() const { return std::get<1>(content_); }
    const T& operator*() const { return value(); }
    T& operator*() { return value(); }
    const T* operator->() const { return &value(); }
    T* operator->() { return &value(); }

private:
    std::variant<T, Finding> content_;
};

} // namespace kervo
