#include "geom/kernel/rebuild.h"

#include <BRep_Builder.hxx>
#include <TopoDS_Shell.hxx>

namespace kervo::geom {

TopoDS_Face same_surface(const TopoDS_Face& face) {
    TopLoc_Location location;
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(face, location);
    TopoDS_Face made;
    BRep_Builder().MakeFace(made, surface, location, BRep_Tool::Tolerance(face));
    return made;
}

TopoDS_Face face_with_loops(const TopoDS_Face& face, const std::vector<TopoDS_Shape>& loops) {
    const BRep_Builder builder;
    TopoDS_Face made = same_surface(face);
    for (const TopoDS_Shape& loop : loops) {
        builder.Add(made, loop);
    }
    made.Orientation(face.Orientation());
    return made;
}

TopoDS_Solid solid_of(const std::vector<TopoDS_Face>& faces) {
    const BRep_Builder builder;
    TopoDS_Shell shell;
    builder.MakeShell(shell);
    for (const TopoDS_Face& face : faces) {
        builder.Add(shell, face);
    }
    shell.Closed(Standard_True);
    TopoDS_Solid solid;
    builder.MakeSolid(solid);
    builder.Add(solid, shell);
    return solid;
}

} // namespace kervo::geom
