#include "geom/cut/unite.h"

#include "geom/cut/merge_faces.h"
#include "geom/kernel/boolean.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/hanging_together.h"
#include "geom/kernel/near_origin.h"
#include "geom/kernel/private_copy.h"
#include "geom/kernel/too_much.h"
#include "geom/measure/measure.h"
#include "geom/measure/self_crossing.h"

#include <BRepAlgoAPI_Fuse.hxx>
#include <BRep_Builder.hxx>
#include <Standard_Failure.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>

#include <algorithm>
#include <cmath>
#include <optional>

namespace kervo::geom {

namespace {

std::vector<FaceOrigin> origins_after_fuse(BRepAlgoAPI_Fuse& fuse, const std::vector<TopoDS_Shape>& bodies,
                                           const NearOrigin& near) {
    std::vector<FaceOrigin> origins;
    for (const TopoDS_Shape& body : bodies) {
        for (const TopoDS_Shape& face : faces_of(body)) {
            const TopTools_ListOfShape modified = fuse.Modified(near.bring(face));
            for (const TopoDS_Shape& result : modified) {
                origins.push_back({near.take_back(result), face});
            }
            if (modified.IsEmpty() && !fuse.IsDeleted(near.bring(face))) {
                origins.push_back({face, face});
            }
        }
    }
    return origins;
}

// On a copy: what a fuse leaves as it was it shares with the bodies that went in, and merging writes to shared edges.
void clean_seams(United& united) {
    const PrivateCopy own(united.shape);
    const Merged merged = merge_faces(own.shape());
    ByShape<TopoDS_Shape> now;
    for (const FaceOrigin& origin : merged.origins) {
        now.Bind(origin.source, origin.result);
    }
    for (FaceOrigin& origin : united.origins) {
        const TopoDS_Shape copied = own.of(origin.result);
        const TopoDS_Shape* face = now.Seek(copied);
        origin.result = face != nullptr ? *face : copied;
    }
    united.shape = merged.shape;
}

bool is_sound(const TopoDS_Shape& shape) {
    return is_closed(shape) && is_valid(shape);
}

// Parts of one division: the faces that two of them share are no skin any more, all others stay as they are. Nothing
// where edges would have more than two faces.
std::optional<United> grown_together(const std::vector<TopoDS_Shape>& parts) {
    United united;
    std::vector<TopoDS_Shape> solids;
    const BRep_Builder builder;
    for (const auto& group : hanging_together(parts)) {
        ByShape<int> uses;
        for (const TopoDS_Shape& part : group) {
            for (const TopoDS_Shape& face : faces_of(part)) {
                ++entry(uses, face);
            }
        }
        std::vector<TopoDS_Shape> skin;
        for (const TopoDS_Shape& part : group) {
            for (const TopoDS_Shape& face : faces_of(part)) {
                if (uses.Find(face) == 1) {
                    skin.push_back(face);
                    united.origins.push_back({face, face});
                }
            }
        }
        TopoDS_Solid solid;
        builder.MakeSolid(solid);
        for (const auto& faces : hanging_together(skin, TopAbs_EDGE)) {
            TopoDS_Shell shell;
            builder.MakeShell(shell);
            for (const TopoDS_Shape& face : faces) {
                builder.Add(shell, face);
            }
            shell.Closed(Standard_True);
            builder.Add(solid, shell);
        }
        if (!is_sound(solid)) {
            return std::nullopt;
        }
        solids.push_back(solid);
    }
    united.shape = gather(solids);
    return united;
}

// The kernel may fail to merge, or move loose edges a little; then the seams stay, and the answer is no.
bool clean_where_sound(United& united) {
    United cleaned = united;
    try {
        clean_seams(cleaned);
    } catch (const Standard_Failure&) {
        return false;
    }
    const double volume = volume_of(united.shape);
    if (std::fabs(volume_of(cleaned.shape) - volume) > 1e-7 * volume || !is_sound(cleaned.shape)) {
        return false;
    }
    united = std::move(cleaned);
    return true;
}

// By its volume; that it is sound is known.
bool plausible(const United& united, const std::vector<TopoDS_Shape>& bodies, bool parts) {
    double sum = 0;
    double largest = 0;
    for (const TopoDS_Shape& body : bodies) {
        const double volume = volume_of(body);
        sum += volume;
        largest = std::max(largest, volume);
    }
    const double volume = volume_of(united.shape);
    const double least = parts ? sum : largest;
    return volume >= least * (1 - 1e-7) && volume <= sum * (1 + 1e-7);
}

} // namespace

Result<United> unite(const std::vector<TopoDS_Shape>& bodies, const UniteOptions& options, Progress& progress) {
    const Finding failed = error_finding("unite.failed", "These bodies could not be united into one closed body.",
                                         "Let them overlap clearly, or keep them apart.");
    if (bodies.empty()) {
        return failed;
    }
    United united;
    if (bodies.size() == 1) {
        united.shape = bodies.front();
        for (const TopoDS_Shape& face : faces_of(united.shape)) {
            united.origins.push_back({face, face});
        }
        return united;
    }
    if (auto much = too_much_overlaps(bodies)) {
        return *much;
    }
    try {
        if (auto grown = options.parts ? grown_together(bodies) : std::nullopt) {
            if (options.clean_seams) {
                clean_where_sound(*grown);
            }
            if (plausible(*grown, bodies, true)) {
                return std::move(*grown);
            }
        }
        TopTools_ListOfShape arguments;
        TopTools_ListOfShape tools;
        const NearOrigin near(bodies);
        arguments.Append(near.bring(bodies.front()));
        std::for_each(bodies.begin() + 1, bodies.end(),
                      [&](const TopoDS_Shape& body) { tools.Append(near.bring(body)); });
        BRepAlgoAPI_Fuse fuse;
        if (!run_boolean(fuse, arguments, tools, progress)) {
            return failed;
        }
        united.origins = origins_after_fuse(fuse, bodies, near);
        united.shape = gather(solids_of(near.take_back(fuse.Shape())));
        if (new_crossing(bodies.front(), united.shape)) {
            return failed;
        }
        const bool cleaned = options.clean_seams && clean_where_sound(united);
        if (!cleaned && !is_sound(united.shape)) {
            return failed;
        }
    } catch (const Standard_Failure&) {
        return failed;
    }
    return plausible(united, bodies, options.parts) ? Result<United>(std::move(united)) : failed;
}

std::vector<gp_Pnt> bare_contacts(const TopoDS_Shape& body) {
    std::vector<gp_Pnt> places;
    ByShape<int> lump_at; // of edges and vertices
    ByShape<bool> told;
    int lump = 0;
    for (const TopoDS_Shape& solid : solids_of(body)) {
        ++lump;
        for (const auto kind : {TopAbs_EDGE, TopAbs_VERTEX}) {
            for (TopExp_Explorer it(solid, kind); it.More(); it.Next()) {
                const int* known = lump_at.Seek(it.Current());
                if (known == nullptr) {
                    lump_at.Bind(it.Current(), lump);
                } else if (*known != lump && !told.IsBound(it.Current())) {
                    places.push_back(center_of(it.Current()));
                    told.Bind(it.Current(), true);
                    for (TopExp_Explorer end(it.Current(), TopAbs_VERTEX); end.More(); end.Next()) {
                        told.Bind(end.Current(), true);
                    }
                }
            }
        }
    }
    return places;
}

std::vector<FaceOrigin> traced_back(const std::vector<FaceOrigin>& later, const std::vector<FaceOrigin>& earlier) {
    ByShape<std::vector<TopoDS_Shape>> before;
    for (const FaceOrigin& inner : earlier) {
        entry(before, inner.result).push_back(inner.source);
    }
    std::vector<FaceOrigin> origins;
    for (const FaceOrigin& outer : later) {
        if (const auto* sources = before.Seek(outer.source)) {
            for (const TopoDS_Shape& source : *sources) {
                origins.push_back({outer.result, source});
            }
        } else { // a face that was not touched before
            origins.push_back(outer);
        }
    }
    return origins;
}

} // namespace kervo::geom
