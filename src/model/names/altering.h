// How faces are called that take the place of elements of a body, or run along them.
#pragma once

#include "geom/alter/altered.h"
#include "geom/measure/pick.h"
#include "model/route/step_context.h"

#include <gp_Trsf.hxx>

namespace kervo::model {

/// "70:round/10:left&10:top": what step 70 made of the edge between these faces.
std::string name_after(int step, const std::string& role, const Body& body, const geom::Neighbours& neighbours,
                       const TopoDS_Shape& source);

/// The altered body: its faces keep their names; new ones are called after what they were made from, those at vertices
/// with "-corner" behind the role.
BodyPtr name_altered(int step, const std::string& role, const Body& before, const geom::Altered& altered);

/// Alters the bodies of these faces, each with its own faces; where one fails, all stay as they were, with the findings
/// on `field`.
using AlterFaces = std::function<Result<geom::Altered>(const TopoDS_Shape&, const std::vector<TopoDS_Face>&)>;
void alter_faces(int step, const std::string& role, const char* field, const References& faces, const AlterFaces& alter,
                 Answers& answers, StepOutput& output);

/// A surface of faces that have names: what hangs together looks to the side of its first face.
BodyPtr body_of_faces(const std::vector<TopoDS_Shape>& faces, const FaceNames& names);

/// Curves that have names, as one body.
BodyPtr body_of_edges(const std::vector<TopoDS_Shape>& edges, const FaceNames& names);

/// Whether it is faces alone, and no blade.
bool is_surface(const Body& body);

/// Whether it is edges alone; quickly.
bool is_curves(const Body& body);

/// The middle of the box around a body.
gp_Pnt middle_of(const Body& body);

/// The same body (also a blade) elsewhere, `scale` times as large about its middle before; its faces keep their names.
BodyPtr copied(const Body& body, const gp_Trsf& move, double scale = 1);

/// The same body, larger or smaller by a factor along each axis through `about`; null where the kernel fails.
BodyPtr resized(const Body& body, const gp_Pnt& about, const std::array<double, 3>& factors);

} // namespace kervo::model
