#include "scene/shown_object.h"

#include "geom/kernel/space.h"
#include "scene/drawn.h"
#include "scene/zebra.h"

#include <Graphic3d_ArrayOfPoints.hxx>
#include <Graphic3d_AspectFillArea3d.hxx>
#include <Graphic3d_AspectLine3d.hxx>
#include <Graphic3d_AspectMarker3d.hxx>
#include <Graphic3d_Group.hxx>
#include <Prs3d_Presentation.hxx>

namespace kervo::scene {

Quantity_Color color_of(const std::string& hex) {
    Quantity_Color color;
    Quantity_Color::ColorFromHex(hex.c_str(), color);
    return color;
}

namespace {

using FaceStyle = Handle(Graphic3d_AspectFillArea3d);

FaceStyle fill_of(const Quantity_Color& color, double see_through) {
    Graphic3d_MaterialAspect material(Graphic3d_NameOfMaterial_UserDefined);
    material.SetAmbientColor(Quantity_Color(1, 1, 1, Quantity_TOC_RGB));
    material.SetDiffuseColor(Quantity_Color(1, 1, 1, Quantity_TOC_RGB));
    material.SetSpecularColor(Quantity_Color(0, 0, 0, Quantity_TOC_RGB));
    material.SetEmissiveColor(Quantity_Color(0, 0, 0, Quantity_TOC_RGB));
    material.SetShininess(0);
    material.SetColor(color);
    material.SetTransparency(static_cast<float>(see_through));
    FaceStyle fill = new Graphic3d_AspectFillArea3d();
    fill->SetInteriorStyle(Aspect_IS_SOLID);
    fill->SetInteriorColor(Quantity_ColorRGBA(color, static_cast<float>(1 - see_through)));
    fill->SetBackInteriorColor(Quantity_ColorRGBA(color, static_cast<float>(1 - see_through)));
    fill->SetFrontMaterial(material);
    fill->SetBackMaterial(material);
    return fill;
}

// Lit by no lamp: the very colour.
FaceStyle flat_fill_of(const Quantity_Color& color, double see_through) {
    FaceStyle fill = fill_of(color, see_through);
    fill->SetShadingModel(Graphic3d_TypeOfShadingModel_Unlit);
    return fill;
}

void add(const Handle(Prs3d_Presentation) & picture, const Handle(Graphic3d_ArrayOfTriangles) & triangles,
         const FaceStyle& fill, bool closed) {
    if (!triangles.IsNull()) {
        const Handle(Graphic3d_Group) faces = picture->NewGroup();
        faces->SetClosed(closed);
        faces->SetGroupPrimitivesAspect(fill);
        faces->AddPrimitiveArray(triangles);
    }
}

void add(const Handle(Prs3d_Presentation) & picture, const Handle(Graphic3d_ArrayOfSegments) & lines,
         const Quantity_Color& color, double width, Aspect_TypeOfLine type = Aspect_TOL_SOLID) {
    if (!lines.IsNull()) {
        const Handle(Graphic3d_Group) group = picture->NewGroup();
        group->SetGroupPrimitivesAspect(new Graphic3d_AspectLine3d(color, type, width));
        group->AddPrimitiveArray(lines);
    }
}

// The same triangles, in the colours of these values at their nodes; `full`: that of the last colour.
Handle(Graphic3d_ArrayOfTriangles)
    colored(const Handle(Graphic3d_ArrayOfTriangles) & triangles, const std::vector<double>& values, double full) {
    const int nodes = triangles->VertexNumber();
    Handle(Graphic3d_ArrayOfTriangles) made =
        new Graphic3d_ArrayOfTriangles(nodes, triangles->EdgeNumber(), Standard_True, Standard_True);
    for (int i = 1; i <= nodes; ++i) {
        const auto [red, green, blue] = scale_color(full > 0 ? values[static_cast<size_t>(i - 1)] / full : 0);
        made->AddVertex(triangles->Vertice(i), triangles->VertexNormal(i),
                        Quantity_Color(red, green, blue, Quantity_TOC_RGB));
    }
    for (int i = 1; i <= triangles->EdgeNumber(); ++i) {
        made->AddEdge(triangles->Edge(i));
    }
    return made;
}

} // namespace

// Edges are drawn in front of the faces that they bound.
void ShownObject::Compute(const Handle(PrsMgr_PresentationManager) & /*manager*/,
                          const Handle(Prs3d_Presentation) & picture, const Standard_Integer /*mode*/) {
    const bool opened = look_.drawn_opened();
    if (opened && !look_.opened->left) {
        return; // nothing is left
    }
    const ShownBody& body = opened ? *look_.opened->left : *look_.body;
    const Drawn& drawn = *body.drawn;
    const Quantity_Color edge = color_of(look_.edge);
    const auto style = [&](const Quantity_Color& color) {
        FaceStyle fill = fill_of(color, look_.see_through);
        fill->SetDrawSilhouette(true);
        fill->SetEdgeColor(edge);
        fill->SetEdgeWidth(look_.thick ? 2.4 : 1.4);
        fill->SetPolygonOffsets(Aspect_POM_Fill, 1.0F, 1.0F);
        if (look_.shading == Shading::zebra) {
            fill->SetShaderProgram(zebra_program());
        }
        return fill;
    };
    size_t part = 0; // of the body's triangles
    const auto drawn_so = [&](const Handle(Graphic3d_ArrayOfTriangles) & triangles) {
        const size_t index = part++;
        return look_.shading != Shading::curvature || triangles.IsNull()
                   ? triangles
                   : colored(triangles, body.curvature->values()[index], look_.scale);
    };
    const auto base = [&](const std::string& own) { // under the colours of curvature
        return look_.shading == Shading::curvature ? Quantity_Color(1, 1, 1, Quantity_TOC_RGB) : color_of(own);
    };
    if (!look_.edges_only) {
        add(picture, drawn_so(drawn.triangles), style(base(look_.color)), drawn.closed);
        for (const auto& [owner, triangles] : drawn.foreign) {
            if (model::is_cut_faces(owner)) {
                ++part;
                continue;
            }
            const auto own = look_.foreign.find(owner);
            add(picture, drawn_so(triangles), style(base(own == look_.foreign.end() ? look_.color : own->second)),
                drawn.closed);
        }
    }
    const bool only_lines = drawn.triangles.IsNull() && drawn.foreign.empty();
    const double width = look_.thick ? 2.6 : only_lines ? 2.0 : 1.5;
    add(picture, drawn.edges, edge, width);
    add(picture, drawn.smooth, edge, width * 0.4); // thin: one sees that the surface goes on
    add(picture, drawn.free, edge, width * 1.4, Aspect_TOL_DOTDASH);
}

void LitElement::add_faces(const Handle(Prs3d_Presentation) & picture, const Mesh::Range& range) const {
    FaceStyle fill = flat_fill_of(color_of(lit_.color), lit_.faint ? 0.9 : 0.7);
    fill->SetPolygonOffsets(Aspect_POM_Fill, 0.0F, 0.0F);
    add(picture, triangles_of(*lit_.body->mesh, range), fill, false);
}

void LitElement::add_lines(const Handle(Prs3d_Presentation) & picture, const std::vector<const Polyline3*>& lines,
                           double width) const {
    add(picture, segments_of(lines), color_of(lit_.color), width);
}

// Of an opened body: the faces that lie on what is lit up, with their edges.
void LitElement::add_left_of_faces(const Handle(Prs3d_Presentation) & picture) const {
    if (!opened_->left ||
        (lit_.element.kind != model::ElementKind::face && lit_.element.kind != model::ElementKind::body)) {
        return;
    }
    const Mesh& mesh = *opened_->left->mesh;
    std::vector<const Polyline3*> lines;
    for (size_t i = 0; i < opened_->sources.size(); ++i) {
        const bool lit = lit_.element.kind == model::ElementKind::body ? opened_->sources[i] >= 0
                                                                       : opened_->sources[i] == lit_.element.index;
        if (lit) {
            FaceStyle fill = flat_fill_of(color_of(lit_.color), lit_.faint ? 0.9 : 0.7);
            fill->SetPolygonOffsets(Aspect_POM_Fill, 0.0F, 0.0F);
            add(picture, triangles_of(mesh, mesh.faces[i]), fill, false);
            for (const int edge : opened_->left->elements->faces[i].edges) {
                lines.push_back(&mesh.edges[static_cast<size_t>(edge)]);
            }
        }
    }
    add_lines(picture, lines, 2.5);
}

void LitElement::Compute(const Handle(PrsMgr_PresentationManager) & /*manager*/,
                         const Handle(Prs3d_Presentation) & picture, const Standard_Integer /*mode*/) {
    if (opened_) {
        add_left_of_faces(picture);
        return;
    }
    const Mesh& mesh = *lit_.body->mesh;
    const auto index = static_cast<size_t>(lit_.element.index);
    std::vector<const Polyline3*> lines;
    switch (lit_.element.kind) {
    case model::ElementKind::face:
        add_faces(picture, mesh.faces[index]);
        for (const int edge : lit_.body->elements->faces[index].edges) {
            lines.push_back(&mesh.edges[static_cast<size_t>(edge)]);
        }
        add_lines(picture, lines, 2.5);
        break;
    case model::ElementKind::edge:
        add_lines(picture, {&mesh.edges[index]}, 4);
        break;
    case model::ElementKind::vertex: {
        const Handle(Graphic3d_ArrayOfPoints) point = new Graphic3d_ArrayOfPoints(1);
        point->AddVertex(geom::exact(mesh.vertices[index]));
        const Handle(Graphic3d_Group) group = picture->NewGroup();
        group->SetGroupPrimitivesAspect(new Graphic3d_AspectMarker3d(Aspect_TOM_BALL, color_of(lit_.color), 2.0));
        group->AddPrimitiveArray(point);
        break;
    }
    case model::ElementKind::body:
        add_faces(picture, {0, static_cast<uint32_t>(mesh.triangles.size())});
        for (const Polyline3& edge : mesh.edges) {
            lines.push_back(&edge);
        }
        add_lines(picture, lines, 2.5);
        break;
    }
}

void LineBundle::Compute(const Handle(PrsMgr_PresentationManager) & /*manager*/,
                         const Handle(Prs3d_Presentation) & picture, const Standard_Integer /*mode*/) {
    if (lines_.empty()) {
        return;
    }
    const Handle(Graphic3d_ArrayOfSegments) segments =
        new Graphic3d_ArrayOfSegments(static_cast<int>(lines_.size()) * 2);
    for (const Segment3& line : lines_) {
        segments->AddVertex(geom::exact(line[0]));
        segments->AddVertex(geom::exact(line[1]));
    }
    add(picture, segments, color_, width_);
}

void CapFill::Compute(const Handle(PrsMgr_PresentationManager) & /*manager*/,
                      const Handle(Prs3d_Presentation) & picture, const Standard_Integer /*mode*/) {
    FaceStyle fill = flat_fill_of(color_, 0);
    fill->SetPolygonOffsets(Aspect_POM_Fill, 1.0F, 1.0F);
    add(picture, triangles_of(*mesh_, {0, static_cast<uint32_t>(mesh_->triangles.size())}), fill, false);
}

} // namespace kervo::scene
