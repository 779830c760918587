#include "geom/measure/body_index.h"

#include "base/parallel.h"
#include "geom/kernel/straight_edge.h"
#include "geom/outline/profile.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRep_Tool.hxx>
#include <BndLib_Add3dCurve.hxx>
#include <Geom_RectangularTrimmedSurface.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

void Box::add(const gp_XYZ& p) {
    for (size_t i = 0; i < 3; ++i) {
        const double value = p.Coord(static_cast<int>(i) + 1);
        low[i] = std::min(low[i], value);
        high[i] = std::max(high[i], value);
    }
}
void Box::add(const Box& other) {
    for (size_t i = 0; i < 3; ++i) {
        low[i] = std::min(low[i], other.low[i]);
        high[i] = std::max(high[i], other.high[i]);
    }
}
void Box::enlarge(double gap) {
    for (size_t i = 0; i < 3; ++i) {
        low[i] -= gap;
        high[i] += gap;
    }
}
bool Box::meets(const Box& other) const {
    return low[0] <= other.high[0] && other.low[0] <= high[0] && low[1] <= other.high[1] && other.low[1] <= high[1] &&
           low[2] <= other.high[2] && other.low[2] <= high[2];
}

Box box_within(const Bnd_Box& bounds) {
    Box box;
    if (!bounds.IsVoid()) {
        box.add(bounds.CornerMin().XYZ());
        box.add(bounds.CornerMax().XYZ());
    }
    return box;
}

namespace {

constexpr int few_faces = 64; // not worth a second thread

// center + u cos t + v sin t, t from `first` to `last`.
Box box_of_round(const gp_Pnt& center, const gp_XYZ& u, const gp_XYZ& v, double first, double last) {
    Box box;
    if (last - first > 2 * M_PI - 1e-9) { // all round
        const gp_XYZ reach(std::hypot(u.X(), v.X()), std::hypot(u.Y(), v.Y()), std::hypot(u.Z(), v.Z()));
        box.add(center.XYZ() - reach);
        box.add(center.XYZ() + reach);
        return box;
    }
    const auto add = [&](double t) { box.add(center.XYZ() + u * std::cos(t) + v * std::sin(t)); };
    add(first);
    add(last);
    for (int axis = 1; axis <= 3; ++axis) {
        const double turn = std::atan2(v.Coord(axis), u.Coord(axis));
        for (double t = turn + M_PI * std::ceil((first - turn) / M_PI); t < last; t += M_PI) {
            add(t);
        }
    }
    return box;
}

} // namespace

Box box_of_edge(const TopoDS_Shape& shape) {
    const TopoDS_Edge& edge = TopoDS::Edge(shape);
    Box box;
    if (BRep_Tool::Degenerated(edge)) {
        for (const TopoDS_Shape& vertex : vertices_of(edge)) {
            box.add(BRep_Tool::Pnt(TopoDS::Vertex(vertex)).XYZ());
        }
        return box;
    }
    if (const auto ends = straight_ends(edge)) {
        box.add(ends->first.XYZ());
        box.add(ends->second.XYZ());
        box.enlarge(BRep_Tool::Tolerance(edge));
        return box;
    }
    const BRepAdaptor_Curve curve(edge);
    const double first = curve.FirstParameter();
    const double last = curve.LastParameter();
    switch (curve.GetType()) {
    case GeomAbs_Line:
        box.add(curve.Value(first).XYZ());
        box.add(curve.Value(last).XYZ());
        break;
    case GeomAbs_Circle: {
        const gp_Circ c = curve.Circle();
        box = box_of_round(c.Location(), c.XAxis().Direction().XYZ() * c.Radius(),
                           c.YAxis().Direction().XYZ() * c.Radius(), first, last);
        break;
    }
    case GeomAbs_Ellipse: {
        const gp_Elips e = curve.Ellipse();
        box = box_of_round(e.Location(), e.XAxis().Direction().XYZ() * e.MajorRadius(),
                           e.YAxis().Direction().XYZ() * e.MinorRadius(), first, last);
        break;
    }
    default: {
        Bnd_Box bounds;
        BndLib_Add3dCurve::AddOptimal(curve, coincidence, bounds);
        box = box_within(bounds);
    }
    }
    box.enlarge(BRep_Tool::Tolerance(edge));
    return box;
}

namespace {

Box box_of_wire(const TopoDS_Shape& wire) {
    Box box;
    for (TopoDS_Iterator it(wire); it.More(); it.Next()) {
        box.add(box_of_edge(it.Value()));
    }
    return box;
}

} // namespace

std::vector<BodyIndex::Loop> loops_of(const TopoDS_Face& face) {
    std::vector<BodyIndex::Loop> loops;
    loops.reserve(static_cast<size_t>(face.NbChildren()));
    for (TopoDS_Iterator it(face); it.More(); it.Next()) {
        if (it.Value().ShapeType() == TopAbs_WIRE) {
            loops.push_back({0, TopoDS::Wire(it.Value()), box_of_wire(it.Value()), false});
        }
    }
    const auto size = [](const BodyIndex::Loop& loop) {
        double sum = 0;
        for (size_t i = 0; i < 3; ++i) {
            sum += loop.box.high[i] - loop.box.low[i];
        }
        return sum;
    };
    const auto outer = std::max_element(loops.begin(), loops.end(),
                                        [&](const auto& one, const auto& other) { return size(one) < size(other); });
    if (outer != loops.end()) {
        outer->outer = true;
    }
    return loops;
}

namespace {

BodyIndex::Face described(const TopoDS_Face& face) {
    BodyIndex::Face entry;
    entry.face = face;
    const BRepAdaptor_Surface surface(face, Standard_False);
    TopLoc_Location location;
    const bool trimmed = BRep_Tool::Surface(face, location)->IsKind(STANDARD_TYPE(Geom_RectangularTrimmedSurface));
    switch (trimmed ? GeomAbs_OtherSurface : surface.GetType()) { // nothing can be laid on a surface within another
    case GeomAbs_Plane: {
        const gp_Pln plane = *plane_of(face);
        entry.kind = BodyIndex::Kind::plane;
        entry.direction = plane.Axis().Direction();
        entry.place = plane.Location();
        break;
    }
    case GeomAbs_Cylinder:
        entry.kind = BodyIndex::Kind::ruled;
        entry.direction = surface.Cylinder().Axis().Direction();
        break;
    case GeomAbs_SurfaceOfExtrusion:
        entry.kind = BodyIndex::Kind::ruled;
        entry.direction = surface.Direction();
        break;
    default: {
        Bnd_Box bounds;
        BRepBndLib::Add(face, bounds, Standard_False);
        entry.box = box_within(bounds);
    }
    }
    return entry;
}

struct Described {
    BodyIndex::Face face;
    std::vector<BodyIndex::Loop> loops;
};

Described described_with_loops(const TopoDS_Face& face) {
    Described made{described(face), {}};
    if (made.face.kind != BodyIndex::Kind::other) {
        made.loops = loops_of(face);
        for (const BodyIndex::Loop& loop : made.loops) {
            made.face.box.add(loop.box);
        }
    }
    return made;
}

void append(BodyIndex& index, Described made) {
    for (BodyIndex::Loop& loop : made.loops) {
        loop.face = static_cast<int>(index.faces.size());
        index.loops.push_back(std::move(loop));
    }
    index.box.add(made.face.box);
    index.faces.push_back(std::move(made.face));
}

} // namespace

BodyIndexPtr index_of(const TopoDS_Shape& shape) {
    const auto solids = solids_of(shape);
    if (solids.size() != 1) {
        return nullptr;
    }
    TopoDS_Shape shell;
    for (TopoDS_Iterator it(solids.front()); it.More(); it.Next()) {
        if (it.Value().ShapeType() != TopAbs_SHELL || !shell.IsNull()) {
            return nullptr;
        }
        shell = it.Value();
    }
    if (shell.IsNull()) {
        return nullptr;
    }
    std::vector<TopoDS_Face> faces;
    for (TopoDS_Iterator it(shell); it.More(); it.Next()) {
        if (it.Value().Orientation() != TopAbs_FORWARD && it.Value().Orientation() != TopAbs_REVERSED) {
            return nullptr; // a face within the material
        }
        faces.push_back(TopoDS::Face(it.Value()));
    }
    std::vector<Described> made(faces.size());
    parallel_for(
        faces.size(), [&](size_t i) { made[i] = described_with_loops(faces[i]); }, few_faces);
    auto index = std::make_shared<BodyIndex>();
    for (Described& each : made) {
        append(*index, std::move(each));
    }
    index->apex = VolumeMeter::apex_within(index->box.corners());
    return index;
}

namespace {

VolumeMeter::Cone cone_of(const BodyIndex& index) {
    std::vector<VolumeMeter::Cone> cones(index.faces.size());
    parallel_for(
        index.faces.size(), [&](size_t i) { cones[i] = VolumeMeter::cone_over(index.faces[i].face, index.apex); },
        few_faces);
    VolumeMeter::Cone sum;
    for (const VolumeMeter::Cone& cone : cones) {
        sum += cone;
    }
    return sum;
}

// What stays of the faces and loops when some are gone.
std::shared_ptr<BodyIndex> without_divided(const IndexChange& change) {
    const BodyIndex& before = *change.before;
    std::vector<bool> gone(before.faces.size());
    for (const auto& divided : change.divided) {
        gone[static_cast<size_t>(divided.face)] = true;
    }
    auto index = std::make_shared<BodyIndex>();
    index->apex = before.apex;
    std::vector<int> now(before.faces.size());
    for (size_t i = 0; i < before.faces.size(); ++i) {
        if (!gone[i]) {
            now[i] = static_cast<int>(index->faces.size());
            index->faces.push_back(before.faces[i]);
            index->box.add(before.faces[i].box);
        }
    }
    for (const BodyIndex::Loop& loop : before.loops) {
        if (!gone[static_cast<size_t>(loop.face)]) {
            index->loops.push_back(loop);
            index->loops.back().face = now[static_cast<size_t>(loop.face)];
        }
    }
    for (const auto& [face, parts] : change.divided) {
        for (const auto& part : parts) {
            Described made = described_with_loops(part.bare);
            made.face.face = part.face;
            for (const int loop : part.loops) {
                made.loops.push_back(before.loops[static_cast<size_t>(loop)]);
            }
            append(*index, std::move(made));
        }
    }
    return index;
}

} // namespace

BodyIndexPtr changed(const IndexChange& change) {
    auto index = change.divided.empty() ? std::make_shared<BodyIndex>(*change.before) : without_divided(change);
    for (const auto& [face, now, loops] : change.pierced) {
        index->faces[static_cast<size_t>(face)].face = now;
        for (const TopoDS_Wire& loop : loops) {
            index->loops.push_back({face, loop, box_of_wire(loop), false});
        }
    }
    for (const TopoDS_Face& face : change.made) {
        append(*index, described_with_loops(face));
    }
    return index;
}

// Nothing is made under the lock: it is made in parallel, and a thread that waits for the others may take up work that
// asks here.
BodyIndexPtr LazyIndex::get() const {
    std::optional<IndexChange> change;
    TopoDS_Shape shape;
    {
        const std::lock_guard lock(guard_);
        if (known_) {
            return index_;
        }
        change = change_;
        shape = shape_;
    }
    BodyIndexPtr made = change ? changed(*change) : index_of(shape);
    const std::lock_guard lock(guard_);
    if (!known_) {
        index_ = std::move(made);
        known_ = true;
        change_.reset();
        shape_.Nullify();
    }
    return index_;
}

VolumeMeter::Cone LazyIndex::cone() const {
    {
        const std::lock_guard lock(guard_);
        if (cone_) {
            return *cone_;
        }
    }
    const BodyIndexPtr index = get();
    const VolumeMeter::Cone made = index ? cone_of(*index) : VolumeMeter::Cone{};
    const std::lock_guard lock(guard_);
    cone_ = made;
    return made;
}

} // namespace kervo::geom
