#include "sketch/lettering.h"

#include <fontconfig/fontconfig.h>
#include <harfbuzz/hb-ot.h>

#include <algorithm>
#include <map>
#include <mutex>
#include <set>

// The fonts that ship with Kervo (shipped_fonts.S).
extern "C" {
extern const char kervo_font_lettering_begin[];
extern const char kervo_font_lettering_end[];
extern const char kervo_font_sans_begin[];
extern const char kervo_font_sans_end[];
}

namespace kervo::sketch {

namespace {

constexpr double line_pitch = 1.6; ///< from base line to base line, in heights of capitals (ISO 3098-1, type B)

struct ShippedFont {
    const char* family;
    const char* begin;
    const char* end;
};
const std::vector<ShippedFont>& shipped_fonts() {
    static const std::vector<ShippedFont> fonts{
        {"osifont", kervo_font_lettering_begin, kervo_font_lettering_end},
        {"IBM Plex Sans", kervo_font_sans_begin, kervo_font_sans_end},
    };
    return fonts;
}

using Blob = std::unique_ptr<hb_blob_t, decltype(&hb_blob_destroy)>;
using Face = std::unique_ptr<hb_face_t, decltype(&hb_face_destroy)>;
using Font = std::unique_ptr<hb_font_t, decltype(&hb_font_destroy)>;
using Pattern = std::unique_ptr<FcPattern, decltype(&FcPatternDestroy)>;

// The file of an installed outline font, and which of its faces; an empty path where there is none of that family.
std::pair<std::string, unsigned> installed_font(const std::string& family) {
    const Pattern wanted(FcPatternCreate(), &FcPatternDestroy);
    FcPatternAddString(wanted.get(), FC_FAMILY, reinterpret_cast<const FcChar8*>(family.c_str()));
    FcPatternAddBool(wanted.get(), FC_OUTLINE, FcTrue);
    FcConfigSubstitute(nullptr, wanted.get(), FcMatchPattern);
    FcDefaultSubstitute(wanted.get());
    FcResult result = FcResultMatch;
    const Pattern found(FcFontMatch(nullptr, wanted.get(), &result), &FcPatternDestroy);
    FcChar8* file = nullptr;
    FcChar8* name = nullptr;
    int index = 0;
    if (!found || FcPatternGetString(found.get(), FC_FILE, 0, &file) != FcResultMatch) {
        return {};
    }
    FcPatternGetInteger(found.get(), FC_INDEX, 0, &index);
    for (int i = 0; FcPatternGetString(found.get(), FC_FAMILY, i, &name) == FcResultMatch; ++i) {
        if (family == reinterpret_cast<const char*>(name)) { // else it is only the next best
            return {reinterpret_cast<const char*>(file), static_cast<unsigned>(index) & 0xffffU};
        }
    }
    return {};
}

Font open_font(const std::string& family) {
    Blob blob(nullptr, &hb_blob_destroy);
    unsigned index = 0;
    const auto& shipped = shipped_fonts();
    const auto own = std::find_if(shipped.begin(), shipped.end(), [&](const ShippedFont& font) {
        return family == font.family || (family.empty() && &font == &shipped.front());
    });
    if (own != shipped.end()) {
        blob.reset(hb_blob_create(own->begin, static_cast<unsigned>(own->end - own->begin), HB_MEMORY_MODE_READONLY,
                                  nullptr, nullptr));
    } else {
        const auto [file, face] = installed_font(family);
        index = face;
        blob.reset(file.empty() ? hb_blob_get_empty() : hb_blob_create_from_file(file.c_str()));
    }
    const Face face(hb_face_create(blob.get(), index), &hb_face_destroy);
    Font font(hb_font_create(face.get()), &hb_font_destroy);
    if (hb_face_get_glyph_count(face.get()) == 0) {
        font.reset();
    }
    return font;
}

// Fonts that are open already. Guarded, since steps are evaluated side by side.
class Shelf {
public:
    hb_font_t* take(const std::string& family) {
        const auto known = fonts_.find(family);
        return (known != fonts_.end() ? known : fonts_.emplace(family, open_font(family)).first)->second.get();
    }
    std::mutex guard;

private:
    std::map<std::string, Font> fonts_;
};
Shelf& shelf() {
    static Shelf fonts;
    return fonts;
}

// Collects a glyph's outline in the font's units.
struct Pen {
    std::vector<std::vector<Stretch>> loops;
    Point2 at{}, begun{};

    void line(const Point2& to) {
        if (distance(at, to) > 0) {
            loops.back().push_back(line_between(at, to));
        }
        at = to;
    }
    void bend(std::vector<Point2> poles) {
        const auto degree = static_cast<int>(poles.size()) - 1;
        const Point2 to = poles.back();
        const bool runs = std::any_of(poles.begin(), poles.end(), [&](const Point2& p) { return p != at; });
        if (runs) {
            loops.back().push_back(stretch_over(std::make_shared<const Spline>(spline_by_poles(poles, degree, false))));
        }
        at = to;
    }
};

Point2 place(float x, float y) {
    return {static_cast<double>(x), static_cast<double>(y)};
}

hb_draw_funcs_t* pen_functions() {
    static hb_draw_funcs_t* const functions = [] {
        hb_draw_funcs_t* made = hb_draw_funcs_create();
        const auto pen = [](void* data) -> Pen& { return *static_cast<Pen*>(data); };
        static const auto of = pen;
        hb_draw_funcs_set_move_to_func(
            made,
            [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, float x, float y, void*) {
                of(data).loops.emplace_back();
                of(data).at = of(data).begun = place(x, y);
            },
            nullptr, nullptr);
        hb_draw_funcs_set_line_to_func(
            made,
            [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, float x, float y, void*) { of(data).line(place(x, y)); },
            nullptr, nullptr);
        hb_draw_funcs_set_quadratic_to_func(
            made,
            [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, float cx, float cy, float x, float y, void*) {
                of(data).bend({of(data).at, place(cx, cy), place(x, y)});
            },
            nullptr, nullptr);
        hb_draw_funcs_set_cubic_to_func(
            made,
            [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, float ax, float ay, float bx, float by, float x, float y,
               void*) {
                of(data).bend({of(data).at, place(ax, ay), place(bx, by), place(x, y)});
            },
            nullptr, nullptr);
        hb_draw_funcs_set_close_path_func(
            made, [](hb_draw_funcs_t*, void* data, hb_draw_state_t*, void*) { of(data).line(of(data).begun); }, nullptr,
            nullptr);
        hb_draw_funcs_make_immutable(made);
        return made;
    }();
    return functions;
}

Pen outline_of_glyph(hb_font_t* font, unsigned glyph) {
    Pen pen;
#if HB_VERSION_ATLEAST(7, 0, 0)
    hb_font_draw_glyph(font, glyph, pen_functions(), &pen);
#else
    hb_font_get_glyph_shape(font, glyph, pen_functions(), &pen);
#endif
    return pen;
}

double capital_height(hb_font_t* font) {
    hb_position_t height = 0;
    if (hb_ot_metrics_get_position(font, HB_OT_METRICS_TAG_CAP_HEIGHT, &height) && height > 0) {
        return height;
    }
    unsigned glyph = 0;
    hb_glyph_extents_t box{};
    if (hb_font_get_nominal_glyph(font, 'H', &glyph) && hb_font_get_glyph_extents(font, glyph, &box) &&
        box.y_bearing > 0) {
        return box.y_bearing;
    }
    return 0.7 * hb_face_get_upem(hb_font_get_face(font));
}

std::vector<Letter> shape_line(hb_font_t* font, const std::string& line, double scale, double spacing, double down) {
    const std::unique_ptr<hb_buffer_t, decltype(&hb_buffer_destroy)> buffer(hb_buffer_create(), &hb_buffer_destroy);
    hb_buffer_add_utf8(buffer.get(), line.c_str(), static_cast<int>(line.size()), 0, static_cast<int>(line.size()));
    hb_buffer_guess_segment_properties(buffer.get());
    hb_shape(font, buffer.get(), nullptr, 0);
    unsigned count = 0;
    const hb_glyph_info_t* glyphs = hb_buffer_get_glyph_infos(buffer.get(), &count);
    const hb_glyph_position_t* places = hb_buffer_get_glyph_positions(buffer.get(), &count);
    std::vector<Letter> letters;
    double pen = 0;
    for (unsigned i = 0; i < count; ++i) {
        Letter letter;
        letter.start = pen;
        letter.down = down;
        letter.advance = places[i].x_advance * scale + spacing;
        const Similarity put{scale, 0, {pen + places[i].x_offset * scale, places[i].y_offset * scale - down}, false};
        for (const auto& loop : outline_of_glyph(font, glyphs[i].codepoint).loops) {
            std::vector<Stretch> put_loop;
            for (const Stretch& stretch : loop) {
                put_loop.push_back(stretch.placed(put));
            }
            if (!put_loop.empty()) {
                letter.loops.push_back(std::move(put_loop));
            }
        }
        pen += letter.advance;
        letters.push_back(std::move(letter));
    }
    return letters;
}

} // namespace

Result<std::vector<Letter>> shape_text(const std::string& text, const std::string& family, double height,
                                       double spacing) {
    Shelf& fonts = shelf();
    const std::lock_guard lock(fonts.guard);
    hb_font_t* font = fonts.take(family);
    if (font == nullptr) {
        return error_finding("sketch.font", "There is no font \u201c" + family + "\u201d on this machine.",
                             "Choose another font, or install this one.");
    }
    const double scale = height / capital_height(font);
    std::vector<Letter> letters;
    double down = 0;
    size_t from = 0;
    while (from <= text.size()) {
        const size_t to = std::min(text.find('\n', from), text.size());
        auto line = shape_line(font, text.substr(from, to - from), scale, spacing, down);
        letters.insert(letters.end(), std::make_move_iterator(line.begin()), std::make_move_iterator(line.end()));
        down += line_pitch * height;
        from = to + 1;
    }
    return letters;
}

std::vector<std::string> font_families() {
    std::vector<std::string> families;
    std::set<std::string> installed;
    for (const ShippedFont& font : shipped_fonts()) {
        families.emplace_back(font.family);
    }
    const Pattern any(FcPatternCreate(), &FcPatternDestroy);
    FcPatternAddBool(any.get(), FC_OUTLINE, FcTrue);
    const std::unique_ptr<FcObjectSet, decltype(&FcObjectSetDestroy)> wanted(FcObjectSetBuild(FC_FAMILY, nullptr),
                                                                             &FcObjectSetDestroy);
    const std::unique_ptr<FcFontSet, decltype(&FcFontSetDestroy)> list(FcFontList(nullptr, any.get(), wanted.get()),
                                                                       &FcFontSetDestroy);
    for (int i = 0; list && i < list->nfont; ++i) {
        FcChar8* name = nullptr;
        if (FcPatternGetString(list->fonts[i], FC_FAMILY, 0, &name) == FcResultMatch) {
            installed.insert(reinterpret_cast<const char*>(name));
        }
    }
    for (const std::string& family : installed) {
        if (std::find(families.begin(), families.end(), family) == families.end()) {
            families.push_back(family);
        }
    }
    return families;
}

} // namespace kervo::sketch
