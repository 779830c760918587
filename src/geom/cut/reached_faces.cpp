#include "geom/kernel/box_pairs.h"

#include "geom/cut/reached_faces.h"

#include "geom/kernel/common_part.h"
#include "geom/kernel/rebuild.h"
#include "geom/measure/pick.h"
#include "geom/outline/flat_outline.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRepTopAdaptor_FClass2d.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <map>
#include <memory>

namespace kervo::geom {

namespace {

// Whether a part of the face lies in the cutter, asked in two ways; where they do not agree, it does.
bool enters(const TopoDS_Shape& cutter, const TopoDS_Face& face) {
    const auto shared = common_part(face, cutter);
    if (!shared || area_of(*shared) > 1e-9) {
        return true;
    }
    const BRepAdaptor_Surface surface(face);
    BRepTopAdaptor_FClass2d within(face, coincidence);
    BRepClass3d_SolidClassifier inside(cutter);
    const Bnd_Box box = bounds_of(cutter);
    constexpr int raster = 64;
    for (int i = 0; i <= raster; ++i) {
        for (int k = 0; k <= raster; ++k) {
            const double u = surface.FirstUParameter() * (raster - i) / raster + surface.LastUParameter() * i / raster;
            const double v = surface.FirstVParameter() * (raster - k) / raster + surface.LastVParameter() * k / raster;
            const gp_Pnt place = surface.Value(u, v);
            if (!box.IsOut(place) && within.Perform(gp_Pnt2d(u, v)) != TopAbs_OUT) {
                inside.Perform(place, 1e-5);
                if (inside.State() == TopAbs_IN) {
                    return true;
                }
            }
        }
    }
    return false;
}

} // namespace

size_t ReachedFaces::find() {
    std::vector<Box> cutters;
    for (const TopoDS_Shape& cutter : cutters_) {
        Box box = box_within(bounds_of(cutter));
        box.enlarge(FlatOutline::gap);
        cutters.push_back(box);
    }
    std::vector<Box> faces;
    for (const BodyIndex::Face& face : body_->faces) {
        faces.push_back(face.box);
    }
    std::map<size_t, std::vector<int>> reached; // and their loops
    each_meeting_pair(cutters, faces, [&](size_t /*cutter*/, size_t face) { reached[face]; });
    std::vector<Box> loops;
    for (size_t i = 0; i < body_->loops.size(); ++i) {
        loops.push_back(body_->loops[i].box);
        const auto at = reached.find(static_cast<size_t>(body_->loops[i].face));
        if (at != reached.end()) {
            at->second.push_back(static_cast<int>(i));
        }
    }
    std::vector<bool> near(loops.size());
    each_meeting_pair(cutters, loops, [&](size_t /*cutter*/, size_t loop) { near[loop] = true; });
    for (const int face : left_out_) {
        reached.erase(static_cast<size_t>(face));
    }
    size_t spared = body_->faces.size() - reached.size();
    for (const auto& [face, its_loops] : reached) {
        const BodyIndex::Face& whole = body_->faces[face];
        ReachedFace entry{static_cast<int>(face), whole.face, {}, {}, {}};
        for (const int loop : its_loops) {
            const auto& known = body_->loops[static_cast<size_t>(loop)];
            if (whole.kind == BodyIndex::Kind::plane && !known.outer && !near[static_cast<size_t>(loop)]) {
                entry.waiting.push_back(loop);
            }
        }
        if (!entry.waiting.empty()) {
            entry.bare = face_with_loops(whole.face, loops_in(whole.face, entry.waiting, false));
        }
        spared += entry.waiting.size();
        reached_.push_back(std::move(entry));
    }
    return spared;
}

// Of the face's loops, as they lie in it FORWARD, these or all but these.
std::vector<TopoDS_Shape> ReachedFaces::loops_in(const TopoDS_Face& face, const std::vector<int>& named,
                                                 bool these) const {
    TopTools_MapOfShape wires;
    for (const int loop : named) {
        wires.Add(body_->loops[static_cast<size_t>(loop)].wire);
    }
    std::vector<TopoDS_Shape> loops;
    for (TopoDS_Iterator it(face.Oriented(TopAbs_FORWARD)); it.More(); it.Next()) {
        if (wires.Contains(it.Value()) == these) {
            loops.push_back(it.Value());
        }
    }
    return loops;
}

std::vector<TopoDS_Shape> ReachedFaces::with_cutters() const {
    TopoDS_Compound faces;
    const BRep_Builder builder;
    builder.MakeCompound(faces);
    for (const ReachedFace& each : reached_) {
        builder.Add(faces, each.bare);
    }
    std::vector<TopoDS_Shape> all{faces};
    all.insert(all.end(), cutters_.begin(), cutters_.end());
    return all;
}

std::vector<TopoDS_Face> ReachedFaces::as_they_were() const {
    std::vector<TopoDS_Face> all;
    for (const ReachedFace& each : reached_) {
        all.push_back(each.bare);
    }
    return all;
}

const char* ReachedFaces::take_loops_back(std::vector<IndexChange::Divided>& all) const {
    for (const ReachedFace& each : reached_) {
        if (each.untouched()) {
            continue;
        }
        std::vector<std::vector<int>> loops(each.left.size());
        if (each.left.size() == 1) {
            loops.front() = each.waiting;
        } else if (const char* why = each.waiting.empty() ? nullptr : tell_where(each, loops)) {
            return why;
        }
        IndexChange::Divided divided{each.face, {}};
        for (size_t i = 0; i < each.left.size(); ++i) {
            const auto whole = with_loops(each, each.left[i], loops[i]);
            if (!whole) {
                return "a face changed its surface";
            }
            divided.parts.push_back({*whole, each.left[i], loops[i]});
        }
        all.push_back(std::move(divided));
    }
    return nullptr;
}

const char* ReachedFaces::tell_where(const ReachedFace& each, std::vector<std::vector<int>>& loops) const {
    std::vector<std::unique_ptr<BRepTopAdaptor_FClass2d>> places;
    for (const TopoDS_Face& left : each.left) {
        places.push_back(std::make_unique<BRepTopAdaptor_FClass2d>(left, coincidence));
    }
    const TopoDS_Face& face = body_->faces[static_cast<size_t>(each.face)].face;
    for (const int loop : each.waiting) {
        TopoDS_Iterator it(body_->loops[static_cast<size_t>(loop)].wire);
        double first = 0;
        double last = 0;
        const auto trace = BRep_Tool::CurveOnSurface(TopoDS::Edge(it.Value()), face, first, last);
        std::optional<size_t> found;
        for (size_t i = 0; i < places.size(); ++i) {
            if (places[i]->Perform(trace->Value(first)) == TopAbs_IN) {
                if (found) {
                    return "a loop lies in two faces";
                }
                found = i;
            }
        }
        if (!found) {
            return "a loop lies in no face";
        }
        loops[*found].push_back(loop);
    }
    return nullptr;
}

// Nothing where the piece does not lie on the surface that the loops lie on.
std::optional<TopoDS_Face> ReachedFaces::with_loops(const ReachedFace& each, const TopoDS_Face& left,
                                                    const std::vector<int>& loops) const {
    if (loops.empty()) {
        return left;
    }
    const TopoDS_Face& before = body_->faces[static_cast<size_t>(each.face)].face;
    TopLoc_Location here;
    TopLoc_Location there;
    if (BRep_Tool::Surface(before, there) != BRep_Tool::Surface(left, here) || !here.IsEqual(there) ||
        left.Orientation() != before.Orientation()) {
        return std::nullopt;
    }
    auto all = loops_in(left, {}, false);
    const auto back = loops_in(before, loops, true);
    all.insert(all.end(), back.begin(), back.end());
    return face_with_loops(before, all);
}

bool ReachedFaces::leave_out_what_touches(Progress& progress) {
    constexpr size_t most_pairs = 1000;
    find();
    std::vector<Bnd_Box> boxes;
    for (const TopoDS_Shape& cutter : cutters_) {
        boxes.push_back(bounds_of(cutter));
        boxes.back().Enlarge(coincidence);
    }
    size_t pairs = 0;
    std::set<int> touched;
    for (const ReachedFace& each : reached_) {
        const Bnd_Box own = bounds_of(each.bare);
        std::vector<TopoDS_Shape> near;
        for (size_t i = 0; i < cutters_.size(); ++i) {
            if (!boxes[i].IsOut(own)) {
                near.push_back(cutters_[i]);
            }
        }
        pairs += near.size();
        if (pairs > most_pairs || progress.cancelled()) {
            touched.clear();
            break;
        }
        if (std::none_of(near.begin(), near.end(),
                         [&](const TopoDS_Shape& cutter) { return enters(cutter, each.bare); }) &&
            std::any_of(near.begin(), near.end(), [&](const TopoDS_Shape& cutter) {
                return gap_between(each.bare, cutter).width < coincidence;
            })) {
            touched.insert(each.face);
        }
    }
    reached_.clear();
    left_out_ = std::move(touched);
    return !left_out_.empty();
}

} // namespace kervo::geom
