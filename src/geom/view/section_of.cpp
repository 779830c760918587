#include "geom/view/section_of.h"

#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/view/raster.h"
#include "geom/view/section.h"
#include "geom/view/section_area.h"
#include "geom/view/tessellate.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBndLib.hxx>
#include <Bnd_Box.hxx>
#include <IntCurvesFace_ShapeIntersector.hxx>
#include <TopLoc_Location.hxx>
#include <TopoDS.hxx>
#include <gp_Lin.hxx>
#include <gp_Pln.hxx>
#include <gp_Trsf.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double hair = 1e-5; // mm

Finding failed(const std::string& why) {
    Finding finding = error_finding("section.failed", "The section could not be made here.",
                                    "Move the plane a little, or cut the body with a blade.");
    finding.trace = {why};
    return finding;
}

std::optional<std::vector<TopoDS_Shape>> faces_at(const TopoDS_Shape& solid, const gp_Ax3& plane, double height) {
    return section_faces(solid, gp_Pln(plane.Translated(gp_Vec(plane.Direction()) * height)));
}

double area_of_all(const std::vector<TopoDS_Shape>& faces) {
    double sum = 0;
    for (const TopoDS_Shape& face : faces) {
        sum += area_of(face);
    }
    return sum;
}

double perimeter_of(const std::vector<TopoDS_Shape>& faces) {
    double sum = 0;
    for (const TopoDS_Shape& face : faces) {
        for (const TopoDS_Shape& edge : edges_of(face)) {
            sum += length_of(edge);
        }
    }
    return sum;
}

// Within what a hair changes: walls that lean by 87 degrees and less move by 20 hairs, and hardly a section has only
// such; small ones are all within it, so shares of the area count too.
bool agree(double area, double above, double perimeter) {
    return std::fabs(area - above) <= 20 * hair * perimeter + 1e-9 * area;
}

// --- By rays --------------------------------------------------------------------------------------------------------

// How long a line in the plane is inside of the solid, by where it crosses faces; nothing where it grazes one.
std::optional<double> inside_along(IntCurvesFace_ShapeIntersector& solid, const gp_Lin& line) {
    constexpr double far = 1e7; // mm
    solid.Perform(line, -far, far);
    std::vector<std::pair<double, bool>> hits; // where, and whether the line comes out there
    for (int i = 1; i <= solid.NbPnt(); ++i) {
        hits.emplace_back(solid.WParameter(i), solid.Transition(i) == IntCurveSurface_Out);
    }
    std::sort(hits.begin(), hits.end());
    double length = 0;
    std::optional<double> entered;
    for (const auto& [at, leaves] : hits) {
        if (leaves != entered.has_value()) {
            return std::nullopt;
        }
        length += leaves ? at - *entered : 0;
        entered = leaves ? std::nullopt : std::optional(at);
    }
    return entered ? std::nullopt : std::optional(length);
}

std::vector<FlatBit> border_of(const std::vector<TopoDS_Shape>& faces, const gp_Ax3& frame, double deflection) {
    std::vector<FlatBit> bits;
    for (const TopoDS_Shape& face : faces) {
        for (const TopoDS_Shape& edge : edges_of(face)) {
            std::optional<Flat> before;
            for (const gp_Pnt& p : polyline_of(edge, deflection)) {
                const gp_Vec r(frame.Location(), p);
                const Flat now{r.Dot(gp_Vec(frame.XDirection())), r.Dot(gp_Vec(frame.YDirection()))};
                if (before) {
                    bits.push_back({*before, now});
                }
                before = now;
            }
        }
    }
    return bits;
}

// Lines that lie askew, so that they hardly ever run along an edge or through a vertex.
bool rays_agree(const TopoDS_Shape& solid, const std::vector<TopoDS_Shape>& faces, const gp_Ax3& plane) {
    IntCurvesFace_ShapeIntersector rays; // loaded once: with many loops that takes longest
    rays.Load(solid, coincidence);
    constexpr int rows = 5;
    for (const double turn : {0.3217, 1.9283}) {
        const gp_Ax3 frame = plane.Rotated(plane.Axis(), turn);
        gp_Trsf to_frame;
        to_frame.SetDisplacement(frame, gp_Ax3());
        const auto box = rough_box_of(solid.Moved(TopLoc_Location(to_frame)));
        const double height = box[4] - box[1];
        const double size = std::hypot(box[3] - box[0], height);
        const double deflection = size * 1e-5;
        const auto bits = border_of(faces, frame, deflection);
        for (int row = 0; row < rows; ++row) {
            const double v = box[1] + height * (row + 0.4142) / rows;
            std::vector<FlatBit> about = bits;
            for (FlatBit& bit : about) { // the row becomes the one at 0
                bit[0].v -= v;
                bit[1].v -= v;
            }
            double in_faces = 0;
            for (const Span& span : spans_within(about, 4 * size)) {
                in_faces += span.to - span.from;
            }
            const gp_Pnt from = frame.Location().Translated(gp_Vec(frame.YDirection()) * v);
            const auto inside = inside_along(rays, gp_Lin(from, frame.XDirection()));
            // A chord that nearly touches a round border changes by much over a little.
            const double slack = 2 * std::sqrt(2 * deflection * size) + 1e-3 * size;
            if (inside && std::fabs(*inside - in_faces) > slack) {
                return false;
            }
        }
    }
    return true;
}

// --- Where edges come from ------------------------------------------------------------------------------------------

// The face of the solid that the middle of an edge lies in, moved by what the section was.
class Sources {
public:
    explicit Sources(const TopoDS_Shape& solid) : faces_(faces_of(solid)) {
        for (const TopoDS_Shape& face : faces_) {
            boxes_.emplace_back();
            BRepBndLib::Add(face, boxes_.back());
            boxes_.back().Enlarge(1e-4);
        }
    }

    [[nodiscard]] int of(const TopoDS_Shape& edge, const gp_Vec& back) const {
        const BRepAdaptor_Curve curve(TopoDS::Edge(edge));
        const gp_Pnt middle = curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2).Translated(back);
        int nearest = -1;
        double least = 1e-4;
        for (size_t i = 0; i < faces_.size(); ++i) {
            if (boxes_[i].IsOut(middle)) {
                continue;
            }
            const double away = distance_to(faces_[i], middle);
            if (away < least) {
                least = away;
                nearest = static_cast<int>(i);
            }
        }
        return nearest;
    }

private:
    std::vector<TopoDS_Shape> faces_;
    std::vector<Bnd_Box> boxes_;
};

// Whether what was traced encloses as much as the kernel's faces.
bool is_as_large(const std::vector<BorderPiece>& border, const gp_Ax3& plane, const std::vector<TopoDS_Shape>& faces) {
    const double enclosed = area_within(border, plane);
    return std::fabs(enclosed - area_of_all(faces)) <= 1e-7 * enclosed + 1e-7 * perimeter_of(faces);
}

// `back`: how far its faces are moved to lie in the plane.
Section section_with(const TopoDS_Shape& solid, const std::vector<TopoDS_Shape>& faces, const gp_Vec& back,
                     bool touches) {
    const bool moved = back.Magnitude() > 0;
    gp_Trsf down;
    down.SetTranslation(back);
    const Sources sources(solid);
    Section section;
    section.touches = touches;
    for (const TopoDS_Shape& made : faces) {
        SectionFace face{moved ? made.Moved(TopLoc_Location(down)) : made, {}};
        for (const TopoDS_Shape& edge : edges_of(face.face)) {
            face.cut.emplace_back(edge, sources.of(edge, back.Reversed()));
        }
        section.area += area_of(face.face);
        section.faces.push_back(std::move(face));
    }
    return section;
}

} // namespace

std::optional<Section> traced_section(const TopoDS_Shape& solid, const gp_Ax3& plane) {
    const auto border = section_border(solid, plane);
    auto faces = border ? faces_within(*border, plane) : std::nullopt;
    if (!faces) {
        return std::nullopt;
    }
    std::vector<TopoDS_Shape> bare;
    for (const SectionFace& each : *faces) {
        bare.push_back(each.face);
    }
    return rays_agree(solid, bare, plane) ? std::optional(Section{std::move(*faces), area_of_all(bare), false})
                                          : std::nullopt;
}

Result<Section> section_of(const TopoDS_Shape& solid, const gp_Ax3& plane) {
    const auto here = faces_at(solid, plane, 0);
    const auto border = section_border(solid, plane);
    if (here && border && is_as_large(*border, plane, *here)) {
        auto own = faces_within(*border, plane);
        return own ? Section{std::move(*own), area_of_all(*here), false} : section_with(solid, *here, gp_Vec(), false);
    }
    const auto above = faces_at(solid, plane, hair);
    const auto below = faces_at(solid, plane, -hair);
    if (!above) {
        return failed("no section a hair above");
    }
    const double area = area_of_all(*above);
    const double perimeter = perimeter_of(*above);
    const auto differs = [&](const std::optional<std::vector<TopoDS_Shape>>& faces) {
        return !faces || !agree(area_of_all(*faces), area, perimeter + perimeter_of(*faces));
    };
    const bool touches = differs(below);
    const bool moved = touches || differs(here);
    if (!rays_agree(solid, moved ? *above : *here,
                    moved ? plane.Translated(gp_Vec(plane.Direction()) * hair) : plane)) {
        return failed("rays say otherwise");
    }
    return section_with(solid, moved ? *above : *here, gp_Vec(plane.Direction()) * (moved ? -hair : 0), touches);
}

} // namespace kervo::geom
