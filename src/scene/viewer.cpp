#include "scene/viewer.h"

#include "geom/measure/measure.h"
#include "scene/line_bundle.h"

#include <AIS_InteractiveContext.hxx>
#include <AIS_Shape.hxx>
#include <Aspect_DisplayConnection.hxx>
#include <Aspect_NeutralWindow.hxx>
#include <Graphic3d_ClipPlane.hxx>
#include <OpenGl_Context.hxx>
#include <OpenGl_FrameBuffer.hxx>
#include <OpenGl_GraphicDriver.hxx>
#include <OpenGl_View.hxx>
#include <OpenGl_Window.hxx>
#include <Prs3d_LineAspect.hxx>
#include <Prs3d_PointAspect.hxx>
#include <Prs3d_ShadingAspect.hxx>
#include <SelectMgr_ViewerSelector.hxx>
#include <StdSelect_BRepOwner.hxx>
#include <V3d_AmbientLight.hxx>
#include <V3d_DirectionalLight.hxx>
#include <V3d_View.hxx>
#include <V3d_Viewer.hxx>

#include <GL/glx.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::scene {

namespace {

Quantity_Color color_of(const std::string& hex) {
    Quantity_Color color;
    Quantity_Color::ColorFromHex(hex.c_str(), color);
    return color;
}

// The framebuffer belongs to the window's toolkit, which does not convert colours.
class BorrowedFrameBuffer : public OpenGl_FrameBuffer {
public:
    void BindBuffer(const Handle(OpenGl_Context) & context) override {
        OpenGl_FrameBuffer::BindBuffer(context);
        context->SetFrameBufferSRGB(true, false);
    }
    void BindDrawBuffer(const Handle(OpenGl_Context) & context) override {
        OpenGl_FrameBuffer::BindDrawBuffer(context);
        context->SetFrameBufferSRGB(true, false);
    }
    void BindReadBuffer(const Handle(OpenGl_Context) & context) override {
        OpenGl_FrameBuffer::BindReadBuffer(context);
    }
};

Graphic3d_MaterialAspect matte() {
    Graphic3d_MaterialAspect material(Graphic3d_NameOfMaterial_UserDefined);
    material.SetAmbientColor(Quantity_Color(1, 1, 1, Quantity_TOC_RGB));
    material.SetDiffuseColor(Quantity_Color(1, 1, 1, Quantity_TOC_RGB));
    material.SetSpecularColor(Quantity_Color(0, 0, 0, Quantity_TOC_RGB));
    material.SetEmissiveColor(Quantity_Color(0, 0, 0, Quantity_TOC_RGB));
    material.SetShininess(0);
    return material;
}

model::ElementKind kind_of(const TopoDS_Shape& element) {
    return element.ShapeType() == TopAbs_VERTEX ? model::ElementKind::vertex
           : element.ShapeType() == TopAbs_EDGE ? model::ElementKind::edge
                                                : model::ElementKind::face;
}

// A body whose triangles were made off the window's thread: they only need to be handed over.
class PreparedShape : public AIS_Shape {
public:
    PreparedShape(const TopoDS_Shape& shape, const BodyLook& look)
        : AIS_Shape(shape), drawn_(look.drawn), foreign_(look.foreign), edges_only_(look.edges_only) {}
    DEFINE_STANDARD_RTTI_INLINE(PreparedShape, AIS_Shape)

protected:
    void Compute(const Handle(PrsMgr_PresentationManager) & manager, const Handle(Prs3d_Presentation) & picture,
                 const Standard_Integer mode) override {
        if (mode != AIS_Shaded || !drawn_ || (drawn_->triangles.IsNull() && drawn_->foreign.empty())) {
            AIS_Shape::Compute(manager, picture, mode);
            return;
        }
        if (!edges_only_) {
            add_all_faces(picture);
        }
        if (!drawn_->edges.IsNull()) {
            const Handle(Graphic3d_Group) edges = picture->NewGroup();
            edges->SetGroupPrimitivesAspect(myDrawer->FaceBoundaryAspect()->Aspect());
            edges->AddPrimitiveArray(drawn_->edges);
        }
        if (!drawn_->smooth.IsNull()) { // thin: one sees that the surface goes on
            const Handle(Graphic3d_AspectLine3d) sharp = myDrawer->FaceBoundaryAspect()->Aspect();
            const Handle(Graphic3d_Group) smooth = picture->NewGroup();
            smooth->SetGroupPrimitivesAspect(
                new Graphic3d_AspectLine3d(sharp->Color(), Aspect_TOL_SOLID, sharp->Width() * 0.4F));
            smooth->AddPrimitiveArray(drawn_->smooth);
        }
    }

private:
    void add_all_faces(const Handle(Prs3d_Presentation) & picture) const {
        add_faces(picture, drawn_->triangles, myDrawer->ShadingAspect()->Aspect());
        for (const auto& [owner, triangles] : drawn_->foreign) {
            const Handle(Graphic3d_AspectFillArea3d) aspect =
                new Graphic3d_AspectFillArea3d(*myDrawer->ShadingAspect()->Aspect());
            if (const auto color = foreign_.find(owner); color != foreign_.end()) {
                const Quantity_Color own = color_of(color->second);
                aspect->SetInteriorColor(own);
                Graphic3d_MaterialAspect material = aspect->FrontMaterial();
                material.SetColor(own);
                aspect->SetFrontMaterial(material);
                aspect->SetBackMaterial(material);
            }
            add_faces(picture, triangles, aspect);
        }
    }
    void add_faces(const Handle(Prs3d_Presentation) & picture, const Handle(Graphic3d_ArrayOfTriangles) & triangles,
                   const Handle(Graphic3d_AspectFillArea3d) & aspect) const {
        if (!triangles.IsNull()) {
            const Handle(Graphic3d_Group) faces = picture->NewGroup();
            faces->SetClosed(drawn_->closed);
            faces->SetGroupPrimitivesAspect(aspect);
            faces->AddPrimitiveArray(triangles);
        }
    }

    DrawnPtr drawn_;
    std::map<model::BodyId, std::string> foreign_;
    bool edges_only_;
};

} // namespace

struct Viewer::Content {
    Handle(OpenGl_GraphicDriver) driver;
    Handle(V3d_Viewer) viewer;
    Handle(V3d_View) view;
    Handle(AIS_InteractiveContext) context;
    Handle(Graphic3d_ClipPlane) clip;
    Handle(V3d_AmbientLight) sky;
    Handle(V3d_DirectionalLight) sun, front;
    struct Shown {
        BodyLook look;
        Handle(AIS_Shape) object;
        bool pickable = false;
    };
    std::map<model::BodyId, Shown> bodies;
    std::vector<Handle(AIS_InteractiveObject)> highlights;
    std::vector<Handle(AIS_InteractiveObject)> caps;
    Paper paper{"#f6f2e8", "#1e2a33", "#f3e9d2", false};
    int width = 1;
    int height = 1;
    unsigned long native_window = 0;
    bool drawn_by_processor = false; ///< no graphics card: smoothing costs as much as everything else together

    void attach_window() {
        // The context is the toolkit's. It may be current on an off-screen surface, but the kernel's viewer asks for
        // the visual of a real window, so it gets the one around the widget.
        Handle(Aspect_NeutralWindow) window = new Aspect_NeutralWindow();
        window->SetNativeHandle(static_cast<Aspect_Drawable>(native_window));
        window->SetSize(width, height);
        view->SetWindow(window, reinterpret_cast<Aspect_RenderingContext>(glXGetCurrentContext()));
    }

    // A sky from all around, the sun from above, and a little light from the front.
    void make_lights() {
        sky = new V3d_AmbientLight(Quantity_NOC_WHITE);
        sun = new V3d_DirectionalLight(gp_Dir(0.12, 0.3, -1), Quantity_NOC_WHITE);
        front = new V3d_DirectionalLight(gp_Dir(-0.6, 0.9, 0.15), Quantity_NOC_WHITE);
        for (const Handle(V3d_Light) & light :
             {Handle(V3d_Light)(sky), Handle(V3d_Light)(sun), Handle(V3d_Light)(front)}) {
            viewer->AddLight(light);
            viewer->SetLightOn(light);
        }
    }

    // The strength of a directional light is its colour; the kernel's viewer uses intensities for the sky alone.
    void set_lights() const {
        const auto grey = [](double v) { return Quantity_Color(v, v, v, Quantity_TOC_RGB); };
        sky->SetIntensity(1.0F);
        sun->SetColor(grey(paper.dark ? 0.5 : 0.46));
        front->SetColor(grey(0.22));
    }

    void style(const Handle(AIS_Shape) & object, const BodyLook& look) const {
        object->SetMaterial(matte());
        object->SetColor(color_of(look.color));
        object->SetTransparency(look.see_through);
        const Handle(Prs3d_Drawer)& drawer = object->Attributes();
        drawer->SetFaceBoundaryDraw(Standard_True);
        drawer->SetFaceBoundaryUpperContinuity(GeomAbs_C0); // no seams and no lines where faces run into each other
        drawer->SetWireAspect(new Prs3d_LineAspect(color_of(look.edge), Aspect_TOL_SOLID, look.thick ? 2.6 : 2.0));
        drawer->SetFaceBoundaryAspect(
            new Prs3d_LineAspect(color_of(look.edge), Aspect_TOL_SOLID, look.thick ? 2.6 : 1.5));
        drawer->SetAutoTriangulation(Standard_False); // triangles are made off the window's thread
        const Handle(Graphic3d_AspectFillArea3d)& fill = drawer->ShadingAspect()->Aspect();
        fill->SetDrawSilhouette(Standard_True);
        fill->SetEdgeColor(color_of(look.edge));
        fill->SetEdgeWidth(look.thick ? 2.4 : 1.4);
        object->SetPolygonOffsets(Aspect_POM_Fill, 1.0F, 1.0F);
    }

    void clip_one(const Handle(AIS_InteractiveObject) & object, bool clipped) const {
        if (!clip.IsNull()) {
            object->RemoveClipPlane(clip);
            if (clipped) {
                object->AddClipPlane(clip);
            }
        }
    }

    void show(const BodyLook& look) {
        Handle(AIS_Shape) object = new PreparedShape(look.body->shape, look);
        style(object, look);
        clip_one(object, look.clipped);
        const bool bare = look.edges_only && !look.drawn;
        context->Display(object, bare ? AIS_WireFrame : AIS_Shaded, -1, Standard_False);
        context->Load(object); // without it, none of its parts could be picked later
        bodies[look.id] = {look, object, false};
    }

    // What can be picked is told to the kernel when something is: for thousands of faces it takes its time, which must
    // not be spent for each keystroke in a card.
    void make_pickable() {
        for (auto& [id, shown] : bodies) {
            if (!shown.pickable && shown.look.pickable) {
                for (const TopAbs_ShapeEnum kind : {TopAbs_FACE, TopAbs_EDGE, TopAbs_VERTEX}) {
                    context->Activate(shown.object, AIS_Shape::SelectionMode(kind));
                }
                shown.pickable = true;
            }
        }
    }

    void remove_all(std::vector<Handle(AIS_InteractiveObject)>& objects) const {
        for (const auto& object : objects) {
            context->Remove(object, Standard_False);
        }
        objects.clear();
    }

    [[nodiscard]] model::BodyId body_of(const Handle(SelectMgr_SelectableObject) & object) const {
        for (const auto& [id, shown] : bodies) {
            if (shown.object == object) {
                return id;
            }
        }
        return {};
    }
};

namespace {
bool must_be_made_anew(const BodyLook& before, const BodyLook& now) {
    return before.body != now.body || before.foreign != now.foreign || before.edges_only != now.edges_only ||
           before.pickable != now.pickable;
}

// The kernel's own SideRight points to the left.
gp_Dir right_of(const Handle(Graphic3d_Camera) & camera) {
    return gp_Vec(camera->Direction()).Crossed(gp_Vec(camera->OrthogonalizedUp()));
}
} // namespace

Viewer::Viewer() : content_(std::make_unique<Content>()) {}
Viewer::~Viewer() = default;

bool Viewer::attach(unsigned long native_window, int width, int height) {
    Content& c = *content_;
    c.native_window = native_window;
    c.width = width;
    c.height = height;
    auto* display = reinterpret_cast<Aspect_XDisplay*>(glXGetCurrentDisplay());
    if (display == nullptr) {
        return false;
    }
    if (!c.view.IsNull()) {
        c.attach_window(); // the toolkit has made its context anew
        return true;
    }
    c.driver = new OpenGl_GraphicDriver(new Aspect_DisplayConnection(display), Standard_False);
    c.driver->ChangeOptions().buffersNoSwap = Standard_True;
    c.driver->ChangeOptions().buffersOpaqueAlpha = Standard_True;
    c.driver->ChangeOptions().useSystemBuffer = Standard_False;
    c.driver->ChangeOptions().sRGBDisable = Standard_True;
    c.viewer = new V3d_Viewer(c.driver);
    c.make_lights();
    c.context = new AIS_InteractiveContext(c.viewer);
    c.context->SetPixelTolerance(5);
    c.view = c.viewer->CreateView();
    const auto* renderer = reinterpret_cast<const char*>(glGetString(GL_RENDERER));
    c.drawn_by_processor = renderer != nullptr && std::string(renderer).find("llvmpipe") != std::string::npos;
    c.view->SetImmediateUpdate(Standard_False);
    c.view->Camera()->SetProjectionType(Graphic3d_Camera::Projection_Orthographic);
    c.attach_window();
    set_paper(c.paper);
    look_from(LookFrom::corner);
    return true;
}

void Viewer::paint(int width, int height, bool in_haste) {
    Content& c = *content_;
    if (c.view.IsNull()) {
        return;
    }
    const Handle(OpenGl_View) gl_view = Handle(OpenGl_View)::DownCast(c.view->View());
    const Handle(OpenGl_Context) gl = gl_view->GlWindow()->GetGlContext();
    Handle(OpenGl_FrameBuffer) frame = gl->DefaultFrameBuffer();
    if (frame.IsNull()) {
        frame = new BorrowedFrameBuffer();
        gl->SetDefaultFrameBuffer(frame);
    }
    frame->InitWrapper(gl);
    if (width != c.width || height != c.height) {
        c.width = width;
        c.height = height;
        Handle(Aspect_NeutralWindow)::DownCast(c.view->Window())->SetSize(width, height);
        c.view->MustBeResized();
    }
    c.view->ChangeRenderingParams().NbMsaaSamples = c.drawn_by_processor && in_haste ? 0 : 4;
    c.view->Invalidate();
    c.view->Redraw();
}

void Viewer::set_paper(const Paper& paper) {
    content_->paper = paper;
    if (!content_->view.IsNull()) {
        content_->view->SetBackgroundColor(color_of(paper.background));
        content_->set_lights();
    }
}

void Viewer::set_bodies(const std::vector<BodyLook>& bodies) {
    Content& c = *content_;
    std::set<model::BodyId> wanted;
    for (const BodyLook& look : bodies) {
        wanted.insert(look.id);
        const auto shown = c.bodies.find(look.id);
        if (shown == c.bodies.end()) {
            c.show(look);
        } else if (must_be_made_anew(shown->second.look, look)) {
            c.context->Remove(shown->second.object, Standard_False);
            c.show(look);
        } else if (!(shown->second.look == look)) {
            c.style(shown->second.object, look);
            c.clip_one(shown->second.object, look.clipped);
            c.context->Redisplay(shown->second.object, Standard_False);
            shown->second.look = look;
        }
    }
    for (auto it = c.bodies.begin(); it != c.bodies.end();) {
        if (wanted.contains(it->first)) {
            ++it;
        } else {
            c.context->Remove(it->second.object, Standard_False);
            it = c.bodies.erase(it);
        }
    }
}

void Viewer::set_highlights(const std::vector<Highlight>& highlights) {
    Content& c = *content_;
    c.remove_all(c.highlights);
    for (const Highlight& highlight : highlights) {
        Handle(AIS_Shape) object = new AIS_Shape(highlight.element);
        const bool face = highlight.element.ShapeType() <= TopAbs_FACE;
        object->SetMaterial(matte());
        object->SetColor(color_of(highlight.color));
        object->Attributes()->SetAutoTriangulation(Standard_False);
        if (face) {
            object->SetTransparency(highlight.faint ? 0.9 : 0.7);
            object->Attributes()->SetFaceBoundaryDraw(Standard_True);
            object->Attributes()->SetFaceBoundaryUpperContinuity(GeomAbs_C0);
            object->Attributes()->SetFaceBoundaryAspect(
                new Prs3d_LineAspect(color_of(highlight.color), Aspect_TOL_SOLID, 2.5));
            object->SetPolygonOffsets(Aspect_POM_Fill, 0.0F, 0.0F);
        } else {
            object->SetWidth(4);
            object->Attributes()->SetPointAspect(
                new Prs3d_PointAspect(Aspect_TOM_BALL, color_of(highlight.color), 2.0));
        }
        c.clip_one(object, !c.clip.IsNull() && c.clip->IsOn());
        c.context->Display(object, face ? AIS_Shaded : AIS_WireFrame, -1, Standard_False);
        c.highlights.emplace_back(object);
    }
}

void Viewer::set_cutaway(const std::optional<model::Cutaway>& cutaway, const std::vector<Cap>& caps) {
    Content& c = *content_;
    c.remove_all(c.caps);
    if (c.clip.IsNull()) {
        c.clip = new Graphic3d_ClipPlane();
        c.clip->SetCapping(Standard_False);
        for (auto& [id, shown] : c.bodies) {
            c.clip_one(shown.object, shown.look.clipped);
        }
    }
    c.clip->SetOn(cutaway.has_value());
    if (!cutaway) {
        return;
    }
    const gp_Dir normal(cutaway->normal[0], cutaway->normal[1], cutaway->normal[2]);
    c.clip->SetEquation(gp_Pln(gp_Pnt(cutaway->origin[0], cutaway->origin[1], cutaway->origin[2]), normal.Reversed()));
    for (const Cap& cap : caps) {
        Handle(AIS_Shape) fill = new AIS_Shape(cap.face);
        const auto body = c.bodies.find(cap.body);
        Quantity_Color tint = color_of(c.paper.cap);
        if (body != c.bodies.end()) {
            const Quantity_Color own = color_of(body->second.look.color);
            tint = Quantity_Color(tint.Red() * 0.6 + own.Red() * 0.4, tint.Green() * 0.6 + own.Green() * 0.4,
                                  tint.Blue() * 0.6 + own.Blue() * 0.4, Quantity_TOC_RGB);
        }
        fill->SetMaterial(matte());
        fill->SetColor(tint);
        fill->Attributes()->SetAutoTriangulation(Standard_False);
        fill->Attributes()->ShadingAspect()->Aspect()->SetShadingModel(Graphic3d_TypeOfShadingModel_Unlit);
        fill->SetPolygonOffsets(Aspect_POM_Fill, 1.0F, 1.0F);
        c.context->Display(fill, AIS_Shaded, -1, Standard_False);
        c.caps.emplace_back(fill);
        for (const auto& [lines, width] : {std::pair(&cap.hatch, 1.0), std::pair(&cap.outline, 2.0)}) {
            Handle(LineBundle) bundle = new LineBundle(*lines, color_of(c.paper.ink), width);
            c.context->Display(bundle, 0, -1, Standard_False);
            c.caps.emplace_back(bundle);
        }
    }
}

void Viewer::fit() {
    Content& c = *content_;
    Bnd_Box box;
    for (const auto& [id, shown] : c.bodies) {
        box.Add(geom::bounds_of(shown.look.body->shape));
    }
    if (box.IsVoid()) {
        box.Update(-60, -60, -20, 60, 60, 60);
    }
    c.view->FitAll(box, 0.12, Standard_False);
}

void Viewer::look_along(const gp_Dir& direction, const gp_Dir& up) {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    const gp_Pnt center = camera->Center();
    const double distance = camera->Distance();
    camera->SetUp(up);
    camera->SetEyeAndCenter(center.Translated(gp_Vec(direction) * -distance), center);
    camera->OrthogonalizeUp();
}

void Viewer::look_from(LookFrom from) {
    const gp_Dir z(0, 0, 1);
    switch (from) {
    case LookFrom::top:
        look_along(gp_Dir(0, 0, -1), gp_Dir(0, 1, 0));
        break;
    case LookFrom::under:
        look_along(gp_Dir(0, 0, 1), gp_Dir(0, 1, 0));
        break;
    case LookFrom::front:
        look_along(gp_Dir(0, 1, 0), z);
        break;
    case LookFrom::back:
        look_along(gp_Dir(0, -1, 0), z);
        break;
    case LookFrom::right:
        look_along(gp_Dir(-1, 0, 0), z);
        break;
    case LookFrom::left:
        look_along(gp_Dir(1, 0, 0), z);
        break;
    case LookFrom::corner:
        look_along(gp_Dir(-1, 1.2, -1), z);
        break;
    case LookFrom::corner_below:
        look_along(gp_Dir(-1, 1.2, 0.9), z);
        break;
    }
}

void Viewer::turn(double sideways, double upwards) {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    const gp_Pnt center = camera->Center();
    gp_Trsf about_z;
    about_z.SetRotation(gp_Ax1(center, gp_Dir(0, 0, 1)), sideways);
    camera->Transform(about_z);
    // Never past straight up or down, so that up stays up.
    const double elevation = std::asin(std::clamp(-camera->Direction().Z(), -1.0, 1.0));
    const double wanted = std::clamp(elevation + upwards, -std::numbers::pi / 2, std::numbers::pi / 2);
    gp_Trsf about_side;
    about_side.SetRotation(gp_Ax1(center, right_of(camera)), elevation - wanted);
    camera->Transform(about_side);
}

void Viewer::pan(double dx, double dy) {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    const double mm = 1 / pixels_per_mm();
    const gp_Dir side = right_of(camera);
    gp_Trsf shift;
    shift.SetTranslation(gp_Vec(side) * (-dx * mm) + gp_Vec(camera->Up()) * (dy * mm));
    camera->Transform(shift);
}

void Viewer::zoom(double factor, double x, double y) {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    const double dx = x - content_->width / 2.0;
    const double dy = y - content_->height / 2.0;
    pan(-dx, -dy);
    camera->SetScale(std::clamp(camera->Scale() / factor, 1e-3, 1e7));
    pan(dx, dy);
}

double Viewer::pixels_per_mm() const {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    return content_->height / camera->ViewDimensions().Y();
}

std::array<double, 2> Viewer::project(const gp_Pnt& point) const {
    const gp_Pnt place = content_->view->Camera()->Project(point);
    return {(place.X() + 1) / 2 * content_->width, (1 - place.Y()) / 2 * content_->height};
}

gp_Lin Viewer::ray(double x, double y) const {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    const gp_Pnt on_screen(2 * x / content_->width - 1, 1 - 2 * y / content_->height, -1);
    return {camera->UnProject(on_screen), camera->Direction()};
}

gp_Dir Viewer::looking_along() const {
    return content_->view->Camera()->Direction();
}

std::optional<Picked> Viewer::pick(double x, double y, const std::set<model::ElementKind>& accepted) const {
    Content& c = *content_;
    if (c.view.IsNull()) {
        return std::nullopt;
    }
    c.make_pickable();
    const Handle(StdSelect_ViewerSelector3d) selector = c.context->MainSelector();
    selector->Pick(static_cast<int>(x), static_cast<int>(y), c.view);
    const gp_Lin line = ray(x, y);
    const auto depth_of = [&](int i) {
        return gp_Vec(line.Location(), selector->PickedPoint(i)).Dot(gp_Vec(line.Direction()));
    };
    double nearest_face = std::numeric_limits<double>::infinity();
    for (int i = 1; i <= selector->NbPicked(); ++i) {
        const Handle(StdSelect_BRepOwner) owner = Handle(StdSelect_BRepOwner)::DownCast(selector->Picked(i));
        if (!owner.IsNull() && owner->Shape().ShapeType() == TopAbs_FACE) {
            nearest_face = std::min(nearest_face, depth_of(i));
        }
    }
    // An edge or vertex counts where it is not behind the face in front; within the pick radius it lies a little
    // deeper.
    const double slack = 8 / pixels_per_mm();
    std::optional<Picked> best;
    int best_rank = -1;
    double best_depth = 0;
    for (int i = 1; i <= selector->NbPicked(); ++i) {
        const Handle(StdSelect_BRepOwner) owner = Handle(StdSelect_BRepOwner)::DownCast(selector->Picked(i));
        if (owner.IsNull()) {
            continue;
        }
        const model::ElementKind kind = kind_of(owner->Shape());
        const bool wanted = accepted.contains(kind) ||
                            (kind == model::ElementKind::face && accepted.contains(model::ElementKind::body));
        const double depth = depth_of(i);
        const int rank = static_cast<int>(kind);
        if (!wanted || depth > nearest_face + (kind == model::ElementKind::face ? 1e-6 : slack)) {
            continue;
        }
        if (rank > best_rank || (rank == best_rank && depth < best_depth)) {
            best = Picked{c.body_of(owner->Selectable()), owner->Shape(), selector->PickedPoint(i)};
            best_rank = rank;
            best_depth = depth;
        }
    }
    return best && !best->body.empty() ? best : std::nullopt;
}

} // namespace kervo::scene
