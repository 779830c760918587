#include "scene/viewer.h"

#include "geom/kernel/space.h"
#include "scene/clips.h"
#include "scene/shown_object.h"

#include <AIS_InteractiveContext.hxx>
#include <Aspect_DisplayConnection.hxx>
#include <Aspect_NeutralWindow.hxx>
#include <OpenGl_Context.hxx>
#include <OpenGl_FrameBuffer.hxx>
#include <OpenGl_GraphicDriver.hxx>
#include <OpenGl_View.hxx>
#include <OpenGl_Window.hxx>
#include <V3d_AmbientLight.hxx>
#include <V3d_DirectionalLight.hxx>
#include <V3d_View.hxx>
#include <V3d_Viewer.hxx>

#include <GL/glx.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <tuple>

namespace kervo::scene {

namespace {

constexpr double pick_radius = 5; // pixels

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

} // namespace

namespace {

Quantity_Color mixed(const Quantity_Color& a, const Quantity_Color& b, double share) {
    const auto mix = [&](double one, double other) { return one * (1 - share) + other * share; };
    return {mix(a.Red(), b.Red()), mix(a.Green(), b.Green()), mix(a.Blue(), b.Blue()), Quantity_TOC_RGB};
}

} // namespace

struct Viewer::Content {
    Handle(OpenGl_GraphicDriver) driver;
    Handle(V3d_Viewer) viewer;
    Handle(V3d_View) view;
    Handle(AIS_InteractiveContext) context;
    ShownBodies cutting; ///< bodies that cutaways cut with
    Handle(V3d_AmbientLight) sky;
    Handle(V3d_DirectionalLight) sun, front;
    struct Shown {
        BodyLook look;
        Handle(ShownObject) object;
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

    [[nodiscard]] model::Stretches left_of(const BodyLook& look, const Line3& line) const {
        return model::left_of(look.cutaways, line, [this](const model::BodyId& id, const Line3& through) {
            const auto body = find_body(cutting, id);
            return body ? inside_of(*body, through) : model::Stretches{};
        });
    }

    [[nodiscard]] const Shown* find_shown(const ShownBodyPtr& body) const {
        const auto at =
            std::find_if(bodies.begin(), bodies.end(), [&](const auto& each) { return each.second.look.body == body; });
        return at == bodies.end() ? nullptr : &at->second;
    }

    void show(const BodyLook& look) {
        Handle(ShownObject) object = new ShownObject(look);
        object->SetClipPlanes(clips_of(look));
        context->Display(object, 0, -1, Standard_False);
        bodies[look.id] = {look, object};
    }

    void remove_all(std::vector<Handle(AIS_InteractiveObject)>& objects) const {
        for (const auto& object : objects) {
            context->Remove(object, Standard_False);
        }
        objects.clear();
    }
};

namespace {
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
        } else if (!(shown->second.look == look)) {
            BodyLook moved = shown->second.look; // planes cut it off elsewhere: nothing is drawn anew
            moved.cutaways = look.cutaways;
            const bool anew = !(moved == look) || look.drawn_opened() != shown->second.look.drawn_opened();
            shown->second.object->set_look(look);
            shown->second.object->SetClipPlanes(clips_of(look));
            shown->second.look = look;
            if (anew) {
                c.context->Redisplay(shown->second.object, Standard_False);
            }
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
        if (highlight.body) {
            const Content::Shown* shown = c.find_shown(highlight.body);
            const bool opened = shown != nullptr && shown->look.drawn_opened();
            Handle(LitElement) object = new LitElement(highlight, opened ? shown->look.opened : std::nullopt);
            if (shown != nullptr) {
                object->SetClipPlanes(clips_of(shown->look));
            }
            c.context->Display(object, 0, -1, Standard_False);
            c.highlights.emplace_back(object);
        }
    }
}

void Viewer::set_caps(const std::vector<Cap>& caps, const ShownBodies& cutting) {
    Content& c = *content_;
    c.remove_all(c.caps);
    c.cutting = cutting;
    for (const Cap& cap : caps) {
        const auto body = c.bodies.find(cap.body);
        const Quantity_Color ink = color_of(c.paper.ink);
        Quantity_Color tint = color_of(c.paper.cap);
        if (body != c.bodies.end()) {
            tint = mixed(tint, color_of(cap.color.empty() ? body->second.look.color : cap.color),
                         cap.color.empty() || c.paper.dark ? 0.4 : 0.8);
        }
        if (cap.mesh) {
            Handle(CapFill) fill = new CapFill(cap.mesh, cap.inked ? mixed(tint, ink, 0.65) : tint);
            c.context->Display(fill, 0, -1, Standard_False);
            c.caps.emplace_back(fill);
        }
        for (const auto& [lines, width] : {std::pair(&cap.hatch, 1.0), std::pair(&cap.outline, 2.0)}) {
            Handle(LineBundle) bundle = new LineBundle(*lines, ink, width);
            c.context->Display(bundle, 0, -1, Standard_False);
            c.caps.emplace_back(bundle);
        }
    }
}

void Viewer::fit() {
    Content& c = *content_;
    Box3 box;
    for (const auto& [id, shown] : c.bodies) {
        box.add(shown.look.body->box);
    }
    if (box.empty()) {
        box = {{-60, -60, -20}, {60, 60, 60}};
    }
    c.view->FitAll(Bnd_Box(geom::exact(box.low), geom::exact(box.high)), 0.12, Standard_False);
}

void Viewer::look_along(const Vector3& direction, const Vector3& up) {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    const gp_Pnt center = camera->Center();
    const double distance = camera->Distance();
    camera->SetUp(geom::exact_way(up));
    camera->SetEyeAndCenter(center.Translated(gp_Vec(geom::exact_way(direction)) * -distance), center);
    camera->OrthogonalizeUp();
}

void Viewer::look_from(LookFrom from) {
    const Vector3 z(0, 0, 1);
    switch (from) {
    case LookFrom::top:
        look_along({0, 0, -1}, {0, 1, 0});
        break;
    case LookFrom::under:
        look_along({0, 0, 1}, {0, 1, 0});
        break;
    case LookFrom::front:
        look_along({0, 1, 0}, z);
        break;
    case LookFrom::back:
        look_along({0, -1, 0}, z);
        break;
    case LookFrom::right:
        look_along({-1, 0, 0}, z);
        break;
    case LookFrom::left:
        look_along({1, 0, 0}, z);
        break;
    case LookFrom::corner:
        look_along({-1, 1.2, -1}, z);
        break;
    case LookFrom::corner_below:
        look_along({-1, 1.2, 0.9}, z);
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

Camera Viewer::camera() const {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    return {geom::plain(camera->Center()), geom::plain(camera->Direction()), geom::plain(camera->OrthogonalizedUp()),
            camera->ViewDimensions().Y()};
}

void Viewer::set_camera(const Camera& wanted) {
    look_along(wanted.along, wanted.up);
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    camera->MoveEyeTo(geom::exact(wanted.middle - wanted.along * camera->Distance()));
    camera->SetScale(camera->Scale() * wanted.height / camera->ViewDimensions().Y());
}

double Viewer::pixels_per_mm() const {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    return content_->height / camera->ViewDimensions().Y();
}

std::array<double, 2> Viewer::project(const Point3& point) const {
    const gp_Pnt place = content_->view->Camera()->Project(geom::exact(point));
    return {(place.X() + 1) / 2 * content_->width, (1 - place.Y()) / 2 * content_->height};
}

Line3 Viewer::ray(double x, double y) const {
    const Handle(Graphic3d_Camera)& camera = content_->view->Camera();
    const gp_Pnt on_screen(2 * x / content_->width - 1, 1 - 2 * y / content_->height, -1);
    return {geom::plain(camera->UnProject(on_screen)), geom::plain(camera->Direction())};
}

Vector3 Viewer::looking_along() const {
    return geom::plain(content_->view->Camera()->Direction());
}

std::optional<Picked> Viewer::pick(double x, double y, const std::set<model::ElementKind>& accepted) const {
    const Content& c = *content_;
    if (c.view.IsNull()) {
        return std::nullopt;
    }
    using Kind = model::ElementKind;
    const Line3 line = ray(x, y);
    const double reach = pick_radius / pixels_per_mm();
    struct Seen {
        const BodyLook* look;
        model::Stretches parts; ///< of the line
    };
    std::vector<Seen> passed;
    std::optional<Picked> face;
    double depth = std::numeric_limits<double>::infinity(); // of that
    for (const auto& [id, shown] : c.bodies) {
        Box3 box = shown.look.body->mesh->box;
        box.enlarge(reach);
        const auto part = box.part_of(line);
        if (!shown.look.pickable || part[0] > part[1]) {
            continue;
        }
        passed.push_back({&shown.look, c.left_of(shown.look, line)});
        const bool solid = shown.look.body->substance == Substance::solid && !shown.look.cutaways.empty();
        for (const auto& [from, to] : passed.back().parts) {
            const auto hit =
                from < depth ? shown.look.body->tree->first_face(line, from, std::min(to, depth)) : std::nullopt;
            // What is left through the far side was entered through a face that a cutaway cut.
            if (hit && solid && hit->from_inside && std::isfinite(from)) {
                depth = from;
                face = Picked{id, {Kind::body, 0}, line.at(from), true};
            } else if (hit && hit->at < depth) {
                depth = hit->at;
                face = Picked{id, {Kind::face, hit->face}, line.at(hit->at)};
            }
            if (hit) {
                break;
            }
        }
    }
    // An edge or vertex counts where it is not behind the face in front; within the pick radius it lies a little
    // deeper. Of several, a vertex before an edge, then the nearest in the picture to half a pixel, then in depth.
    std::optional<Picked> best;
    std::tuple<int, int, double> best_rank;
    const double slack = 8 / pixels_per_mm();
    const bool looks_for_lines = accepted.contains(Kind::edge) || accepted.contains(Kind::vertex);
    for (const Seen& seen : looks_for_lines ? passed : std::vector<Seen>{}) {
        for (const auto& [from, to] : seen.parts) {
            for (const auto& each : seen.look->body->tree->near(line, reach, from, std::min(to, depth + slack))) {
                const Kind kind = each.vertex ? Kind::vertex : Kind::edge;
                const std::tuple rank(each.vertex ? 0 : 1, static_cast<int>(each.away * pixels_per_mm() * 2), each.at);
                if (accepted.contains(kind) && (!best || rank < best_rank)) {
                    best = Picked{seen.look->id, {kind, each.index}, each.place};
                    best_rank = rank;
                }
            }
        }
    }
    if (!best && face && face->cut) {
        return accepted.contains(Kind::body) ? face : std::nullopt;
    }
    const bool face_will_do = accepted.contains(Kind::face) || accepted.contains(Kind::body);
    return best ? best : face_will_do ? face : std::nullopt;
}

bool Viewer::is_hidden(const Point3& place) const {
    const Content& c = *content_;
    if (c.view.IsNull()) {
        return false;
    }
    const Line3 line{place, looking_along() * -1}; // towards the eye, which is far away
    const double slack = 2 / pixels_per_mm();
    for (const auto& [id, shown] : c.bodies) {
        const auto box = shown.look.body->mesh->box.part_of(line);
        for (const auto& [begin, end] : shown.look.opaque() ? c.left_of(shown.look, line) : model::Stretches()) {
            const double from = std::max({slack, box[0], begin});
            const double to = std::min(box[1] + slack, end);
            if (from < to && shown.look.body->tree->first_face(line, from, to)) {
                return true;
            }
        }
    }
    return false;
}

} // namespace kervo::scene
