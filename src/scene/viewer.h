// The picture of the model: bodies on paper, looked at by an orthographic camera. Draws into whatever framebuffer is
// bound; knows nothing of the window around it. All pixels are device pixels from the upper left corner.
#pragma once

#include "scene/caps.h"

#include <array>
#include <memory>
#include <optional>
#include <set>
#include <string>

namespace kervo::scene {

/// What faces are drawn with: light and shade; stripes, as if long lamps were mirrored in them; colours by curvature.
enum class Shading { plain, zebra, curvature };

/// What cutaways leave of a body, as it was worked out.
struct OpenedBody {
    ShownBodyPtr left;        ///< with its cut faces, which are not drawn; null: nothing
    std::vector<int> sources; ///< for each of its faces that of the body that it lies on; -1: a cut face
    bool operator==(const OpenedBody&) const = default;
};

struct BodyLook {
    model::BodyId id;
    ShownBodyPtr body;
    std::string color;                    ///< "#rrggbb"
    std::string edge;                     ///< colour of its edges
    bool thick = false;                   ///< drawn with the thick line of a role
    std::vector<model::Cutaway> cutaways; ///< that open it
    std::optional<OpenedBody> opened;     ///< by these, or by what they were a moment ago; nothing: not worked out
    double see_through = 0;               ///< 0: not at all; 1: wholly
    bool edges_only = false;
    bool pickable = true;
    [[nodiscard]] bool opaque() const { return see_through == 0 && !edges_only; }
    /// The graphics card cannot open it: what was worked out is drawn.
    [[nodiscard]] bool drawn_opened() const;
    Shading shading = Shading::plain;
    double scale = 0;                             ///< of curvature (1/mm): where the full colours are
    std::map<model::BodyId, std::string> foreign; ///< colours of faces that came from other bodies
    bool operator==(const BodyLook&) const = default;
};

/// An element of a body, lit up, or the whole of it.
struct Highlight {
    ShownBodyPtr body;
    model::Element element;
    std::string color;
    bool faint = false; ///< under the pointer, not chosen
};

struct Picked {
    model::BodyId body;
    model::Element element; ///< face, edge or vertex
    Point3 point;           ///< where the pointer meets it
    bool cut = false;       ///< on a face that a cutaway cuts: only the body is meant
};

struct Paper {
    std::string background;
    std::string ink;
    std::string cap; ///< fill of cut faces
    bool dark = false;
};

/// Directions to look from, as on the view sheet.
enum class LookFrom { top, front, right, left, back, under, corner, corner_below };

/// Where from one looks.
struct Camera {
    Point3 middle;     ///< of the picture
    Vector3 along, up; ///< of length 1, square to each other
    double height = 0; ///< mm from the lower to the upper border of the picture
};

class Viewer {
public:
    Viewer();
    ~Viewer();
    Viewer(const Viewer&) = delete;
    Viewer& operator=(const Viewer&) = delete;

    /// Borrows the current OpenGL context, of a widget inside the X window `native_window`. Call before painting; false
    /// when there is no usable OpenGL.
    bool attach(unsigned long native_window, int width, int height);
    /// Draws into the framebuffer that is bound now.
    /// `in_haste`: the window is busy or being turned; where the processor has to draw, edges are not smoothed then.
    void paint(int width, int height, bool in_haste);

    void set_paper(const Paper& paper);
    void set_bodies(const std::vector<BodyLook>& bodies);
    void set_highlights(const std::vector<Highlight>& highlights);
    /// Faces that close what cutaways open; for picks, the bodies that these cut with.
    void set_caps(const std::vector<Cap>& caps, const ShownBodies& cutting);

    void fit();
    void look_from(LookFrom from);
    void look_along(const Vector3& direction, const Vector3& up);
    void turn(double sideways, double upwards);   ///< rad; the camera goes round the middle of what is seen
    void pan(double dx, double dy);               ///< pixels
    void zoom(double factor, double x, double y); ///< keeps the place under the pixel
    [[nodiscard]] Camera camera() const;
    void set_camera(const Camera& camera);
    [[nodiscard]] double pixels_per_mm() const;
    [[nodiscard]] std::array<double, 2> project(const Point3& point) const;
    [[nodiscard]] Line3 ray(double x, double y) const; ///< from the eye into the picture
    [[nodiscard]] Vector3 looking_along() const;

    /// Nearest element of an accepted kind that is not hidden behind others.
    [[nodiscard]] std::optional<Picked> pick(double x, double y, const std::set<model::ElementKind>& accepted) const;
    /// Whether a face of an opaque body lies before a place, by more than a pixel or two.
    [[nodiscard]] bool is_hidden(const Point3& place) const;

private:
    struct Content;
    std::unique_ptr<Content> content_;
};

} // namespace kervo::scene
