#include "model/looking/open_up.h"

#include "geom/cut/blade.h"
#include "geom/cut/divide.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/is_curves.h"
#include "geom/kernel/space.h"
#include "geom/make/stock.h"
#include "geom/measure/measure.h"
#include "geom/view/section_of.h"
#include "model/document/groups_and_layers.h"
#include "model/looking/taken_away.h"

#include <Standard_Failure.hxx>
#include <gp_Pln.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::model {

namespace {

using Form = Cutaway::Form;
const std::string cut_mark = "cutaway:";

Finding not_opened(const std::string& letter) {
    return warning_finding("cutaway.failed", "Cutaway " + letter + " could not be worked out here.",
                           "Move it a little. The body itself is as it was.");
}

gp_Ax3 exact(const Frame3& frame) {
    return {geom::exact(frame.origin), geom::exact_way(frame.z), geom::exact_way(frame.x)};
}

// What lies in a cutaway, as a solid, as far as the body reaches.
Result<TopoDS_Shape> solid_of(const Cutaway& cutaway, const Body& body, const CuttingBodies& cutting) {
    const gp_Ax3 frame = exact(frame_of(cutaway));
    const Place& size = cutaway.size;
    const auto below = [&](double half) { return frame.Translated(gp_Vec(frame.Direction()) * -half); };
    switch (cutaway.form) {
    case Form::plane:
        return geom::in_front_of(frame, 0, box_of(body)).shape;
    case Form::slab:
        return geom::endless_kerf({frame, {}, size[2] / 2, size[2] / 2}, box_of(body)).shape;
    case Form::box:
        return geom::make_box(size[0], size[1], size[2], below(size[2] / 2)).shape;
    case Form::cylinder:
        return geom::make_cylinder(size[0], size[2], below(size[2] / 2)).shape;
    case Form::body:
        break;
    }
    const auto found = cutting.find(cutaway.body);
    if (found == cutting.end() || geom::solids_of(found->second->shape).empty()) {
        return warning_finding("cutaway.no_body",
                               "The body that cutaway " + cutaway.letter + " cuts with is not there, or has no inside.",
                               "Choose a solid for it.");
    }
    return found->second->shape;
}

// The section in a plane, which looks to what is taken away: as it is traced, which is fast, else as it is proven.
std::optional<std::vector<TopoDS_Shape>> section_in(const Body& body, const gp_Ax3& plane) {
    auto section = geom::traced_section(body.shape, plane);
    if (!section) {
        auto proven = geom::section_of(body.shape, plane);
        if (!proven) {
            return std::nullopt;
        }
        section = std::move(*proven);
    }
    std::vector<TopoDS_Shape> faces;
    for (const geom::SectionFace& each : section->faces) {
        faces.push_back(each.face);
    }
    return faces;
}

// The section faces of one plane or slab.
Result<Opened> sections_of(const Body& body, const Cutaway& cutaway) {
    Opened opened;
    for (const Frame3& out : planes_of(cutaway)) {
        const gp_Dir way = geom::exact_way(cutaway.keeps ? out.z : -out.z);
        const auto faces = section_in(body, gp_Ax3(geom::exact(out.origin), way, geom::exact_way(out.x)));
        if (!faces) {
            return not_opened(cutaway.letter);
        }
        for (const TopoDS_Shape& face : *faces) {
            opened.faces.push_back({cutaway.letter, face, geom::area_of(face)});
        }
    }
    return opened;
}

class Opener {
public:
    Opener(const Body& body, const std::vector<Cutaway>& cutaways)
        : body_(body), cutaways_(cutaways), faces_(geom::faces_of(body.shape)) {
        for (size_t i = 0; i < faces_.size(); ++i) {
            known_.Bind(faces_[i], static_cast<int>(i));
        }
    }

    Opened open(const geom::Division& division, const std::vector<TopoDS_Shape>& solids) {
        for (size_t i = 0; i < solids.size(); ++i) {
            for (const TopoDS_Shape& face : geom::faces_of(solids[i])) {
                known_.Bind(face, -1 - static_cast<int>(i)); // which is none of the body's
            }
        }
        for (const geom::FaceOrigin& origin : division.origins) {
            if (const int* source = known_.Seek(origin.source);
                source != nullptr && !came_from_.IsBound(origin.result)) {
                came_from_.Bind(origin.result, *source);
            }
        }
        std::vector<TopoDS_Shape> left;
        for (const geom::DividedPiece& piece : division.pieces) {
            if (stays(piece)) {
                left.push_back(piece.shape);
            }
        }
        Opened opened;
        opened.divided = true;
        if (left.empty()) {
            return opened;
        }
        auto made = std::make_shared<Body>();
        made->shape = left.size() == 1 ? left.front() : geom::gather(left);
        for (const TopoDS_Shape& face : geom::faces_of(made->shape)) {
            opened.sources.push_back(take(face, *made, opened.faces));
        }
        made->names.settle();
        made->index = std::make_shared<geom::LazyIndex>(made->shape);
        opened.left = std::move(made);
        return opened;
    }

private:
    // Inside of all that keep, and of none that take away.
    [[nodiscard]] bool stays(const geom::DividedPiece& piece) const {
        for (size_t i = 0; i < cutaways_.size(); ++i) {
            const bool inside =
                std::find(piece.inside.begin(), piece.inside.end(), static_cast<int>(i)) != piece.inside.end();
            if (inside != cutaways_[i].keeps) {
                return false;
            }
        }
        return true;
    }

    int take(const TopoDS_Shape& face, Body& made, std::vector<CutFace>& cut) {
        const int* source = came_from_.Seek(face);
        source = source != nullptr ? source : known_.Seek(face); // untouched
        const int index = source == nullptr ? -1 : *source;
        if (index >= 0) {
            const auto* name = body_.names.Seek(faces_[static_cast<size_t>(index)]);
            made.names.Bind(face, name != nullptr ? *name : FaceName{});
            return index;
        }
        const std::string& letter = cutaways_[static_cast<size_t>(-1 - index)].letter;
        FaceName name{"cutaway", {}, false, cut_faces_of(letter)};
        made.names.Bind(face, name);
        cut.push_back({letter, face, geom::area_of(face)});
        return -1;
    }

    const Body& body_;
    const std::vector<Cutaway>& cutaways_;
    std::vector<TopoDS_Shape> faces_;
    geom::ByShape<int> known_;     ///< faces of the body by their place, of the cutaways below 0
    geom::ByShape<int> came_from_; ///< faces of pieces
};

Result<Opened> opened_by(const Body& body, const std::vector<Cutaway>& cutaways, const CuttingBodies& cutting,
                         Progress& progress) {
    const bool solid = !geom::solids_of(body.shape).empty();
    if (cutaways.size() == 1 && (cutaways[0].form == Form::plane || cutaways[0].form == Form::slab)) {
        return solid ? sections_of(body, cutaways[0]) : Opened{}; // surfaces are not closed
    }
    std::vector<TopoDS_Shape> solids;
    for (const Cutaway& cutaway : cutaways) {
        const auto made = solid_of(cutaway, body, cutting);
        if (!made) {
            return made.finding();
        }
        solids.push_back(*made);
    }
    const auto division = geom::divide(body.shape, solids, progress);
    if (!division) {
        return not_opened(cutaways.front().letter);
    }
    return Opener(body, cutaways).open(*division, solids);
}

BodyTraits traits_in(const Evaluation& evaluation, const BodyId& body) {
    const auto known = evaluation.traits.find(body);
    return known == evaluation.traits.end() ? BodyTraits{} : known->second;
}

} // namespace

BodyId cut_faces_of(const std::string& letter) {
    return cut_mark + letter;
}

bool is_cut_faces(const BodyId& owner) {
    return owner.starts_with(cut_mark);
}

Result<Opened> open_up(const Body& body, const std::vector<Cutaway>& all, const CuttingBodies& cutting,
                       Progress& progress) {
    std::vector<Cutaway> cutaways;
    std::copy_if(all.begin(), all.end(), std::back_inserter(cutaways), has_room);
    if (geom::is_curves(body.shape) || cutaways.empty()) {
        return Opened{};
    }
    try {
        return opened_by(body, cutaways, cutting, progress);
    } catch (const Standard_Failure& failure) {
        Finding finding = not_opened(cutaways.front().letter);
        finding.trace = {failure.GetMessageString()};
        return finding;
    }
}

void add_area(std::vector<CutArea>& areas, const BodyId& body, const CutFace& face) {
    const auto known = std::find_if(areas.begin(), areas.end(), [&](const CutArea& each) {
        return each.letter == face.letter && each.body == body;
    });
    known == areas.end() ? areas.push_back({face.letter, body, face.area}) : void(known->area += face.area);
}

bool is_hidden(const Document& document, const Evaluation& evaluation, const BodyId& body) {
    return is_hidden(document, body, traits_in(evaluation, body).layer);
}

std::vector<Cutaway> opening(const std::vector<Cutaway>& cutaways, const Document& document,
                             const Evaluation& evaluation, const BodyId& body) {
    const BodyTraits known = traits_in(evaluation, body);
    std::vector<Cutaway> those;
    for (const Cutaway& each : cutaways) {
        if (concerns(each, document, body, known.group, known.layer)) {
            those.push_back(each);
        }
    }
    return those;
}

OpenedBodies open_all(const Document& document, const Evaluation& evaluation, int as_of, Progress& progress) {
    OpenedBodies all;
    const auto bodies = evaluation.bodies_as_of(as_of);
    const CuttingBodies cutting(bodies.begin(), bodies.end());
    for (const auto& [id, body] : bodies) {
        if (is_hidden(document, evaluation, id) || body->blade || cuts_with(document.cutaways, id)) {
            continue;
        }
        const auto opened = open_up(*body, opening(document.cutaways, document, evaluation, id), cutting, progress);
        if (!opened) {
            all.findings.push_back(opened.finding());
            continue;
        }
        for (const CutFace& face : opened->faces) {
            add_area(all.areas, id, face);
        }
    }
    return all;
}

} // namespace kervo::model
