// Every parameter of every demonstration document at many values: what a step refers to stays what it was, or there is
// a finding. What an element is, geometry alone says: it moves as far as the value moves. Where it jumps, however small
// the change of the value, another element was taken. KERVO_SWEEP: how many values of each (default: a few).
#include "route.h"

#include "geom/measure/pick.h"
#include "io/document/document_file.h"
#include "io/reader/import_child.h"

#include <cstdlib>
#include <filesystem>
#include <iostream>

using namespace kervo;
using namespace kervo::test;

namespace {

struct Watched {
    int step = 0;
    model::Reference reference;
};

// All elements that the steps refer to by name.
void collect(const Json& json, int step, std::vector<Watched>& all) {
    if (json.is_object() && json.contains("faces") && json.contains("body") && json.contains("kind")) {
        Watched watched{step, model::whole(json["body"])};
        model::Reference& reference = watched.reference;
        const std::string kind = json["kind"];
        reference.kind = kind == "face"   ? model::ElementKind::face
                         : kind == "edge" ? model::ElementKind::edge
                                          : model::ElementKind::vertex;
        reference.faces = json["faces"].get<std::vector<std::string>>();
        reference.ends = json.value("ends", std::vector<std::string>());
        reference.near = json["near"].get<model::Place>();
        all.push_back(watched);
        return;
    }
    for (const Json& inner : json) {
        if (inner.is_structured()) {
            collect(inner, step, all);
        }
    }
}

// What geometry says of an element.
struct Seen {
    gp_Pnt middle;
    std::string kind; ///< of a face
    gp_Vec way;       ///< of a flat one
    TopoDS_Shape element;
};

class Sweep {
public:
    explicit Sweep(const std::filesystem::path& file) {
        document_ = *io::open_document(file.string());
        services_ = io::standard_services();
        const Json json = Json::parse(io::to_text(document_));
        for (const Json& step : json["steps"]) {
            collect(step["answers"], step["id"], watched_);
        }
    }
    [[nodiscard]] const model::Document& document() const { return document_; }
    [[nodiscard]] size_t references() const { return watched_.size(); }

    /// What each reference finds, or nothing where it is lost or in doubt.
    std::vector<std::optional<Seen>> look(size_t parameter, double value) {
        const std::string was = document_.parameters[parameter].formula;
        Quantity quantity = base_.parameters.values.at(document_.parameters[parameter].name);
        document_.parameters[parameter].formula = format_quantity(value, "", 12) + unit_of(quantity);
        Progress progress;
        const auto evaluation = model::evaluate(document_, cache_, services_, progress);
        document_.parameters[parameter].formula = was;
        ++evaluated_;
        std::vector<std::optional<Seen>> all;
        for (const Watched& watched : watched_) {
            all.push_back(see(watched, evaluation));
        }
        return all;
    }

    /// The references that silently became something else, in words.
    std::vector<std::string> of(size_t parameter, int values, double largest) {
        Progress progress;
        base_ = model::evaluate(document_, cache_, services_, progress);
        const auto& own = document_.parameters[parameter];
        const Quantity at = base_.parameters.values.at(own.name);
        const bool counts = at.dimension == Dimension{} && at.value == std::round(at.value);
        const double low = counts ? 1 : at.value == 0 ? -10 : at.value / largest;
        const double high = counts ? std::round(largest * at.value) : at.value == 0 ? 10 : at.value * largest;
        std::vector<std::string> wrong;
        std::optional<std::vector<std::optional<Seen>>> before;
        double last = low;
        for (int i = 0; i < values; ++i) {
            double value = low + (high - low) * i / std::max(1, values - 1);
            value = counts ? std::round(value) : value;
            auto now = look(parameter, value);
            for (size_t k = 0; before && k < now.size(); ++k) {
                if (now[k] && (*before)[k] && jumps(parameter, k, last, *(*before)[k], value, *now[k], counts)) {
                    wrong.push_back(own.name + " from " + mm(last) + " to " + mm(value) + ": step " +
                                    std::to_string(watched_[k].step) + ", " + watched_[k].reference.faces.front());
                }
            }
            found_ += static_cast<int>(std::count_if(now.begin(), now.end(), [](const auto& s) { return !!s; }));
            before = std::move(now);
            last = value;
        }
        return wrong;
    }
    [[nodiscard]] int evaluated() const { return evaluated_; }
    [[nodiscard]] int found() const { return found_; }

private:
    static std::string unit_of(const Quantity& quantity) {
        return quantity.dimension == Dimension{} ? "" : quantity.dimension.angle != 0 ? " rad" : " mm";
    }

    [[nodiscard]] std::optional<Seen> see(const Watched& watched, const model::Evaluation& evaluation) const {
        const int before = document_.steps[document_.index_of(watched.step) - 1]->id;
        for (const auto& [id, body] : evaluation.bodies_as_of(before)) {
            if (id != watched.reference.body) {
                continue;
            }
            const model::Resolved found = model::resolve(watched.reference, body.get());
            if (found.element.IsNull() || found.finding) {
                return std::nullopt;
            }
            Seen seen{geom::center_of(found.element), {}, {}, found.element};
            if (found.element.ShapeType() == TopAbs_FACE) {
                seen.kind = geom::surface_kind(found.element);
                if (const auto plane = geom::plane_of(found.element)) {
                    seen.way = gp_Vec(plane->Axis().Direction());
                }
            }
            return seen;
        }
        return std::nullopt;
    }

    // A part of a face that was divided is still meant by the whole, once nothing divides it.
    [[nodiscard]] bool is_part(size_t k) const {
        return !model::FaceName::parse(watched_[k].reference.faces.front()).parts.empty();
    }
    static bool holds(const Seen& whole, const Seen& part) {
        return geom::distance_to(whole.element, part.middle) < 0.05;
    }

    // A count changes by one at least, and what it arranges moves; then only what an element looks like is asked.
    bool jumps(size_t parameter, size_t k, double from, Seen one, double to, Seen other, bool counts) {
        constexpr double steep = 20; // mm per mm
        constexpr int halvings = 7;
        if (one.kind != other.kind || (one.way - other.way).Magnitude() > 0.5) {
            return true;
        }
        const double first = one.middle.Distance(other.middle);
        for (int i = 0; i < halvings; ++i) {
            const double off = one.middle.Distance(other.middle);
            if (counts || off < steep * std::fabs(to - from) || off < 1e-6) {
                return false;
            }
            const double middle = (from + to) / 2;
            const auto between = look(parameter, middle)[k];
            if (!between) {
                return false; // there is a finding in between
            }
            if (between->middle.Distance(one.middle) > between->middle.Distance(other.middle)) {
                to = middle;
                other = *between;
            } else {
                from = middle;
                one = *between;
            }
        }
        return one.middle.Distance(other.middle) > first / 4 &&
               !(is_part(k) && (holds(one, other) || holds(other, one)));
    }

    model::Document document_;
    model::Services services_;
    model::EvaluationCache cache_;
    model::Evaluation base_;
    std::vector<Watched> watched_;
    int evaluated_ = 0, found_ = 0;
};

} // namespace

struct Demonstration {
    const char* name;
    double largest = 1.7;       ///< times the values of today, and as much smaller
    bool only_if_asked = false; ///< takes minutes
};
class EveryParameter : public ::testing::TestWithParam<Demonstration> {};

TEST_P(EveryParameter, LeavesReferencesWhatTheyAre) {
    const char* text = std::getenv("KERVO_SWEEP");
    if (text == nullptr && GetParam().only_if_asked) {
        GTEST_SKIP() << "takes minutes; KERVO_SWEEP asks for it";
    }
    const int values = text == nullptr ? 2 : std::atoi(text);
    Sweep sweep(std::filesystem::path(KERVO_SOURCE) / "demo" / GetParam().name / "document.json");
    ASSERT_GT(sweep.references(), 0u);
    for (size_t i = 0; i < sweep.document().parameters.size(); ++i) {
        for (const std::string& wrong : sweep.of(i, values, GetParam().largest)) {
            ADD_FAILURE() << wrong;
        }
    }
    EXPECT_GT(sweep.found(), 0);
    std::cout << GetParam().name << ": " << sweep.document().parameters.size() << " parameters, " << sweep.references()
              << " references, " << sweep.evaluated() << " evaluations, " << sweep.found() << " times found\n";
}

INSTANTIATE_TEST_SUITE_P(Demonstration, EveryParameter,
                         // Larger openings of the screen overlap by the thousand.
                         ::testing::Values(Demonstration{"azimuth-table"}, Demonstration{"counterweight"},
                                           Demonstration{"finder-clamp"}, Demonstration{"dome", 1.3},
                                           Demonstration{"observing-deck"},
                                           Demonstration{"spectrograph-housing", 1.7, true},
                                           Demonstration{"sun-screen", 1.35}),
                         [](const auto& demo) {
                             std::string name = demo.param.name;
                             std::erase(name, '-');
                             return name;
                         });
