// Random routes, each written in several ways that must come to the same: moved and turned, larger and smaller, in
// another order, by other steps, with a parameter there and back, from its file. What differs without a word is shrunk
// and printed. KERVO_ROUTES: how many (default: a few); KERVO_SEED: the first.
#include "model/steps/hollow/hollow.h"
#include "random_route.h"

#include <cstdlib>
#include <iostream>
#include <numeric>
#include <utility>

using namespace kervo;
using namespace kervo::test;

namespace {

int from_environment(const char* name, int otherwise) {
    const char* text = std::getenv(name);
    return text == nullptr ? otherwise : std::atoi(text);
}

// What must be the same, whatever the writing: by body and by step.
struct Summary {
    struct Body {
        double volume = 0, area = 0;
        std::set<std::string> faces;
    };
    std::map<std::string, Body> bodies;
    std::vector<std::string> steps; ///< findings and verdicts
    std::string codes;              ///< all findings
    bool told = false;
};

// A name that says nothing of which side of the box it is: turned by a quarter, each is another one.
std::string of_any_side(const std::string& name) {
    std::string out;
    for (size_t at = 0; at < name.size();) {
        size_t length = 0;
        for (const std::string side : {"front", "back", "left", "right"}) {
            length = at > 0 && name[at - 1] == ':' && name.compare(at, side.size(), side) == 0 ? side.size() : length;
        }
        out += length == 0 ? name.substr(at, 1) : "side";
        at += std::max<size_t>(length, 1);
    }
    return out;
}

// Whatever order its parts are in.
std::string in_parts(const std::string& name, bool turned) {
    std::multiset<std::string> parts;
    std::string part;
    for (const char c : turned ? of_any_side(name) : name) {
        if (std::string("[]+/&@,").find(c) != std::string::npos) {
            parts.insert(std::exchange(part, {}));
        } else {
            part += c;
        }
    }
    parts.insert(part);
    std::string out;
    for (const std::string& each : parts) {
        out += each + "|";
    }
    return out;
}

// `without`: bodies that are none of the route's own.
Summary summary_of(const model::Evaluation& evaluation, double scale, bool turned = false,
                   const std::set<std::string>& without = {}) {
    Summary summary;
    std::multiset<std::string> all_codes;
    for (const auto& [id, body] : evaluation.bodies_as_of()) {
        if (without.contains(id)) {
            continue;
        }
        Summary::Body& own = summary.bodies[in_parts(id, turned)];
        own.volume += geom::volume_of(body->shape) / (scale * scale * scale);
        own.area += geom::area_of(body->shape) / (scale * scale);
        for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
            // Where a round face is closed, and thus in how many parts it comes, is another place when it is turned.
            own.faces.insert(in_parts(body->names.Find(face).origin, turned));
        }
    }
    for (const auto& report : evaluation.steps) {
        std::string line;
        std::multiset<std::string> codes;
        for (const Finding& finding : report.findings) {
            codes.insert(finding.code);
            summary.told = true;
        }
        for (const std::string& code : codes) {
            line += code + " ";
            all_codes.insert(code);
        }
        if (report.output) {
            std::multiset<std::string> pieces;
            for (const auto& piece : report.output->pieces) {
                pieces.insert(std::to_string(piece.identity.inside.size()) + "=" + model::to_string(piece.verdict));
            }
            for (const std::string& piece : pieces) {
                line += piece + " ";
            }
        }
        summary.steps.push_back(line);
    }
    for (const std::string& code : all_codes) {
        summary.codes += code + " ";
    }
    std::sort(summary.steps.begin(), summary.steps.end()); // in whatever order they come
    return summary;
}

// Empty where they agree. `names`: also what things are called. `walls`: how far faces may be from where they should
// be, mm.
std::string difference(const Summary& one, const Summary& other, bool names, double walls = 0) {
    if (names && one.bodies.size() != other.bodies.size()) {
        return "bodies: " + std::to_string(one.bodies.size()) + " and " + std::to_string(other.bodies.size());
    }
    double volumes[2] = {0, 0};
    double area = 0;
    for (const auto& [id, body] : one.bodies) {
        volumes[0] += body.volume;
        area += body.area;
    }
    for (const auto& [id, body] : other.bodies) {
        volumes[1] += body.volume;
    }
    const auto differs = [&](double a, double b) {
        return std::fabs(a - b) > 1e-6 * (1 + std::fabs(a)) + walls * area;
    };
    if (differs(volumes[0], volumes[1])) {
        return "volume: " + std::to_string(volumes[0]) + " and " + std::to_string(volumes[1]);
    }
    for (const auto& [id, body] : one.bodies) {
        if (!names) {
            break;
        }
        const auto match = other.bodies.find(id);
        if (match == other.bodies.end()) {
            return "body " + id + " is missing";
        }
        const double off = std::fabs(body.area - match->second.area); // far away the kernel's edges are a little looser
        if (differs(body.volume, match->second.volume) || off > 1e-5 * (1 + body.area)) {
            return "body " + id + ": volume " + std::to_string(body.volume) + " and " +
                   std::to_string(match->second.volume) + ", area " + std::to_string(body.area) + " and " +
                   std::to_string(match->second.area);
        }
        if (body.faces != match->second.faces) {
            return "body " + id + ": faces are called otherwise";
        }
    }
    return names && one.steps != other.steps ? "findings, pieces or verdicts" : "";
}

struct Way {
    const char* name;
    Writing writing;
    bool names = true;
};
std::vector<Way> ways() {
    std::vector<Way> all{
        {"moved and turned", {}}, {"a tenth", {}}, {"ten times", {}}, {"sketches first", {}}, {"by bodies", {}, false}};
    all[0].writing.moved = true;
    all[1].writing.scale = 0.1;
    all[2].writing.scale = 10;
    all[3].writing.sketches_first = true;
    all[4].writing.by_bodies = true;
    return all;
}

struct Verdict {
    std::string silent; ///< differs without a word on either side
    std::string spoken; ///< differs, and one of them said something
};

Outcome as_it_is(unsigned seed, const std::set<int>& without = {}) {
    Writing plain;
    plain.without = without;
    return RandomRoute(seed, plain).route().run();
}

Verdict compare(const Outcome& base, unsigned seed, const Way& way, const std::set<int>& without = {}) {
    Writing other = way.writing;
    other.without = without;
    const RandomRoute rewritten(seed, other);
    const Outcome again = rewritten.route().run();
    const Summary one = summary_of(base.evaluation, 1, other.moved);
    const Summary two = summary_of(again.evaluation, other.scale, other.moved, rewritten.cutters());
    // The kernel's offset of free-form faces is good to that, in any size.
    const auto& steps = base.document.steps;
    const bool hollow = std::any_of(steps.begin(), steps.end(),
                                    [](const model::StepPtr& step) { return step->definition.is<model::Hollow>(); });
    constexpr double offset_tolerance = 1e-5; // mm
    const double walls = hollow ? offset_tolerance * std::max(1.0, 1 / other.scale) : 0;
    const std::string off = difference(one, two, way.names, walls);
    if (off.empty()) {
        return {};
    }
    // What says the same and comes to something else is as silent as what says nothing.
    const bool said = way.names ? one.codes != two.codes : one.told || two.told;
    return said ? Verdict{{}, off + ": " + one.codes + "/ " + two.codes} : Verdict{off, {}};
}

// There and back, and from the file.
std::string there_and_back(const Outcome& base) {
    model::Document document = base.document;
    model::EvaluationCache cache;
    const model::Services services;
    Progress progress;
    const Summary before = summary_of(base.evaluation, 1);
    const std::string formula = document.parameters.front().formula;
    for (const std::string other : {"7.3 mm", "2 mm"}) {
        document.parameters.front().formula = other;
        model::evaluate(document, cache, services, progress);
    }
    document.parameters.front().formula = formula;
    std::string off = difference(before, summary_of(model::evaluate(document, cache, services, progress), 1), true);
    if (!off.empty()) {
        return "there and back: " + off;
    }
    const std::string text = io::to_text(document);
    const auto read = io::document_from_text(text);
    if (!read.ok() || io::to_text(*read) != text) {
        return "the file says something else";
    }
    model::EvaluationCache fresh;
    off = difference(before, summary_of(model::evaluate(*read, fresh, services, progress), 1), true);
    return off.empty() ? "" : "from the file: " + off;
}

// As few steps as still show it.
std::set<int> shrunk(unsigned seed, const Way& way, const std::string Verdict::*what) {
    std::set<int> without;
    for (int i = RandomRoute(seed, {}).steps() - 1; i >= 0; --i) {
        auto fewer = without;
        fewer.insert(i);
        if (!(compare(as_it_is(seed, fewer), seed, way, fewer).*what).empty()) {
            without = std::move(fewer);
        }
    }
    return without;
}

std::string both(unsigned seed, const Way& way, const std::set<int>& without) {
    Writing small;
    small.without = without;
    Writing other = way.writing;
    other.without = without;
    return "seed " + std::to_string(seed) + ", " + way.name +
           "\nas it is: " + RandomRoute(seed, small).route().json().dump() +
           "\nand: " + RandomRoute(seed, other).route().json().dump();
}

} // namespace

TEST(RoutesSoak, EveryWritingComesToTheSame) {
    const int count = from_environment("KERVO_ROUTES", 10);
    const auto first = static_cast<unsigned>(from_environment("KERVO_SEED", 1));
    int quiet = 0;
    std::map<std::string, int> spoken;
    std::vector<unsigned> seeds(static_cast<size_t>(count));
    std::iota(seeds.begin(), seeds.end(), first);
    for (unsigned k = 0; std::getenv("KERVO_SEED") == nullptr && k < 5; ++k) {
        seeds.push_back(RandomRoute::first_with_surfaces + k);
    }
    for (const unsigned seed : seeds) {
        bool any = false;
        const Outcome base = as_it_is(seed);
        for (const Way& way : ways()) {
            if (way.writing.by_bodies && RandomRoute(seed, {}).resizes()) {
                continue;
            }
            const Verdict verdict = compare(base, seed, way);
            any = any || !verdict.silent.empty() || !verdict.spoken.empty();
            if (!verdict.spoken.empty()) {
                ++spoken[way.name];
                if (std::getenv("KERVO_ROUTES_VERBOSE") != nullptr) {
                    std::cout << "With findings: " << verdict.spoken << '\n'
                              << both(seed, way, shrunk(seed, way, &Verdict::spoken)) << '\n';
                }
            }
            if (!verdict.silent.empty()) {
                ADD_FAILURE() << verdict.silent << '\n' << both(seed, way, shrunk(seed, way, &Verdict::silent));
            }
        }
        const std::string off = there_and_back(base);
        EXPECT_EQ(off, "") << "seed " << seed << '\n' << RandomRoute(seed, {}).route().json().dump();
        quiet += any ? 0 : 1;
    }
    std::cout << seeds.size() << " routes, " << quiet << " the same in every way";
    for (const auto& [way, times] : spoken) {
        std::cout << "; " << way << ": " << times << " differ and say something";
    }
    std::cout << '\n';
}
