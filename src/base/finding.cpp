#include "base/finding.h"

#include <algorithm>

namespace kervo {

Finding error_finding(std::string code, std::string cause, std::string mend) {
    return Finding{Severity::error, std::move(code), std::move(cause), std::move(mend), {}, 0, {}};
}

Finding warning_finding(std::string code, std::string cause, std::string mend) {
    return Finding{Severity::warning, std::move(code), std::move(cause), std::move(mend), {}, 0, {}};
}

Finding note_finding(std::string code, std::string cause, std::string mend) {
    return Finding{Severity::note, std::move(code), std::move(cause), std::move(mend), {}, 0, {}};
}

bool has_error(const Findings& findings) {
    return std::any_of(findings.begin(), findings.end(),
                       [](const Finding& finding) { return finding.severity == Severity::error; });
}

bool has_warning(const Findings& findings) {
    return std::any_of(findings.begin(), findings.end(),
                       [](const Finding& finding) { return finding.severity != Severity::note; });
}

std::string to_string(Severity severity) {
    switch (severity) {
    case Severity::note:
        return "note";
    case Severity::warning:
        return "warning";
    case Severity::error:
        break;
    }
    return "error";
}

} // namespace kervo
