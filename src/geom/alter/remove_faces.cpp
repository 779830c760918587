#include "geom/alter/remove_faces.h"

#include "geom/alter/alteration.h"

#include <BRepAlgoAPI_Defeaturing.hxx>
#include <BRep_Builder.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>

namespace kervo::geom {

Result<Altered> heal_without(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces) {
    Finding not_healed = error_finding("remove.not_healed", "The faces beside these do not meet where they were.",
                                       "Take more faces of the same feature, or leave the body open.");
    add_place(not_healed, center_of(faces.front()));
    try {
        const PrivateCopy own(body);
        BRepAlgoAPI_Defeaturing healing;
        healing.SetShape(own.shape());
        for (const TopoDS_Face& face : faces) {
            healing.AddFaceToRemove(own.of(face));
        }
        healing.Build();
        if (!healing.IsDone() || !is_sound_after(own.shape(), healing.Shape())) {
            return not_healed;
        }
        Altered altered{gather(solids_of(healing.Shape())), {}, {}};
        for (const TopoDS_Shape& face : faces_of(body)) {
            const TopoDS_Shape copied = own.of(face);
            const TopTools_ListOfShape& modified = healing.Modified(copied);
            for (const TopoDS_Shape& now : modified) {
                altered.origins.push_back({now, face});
            }
            if (modified.IsEmpty() && !healing.IsDeleted(copied)) {
                altered.origins.push_back({copied, face});
            }
        }
        const bool still_there = std::any_of(faces.begin(), faces.end(), [&](const TopoDS_Face& face) {
            return std::any_of(altered.origins.begin(), altered.origins.end(),
                               [&](const FaceOrigin& origin) { return origin.source.IsSame(face); });
        });
        if (still_there) {
            return not_healed;
        }
        return altered;
    } catch (const Standard_Failure&) {
        return not_healed;
    }
}

Result<Altered> open_without(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces) {
    TopoDS_Shell shell;
    const BRep_Builder builder;
    builder.MakeShell(shell);
    Altered altered;
    for (const TopoDS_Shape& face : faces_of(body)) {
        if (std::none_of(faces.begin(), faces.end(), [&](const TopoDS_Face& gone) { return gone.IsSame(face); })) {
            builder.Add(shell, face);
            altered.origins.push_back({face, face});
        }
    }
    if (altered.origins.empty()) {
        return error_finding("remove.nothing_left", "No face of the body is left.", "Delete the body instead.");
    }
    altered.shape = shell;
    return altered;
}

} // namespace kervo::geom
