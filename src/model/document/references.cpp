#include "model/document/references.h"

#include <set>

#include <algorithm>
#include <charconv>

namespace kervo::model {

int maker_of(const BodyId& body) {
    int step = 0;
    const auto end = std::from_chars(body.data(), body.data() + body.size(), step);
    const bool whole = end.ptr == body.data() + body.size() || *end.ptr == '.' || *end.ptr == ':';
    return end.ec == std::errc{} && whole ? step : 0;
}

bool names_body(const std::vector<Reference>& references, const BodyId& body) {
    return std::any_of(references.begin(), references.end(), [&](const Reference& each) { return each.body == body; });
}

BodyId reference_to_group(int group) {
    return "#" + std::to_string(group);
}

int group_meant(const BodyId& body) {
    int group = 0;
    if (!body.empty() && body.front() == '#') {
        const auto end = std::from_chars(body.data() + 1, body.data() + body.size(), group);
        return end.ec == std::errc{} && end.ptr == body.data() + body.size() ? group : 0;
    }
    return 0;
}

bool has_twins(const BodyId& body) {
    return body.find("[?]") != BodyId::npos;
}

Reference whole(const BodyId& body) {
    Reference reference;
    reference.body = body;
    return reference;
}

void name_each(std::vector<Reference>& references) {
    std::set<std::string> taken;
    for (const Reference& reference : references) {
        taken.insert(reference.name);
    }
    int next = 1;
    for (Reference& reference : references) {
        while (reference.name.empty()) {
            if (std::string free = "t" + std::to_string(next++); taken.insert(free).second) {
                reference.name = std::move(free);
            }
        }
    }
}

std::string to_string(ElementKind kind) {
    switch (kind) {
    case ElementKind::body:
        return "body";
    case ElementKind::face:
        return "face";
    case ElementKind::edge:
        return "edge";
    case ElementKind::vertex:
        break;
    }
    return "vertex";
}

std::string to_string(Verdict verdict) {
    switch (verdict) {
    case Verdict::stays:
        return "stays";
    case Verdict::goes:
        return "goes";
    case Verdict::apart:
        break;
    }
    return "apart";
}

std::optional<Verdict> verdict_from(const std::string& text) {
    for (const Verdict verdict : {Verdict::stays, Verdict::goes, Verdict::apart}) {
        if (to_string(verdict) == text) {
            return verdict;
        }
    }
    return std::nullopt;
}

namespace {
std::string joined(const std::vector<std::string>& parts) {
    std::string out;
    for (const std::string& part : parts) {
        out += (out.empty() ? "" : ",") + part;
    }
    return out;
}
} // namespace

std::string PieceIdentity::text() const {
    return workpiece + "/" + (inside.empty() ? "outside" : joined(inside)) +
           (beside.empty() ? "" : "[" + joined(beside) + "]") + (ambiguous ? "[?]" : "");
}

} // namespace kervo::model
