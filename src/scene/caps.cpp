#include "scene/caps.h"

#include "geom/kernel/space.h"
#include "geom/outline/profile.h"
#include "geom/view/raster.h"
#include "geom/view/section.h"
#include "geom/view/tessellate.h"
#include "scene/preview.h"

#include <gp_Pln.hxx>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::scene {

namespace {

using model::Cutaway;
using model::Hatch;
constexpr double pi = std::numbers::pi;

// The rows of a hatch: lines of a raster over the frame's plane, turned by an angle, shifted across.
using Rows = std::function<std::vector<Segment3>(double angle, double spacing, double shift)>;

void add(std::vector<Segment3>& all, const std::vector<Segment3>& more) {
    all.insert(all.end(), more.begin(), more.end());
}

std::vector<Segment3> dashed(const std::vector<Segment3>& lines, double dash, double gap) {
    std::vector<Segment3> dashes;
    for (const auto& [from, to] : lines) {
        const Vector3 way = to - from;
        const double length = way.length();
        for (double at = 0; at < length; at += dash + gap) {
            dashes.push_back({from + way * (at / length), from + way * (std::min(at + dash, length) / length)});
        }
    }
    return dashes;
}

// After ISO 128-50: one set of lines is the general one.
std::vector<Segment3> hatched(const CapStyle& style, const Rows& rows) {
    const auto& [color, hatch, spacing, angle] = style;
    std::vector<Segment3> lines;
    switch (hatch) {
    case Hatch::lines:
        return rows(angle, spacing, 0);
    case Hatch::pairs:
        add(lines, rows(angle, spacing * 1.6, 0));
        add(lines, rows(angle, spacing * 1.6, spacing * 0.35));
        return lines;
    case Hatch::crossed:
        add(lines, rows(angle, spacing * 1.3, 0));
        add(lines, rows(angle + pi / 2, spacing * 1.3, 0));
        return lines;
    case Hatch::dashes:
        return dashed(rows(angle, spacing * 0.8, 0), spacing * 1.5, spacing * 0.7);
    case Hatch::filled:
    case Hatch::none:
        break;
    }
    return {};
}

// --- From triangles -------------------------------------------------------------------------------------------------

// Where a plane passes through the triangles. A node on the plane counts as in front of it, always, and the place on an
// edge is worked out in the same order for both of its triangles: so what closes, closes to the last digit.
std::vector<Segment3> passes_of(const Mesh& mesh, const Frame3& plane) {
    std::vector<double> heights(mesh.nodes.size());
    std::transform(mesh.nodes.begin(), mesh.nodes.end(), heights.begin(),
                   [&](const Point3& p) { return (p - plane.origin).dot(plane.z); });
    std::vector<Segment3> passes;
    const auto place = [&](uint32_t front, uint32_t back) {
        const Point3& a = mesh.nodes[front];
        return a + (mesh.nodes[back] - a) * (heights[front] / (heights[front] - heights[back]));
    };
    for (const auto& [a, b, c] : mesh.triangles) {
        const bool in_front[] = {heights[a] >= 0, heights[b] >= 0, heights[c] >= 0};
        if (in_front[0] == in_front[1] && in_front[1] == in_front[2]) {
            continue;
        }
        const uint32_t nodes[] = {a, b, c};
        const int alone = in_front[1] == in_front[2] ? 0 : in_front[0] == in_front[2] ? 1 : 2;
        Segment3 pass;
        for (int k = 0; k < 2; ++k) {
            const uint32_t one = nodes[alone];
            const uint32_t other = nodes[(alone + 1 + k) % 3];
            pass[static_cast<size_t>(k)] = in_front[alone] ? place(one, other) : place(other, one);
        }
        passes.push_back(pass);
    }
    return passes;
}

// Lines over triangles, where planes across `across` pass, `spacing` apart: a hatch on what is not flat.
std::vector<Segment3> lines_over(const Mesh& mesh, const Vector3& across, double spacing) {
    std::vector<Segment3> lines;
    for (const auto& triangle : mesh.triangles) {
        std::array<Point3, 3> p;
        std::array<double, 3> h{};
        for (size_t i = 0; i < 3; ++i) {
            p[i] = mesh.nodes[triangle[i]];
            h[i] = across.dot(p[i] - Point3());
        }
        const double low = std::min({h[0], h[1], h[2]});
        const double high = std::max({h[0], h[1], h[2]});
        for (double level = (std::floor(low / spacing) + 1) * spacing; level <= high; level += spacing) {
            std::vector<Point3> ends;
            for (size_t i = 0; i < 3; ++i) {
                const size_t j = (i + 1) % 3;
                if ((h[i] < level) != (h[j] < level)) {
                    ends.push_back(p[i] + (p[j] - p[i]) * ((level - h[i]) / (h[j] - h[i])));
                }
            }
            if (ends.size() == 2) {
                lines.push_back({ends[0], ends[1]});
            }
        }
    }
    return lines;
}

// The rows inside of what segments in a plane enclose, in the frame that is turned by an angle and shifted across.
std::vector<Segment3> rows_within(const std::vector<Segment3>& border, const Frame3& plane, double angle,
                                  double spacing, double shift) {
    const Vector3 along = plane.x * std::cos(angle) + plane.y * std::sin(angle);
    const Vector3 across = plane.z.cross(along);
    const Point3 origin = plane.origin + across * shift;
    const auto flat = [&](const Point3& p) { return geom::Flat{(p - origin).dot(along), (p - origin).dot(across)}; };
    std::vector<geom::FlatBit> bits;
    bits.reserve(border.size());
    for (const auto& [from, to] : border) {
        bits.push_back({flat(from), flat(to)});
    }
    std::vector<Segment3> rows;
    for (const geom::Span& span : geom::spans_within(bits, spacing)) {
        const Point3 base = origin + across * span.v;
        rows.push_back({base + along * span.from, base + along * span.to});
    }
    return rows;
}

using Within = std::function<model::Stretches(const model::BodyId&, const Line3&)>;

// The parts of segments that cutaways leave.
std::vector<Segment3> left_of(const std::vector<Segment3>& segments, const std::vector<Cutaway>& cutaways,
                              const Within& within) {
    if (cutaways.empty()) {
        return segments;
    }
    std::vector<Segment3> left;
    for (const auto& [from, to] : segments) {
        const Vector3 way = to - from;
        const double length = way.length();
        if (length == 0) {
            continue;
        }
        const Line3 line{from, way * (1 / length)};
        for (const auto& [begin, end] : model::left_of(cutaways, line, within)) {
            if (begin < length && end > 0) {
                left.push_back({line.at(std::max(begin, 0.0)), line.at(std::min(end, length))});
            }
        }
    }
    return left;
}

// What may be seen of the cut in one plane of a cutaway: what lies between its other planes, and is not taken away by
// other cutaways.
std::vector<Cutaway> limits_in(const std::vector<Cutaway>& cutaways, size_t own) {
    std::vector<Cutaway> limits;
    for (size_t i = 0; i < cutaways.size(); ++i) {
        if (i != own) {
            limits.push_back(cutaways[i]);
        } else if (cutaways[i].form == Cutaway::Form::box) {
            Cutaway span = cutaways[i];
            span.keeps = true;
            for (double& size : span.size) {
                size *= 1 + 1e-9; // its own plane takes nothing of what lies in it
            }
            limits.push_back(span);
        }
    }
    return limits;
}

std::shared_ptr<const Mesh> mesh_of_rows(const std::vector<Segment3>& rows, const Vector3& across, double height) {
    auto mesh = std::make_shared<Mesh>();
    for (const auto& [from, to] : rows) {
        const auto first = static_cast<uint32_t>(mesh->nodes.size());
        for (const double side : {-0.5, 0.5}) {
            mesh->nodes.push_back(from + across * (side * height));
            mesh->nodes.push_back(to + across * (side * height));
        }
        mesh->triangles.push_back({first, first + 1, first + 3});
        mesh->triangles.push_back({first, first + 3, first + 2});
    }
    return mesh;
}

} // namespace

CapStyle cap_style(const model::Document& document, const Cutaway& cutaway, const model::BodyId& body, size_t place,
                   double size) {
    CapStyle style{cutaway.fill, Hatch::lines, size / (place % 4 < 2 ? 55 : 75), pi / 4};
    style.angle = place % 2 == 0 ? 3 * pi / 4 : pi / 4;
    if (const model::Material* material = model::material_of(document, body)) {
        style.color = style.color.empty() ? material->color : style.color;
        style.hatch = material->hatch;
    }
    return style;
}

Cap exact_cap(const model::BodyId& body, const model::CutFace& face, const CapStyle& style, double deflection) {
    Cap cap{body, face.letter, style.color, style.hatch == Hatch::filled, nullptr, {}, {}};
    geom::tessellate(face.face, {deflection, 0.3});
    cap.mesh = mesh_of(face.face, deflection, nullptr);
    const auto plane = geom::plane_of(face.face);
    const gp_Ax3 frame = plane ? geom::frame_on_plane(*plane) : gp_Ax3();
    cap.hatch = hatched(style, [&](double angle, double spacing, double shift) {
        if (!plane) { // steep lines, which are seen from all around
            const Vector3 across = Vector3(std::cos(angle), std::cos(angle), std::sin(angle)).unit();
            return lines_over(*cap.mesh, across, spacing);
        }
        const gp_Vec across =
            gp_Vec(frame.XDirection()) * -std::sin(angle) + gp_Vec(frame.YDirection()) * std::cos(angle);
        std::vector<Segment3> lines;
        for (const auto& [from, to] :
             geom::hatch_lines(face.face, frame.Translated(across * shift), spacing, angle, deflection)) {
            lines.push_back({geom::plain(from), geom::plain(to)});
        }
        return lines;
    });
    for (const Polyline3& line : lines_of(face.face, deflection)) {
        for (size_t i = 1; i < line.size(); ++i) {
            cap.outline.push_back({line[i - 1], line[i]});
        }
    }
    return cap;
}

std::vector<Cap> live_caps(const model::BodyId& id, const ShownBody& body, const std::vector<Cutaway>& cutaways,
                           const std::function<CapStyle(const Cutaway&)>& style, double fineness,
                           const Within& within) {
    std::vector<Cap> caps;
    for (size_t i = 0; i < cutaways.size(); ++i) {
        const CapStyle own = style(cutaways[i]);
        const auto limits = limits_in(cutaways, i);
        for (const Frame3& out : planes_of(cutaways[i])) {
            const Frame3 plane = geom::plain(geom::frame_on_plane(
                gp_Pln(geom::exact(out.origin), geom::exact_way(cutaways[i].keeps ? out.z : -out.z))));
            const auto border = passes_of(*body.mesh, plane);
            if (border.empty()) {
                continue;
            }
            Cap cap{id, cutaways[i].letter, own.color, own.hatch == Hatch::filled, nullptr, {}, {}};
            cap.outline = left_of(border, limits, within);
            if (body.substance == Substance::solid) {
                cap.mesh = mesh_of_rows(left_of(rows_within(border, plane, 0, fineness, 0), limits, within), plane.y,
                                        fineness);
                cap.hatch = hatched(own, [&](double angle, double spacing, double shift) {
                    return left_of(rows_within(border, plane, angle, spacing, shift), limits, within);
                });
            }
            caps.push_back(std::move(cap));
        }
    }
    return caps;
}

bool are_live(const std::vector<Cutaway>& cutaways, const std::string& dragged) {
    return model::find_cutaway(cutaways, dragged) != nullptr && model::by_planes_alone(cutaways);
}

model::Stretches inside_of(const ShownBody& body, const Line3& line) {
    const auto [from, to] = body.mesh->box.part_of(line);
    const double least = 1e-5 * (1 + body.mesh->box.diagonal());
    model::Stretches inside;
    double entered = 0;
    bool within = false;
    for (double at = from - least; at < to + least;) {
        const auto hit = body.tree->first_face(line, at, to + least);
        if (!hit) {
            break;
        }
        if (within && hit->from_inside) {
            inside.push_back({entered, hit->at});
        }
        entered = hit->from_inside ? entered : hit->at;
        within = !hit->from_inside;
        at = std::max(at, hit->at) + least;
    }
    return inside;
}

} // namespace kervo::scene
